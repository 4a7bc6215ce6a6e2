import { SurfaceNameSchema, ThreadSchema } from '../entries.ts';
import type { Context, Outcome } from '../context.ts';
import { THREAD, type Field } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';
import { axisOfSurface } from '../planes.ts';

const fields = { on: SurfaceNameSchema, thread: ThreadSchema };

function build(step: StepWith<typeof fields>, context: Context): Outcome {
  const surface = context.surface(step.on);
  axisOfSurface(surface, step.on);
  const { designation, fit = null, length } = step.thread;
  return {
    kind: 'thread',
    thread: {
      stepId: step.id,
      designation,
      fit,
      surface,
      lengthMm: length === undefined ? null : context.values.sizeMm(length, 'length of the thread'),
      external: true,
    },
  };
}

/** An external thread on a cylinder: shown and called out, never cut; the body stays as it is. */
export const thread = defineOperation({
  op: 'thread',
  name: 'External thread',
  searchWords: 'screw M UNC',
  logWords: /\b(external )?thread(ed|s)?\b(?!.*\bhole)/,
  fields,
  surfaces: [],
  effect: () => 'thread',
  build,
  sentence: ({ thread: { designation }, on }) => `thread ${designation} on ${on}`,
  form: [
    { kind: 'surface', path: ['on'], label: 'On' },
    ...THREAD.map((field): Field => ({ ...field, path: ['thread', ...field.path] })),
  ],
  start: ({ freeId, surfaces }): StepWith<typeof fields> => ({
    id: freeId('thread'),
    on: surfaces.findLast((name) => name.endsWith('wall')) ?? 'base.wall',
    thread: { designation: 'M10x1.5' },
  }),
});
