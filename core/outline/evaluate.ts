import type { Kernel, Profile } from '#core/kernel';
import { ProblemError } from '#core/problem';
import { SAME_SIZE_MM } from '#core/tolerance';
import type { Vec2 } from '#core/vector';

import { treatCorners } from './corners.ts';
import {
  arcOf,
  circleOfElement,
  cross2,
  dot2,
  leftOf,
  loopOf,
  mapLoops,
  minus,
  plus,
  pointsAlong,
  polarPoint,
  profileOf,
  renamed,
  size2,
  times,
  unit2,
  type Element,
  type Loop,
  type Region,
} from './loop.ts';
import type { MirrorLine, Outline } from './schema.ts';
import {
  circleLoop,
  hullLoop,
  pathLoop,
  pointOf,
  polygonLoop,
  rectangleLoop,
  slotLoop,
  type Values,
} from './shapes.ts';

/** What evaluating takes of the kernel: outlines put together and moved outward. */
export type PlaneKernel = Pick<Kernel, 'combineProfiles' | 'offsetProfile'>;

/**
 * The pieces of an outline with numbers instead of expressions. Every element has a role that stays when values change.
 * Refuses with the problems of its expressions and shapes, and with `outline-crosses`, `outline-empty`.
 */
export function evaluateOutline(outline: Outline, values: Values, kernel: PlaneKernel): readonly Region[] {
  const regions = regionsOf(outline, values, kernel);
  if (regions.length === 0) throw new ProblemError('outline-empty', 'Nothing is left of this outline.');
  return regions;
}

const single = (outer: Loop): readonly Region[] => [{ outer, holes: [] }];

function regionsOf(outline: Outline, values: Values, kernel: PlaneKernel): readonly Region[] {
  const inner = (of: Outline) => evaluateOutline(of, values, kernel);
  switch (outline.shape) {
    case 'rectangle':
    case 'corner-rectangle':
      return single(rectangleLoop(outline, values));
    case 'circle':
      return single(circleLoop(outline, values));
    case 'slot':
      return single(slotLoop(outline, values));
    case 'polygon':
      return single(polygonLoop(outline, values));
    case 'hull':
      return single(hullLoop(outline, values));
    case 'path': {
      const loop = pathLoop(outline, values);
      requireSimple(loop);
      return single(loop);
    }
    case 'filleted':
    case 'chamfered': {
      const size = values.sizeMm(outline.size, outline.shape === 'filleted' ? 'corner radius' : 'corner chamfer');
      return inner(outline.of).map((region) => ({
        outer: treatCorners(region.outer, outline.shape, size, outline.corners),
        // Numbered corners are those of the outer loop.
        holes:
          outline.corners === undefined
            ? region.holes.map((hole) => treatCorners(hole, outline.shape, size, undefined))
            : region.holes,
      }));
    }
    case 'offset': {
      const by = values.lengthMm(outline.by, 'offset');
      return inner(outline.of).flatMap((region) => offset(region, by, kernel));
    }
    case 'turned':
      return turned(
        inner(outline.of),
        pointOf(outline.center, 'turning center', values),
        values.angleRad(outline.angle, 'turning angle'),
      );
    case 'mirrored': {
      const half = inner(outline.of);
      const image = renamed(mirrored(half, lineOf(outline.about, values)), (role) => `${role}-m`);
      return outline.keep ? combined('add', [half, image], kernel) : image;
    }
    case 'polar': {
      const count = values.count(outline.count, 'number of copies', { least: 1, most: 200 });
      const whole = outline.angle === undefined ? 2 * Math.PI : values.angleRad(outline.angle, 'angle of the copies');
      const closed = Math.abs(Math.abs(whole) - 2 * Math.PI) < 1e-9;
      const step = closed ? whole / count : count === 1 ? 0 : whole / (count - 1);
      const center = pointOf(outline.center, 'center of the copies', values);
      const first = inner(outline.of);
      return copies(count, outline.skip, (i) => turned(first, center, step * i), kernel);
    }
    case 'row': {
      const count = values.count(outline.count, 'number of copies', { least: 1, most: 200 });
      const by = pointOf(outline.by, 'distance of the copies', values);
      const first = inner(outline.of);
      return copies(count, outline.skip, (i) => moved(first, (point) => plus(point, times(by, i))), kernel);
    }
    case 'union':
    case 'difference':
    case 'intersection': {
      const parts = outline.parts.map((part, i) => renamed(inner(part), (role) => `${String(i + 1)}.${role}`));
      const kind = { union: 'add', difference: 'subtract', intersection: 'intersect' } as const;
      return combined(kind[outline.shape], parts, kernel);
    }
  }
}

function copies(
  count: number,
  skip: readonly number[] | undefined,
  at: (index: number) => readonly Region[],
  kernel: PlaneKernel,
): readonly Region[] {
  const parts = Array.from({ length: count }, (_, i) => i)
    .filter((i) => !skip?.includes(i + 1))
    .map((i) => renamed(at(i), (role) => `${String(i + 1)}.${role}`));
  return combined('add', parts, kernel);
}

type Move = (point: Vec2) => Vec2;

const movedElement = (element: Element, move: Move): Element => {
  switch (element.kind) {
    case 'circle':
      return { ...element, center: move(element.center) };
    case 'line':
      return { ...element, from: move(element.from), to: move(element.to) };
    case 'arc':
      return { ...element, from: move(element.from), through: move(element.through), to: move(element.to) };
  }
};

const moved = (regions: readonly Region[], move: Move): readonly Region[] =>
  regions.map((region) => mapLoops(region, (loop) => loop.map((element) => movedElement(element, move))));

const turned = (regions: readonly Region[], center: Vec2, angleRad: number): readonly Region[] => {
  const [c, s] = [Math.cos(angleRad), Math.sin(angleRad)];
  return moved(regions, (point) => {
    const [du, dv] = minus(point, center);
    return [center[0] + c * du - s * dv, center[1] + s * du + c * dv];
  });
};

function lineOf(line: MirrorLine, values: Values): { readonly through: Vec2; readonly direction: Vec2 } {
  if (line === 'u') return { through: [0, 0], direction: [1, 0] };
  if (line === 'v') return { through: [0, 0], direction: [0, 1] };
  const angle = values.angleRad(line.angle, 'angle of the mirror line');
  return { through: pointOf(line.through, 'mirror line', values), direction: polarPoint([0, 0], 1, angle) };
}

const mirrored = (
  regions: readonly Region[],
  { through, direction }: { readonly through: Vec2; readonly direction: Vec2 },
): readonly Region[] =>
  moved(regions, (point) => {
    const offset = minus(point, through);
    return plus(through, minus(times(direction, 2 * dot2(offset, direction)), offset));
  });

/** Puts parts together in the kernel and gives every element the role of the element that it lies on. */
function combined(
  kind: 'add' | 'subtract' | 'intersect',
  parts: readonly (readonly Region[])[],
  kernel: PlaneKernel,
): readonly Region[] {
  const [first, ...rest] = parts;
  if (first === undefined) throw new ProblemError('outline-empty', 'Nothing is left of this outline.');
  if (rest.length === 0) return first;
  const elements = parts.flat().flatMap(({ outer, holes }) => [...outer, ...holes.flat()]);
  const groups = kind === 'intersect' ? rest : [rest.flat()];
  return groups
    .reduce<readonly Profile[]>(
      (body, tools) => kernel.combineProfiles(kind, body, tools.map(profileOf)),
      first.map(profileOf),
    )
    .map(({ outer, holes }) => {
      const named = (contour: typeof outer) =>
        loopOf(contour, (element, i) => roleOn(elements, element) ?? `side${String(i + 1)}`);
      return { outer: named(outer), holes: holes.map(named) };
    });
}

/** The role of the first element on the same line or circle that covers the middle of this one. */
function roleOn(elements: readonly Element[], found: Element): string | null {
  const carried = elements.filter((element) => sameCarrier(element, found));
  const middle = middleOf(found);
  return (carried.find((element) => covers(element, middle)) ?? carried[0])?.role ?? null;
}

function sameCarrier(a: Element, b: Element): boolean {
  if (a.kind === 'line' && b.kind === 'line') {
    const direction = unit2(minus(a.to, a.from));
    return [b.from, b.to].every((point) => Math.abs(cross2(minus(point, a.from), direction)) < SAME_SIZE_MM);
  }
  const [first, second] = [circleOfElement(a), circleOfElement(b)];
  return (
    first !== null &&
    second !== null &&
    size2(minus(first.center, second.center)) < SAME_SIZE_MM &&
    Math.abs(first.radiusMm - second.radiusMm) < SAME_SIZE_MM
  );
}

function middleOf(element: Element): Vec2 {
  if (element.kind === 'line') return times(plus(element.from, element.to), 0.5);
  return element.kind === 'circle' ? plus(element.center, [element.radiusMm, 0]) : element.through;
}

function covers(element: Element, point: Vec2): boolean {
  if (element.kind === 'circle') return true;
  if (element.kind === 'line') {
    const line = minus(element.to, element.from);
    const share = dot2(minus(point, element.from), line) / dot2(line, line);
    return share > -1e-6 && share < 1 + 1e-6;
  }
  const { center, startRad, sweepRad } = arcOf(element);
  const turn = 2 * Math.PI;
  const raw = Math.sign(sweepRad) * (Math.atan2(point[1] - center[1], point[0] - center[0]) - startRad);
  return ((raw % turn) + turn) % turn <= Math.abs(sweepRad) + 1e-6;
}

/** Moved outward; lines and arcs keep their roles, and what closes the corners gets a new one. */
function offset(region: Region, by: number, kernel: PlaneKernel): readonly Region[] {
  if (by === 0) return [region];
  const shifted = [region.outer, ...region.holes].flatMap((loop, hole) => {
    const points = pointsAlong(loop);
    const left = area(points) > 0 === (hole === 0) ? -1 : 1;
    return loop.map((element): Element => shiftedElement(element, left * by, loop.length === 1 && hole > 0));
  });
  return kernel.offsetProfile(profileOf(region), by).map(({ outer, holes }) => {
    const named = (contour: typeof outer) =>
      loopOf(
        contour,
        (element, i) => shifted.find((known) => sameCarrier(known, element))?.role ?? `join${String(i + 1)}`,
      );
    return { outer: named(outer), holes: holes.map(named) };
  });
}

function shiftedElement(element: Element, leftward: number, isHole: boolean): Element {
  if (element.kind === 'circle')
    return { ...element, radiusMm: element.radiusMm + (isHole ? -1 : 1) * Math.abs(leftward) * Math.sign(-leftward) };
  if (element.kind === 'line') {
    const shift = times(leftOf(unit2(minus(element.to, element.from))), leftward);
    return { ...element, from: plus(element.from, shift), to: plus(element.to, shift) };
  }
  const { center, radiusMm, sweepRad } = arcOf(element);
  const factor = (radiusMm - Math.sign(sweepRad) * leftward) / radiusMm;
  const scaled = (point: Vec2): Vec2 => plus(center, times(minus(point, center), factor));
  return { ...element, from: scaled(element.from), through: scaled(element.through), to: scaled(element.to) };
}

/** Area inside a polygon, positive counterclockwise. */
export function area(points: readonly Vec2[]): number {
  return (
    points.reduce((sum, p, i) => {
      const q = points[(i + 1) % points.length] ?? p;
      return sum + p[0] * q[1] - q[0] * p[1];
    }, 0) / 2
  );
}

function requireSimple(loop: Loop): void {
  const points = pointsAlong(loop);
  const at = (i: number): Vec2 => points[i % points.length] ?? [0, 0];
  for (let i = 0; i < points.length; i++)
    for (let j = i + 2; j < points.length; j++)
      if ((j + 1) % points.length !== i && cross(at(i), at(i + 1), at(j), at(j + 1)))
        throw new ProblemError('outline-crosses', 'The path crosses itself.');
  if (Math.abs(area(points)) < 1e-9) throw new ProblemError('outline-empty', 'The path encloses no area.');
}

/** Whether two segments cross at an inner point of both. */
function cross(a: Vec2, b: Vec2, c: Vec2, d: Vec2): boolean {
  const side = (p: Vec2, q: Vec2, r: Vec2) => cross2(minus(q, p), minus(r, p));
  return side(a, b, c) * side(a, b, d) < -1e-12 && side(c, d, a) * side(c, d, b) < -1e-12;
}
