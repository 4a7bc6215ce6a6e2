import * as v from 'valibot';

import { offsetPlane, pointOn, type Contour, type Shape, type WorkPlane } from '#core/kernel';
import { cylinder, PointSchema, type Named } from '#core/outline';
import { ProblemError } from '#core/problem';
import { ExpressionSchema, type DrawingUnit } from '#core/quantity';
import type { Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE } from '#core/tolerance';
import { add, cross, dot, length as sizeOf, scale, subtract, type Vec2 } from '#core/vector';

import { numbered, type Context, type Outcome, type Thread } from '../context.ts';
import { CLEARANCE_MM } from '../drawn.ts';
import { PlaneSchema, SkipSchema, SurfaceNamesSchema, ThreadSchema } from '../entries.ts';
import { angle, choice, count, kindOfValue, length, option, PLANE, SKIP, THREAD, type Field } from '../form.ts';
import { defineOperation, type Repeat, type StepMistake, type StepWith } from '../operation.ts';
import { axisOfSurface } from '../planes.ts';
import { seat } from '../start.ts';

const PlacementSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('points'), points: v.pipe(v.array(PointSchema), v.minLength(1), v.readonly()) }),
  v.strictObject({
    kind: v.literal('bolt-circle'),
    center: PointSchema,
    diameter: ExpressionSchema,
    count: ExpressionSchema,
    startAngle: v.optional(ExpressionSchema),
    /** Positions without a hole, from 1. */
    skip: SkipSchema,
  }),
  /** On the axes of round surfaces that are square to the plane. */
  v.strictObject({ kind: v.literal('concentric'), with: SurfaceNamesSchema }),
]);

const HoleDepthSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('through') }),
  /** Through the first wall only. */
  v.strictObject({ kind: v.literal('wall') }),
  v.strictObject({
    kind: v.literal('blind'),
    /** Of the round wall. */
    depth: ExpressionSchema,
    bottom: v.optional(v.picklist(['flat', 'drill-point'])),
    /** Whole angle of the drill point, 118 where nothing is said. */
    pointAngle: v.optional(ExpressionSchema),
  }),
]);

const fields = {
  plane: PlaneSchema,
  at: PlacementSchema,
  diameter: ExpressionSchema,
  depth: HoleDepthSchema,
  counterbore: v.optional(v.strictObject({ diameter: ExpressionSchema, depth: ExpressionSchema })),
  /** Whole angle, 90 where nothing is said. */
  countersink: v.optional(v.strictObject({ diameter: ExpressionSchema, angle: v.optional(ExpressionSchema) })),
  tapped: v.optional(ThreadSchema),
};
type Hole = StepWith<typeof fields>;

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

function build(step: Hole, context: Context): Outcome {
  const plane = context.plane(step.plane);
  const sizes = sizesOf(step, context);
  const points = places(step.at, plane, context);
  const reach = context.reach(plane);
  const top = 'surface' in step.plane ? CLEARANCE_MM : Math.max(CLEARANCE_MM, reach.toMm);
  const end = Math.max(-reach.fromMm, (sizes.depth ?? 0) + sizes.point + CLEARANCE_MM);
  const tools = points.map((point) =>
    step.depth.kind === 'wall'
      ? drill(plane, point, {
          sizes: { ...sizes, depth: wallDepth(plane, point, { sizes, end, context }) },
          top,
          end,
          context,
        })
      : drill(plane, point, { sizes, top, end, context }),
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

function sizesOf(step: Hole, { values }: Context): Sizes {
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
  {
    sizes: { radius, depth, point: tip, recess, sink },
    top,
    end,
    context: { kernel, keep },
  }: { readonly sizes: Sizes; readonly top: number; readonly end: number; readonly context: Context },
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
function wallDepth(
  plane: WorkPlane,
  point: Vec2,
  {
    sizes,
    end,
    context: { kernel, keep, body },
  }: { readonly sizes: Sizes; readonly end: number; readonly context: Context },
): number {
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

function places(at: Hole['at'], plane: WorkPlane, context: Context): Vec2[] {
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
        const axis = axisOfSurface(context.surface(name), name);
        if (sizeOf(cross(axis.direction, plane.normal)) > BUILT_PARALLEL_SINE)
          throw new ProblemError('axis-not-square', `The axis of "${name}" is not square to the plane of the hole.`);
        const offset = subtract(axis.origin, plane.origin);
        return [dot(offset, plane.u), dot(offset, plane.v)];
      });
  }
}

function sentence(step: Hole): string {
  const { at, depth } = step;
  const count =
    at.kind === 'points'
      ? at.points.length === 1
        ? ''
        : `${String(at.points.length)} x `
      : at.kind === 'bolt-circle'
        ? `${at.count} x `
        : at.with.length === 1
          ? ''
          : `${String(at.with.length)} x `;
  const far = depth.kind === 'through' ? 'through' : depth.kind === 'wall' ? 'through one wall' : `${depth.depth} deep`;
  return [
    `${count}hole ${step.diameter}, ${far}`,
    ...(depth.kind === 'blind' && depth.bottom === 'drill-point' ? ['drill point'] : []),
    ...(step.counterbore ? [`counterbore ${step.counterbore.diameter} x ${step.counterbore.depth}`] : []),
    ...(step.countersink
      ? [`countersink ${step.countersink.diameter} x ${step.countersink.angle ?? '90'} degrees`]
      : []),
    ...(step.tapped ? [`thread ${step.tapped.designation}`] : []),
    ...(at.kind === 'bolt-circle' ? [`on circle ${at.diameter}`] : []),
  ].join(', ');
}

const FORM: readonly Field[] = [
  PLANE,
  {
    kind: 'choice',
    path: ['at'],
    label: 'Where',
    of: kindOfValue,
    choices: [
      choice('points', 'at points', () => ({ kind: 'points', points: [['0', '0']] }), {
        kind: 'points',
        path: ['points'],
        label: 'Points',
      }),
      choice(
        'bolt-circle',
        'on a bolt circle',
        () => ({ kind: 'bolt-circle', center: ['0', '0'], diameter: '30', count: '4' }),
        { kind: 'point', path: ['center'], label: 'Center' },
        length('diameter', 'Circle diameter'),
        count('count', 'Number'),
        angle('startAngle', 'First at', '0'),
        SKIP,
      ),
      choice('concentric', 'on the axis of a round', () => ({ kind: 'concentric', with: ['base.wall'] }), {
        kind: 'surfaces',
        path: ['with'],
        label: 'Rounds',
      }),
    ],
  },
  length('diameter', 'Diameter'),
  {
    kind: 'choice',
    path: ['depth'],
    label: 'How deep',
    of: kindOfValue,
    choices: [
      choice('through', 'through all', () => ({ kind: 'through' })),
      choice('wall', 'through one wall', () => ({ kind: 'wall' })),
      choice(
        'blind',
        'to a depth',
        () => ({ kind: 'blind', depth: '10', bottom: 'drill-point' }),
        length('depth', 'Depth'),
        {
          kind: 'pick',
          path: ['bottom'],
          label: 'Bottom',
          options: [
            ['flat', 'flat'],
            ['drill-point', 'drill point'],
          ],
        },
        angle('pointAngle', 'Point angle', '118'),
      ),
    ],
  },
  option(
    'counterbore',
    'Counterbore',
    () => ({ diameter: '14', depth: '4' }),
    length('diameter', 'Diameter'),
    length('depth', 'Depth'),
  ),
  option(
    'countersink',
    'Countersink',
    () => ({ diameter: '14' }),
    length('diameter', 'Diameter'),
    angle('angle', 'Angle', '90'),
  ),
  option('tapped', 'Thread', () => ({ designation: 'M8x1.25' }), ...THREAD),
];

/** A depth that a dialog may open with, in the drawing unit. */
const USUAL_DEPTH: Readonly<Record<DrawingUnit, string>> = { mm: '10', in: '0.5' };

/** One of several holes at points with half of its diameter. */
function oneSmaller({ at, diameter }: Hole): readonly StepMistake[] {
  if (at.kind !== 'points' || at.points.length < 2) return [];
  return at.points.map((_, hole): StepMistake => ({
    kind: 'radius-for-diameter',
    key: `alone-${String(hole)}`,
    changes: [{ path: ['diameter'], value: `(${diameter})/2`, hole }],
    words: `number ${String(hole + 1)} has half of the diameter that the sheet gives, the others are right. Was the radius typed there?`,
    factor: 0.3,
  }));
}

function otherDepth({ depth }: Hole, unit: DrawingUnit): readonly StepMistake[] {
  const toDepth = (value: object): StepMistake['changes'] => [{ path: ['depth'], value }];
  if (depth.kind === 'blind') {
    const other = depth.bottom === 'drill-point' ? 'flat' : 'drill-point';
    return [
      {
        kind: 'through-for-blind',
        key: 'depth',
        changes: toDepth({ kind: 'through' }),
        words: 'the holes go through; the sheet gives them a depth.',
        ofAnySize: true,
      },
      {
        kind: 'drill-point',
        key: 'bottom',
        changes: [{ path: ['depth', 'bottom'], value: other }],
        words: `the bottom is ${other === 'flat' ? 'flat' : 'a drill point'}; the sheet shows the other.`,
      },
    ];
  }
  return [
    {
      kind: 'blind-for-through',
      key: 'depth',
      changes: toDepth({ kind: 'blind', depth: USUAL_DEPTH[unit] }),
      words: `the holes end inside the part (${USUAL_DEPTH[unit]} ${unit} deep); the sheet shows them going through.`,
    },
    {
      kind: 'wall-or-all',
      key: 'walls',
      changes: toDepth({ kind: depth.kind === 'wall' ? 'through' : 'wall' }),
      words:
        depth.kind === 'wall'
          ? 'the hole goes through every wall; the sheet shows it in one only.'
          : 'the hole goes through the first wall only; the sheet shows it going through all.',
    },
  ];
}

function otherRecess({ counterbore, countersink }: Hole): readonly StepMistake[] {
  const bored: readonly StepMistake[] =
    counterbore === undefined
      ? []
      : [
          {
            kind: 'recess-forgotten',
            key: 'counterbore',
            changes: [{ path: ['counterbore'], value: null }],
            words: 'the counterbore is missing.',
          },
          {
            kind: 'recess-swapped',
            key: 'counterbore',
            changes: [{ path: ['counterbore'], value: { diameter: counterbore.depth, depth: counterbore.diameter } }],
            words: 'diameter and depth of the counterbore are swapped.',
          },
          {
            kind: 'recess-kind',
            key: 'countersink',
            changes: [
              { path: ['counterbore'], value: null },
              { path: ['countersink'], value: { diameter: counterbore.diameter } },
            ],
            words: 'there is a countersink where the sheet shows a counterbore.',
          },
        ];
  const sunk: readonly StepMistake[] =
    countersink === undefined
      ? []
      : [
          {
            kind: 'recess-forgotten',
            key: 'countersink',
            changes: [{ path: ['countersink'], value: null }],
            words: 'the countersink is missing.',
          },
          {
            kind: 'recess-kind',
            key: 'counterbore',
            changes: [
              { path: ['countersink'], value: null },
              {
                path: ['counterbore'],
                value: { diameter: countersink.diameter, depth: `(${countersink.diameter})/4` },
              },
            ],
            words: 'there is a counterbore where the sheet shows a countersink.',
          },
        ];
  return [...bored, ...sunk];
}

function repeats({ at }: Hole): readonly Repeat[] {
  switch (at.kind) {
    case 'bolt-circle':
      return [{ kind: 'places', path: ['at', 'skip'], skip: at.skip ?? [], count: at.count, first: 1 }];
    case 'points':
      return [{ kind: 'list', path: ['at', 'points'], length: at.points.length }];
    case 'concentric':
      return [{ kind: 'list', path: ['at', 'with'], length: at.with.length }];
  }
}

/** Round holes: through or blind, with a recess and a thread, at points, on a circle, or on the axes of cylinders. */
export const hole = defineOperation({
  op: 'hole',
  name: 'Hole',
  searchWords: 'bore drill counterbore countersink tap bolt circle',
  logWords:
    /\bholes?\b|\bdrill(ed|s|ing)?\b|\bbores?d?\b|\bream(ed)?\b|\bcounter ?bores?d?\b|\bcounter ?(sink|sunk)\b|\btap(ped)?\b/,
  fields,
  surfaces: ['wall', 'floor', 'bottom', 'recess', 'shoulder', 'sink', '1.wall'],
  effect: () => 'cuts',
  build,
  sentence,
  form: FORM,
  start: ({ freeId, surfaces }): Hole => ({
    id: freeId('hole'),
    plane: seat(surfaces),
    at: { kind: 'points', points: [['0', '0']] },
    diameter: '8',
    depth: { kind: 'through' },
  }),
  mistakes: (step, unit) => [...oneSmaller(step), ...otherDepth(step, unit), ...otherRecess(step)],
  numberRoles: { depth: 'hole-depth' },
  repeats,
  placed: ({ at, diameter }) =>
    at.kind === 'points'
      ? at.points.map((point, i) => ({ path: ['at', 'points', i], point, half: `(${diameter})/2` }))
      : [],
  extent: ({ depth }) => (depth.kind === 'through' ? 'through' : null),
  leaves: { features: ['hole', 'slotted-hole', 'thread'], absent: 'the model has no hole' },
  ownFeature: 'hole',
});
