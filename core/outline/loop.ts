import { arcThrough, type Arc, type Contour, type Profile, type Segment } from '#core/kernel';
import { ProblemError } from '#core/problem';
import type { Vec2 } from '#core/vector';

/** One element of a closed outline; the role names what it sweeps. */
export type Element =
  | { readonly kind: 'line'; readonly role: string; readonly from: Vec2; readonly to: Vec2 }
  | {
      readonly kind: 'arc';
      readonly role: string;
      readonly from: Vec2;
      readonly through: Vec2;
      readonly to: Vec2;
    }
  | { readonly kind: 'circle'; readonly role: string; readonly center: Vec2; readonly radiusMm: number };
export type Piece = Exclude<Element, { kind: 'circle' }>;

/** Elements in order, each beginning where the one before ends; or one circle. */
export type Loop = readonly Element[];

/** A connected piece of an outline, mm. */
export interface Region {
  readonly outer: Loop;
  readonly holes: readonly Loop[];
}

/** Sum of two vectors of a plane. */
export const plus = (a: Vec2, b: Vec2): Vec2 => [a[0] + b[0], a[1] + b[1]];

/** Difference of two vectors of a plane. */
export const minus = (a: Vec2, b: Vec2): Vec2 => [a[0] - b[0], a[1] - b[1]];

/** A vector of a plane, scaled. */
export const times = (a: Vec2, factor: number): Vec2 => [a[0] * factor, a[1] * factor];

/** Scalar product of two vectors of a plane. */
export const dot2 = (a: Vec2, b: Vec2): number => a[0] * b[0] + a[1] * b[1];

/** Cross product of two vectors of a plane: positive where `b` lies counterclockwise of `a`. */
export const cross2 = (a: Vec2, b: Vec2): number => a[0] * b[1] - a[1] * b[0];

/** Length of a vector of a plane. */
export const size2 = (a: Vec2): number => Math.hypot(a[0], a[1]);

/** A vector of a plane, of length 1. Undefined for the zero vector. */
export const unit2 = (a: Vec2): Vec2 => times(a, 1 / size2(a));
/** A quarter turn counterclockwise. */
export const leftOf = (a: Vec2): Vec2 => [-a[1], a[0]];

/** The point at a distance and a direction from a center; rad counterclockwise from the first axis. */
export const polarPoint = (center: Vec2, radius: number, angleRad: number): Vec2 => [
  center[0] + radius * Math.cos(angleRad),
  center[1] + radius * Math.sin(angleRad),
];

/** The circle and sweep of an arc. Refuses three points on a line with `arc-straight`. */
export function arcOf({ from, through, to }: Extract<Element, { kind: 'arc' }>): Arc {
  const arc = arcThrough(from, through, to);
  if (arc === null) throw new ProblemError('arc-straight', 'The three points of an arc lie on one line.');
  return arc;
}

const segmentOf = (piece: Piece): Segment =>
  piece.kind === 'line' ? { kind: 'line', to: piece.to } : { kind: 'arc', through: piece.through, to: piece.to };

/** The loop as the kernel takes it. */
export function contourOf(loop: Loop): Contour {
  const [first] = loop;
  if (first === undefined) throw new ProblemError('outline-open', 'The outline is empty.');
  if (first.kind === 'circle') return { kind: 'circle', center: first.center, radiusMm: first.radiusMm };
  return {
    kind: 'path',
    start: first.from,
    segments: loop.flatMap((element) => (element.kind === 'circle' ? [] : [segmentOf(element)])),
  };
}

/** A region as the kernel takes it: one outer contour and its holes. */
export const profileOf = ({ outer, holes }: Region): Profile => ({
  outer: contourOf(outer),
  holes: holes.map(contourOf),
});

/** The elements of a contour, with a role from `roleOf` for each. */
export function loopOf(contour: Contour, roleOf: (element: Element, index: number) => string): Loop {
  if (contour.kind === 'circle') {
    const circle = { kind: 'circle', role: '', center: contour.center, radiusMm: contour.radiusMm } as const;
    return [{ ...circle, role: roleOf(circle, 0) }];
  }
  let from = contour.start;
  return contour.segments.map((segment, i) => {
    const piece: Piece =
      segment.kind === 'line'
        ? { kind: 'line', role: '', from, to: segment.to }
        : { kind: 'arc', role: '', from, through: segment.through, to: segment.to };
    from = segment.to;
    return { ...piece, role: roleOf(piece, i) };
  });
}

/** A region with each of its loops changed. */
export const mapLoops = (region: Region, change: (loop: Loop) => Loop): Region => ({
  outer: change(region.outer),
  holes: region.holes.map(change),
});

/** Every element of the regions with another role. */
export const renamed = (regions: readonly Region[], name: (role: string) => string): readonly Region[] =>
  regions.map((region) =>
    mapLoops(region, (loop) => loop.map((element) => ({ ...element, role: name(element.role) }))),
  );

/** Points along a loop for display and for tests of crossing: corners, and arcs in short pieces. */
export function pointsAlong(loop: Loop, stepRad = Math.PI / 24): Vec2[] {
  return loop.flatMap((element): Vec2[] => {
    if (element.kind === 'line') return [element.from];
    const arc =
      element.kind === 'circle'
        ? { center: element.center, radiusMm: element.radiusMm, startRad: 0, sweepRad: 2 * Math.PI }
        : arcOf(element);
    const count = Math.max(2, Math.ceil(Math.abs(arc.sweepRad) / stepRad));
    return Array.from({ length: count }, (_, i) =>
      polarPoint(arc.center, arc.radiusMm, arc.startRad + (arc.sweepRad * i) / count),
    );
  });
}

/** The circle that a round element lies on; null for a line. */
export function circleOfElement(element: Element): { readonly center: Vec2; readonly radiusMm: number } | null {
  if (element.kind === 'line') return null;
  return element.kind === 'circle' ? element : arcOf(element);
}
