import * as v from 'valibot';

import type { Named } from '#core/outline';
import { placeSurface } from '#core/solid';
import { add, dot, scale, type Vec3 } from '#core/vector';

import type { Context, Outcome } from '../context.ts';
import { copied, placed } from '../copies.ts';
import { PlaneSchema, StepsSchema } from '../entries.ts';
import { defineOperation, type StepWith } from '../operation.ts';
import { describePlane } from '../words.ts';

const fields = { plane: PlaneSchema, steps: v.optional(StepsSchema) };

function build(step: StepWith<typeof fields>, context: Context): Outcome {
  const plane = context.plane(step.plane);
  const [x, y, z] = plane.normal;
  const reflect = (n: number): Vec3 => [-2 * n * x, -2 * n * y, -2 * n * z];
  const motion = placed(
    [add([1, 0, 0], reflect(x)), add([0, 1, 0], reflect(y)), add([0, 0, 1], reflect(z))],
    scale(plane.normal, 2 * dot(plane.origin, plane.normal)),
  );
  if (step.steps !== undefined) return copied(step.steps, [{ motion, name: (role) => role }], context);
  const image = context.keep(context.kernel.moved(context.body(), motion.rotation, motion.translation));
  return {
    kind: 'parts',
    parts: [{ mode: 'add', tools: [image] }],
    surfaces: [...context.surfaces()].map(([name, surface]): Named => [name, placeSurface(motion, surface)]),
  };
}

/** Copies steps to the other side of a plane; without `steps`, the whole body. */
export const mirror = defineOperation({
  op: 'mirror',
  name: 'Mirror',
  searchWords: 'symmetry twin reflect',
  logWords: /\bmirror(ed|ing)?\b|\breflect(ed|ion)?\b/,
  fields,
  surfaces: ['(step).(role)'],
  effect: () => 'copies',
  build,
  sentence: ({ steps, plane }) => `mirror ${steps?.join(', ') ?? 'the whole body'} about ${describePlane(plane)}`,
  form: [
    { kind: 'plane', path: ['plane'], label: 'About' },
    { kind: 'optional-steps', path: ['steps'], label: 'What is mirrored' },
  ],
  start: ({ freeId, lastStepId }): StepWith<typeof fields> => ({
    id: freeId('mirror'),
    plane: { base: 'YZ' },
    steps: [lastStepId],
  }),
  usesSymmetry: true,
});
