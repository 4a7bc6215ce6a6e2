import * as v from 'valibot';

import { pointOn, type WorkPlane } from '#core/kernel';
import { pointsAlong, PointSchema, profileOf, turnedWalls, type Named, type Region } from '#core/outline';
import { ProblemError } from '#core/problem';
import { ExpressionSchema } from '#core/quantity';
import { cross, length, multiply, normalize, scale, subtract, type Vec2, type Vec3 } from '#core/vector';

import { numbered, type Context, type Outcome } from '../context.ts';
import { faced, regionsOf } from '../drawn.ts';
import { ModeSchema, OutlinesSchema, PlaneSchema } from '../entries.ts';
import { angle, axisOrLine, MODE, OUTLINES, PLANE } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';
import { rotation } from '../planes.ts';
import { describeOutlines } from '../words.ts';

const fields = {
  mode: ModeSchema,
  plane: PlaneSchema,
  outlines: OutlinesSchema,
  /** The turning axis: an axis of the plane, or a line through two points of it. */
  axis: v.union([v.picklist(['u', 'v']), v.strictObject({ from: PointSchema, to: PointSchema })]),
  /** All the way round where nothing is said. */
  angle: v.optional(ExpressionSchema),
};
type Revolve = StepWith<typeof fields>;

function build(step: Revolve, context: Context): Outcome {
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

function turningLine(axis: Revolve['axis'], { values }: Context): TurningLine {
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

/** Outlines turned about an axis, added to the part or cut from it. */
export const revolve = defineOperation({
  op: 'revolve',
  name: 'Revolve',
  searchWords: 'turn lathe round shaft ring',
  logWords:
    /\brevol(ve|ved|ves|ution)\b|\bturn(ed|ing)? (the |an? )?(outline|profile|section|sketch|body)\b|\bspin\b|\brotat(e|ed|ion) (the )?(outline|profile)/,
  fields,
  surfaces: ['wall', 'start', 'end', '1.wall'],
  effect: ({ mode }) => (mode === 'add' ? 'adds' : 'cuts'),
  build,
  sentence: (step) =>
    `${step.mode} ${step.angle === undefined ? 'a full turn' : `${step.angle} degrees`} of ${describeOutlines(step.outlines)}`,
  form: [
    MODE,
    PLANE,
    axisOrLine(
      'axis',
      'Turned about',
      () => ({ from: ['0', '0'], to: ['0', '10'] }),
      { kind: 'point', path: ['from'], label: 'From' },
      { kind: 'point', path: ['to'], label: 'To' },
    ),
    angle('angle', 'By', '360'),
    OUTLINES,
  ],
  start: ({ freeId }): Revolve => ({
    id: freeId('turn'),
    mode: 'add',
    plane: { base: 'XZ' },
    outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width: '20', height: '30' }],
    axis: 'v',
  }),
  leaves: { features: ['turned-body', 'boss', 'groove'], absent: 'nothing on the model is turned' },
  usesSymmetry: true,
});
