import { offsetPlane, pointOn, type Shape, type WorkPlane } from '#core/kernel';
import {
  contourOf,
  cylinder,
  evaluateOutline,
  pointsAlong,
  prismCaps,
  prismWalls,
  profileOf,
  turnedWalls,
  type Named,
  type Outline,
  type Region,
} from '#core/outline';
import { ProblemError } from '#core/problem';
import { add, cross, dot, length, multiply, normalize, scale, subtract, type Vec2, type Vec3 } from '#core/vector';

import { numbered, type Context, type Outcome } from './context.ts';
import { planeOn, rotation } from './planes.ts';
import type { Extent, Mode, StepOf } from './schema.ts';
import { facesOn, reversed } from './surfaces.ts';

const regionsOf = (outline: Outline, { values, kernel }: Context): readonly Region[] =>
  evaluateOutline(outline, values, kernel);

/** Surfaces of what is added, or of what is left when it is cut. */
const faced = (mode: Mode, surfaces: readonly Named[]): readonly Named[] =>
  mode === 'add' ? surfaces : surfaces.map(([role, surface]) => [role, reversed(surface)]);

/** Room between a tool and a face that it starts on, so that no skin is left where both coincide. */
export const CLEARANCE_MM = 1;

export function extrude(step: StepOf<'extrude'>, context: Context): Outcome {
  const { kernel, keep } = context;
  const plane = context.plane(step.plane);
  const outlines = step.outlines.map((outline) => regionsOf(outline, context));
  const range = rangeOf(step, plane, context);
  const tools = outlines.flat().map((region) => {
    const prism = keep(kernel.extrude(plane, profileOf(region), range.fromMm, range.toMm));
    return range.stop === null ? prism : stopped(prism, { step, plane, range, stop: range.stop, region }, context);
  });
  const caps = prismCaps(plane, range.fromMm, range.toMm).filter(([role]) => role === 'start' || range.stop === null);
  return {
    kind: 'parts',
    parts: [{ mode: step.mode, tools }],
    surfaces: outlines.flatMap((regions, i) =>
      faced(step.mode, [...caps, ...regions.flatMap((region) => prismWalls(plane, region, range.wallsAtMm))]).map(
        ([role, surface]): Named => [numbered(i, outlines.length, role), surface],
      ),
    ),
  };
}

type Stop = Extract<Extent, { kind: 'to-next' | 'to-surface' }>;

interface Range {
  readonly fromMm: number;
  readonly toMm: number;
  /** A height at which its walls are on the part. */
  readonly wallsAtMm: number;
  /** What ends the prism before `toMm`, or null. */
  readonly stop: Stop | null;
}

/** Material is added along the normal of the plane and cut against it, into the body. */
function rangeOf(step: StepOf<'extrude'>, plane: WorkPlane, context: Context): Range {
  const { extent } = step;
  const { values } = context;
  const sign = (step.mode === 'add' ? 1 : -1) * (step.reversed === true ? -1 : 1);
  const start = step.start === undefined ? 0 : values.lengthMm(step.start, 'start');
  const range = (from: number, to: number): Range => ({
    fromMm: sign * (start + from),
    toMm: sign * (start + to),
    wallsAtMm: sign * (start + (from + to) / 2),
    stop: null,
  });
  const far = () => {
    const reach = context.reach(plane);
    return sign > 0 ? reach.toMm : -reach.fromMm;
  };
  switch (extent.kind) {
    case 'depth':
      return range(0, values.sizeMm(extent.depth, 'depth'));
    case 'symmetric': {
      const depth = values.sizeMm(extent.depth, 'depth');
      return range(-depth / 2, depth / 2);
    }
    case 'two-sided':
      return range(-values.sizeMm(extent.back, 'depth to the other side'), values.sizeMm(extent.depth, 'depth'));
    case 'through': {
      const reach = context.reach(plane);
      // From a face of the part it goes on into the material only; from a plane it goes both ways.
      if (!('surface' in step.plane)) return { ...reach, wallsAtMm: (reach.fromMm + reach.toMm) / 2, stop: null };
      const to = far();
      if (to <= start) throw new ProblemError('nothing-to-cut', 'There is nothing of the part in this direction.');
      return { fromMm: sign * (start - CLEARANCE_MM), toMm: sign * to, wallsAtMm: sign * start, stop: null };
    }
    case 'to-next':
    case 'to-surface': {
      const to = far();
      if (to <= start) throw new ProblemError('nothing-ahead', 'There is nothing of the part in this direction.');
      return { fromMm: sign * start, toMm: sign * to, wallsAtMm: sign * start, stop: extent };
    }
  }
}

interface Stopping {
  readonly step: StepOf<'extrude'>;
  readonly plane: WorkPlane;
  readonly range: Range;
  readonly stop: Stop;
  readonly region: Region;
}

/** The part of a long prism that lies before the surface that ends it. */
function stopped(prism: Shape, { step, plane, range, stop, region }: Stopping, context: Context): Shape {
  const { kernel, keep } = context;
  const nearest = (
    pieces: readonly Shape[],
  ): readonly { readonly shape: Shape; readonly from: number; readonly to: number }[] =>
    pieces
      .map((shape) => {
        const box = kernel.boxOn(keep(shape), plane);
        const [near, far] = [box.min[2] - range.fromMm, box.max[2] - range.fromMm];
        return range.toMm > range.fromMm ? { shape, from: near, to: far } : { shape, from: -far, to: -near };
      })
      .sort((a, b) => a.from - b.from);
  if (stop.kind === 'to-next') {
    const body = context.body();
    const whole = step.mode === 'add' ? kernel.cut(prism, [body]) : kernel.common(prism, [body]);
    const [first] = nearest(kernel.pieces(keep(whole)));
    if (first === undefined)
      throw new ProblemError(
        'nothing-ahead',
        step.mode === 'add' ? 'There is no room up to the next surface.' : 'There is no material in this direction.',
      );
    const long = Math.abs(range.toMm - range.fromMm);
    if (step.mode === 'add' && (first.from > 1e-4 || first.to > long - 1e-4))
      throw new ProblemError('nothing-ahead', 'Nothing stops it: the part does not cover the whole outline ahead.');
    return first.shape;
  }
  const surface = context.surface(stop.surface);
  const beyond = stop.offset === undefined ? 0 : context.values.lengthMm(stop.offset, 'offset from the surface');
  if (surface.kind === 'plane') {
    const target = planeOn(surface, stop.surface);
    const slope = dot(target.normal, plane.normal);
    if (Math.abs(slope) < 1e-6)
      throw new ProblemError('never-meets', `"${stop.surface}" lies along the direction and never ends it.`);
    const shift = Math.sign(range.toMm - range.fromMm) * beyond;
    const end = offsetPlane(target, shift * slope);
    if (length(cross(target.normal, plane.normal)) < 1e-9) {
      const depth = dot(subtract(end.origin, plane.origin), plane.normal);
      if ((depth - range.fromMm) * (range.toMm - range.fromMm) <= 1e-9)
        throw new ProblemError('behind', `"${stop.surface}" lies behind the outline; reverse the direction.`);
      return keep(kernel.extrude(plane, profileOf(region), range.fromMm, depth));
    }
    const size = 4 * (Math.abs(range.toMm) + Math.abs(range.fromMm) + 1000);
    const away = Math.sign(slope) * Math.sign(range.toMm - range.fromMm) * size;
    const square = { kind: 'path', start: [-size, -size], segments: squareTo(size) } as const;
    const rest = kernel.cut(prism, [keep(kernel.extrude(end, square, 0, away))]);
    const [first] = nearest(kernel.pieces(keep(rest)));
    if (first === undefined) throw new ProblemError('behind', `"${stop.surface}" lies behind the outline.`);
    return first.shape;
  }
  const body = context.body();
  const pieces = kernel.splitBy(prism, body, facesOn(context.tables(body).faces, surface));
  const [first, ...rest] = nearest(pieces);
  if (first === undefined || rest.length === 0)
    throw new ProblemError('never-meets', `"${stop.surface}" does not cover the whole outline ahead.`);
  return first.shape;
}

const squareTo = (size: number) =>
  (
    [
      [size, -size],
      [size, size],
      [-size, size],
      [-size, -size],
    ] as const
  ).map((to) => ({ kind: 'line', to }) as const);

export function revolve(step: StepOf<'revolve'>, context: Context): Outcome {
  const { kernel, values, keep } = context;
  const plane = context.plane(step.plane);
  const regions = step.outlines.map((outline) => regionsOf(outline, context));
  const line = turningLine(step.axis, context);
  const angleRad = step.angle === undefined ? 2 * Math.PI : values.angleRad(step.angle, 'turning angle');
  if (!(angleRad > 1e-6 && angleRad < 2 * Math.PI + 1e-9))
    throw new ProblemError('turning-angle', 'The turning angle must lie between 0 and 360 degrees.');
  for (const region of regions.flat()) requireBeside(region, line);
  const tools = regions.flat().map((region) => keep(kernel.revolve(plane, profileOf(region), line, angleRad)));
  const origin = pointOn(plane, line.origin);
  const direction = normalize(subtract(pointOn(plane, line.direction), plane.origin));
  const whole = Math.abs(angleRad - 2 * Math.PI) < 1e-9;
  return {
    kind: 'parts',
    parts: [{ mode: step.mode, tools }],
    surfaces: regions.flatMap((pieces, i) => {
      const walls = pieces.flatMap((region) => turnedWalls(plane, region, origin, direction));
      const [first] = pieces;
      const caps = whole || first === undefined ? [] : turnedCaps(plane, first, { origin, direction, angleRad });
      return faced(step.mode, [...walls, ...caps]).map(([role, surface]): Named => [
        numbered(i, regions.length, role),
        surface,
      ]);
    }),
  };
}

interface TurningLine {
  readonly origin: Vec2;
  readonly direction: Vec2;
}

function turningLine(axis: StepOf<'revolve'>['axis'], { values }: Context): TurningLine {
  if (axis === 'u') return { origin: [0, 0], direction: [1, 0] };
  if (axis === 'v') return { origin: [0, 0], direction: [0, 1] };
  const at = ([u, v]: readonly [string, string]): Vec2 => [
    values.lengthMm(u, 'turning axis'),
    values.lengthMm(v, 'turning axis'),
  ];
  const [from, to] = [at(axis.from), at(axis.to)];
  const size = Math.hypot(to[0] - from[0], to[1] - from[1]);
  if (size < 1e-9) throw new ProblemError('axis-point', 'The two points of the turning axis are the same.');
  return { origin: from, direction: [(to[0] - from[0]) / size, (to[1] - from[1]) / size] };
}

function requireBeside(region: Region, { origin, direction }: TurningLine): void {
  const sides = pointsAlong(region.outer).map(
    ([u, v]) => (u - origin[0]) * direction[1] - (v - origin[1]) * direction[0],
  );
  if (Math.min(...sides) < -1e-6 && Math.max(...sides) > 1e-6)
    throw new ProblemError('crosses-axis', 'The outline lies on both sides of the axis that it is turned about.');
}

/** The flat ends of a body that is not turned all the way round. */
function turnedCaps(
  plane: WorkPlane,
  region: Region,
  turn: { readonly origin: Vec3; readonly direction: Vec3; readonly angleRad: number },
): readonly Named[] {
  const [point] = pointsAlong(region.outer).sort(
    (a, b) =>
      length(cross(subtract(pointOn(plane, b), turn.origin), turn.direction)) -
      length(cross(subtract(pointOn(plane, a), turn.origin), turn.direction)),
  );
  if (point === undefined) return [];
  const motion = normalize(cross(turn.direction, subtract(pointOn(plane, point), turn.origin)));
  return [
    ['start', { kind: 'plane', origin: turn.origin, normal: scale(motion, -1) }],
    ['end', { kind: 'plane', origin: turn.origin, normal: multiply(rotation(turn.direction, turn.angleRad), motion) }],
  ];
}

export function loft(step: StepOf<'loft'>, context: Context): Outcome {
  const { kernel, values, keep } = context;
  const plane = context.plane(step.plane);
  const distance = values.lengthMm(step.distance, 'distance of the outlines');
  if (Math.abs(distance) < 1e-9)
    throw new ProblemError('size-not-positive', 'The two outlines must lie on different planes.');
  const [first, second] = [step.outline, step.to].map((outline) => {
    const regions = regionsOf(outline, context);
    const [region] = regions;
    if (region === undefined || regions.length > 1 || region.holes.length > 0)
      throw new ProblemError('loft-outline', 'Only outlines in one piece and without holes can be joined.');
    return region;
  });
  if (first === undefined || second === undefined) throw new ProblemError('loft-outline', 'An outline is missing.');
  const end = offsetPlane(plane, distance);
  const body = keep(
    kernel.loft({ plane, contour: contourOf(first.outer) }, { plane: end, contour: contourOf(second.outer) }),
  );
  return {
    kind: 'parts',
    parts: [{ mode: step.mode, tools: [body] }],
    surfaces: faced(step.mode, [...prismCaps(plane, 0, distance), ...coneBetween(plane, first, second, distance)]),
  };
}

/** Between two circles on one axis the wall is a cone, or a cylinder. */
function coneBetween(plane: WorkPlane, first: Region, second: Region, distance: number): readonly Named[] {
  const [a, b] = [first.outer[0], second.outer[0]];
  if (a?.kind !== 'circle' || b?.kind !== 'circle') return [];
  if (Math.hypot(a.center[0] - b.center[0], a.center[1] - b.center[1]) > 1e-9) return [];
  const base = pointOn(plane, a.center);
  if (Math.abs(a.radiusMm - b.radiusMm) < 1e-9) return [['wall', cylinder(base, plane.normal, a.radiusMm, 'convex')]];
  const opening = Math.sign((b.radiusMm - a.radiusMm) * distance);
  return [
    [
      'wall',
      {
        kind: 'cone',
        origin: base,
        direction: scale(plane.normal, opening),
        radiusMm: a.radiusMm,
        halfAngleRad: Math.atan2(Math.abs(b.radiusMm - a.radiusMm), Math.abs(distance)),
        apex: add(base, scale(plane.normal, (distance * a.radiusMm) / (a.radiusMm - b.radiusMm))),
        side: 'convex',
      },
    ],
  ];
}

/** Fills the corner between the part and a line: of a large slab behind the line, the piece that the part closes in. */
export function rib(step: StepOf<'rib'>, context: Context): Outcome {
  const { kernel, values, keep } = context;
  const plane = context.plane(step.plane);
  const at = ([u, v]: readonly [string, string]): Vec2 => [
    values.lengthMm(u, 'rib line'),
    values.lengthMm(v, 'rib line'),
  ];
  const [from, to] = [at(step.from), at(step.to)];
  const thickness = values.sizeMm(step.thickness, 'rib thickness');
  const size = Math.hypot(to[0] - from[0], to[1] - from[1]);
  if (size < 1e-9) throw new ProblemError('rib-line', 'The two ends of the rib line are the same point.');
  const along: Vec2 = [(to[0] - from[0]) / size, (to[1] - from[1]) / size];
  const inward: Vec2 = step.side === 'left' ? [-along[1], along[0]] : [along[1], -along[0]];
  const body = context.body();
  const reach = context.reach(plane);
  const far = 2 * (reach.toMm - reach.fromMm) + size;
  const point = (a: number, b: number): Vec2 => [
    from[0] + along[0] * a + inward[0] * b,
    from[1] + along[1] * a + inward[1] * b,
  ];
  const corners = [point(size + far, 0), point(size + far, far), point(-far, far), point(-far, 0)];
  const slab = keep(
    kernel.extrude(
      plane,
      { kind: 'path', start: point(-far, 0), segments: corners.map((to) => ({ kind: 'line', to })) },
      -thickness / 2,
      thickness / 2,
    ),
  );
  const grain = Math.min(thickness, size) / 100;
  const seed = keep(
    kernel.extrude(plane, { kind: 'circle', center: point(size / 2, 3 * grain), radiusMm: grain }, -grain, grain),
  );
  const piece = kernel
    .pieces(keep(kernel.cut(slab, [body])))
    .map(keep)
    .find((candidate) => kernel.bodyCount(keep(kernel.common(candidate, [seed]))) > 0);
  const open = () =>
    new ProblemError(
      'rib-open',
      'The part does not close in the corner behind the rib line. Let the line end on two faces, or take the other side.',
    );
  if (piece === undefined) throw open();
  const box = kernel.boxOn(piece, plane);
  const limit = far / 2;
  const middle = point(size / 2, 0);
  if ([box.min, box.max].some((corner) => Math.hypot(corner[0] - middle[0], corner[1] - middle[1]) > limit + size))
    throw open();
  const flat = (center: Vec2, offset: number): Vec3 => add(pointOn(plane, center), scale(plane.normal, offset));
  const outward = scale(add(scale(plane.u, inward[0]), scale(plane.v, inward[1])), -1);
  const seedPoint = point(size / 2, 3 * grain);
  return {
    kind: 'parts',
    parts: [{ mode: 'add', tools: [piece] }],
    surfaces: [
      ['edge', { kind: 'plane', origin: flat(middle, 0), normal: outward }],
      ['face1', { kind: 'plane', origin: flat(seedPoint, thickness / 2), normal: plane.normal }],
      ['face2', { kind: 'plane', origin: flat(seedPoint, -thickness / 2), normal: scale(plane.normal, -1) }],
    ],
  };
}
