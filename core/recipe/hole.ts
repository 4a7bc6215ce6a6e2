import { offsetPlane, pointOn, type Contour, type Shape, type WorkPlane } from '#core/kernel';
import { cylinder, type Named } from '#core/outline';
import { ProblemError } from '#core/problem';
import type { Surface } from '#core/solid';
import { add, cross, dot, length, scale, subtract, type Vec2 } from '#core/vector';

import { numbered, type Context, type Outcome, type Thread } from './context.ts';
import { axisOfRound } from './planes.ts';
import type { StepOf } from './schema.ts';
import { CLEARANCE_MM } from './solids.ts';

const DRILL_POINT = '118';
const COUNTERSINK = '90';

/** The sizes of a hole in mm and rad; heights are measured from the plane, into the material. */
interface Sizes {
  readonly radius: number;
  /** Null where the hole goes on to the end of its tool. */
  readonly depth: number | null;
  /** Length of the drill point beyond `depth`. */
  readonly point: number;
  readonly recess: { readonly radius: number; readonly depth: number } | null;
  readonly sink: { readonly radius: number; readonly depth: number; readonly halfAngleRad: number } | null;
}

export function hole(step: StepOf<'hole'>, context: Context): Outcome {
  const plane = context.plane(step.plane);
  const sizes = sizesOf(step, context);
  const points = places(step.at, plane, context);
  const reach = context.reach(plane);
  const top = 'surface' in step.plane ? CLEARANCE_MM : Math.max(CLEARANCE_MM, reach.toMm);
  const end = Math.max(-reach.fromMm, (sizes.depth ?? 0) + sizes.point + CLEARANCE_MM);
  const tools = points.map((point) =>
    step.depth.kind === 'wall'
      ? drill(plane, point, { ...sizes, depth: wallDepth(plane, point, sizes, end, context) }, top, end, context)
      : drill(plane, point, sizes, top, end, context),
  );
  const surfaces = points.map((point) => surfacesOf(plane, point, sizes));
  const names = surfaces.flatMap((found, i) =>
    found.map(([role, surface]): Named => [numbered(i, points.length, role), surface]),
  );
  const { tapped } = step;
  const threads =
    tapped === undefined
      ? []
      : surfaces.flatMap((found): Thread[] => {
          const wall = found.find(([role]) => role === 'wall')?.[1];
          if (wall === undefined) return [];
          const lengthMm =
            tapped.length === undefined ? sizes.depth : context.values.sizeMm(tapped.length, 'length of the thread');
          if (sizes.depth !== null && lengthMm !== null && lengthMm > sizes.depth + 1e-9)
            throw new ProblemError('thread-too-long', 'The thread is longer than the hole is deep.');
          const { designation, fit = null } = tapped;
          return [{ stepId: step.id, designation, fit, surface: wall, lengthMm, external: false }];
        });
  return { kind: 'parts', parts: [{ mode: 'cut', tools }], surfaces: names, threads };
}

function sizesOf(step: StepOf<'hole'>, { values }: Context): Sizes {
  const radius = values.sizeMm(step.diameter, 'hole diameter') / 2;
  const recess = step.counterbore && {
    radius: values.sizeMm(step.counterbore.diameter, 'counterbore diameter') / 2,
    depth: values.sizeMm(step.counterbore.depth, 'counterbore depth'),
  };
  if (recess && recess.radius <= radius)
    throw new ProblemError('counterbore-too-small', 'The counterbore must be wider than the hole.');
  const sink = step.countersink && {
    radius: values.sizeMm(step.countersink.diameter, 'countersink diameter') / 2,
    halfAngleRad: halfAngle(values.angleRad(step.countersink.angle ?? COUNTERSINK, 'countersink angle'), 'countersink'),
  };
  if (sink && sink.radius <= radius)
    throw new ProblemError('countersink-too-small', 'The countersink must be wider than the hole.');
  if (sink && recess)
    throw new ProblemError('two-recesses', 'A hole has a counterbore or a countersink, not both; use two steps.');
  const depth = step.depth.kind === 'blind' ? values.sizeMm(step.depth.depth, 'hole depth') : null;
  if (depth !== null && recess && recess.depth >= depth)
    throw new ProblemError('counterbore-too-deep', 'The counterbore must be less deep than the hole.');
  const sinkDepth = sink ? (sink.radius - radius) / Math.tan(sink.halfAngleRad) : 0;
  if (depth !== null && sink && sinkDepth >= depth)
    throw new ProblemError('countersink-too-deep', 'The countersink must be less deep than the hole.');
  const pointed = step.depth.kind === 'blind' && step.depth.bottom === 'drill-point' ? step.depth : null;
  return {
    radius,
    depth,
    point:
      pointed === null
        ? 0
        : radius /
          Math.tan(halfAngle(values.angleRad(pointed.pointAngle ?? DRILL_POINT, 'point angle'), 'drill point')),
    recess: recess ?? null,
    sink: sink ? { ...sink, depth: sinkDepth } : null,
  };
}

function halfAngle(angleRad: number, what: string): number {
  if (!(angleRad > 0.02 && angleRad < Math.PI - 0.02))
    throw new ProblemError('bad-angle', `The angle of the ${what} must lie between 1 and 179 degrees.`);
  return angleRad / 2;
}

/** Half of the hole in section, turned about its axis: one body with clean faces. */
function drill(
  plane: WorkPlane,
  point: Vec2,
  { radius, depth, point: tip, recess, sink }: Sizes,
  top: number,
  end: number,
  { kernel, keep }: Context,
): Shape {
  const bottom = depth ?? end;
  const head: Vec2[] = recess
    ? [
        [recess.radius, top],
        [recess.radius, -recess.depth],
        [radius, -recess.depth],
      ]
    : sink
      ? [
          [sink.radius, top],
          [sink.radius, 0],
          [radius, -sink.depth],
        ]
      : [[radius, top]];
  const corners: Vec2[] = [...head, [radius, -bottom], [0, -bottom - tip], [0, top]];
  const section: WorkPlane = {
    origin: pointOn(plane, point),
    u: plane.u,
    v: plane.normal,
    normal: scale(plane.v, -1),
  };
  const contour: Contour = { kind: 'path', start: [0, top], segments: corners.map((to) => ({ kind: 'line', to })) };
  return keep(kernel.revolve(section, contour, { origin: [0, 0], direction: [0, 1] }));
}

/** To the middle of the gap behind the first wall that the hole goes through. */
function wallDepth(plane: WorkPlane, point: Vec2, sizes: Sizes, end: number, { kernel, keep, body }: Context): number {
  const shaft = keep(kernel.extrude(plane, { kind: 'circle', center: point, radiusMm: sizes.radius }, 0, -end));
  const walls = kernel
    .pieces(keep(kernel.common(shaft, [body()])))
    .map((piece) => kernel.boxOn(keep(piece), plane))
    .sort((a, b) => b.max[2] - a.max[2]);
  const [first, second] = walls;
  if (first === undefined) throw new ProblemError('nothing-to-cut', 'The hole does not meet the part.');
  return second === undefined ? end : -(first.min[2] + second.max[2]) / 2;
}

function surfacesOf(plane: WorkPlane, point: Vec2, sizes: Sizes): readonly Named[] {
  const center = pointOn(plane, point);
  const floor = (depth: number): Surface => ({
    kind: 'plane',
    origin: pointOn(offsetPlane(plane, -depth), point),
    normal: plane.normal,
  });
  const cone = (depth: number, radiusMm: number, halfAngleRad: number, opening: 1 | -1): Surface => {
    const origin = add(center, scale(plane.normal, -depth));
    return {
      kind: 'cone',
      origin,
      direction: scale(plane.normal, opening),
      radiusMm,
      halfAngleRad,
      apex: add(origin, scale(plane.normal, (-opening * radiusMm) / Math.tan(halfAngleRad))),
      side: 'concave',
    };
  };
  const { radius, depth, point: tip, recess, sink } = sizes;
  return [
    ['wall', cylinder(center, plane.normal, radius, 'concave')],
    ...(depth !== null && tip === 0 ? [['floor', floor(depth)] as const] : []),
    ...(depth !== null && tip > 0 ? [['tip', cone(depth, radius, Math.atan2(radius, tip), 1)] as const] : []),
    ...(recess
      ? ([
          ['recess', cylinder(center, plane.normal, recess.radius, 'concave')],
          ['shoulder', floor(recess.depth)],
        ] as const)
      : []),
    ...(sink ? [['sink', cone(0, sink.radius, sink.halfAngleRad, 1)] as const] : []),
  ];
}

function places(at: StepOf<'hole'>['at'], plane: WorkPlane, context: Context): Vec2[] {
  const { values } = context;
  switch (at.kind) {
    case 'points':
      return at.points.map(([u, v]) => [values.lengthMm(u, 'hole position'), values.lengthMm(v, 'hole position')]);
    case 'bolt-circle': {
      const count = values.count(at.count, 'number of holes', { least: 1, most: 200 });
      const radius = values.sizeMm(at.diameter, 'bolt circle diameter') / 2;
      const start = at.startAngle === undefined ? 0 : values.angleRad(at.startAngle, 'start angle');
      const center: Vec2 = [values.lengthMm(at.center[0], 'center'), values.lengthMm(at.center[1], 'center')];
      const found = Array.from({ length: count }, (_, i): Vec2 => {
        const angle = start + (2 * Math.PI * i) / count;
        return [center[0] + radius * Math.cos(angle), center[1] + radius * Math.sin(angle)];
      }).filter((_, i) => !at.skip?.includes(i + 1));
      if (found.length === 0) throw new ProblemError('hole-count', 'All positions of the bolt circle are skipped.');
      return found;
    }
    case 'concentric':
      return at.with.map((name) => {
        const axis = axisOfRound(context.surface(name), name);
        if (length(cross(axis.direction, plane.normal)) > 1e-6)
          throw new ProblemError('axis-not-square', `The axis of "${name}" is not square to the plane of the hole.`);
        const offset = subtract(axis.origin, plane.origin);
        return [dot(offset, plane.u), dot(offset, plane.v)];
      });
  }
}
