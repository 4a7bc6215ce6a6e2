import * as v from 'valibot';

import { offsetPlane } from '#core/kernel';
import { ExpressionSchema } from '#core/quantity';
import { multiply } from '#core/vector';

import type { Context, Outcome } from '../context.ts';
import { PlaneSchema, SurfaceNameSchema } from '../entries.ts';
import { angle, choice, kindOfValue, length } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';
import { meetingLine, middlePlane, planeAt, planeOn, rotation, tangentPlane } from '../planes.ts';

const fields = {
  by: v.variant('kind', [
    v.strictObject({ kind: v.literal('offset'), from: PlaneSchema, distance: ExpressionSchema }),
    /** Turned about the line where two flat surfaces meet. */
    v.strictObject({
      kind: v.literal('angled'),
      from: SurfaceNameSchema,
      about: SurfaceNameSchema,
      angle: ExpressionSchema,
    }),
    v.strictObject({
      kind: v.literal('middle'),
      between: v.pipe(v.tuple([SurfaceNameSchema, SurfaceNameSchema]), v.readonly()),
    }),
    /** Touches a round surface where its outside looks along the normal of a plane. */
    v.strictObject({ kind: v.literal('tangent'), to: SurfaceNameSchema, facing: PlaneSchema }),
  ]),
};

function build({ by }: StepWith<typeof fields>, context: Context): Outcome {
  switch (by.kind) {
    case 'offset': {
      const from = context.plane(by.from);
      return { kind: 'plane', plane: offsetPlane(from, context.values.lengthMm(by.distance, 'distance')) };
    }
    case 'angled': {
      const [from, about] = [by.from, by.about].map((name) => planeOn(context.surface(name), name));
      if (from === undefined || about === undefined) throw new Error('two names give two planes');
      const line = meetingLine(from, about);
      const turn = rotation(line.direction, context.values.angleRad(by.angle, 'angle of the plane'));
      return { kind: 'plane', plane: planeAt(line.origin, multiply(turn, from.normal)) };
    }
    case 'middle': {
      const [a, b] = by.between;
      return { kind: 'plane', plane: middlePlane(planeOn(context.surface(a), a), planeOn(context.surface(b), b)) };
    }
    case 'tangent':
      return {
        kind: 'plane',
        plane: tangentPlane(context.surface(by.to), by.to, context.plane(by.facing).normal),
      };
  }
}

/** A plane to draw on, made from others. */
export const plane = defineOperation({
  op: 'plane',
  name: 'Plane',
  searchWords: 'reference datum offset angled middle tangent',
  logWords: /\bplanes?\b|\bdatum\b/,
  fields,
  surfaces: [],
  effect: () => 'plane',
  build,
  sentence: ({ by }) =>
    `plane, ${{ offset: 'offset', angled: 'at an angle', middle: 'in the middle', tangent: 'tangent' }[by.kind]}`,
  form: [
    {
      kind: 'choice',
      path: ['by'],
      label: 'Made by',
      of: kindOfValue,
      choices: [
        choice(
          'offset',
          'distance from a plane',
          () => ({ kind: 'offset', from: { base: 'XY' }, distance: '10' }),
          { kind: 'plane', path: ['from'], label: 'From' },
          length('distance', 'Distance'),
        ),
        choice(
          'angled',
          'angle about an edge',
          () => ({ kind: 'angled', from: 'base.end', about: 'base.right', angle: '30' }),
          { kind: 'surface', path: ['from'], label: 'From' },
          { kind: 'surface', path: ['about'], label: 'Edge with' },
          angle('angle', 'Angle'),
        ),
        choice(
          'middle',
          'middle of two surfaces',
          () => ({ kind: 'middle', between: ['base.left', 'base.right'] }),
          { kind: 'surface', path: ['between', 0], label: 'Between' },
          { kind: 'surface', path: ['between', 1], label: 'and' },
        ),
        choice(
          'tangent',
          'touching a round',
          () => ({ kind: 'tangent', to: 'base.wall', facing: { base: 'YZ' } }),
          { kind: 'surface', path: ['to'], label: 'Round' },
          { kind: 'plane', path: ['facing'], label: 'Facing as' },
        ),
      ],
    },
  ],
  start: ({ freeId }): StepWith<typeof fields> => ({
    id: freeId('plane'),
    by: { kind: 'offset', from: { base: 'XY' }, distance: '10' },
  }),
});
