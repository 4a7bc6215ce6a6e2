import type { Reference, Target } from '#core/check';
import { isDimension, type DimensionCheck, type Exercise, type SheetViewName } from '#core/exercise';
import { decimalsFor, formatFixed, LENGTH_UNITS, namesIn } from '#core/quantity';
import type { Face } from '#core/solid';
import { boxCenter, boxSize, cross, dot, length, subtract, type Vec2, type Vec3 } from '#core/vector';

import { inView, upOf, VIEWS } from './views.ts';

/** What an extension line starts from: its place along the dimension, and the extent of the feature across it. */
export interface Witness {
  readonly at: number;
  readonly low: number;
  readonly high: number;
}

/** A dimension in view coordinates, before rows are chosen. Its id is that of the check. */
export type ViewDimension =
  | {
      readonly kind: 'linear';
      readonly checkId: string;
      readonly view: SheetViewName;
      readonly text: string;
      readonly direction: 'horizontal' | 'vertical';
      readonly from: Witness;
      readonly to: Witness;
    }
  | {
      readonly kind: 'leader';
      readonly checkId: string;
      readonly view: SheetViewName;
      readonly text: string;
      /** The rounds that share the callout; the sheet points at the one nearest to the text. */
      readonly rounds: readonly SeenRound[];
    };

export interface SeenRound {
  readonly center: Vec2;
  readonly radius: number;
  /** Where on the circle the arrow may touch, rad; null when anywhere. */
  readonly at: number | null;
}

/** A length as the practice writes it: inches without leading zero, millimeters without trailing zeros. */
export function dimensionText(valueMm: number, { unit, decimals }: Pick<Reference, 'unit' | 'decimals'>): string {
  const value = valueMm / LENGTH_UNITS[unit];
  if (unit === 'in') return formatFixed(value, decimals).replace(/^(-?)0\./, '$1.');
  return String(Number(formatFixed(value, Math.max(decimals, Math.min(3, decimalsFor(value, 4))))));
}

const SHEET_VIEWS: readonly SheetViewName[] = ['front', 'top', 'right'];

interface Context {
  readonly exercise: Exercise;
  readonly reference: Reference;
}

/** The dimensions of the sheet, made from the checks that are dimensions; each in the view that shows it. */
export function dimensionsOf(exercise: Exercise, reference: Reference): ViewDimension[] {
  return exercise.checks.flatMap((check) => {
    if (!isDimension(check) || check.onSheet === false || check.off === true) return [];
    const target = reference.targets.find((candidate) => candidate.checkId === check.id);
    return target === undefined ? [] : placedOrNothing(placed(check, target, { exercise, reference }));
  });
}

const placedOrNothing = (dimension: ViewDimension | null): ViewDimension[] => (dimension === null ? [] : [dimension]);

function textOf(check: DimensionCheck, target: Target, sign: string, { exercise, reference }: Context): string {
  const [letter] = namesIn(check.nominal);
  const isLetter = letter === check.nominal.trim() && exercise.recipe.parameters.some(({ name }) => name === letter);
  const value = isLetter ? letter : dimensionText('nominal' in target ? target.nominal : 0, reference);
  return `${check.prefix === undefined ? '' : `${check.prefix} `}${sign}${value}`;
}

function placed(check: DimensionCheck, target: Target, context: Context): ViewDimension | null {
  const face = (ids: readonly number[]): Face | undefined => context.reference.solid.faces[ids[0] ?? -1];
  switch (target.kind) {
    case 'distance': {
      const [a, b] = [face(target.fromFaceIds), face(target.toFaceIds)];
      return a?.surface.kind === 'plane' && b
        ? linear(check, a, b, a.surface.normal, textOf(check, target, '', context))
        : null;
    }
    case 'overall-size': {
      const { bounds } = context.reference.solid;
      const axis: Vec3 = [target.axis === 0 ? 1 : 0, target.axis === 1 ? 1 : 0, target.axis === 2 ? 1 : 0];
      const ends = [bounds.min, bounds.max].map((end) => ({
        bounds: { min: clampTo(bounds.min, axis, end), max: clampTo(bounds.max, axis, end) },
      }));
      const [low, high] = ends;
      return low && high ? linear(check, low, high, axis, textOf(check, target, '', context)) : null;
    }
    case 'hole-position': {
      const [plane, round] = [face(target.fromFaceIds), face(target.faceIds)];
      return plane?.surface.kind === 'plane' && round?.surface.kind === 'cylinder'
        ? linear(check, plane, round, plane.surface.normal, textOf(check, target, '', context), round.surface.direction)
        : null;
    }
    case 'center-distance': {
      const [a, b] = [face(target.fromFaceIds), face(target.toFaceIds)];
      if (a?.surface.kind !== 'cylinder' || b?.surface.kind !== 'cylinder') return null;
      const apart = subtract(b.surface.origin, a.surface.origin);
      const along = a.surface.direction;
      const direct = subtract(apart, [
        along[0] * dot(apart, along),
        along[1] * dot(apart, along),
        along[2] * dot(apart, along),
      ]);
      return linear(check, a, b, direct, textOf(check, target, '', context), along);
    }
    case 'diameter':
    case 'radius': {
      const rounds = target.members.flatMap((ids) => face(ids) ?? []);
      const [round] = rounds;
      if (round?.surface.kind !== 'cylinder') return null;
      const sign = target.kind === 'radius' ? 'R' : '⌀';
      const text = textOf(check, target, sign, context);
      return target.kind === 'diameter' && round.surface.side === 'convex'
        ? across(check, round, text)
        : leader(check, rounds, text);
    }
    default:
      return null;
  }
}

const parallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < 1e-6 * length(a) * length(b);

/** Views that show `axis` in true length along one of their own directions, the wanted one first. */
function viewsAlong(check: DimensionCheck, axis: Vec3, seenAlong?: Vec3): SheetViewName[] {
  return SHEET_VIEWS.filter(
    (name) =>
      (parallel(VIEWS[name].right, axis) || parallel(upOf(name), axis)) &&
      (seenAlong === undefined || parallel(VIEWS[name].toViewer, seenAlong) || check.view === name),
  ).sort((a, b) => Number(b === check.view) - Number(a === check.view));
}

/** `point` moved along a coordinate axis to where `end` is. */
const clampTo = (point: Vec3, axis: Vec3, end: Vec3): Vec3 => [
  axis[0] ? end[0] : point[0],
  axis[1] ? end[1] : point[1],
  axis[2] ? end[2] : point[2],
];

type Bounded = Pick<Face, 'bounds'> & Partial<Pick<Face, 'surface'>>;

/** An axis is witnessed at its own place; a flat face over its whole width. */
function witness(view: SheetViewName, direction: 'horizontal' | 'vertical', { bounds, surface }: Bounded): Witness {
  const ends = [inView(view, bounds.min), inView(view, bounds.max)];
  const axis = surface?.kind === 'cylinder' ? inView(view, surface.origin) : null;
  const pick = (i: 0 | 1): [number, number] => {
    const values = axis ? [axis[i]] : ends.map((end) => end[i]);
    return [Math.min(...values), Math.max(...values)];
  };
  const [alongLow, alongHigh] = pick(direction === 'horizontal' ? 0 : 1);
  const [low, high] = pick(direction === 'horizontal' ? 1 : 0);
  return { at: (alongLow + alongHigh) / 2, low, high };
}

function linear(
  check: DimensionCheck,
  from: Bounded,
  to: Bounded,
  axis: Vec3,
  text: string,
  seenAlong?: Vec3,
): ViewDimension | null {
  const [view] = viewsAlong(check, axis, seenAlong);
  if (view === undefined) return null;
  const direction = parallel(VIEWS[view].right, axis) ? 'horizontal' : 'vertical';
  return {
    kind: 'linear',
    checkId: check.id,
    view,
    text,
    direction,
    from: witness(view, direction, from),
    to: witness(view, direction, to),
  };
}

/** A turned diameter, written across the view that shows the axis in true length. */
function across(check: DimensionCheck, round: Face, text: string): ViewDimension | null {
  if (round.surface.kind !== 'cylinder') return null;
  const { direction, radiusMm } = round.surface;
  const views = SHEET_VIEWS.filter((name) => Math.abs(dot(VIEWS[name].toViewer, direction)) < 1e-6);
  const view = views.find((name) => name === check.view) ?? views[0];
  if (view === undefined) return leader(check, [round], text);
  const middle = inView(view, boxCenter(round.bounds));
  const lies = Math.abs(dot(VIEWS[view].right, direction)) > 0.5;
  const [at, place] = lies ? [middle[1], middle[0]] : [middle[0], middle[1]];
  const half = inView(view, boxSize(round.bounds));
  const reach = Math.abs(lies ? half[0] : half[1]) / 2;
  const side = (value: number): Witness => ({ at: value, low: place - reach, high: place + reach });
  return {
    kind: 'linear',
    checkId: check.id,
    view,
    text,
    direction: lies ? 'vertical' : 'horizontal',
    from: side(at - radiusMm),
    to: side(at + radiusMm),
  };
}

function leader(check: DimensionCheck, rounds: readonly Face[], text: string): ViewDimension | null {
  const [first] = rounds;
  if (first?.surface.kind !== 'cylinder') return null;
  const { direction } = first.surface;
  const view = SHEET_VIEWS.find((name) => parallel(VIEWS[name].toViewer, direction));
  if (view === undefined) return null;
  return {
    kind: 'leader',
    checkId: check.id,
    view,
    text,
    rounds: rounds.flatMap(({ surface, centroid }) => {
      if (surface.kind !== 'cylinder') return [];
      const center = inView(view, surface.origin);
      const middle = inView(view, centroid);
      const off = Math.hypot(middle[0] - center[0], middle[1] - center[1]);
      const at = off > surface.radiusMm * 0.2 ? Math.atan2(middle[1] - center[1], middle[0] - center[0]) : null;
      return [{ center, radius: surface.radiusMm, at }];
    }),
  };
}
