import * as v from 'valibot';

import { ExpressionSchema } from '#core/quantity';

import type { Context, Outcome } from '../context.ts';
import { pattern, patternPlaces, turnAbout } from '../copies.ts';
import { AxisSchema, SkipSchema, StepsSchema } from '../entries.ts';
import { angle, count, SKIP, STEPS } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';

const fields = {
  steps: StepsSchema,
  skip: SkipSchema,
  axis: AxisSchema,
  count: ExpressionSchema,
  /** From the first to the last copy; evenly all round where nothing is said. */
  angle: v.optional(ExpressionSchema),
};

function build(step: StepWith<typeof fields>, context: Context): Outcome {
  const { values } = context;
  const axis = context.axis(step.axis);
  const copies = values.count(step.count, 'number of copies', { least: 1, most: 200 });
  const whole = step.angle === undefined ? 2 * Math.PI : values.angleRad(step.angle, 'angle of the pattern');
  const closed = Math.abs(Math.abs(whole) - 2 * Math.PI) < 1e-9;
  const between = closed ? whole / copies : copies === 1 ? 0 : whole / (copies - 1);
  return pattern(
    step,
    Array.from({ length: copies }, (_, i) => turnAbout(axis, between * i)),
    context,
  );
}

/** Copies of steps around an axis. */
export const circularPattern = defineOperation({
  op: 'circular-pattern',
  name: 'Copies around an axis',
  searchWords: 'pattern array repeat ring polar',
  logWords: /\b(circular|polar|round) (pattern|array|copies|copy)|\b(copies|pattern|repeat\w*) (around|about)\b/,
  fields,
  surfaces: ['(number).(step).(role)'],
  effect: () => 'copies',
  build,
  sentence: (step) => `${step.count} x ${step.steps.join(', ')} around an axis`,
  form: [
    STEPS,
    { kind: 'axis', path: ['axis'], label: 'Around' },
    count('count', 'Number'),
    angle('angle', 'From first to last', 'all round'),
    SKIP,
  ],
  start: ({ freeId, lastStepId }): StepWith<typeof fields> => ({
    id: freeId('ring'),
    steps: [lastStepId],
    axis: { base: 'Z' },
    count: '4',
  }),
  repeats: patternPlaces,
  usesSymmetry: true,
});
