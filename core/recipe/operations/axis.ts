import * as v from 'valibot';

import { pointOn } from '#core/kernel';
import { PointSchema } from '#core/outline';
import type { Vec2 } from '#core/vector';

import type { Context, Outcome } from '../context.ts';
import { PlaneSchema, SurfaceNameSchema } from '../entries.ts';
import { choice, kindOfValue } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';
import { axisOfSurface, meetingLine } from '../planes.ts';

const fields = {
  by: v.variant('kind', [
    v.strictObject({ kind: v.literal('of'), surface: SurfaceNameSchema }),
    v.strictObject({
      kind: v.literal('meeting'),
      between: v.pipe(v.tuple([PlaneSchema, PlaneSchema]), v.readonly()),
    }),
    v.strictObject({ kind: v.literal('square'), to: PlaneSchema, at: PointSchema }),
  ]),
};

function build({ by }: StepWith<typeof fields>, context: Context): Outcome {
  switch (by.kind) {
    case 'of':
      return { kind: 'axis', axis: axisOfSurface(context.surface(by.surface), by.surface) };
    case 'meeting': {
      const [a, b] = by.between;
      return { kind: 'axis', axis: meetingLine(context.plane(a), context.plane(b)) };
    }
    case 'square': {
      const to = context.plane(by.to);
      const at: Vec2 = [
        context.values.lengthMm(by.at[0], 'place of the axis'),
        context.values.lengthMm(by.at[1], 'place of the axis'),
      ];
      return { kind: 'axis', axis: { origin: pointOn(to, at), direction: to.normal } };
    }
  }
}

/** A line to turn or to copy about. */
export const axis = defineOperation({
  op: 'axis',
  name: 'Axis',
  searchWords: 'reference datum line',
  logWords: /\baxis\b|\bcent(er|re) ?lines?\b/,
  fields,
  surfaces: [],
  effect: () => 'axis',
  build,
  sentence: ({ by }) =>
    `axis, ${{ of: 'of a cylinder', meeting: 'where planes meet', square: 'square to a plane' }[by.kind]}`,
  form: [
    {
      kind: 'choice',
      path: ['by'],
      label: 'Made by',
      of: kindOfValue,
      choices: [
        choice('of', 'axis of a round', () => ({ kind: 'of', surface: 'base.wall' }), {
          kind: 'surface',
          path: ['surface'],
          label: 'Round',
        }),
        choice(
          'meeting',
          'where two planes meet',
          () => ({ kind: 'meeting', between: [{ base: 'XZ' }, { base: 'YZ' }] }),
          { kind: 'plane', path: ['between', 0], label: 'One plane' },
          { kind: 'plane', path: ['between', 1], label: 'Other plane' },
        ),
        choice(
          'square',
          'square to a plane',
          () => ({ kind: 'square', to: { base: 'XY' }, at: ['0', '0'] }),
          { kind: 'plane', path: ['to'], label: 'Plane' },
          { kind: 'point', path: ['at'], label: 'At' },
        ),
      ],
    },
  ],
  start: ({ freeId }): StepWith<typeof fields> => ({
    id: freeId('axis'),
    by: { kind: 'square', to: { base: 'XY' }, at: ['0', '0'] },
  }),
});
