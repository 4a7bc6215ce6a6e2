import * as v from 'valibot';

import { pointOn } from '#core/kernel';
import { PointSchema } from '#core/outline';
import { ProblemError } from '#core/problem';
import { ExpressionSchema } from '#core/quantity';
import { add, scale, type Vec2, type Vec3 } from '#core/vector';

import type { Context, Outcome } from '../context.ts';
import { PlaneSchema } from '../entries.ts';
import { length, PLANE } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';

const fields = {
  plane: PlaneSchema,
  from: PointSchema,
  to: PointSchema,
  thickness: ExpressionSchema,
  /** The material lies to the left of the line from `from` to `to`, or to the right. */
  side: v.picklist(['left', 'right']),
};
type Rib = StepWith<typeof fields>;

/** Fills the corner between the part and a line: of a large slab behind the line, the piece that the part closes in. */
function build(step: Rib, context: Context): Outcome {
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

/** A thin wall that fills the corner of the part on one side of a line, half of its thickness to each side of the plane. */
export const rib = defineOperation({
  op: 'rib',
  name: 'Rib',
  searchWords: 'web gusset wall',
  logWords: /\bribs?\b|\bwebs?\b|\bgussets?\b|\bstiffeners?\b/,
  fields,
  surfaces: ['edge', 'face1', 'face2'],
  effect: () => 'adds',
  build,
  sentence: ({ thickness }) => `rib ${thickness} thick`,
  form: [
    PLANE,
    { kind: 'point', path: ['from'], label: 'Line from' },
    { kind: 'point', path: ['to'], label: 'to' },
    length('thickness', 'Thickness'),
    {
      kind: 'pick',
      path: ['side'],
      label: 'Fills to the',
      options: [
        ['left', 'left of the line'],
        ['right', 'right of the line'],
      ],
    },
  ],
  start: ({ freeId }): Rib => ({
    id: freeId('rib'),
    plane: { base: 'XZ' },
    from: ['0', '20'],
    to: ['20', '10'],
    thickness: '5',
    side: 'right',
  }),
  mistakes: ({ side }) => [
    {
      kind: 'wrong-side',
      key: 'side',
      changes: [{ path: ['side'], value: side === 'left' ? 'right' : 'left' }],
      words: 'the material lies on the other side of its line.',
    },
  ],
  leaves: { features: ['rib'], absent: 'the model has no rib' },
  ownFeature: 'rib',
});
