import * as v from 'valibot';

import { ProblemError } from '#core/problem';
import { ExpressionSchema } from '#core/quantity';
import { add, IDENTITY, ORIGIN, scale, type Placement } from '#core/vector';

import type { Context, Outcome } from '../context.ts';
import { pattern, patternPlaces, placed } from '../copies.ts';
import { AxisSchema, SkipSchema, StepsSchema } from '../entries.ts';
import { count, length, option, SKIP, STEPS } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';

const row = { direction: AxisSchema, count: ExpressionSchema, spacing: ExpressionSchema };
const fields = { steps: StepsSchema, skip: SkipSchema, ...row, second: v.optional(v.strictObject(row)) };

function build(step: StepWith<typeof fields>, context: Context): Outcome {
  const { values } = context;
  const rows = [step, ...(step.second ? [step.second] : [])].map(({ direction, count, spacing }) => ({
    direction: context.axis(direction).direction,
    count: values.count(count, 'number of copies', { least: 1, most: 200 }),
    spacing: values.lengthMm(spacing, 'spacing'),
  }));
  const [first, second] = rows;
  if (first === undefined) throw new ProblemError('bad-count', 'A pattern needs a direction.');
  const columns = second?.count ?? 1;
  if (first.count * columns > 400) throw new ProblemError('bad-count', 'A pattern can have up to 400 places.');
  const places = Array.from({ length: first.count * columns }, (_, i): Placement => {
    const along = scale(first.direction, first.spacing * (i % first.count));
    const across = second ? scale(second.direction, second.spacing * Math.floor(i / first.count)) : ORIGIN;
    return placed(IDENTITY, add(along, across));
  });
  return pattern(step, places, context);
}

/** Copies of steps in a row, or in rows and columns. */
export const linearPattern = defineOperation({
  op: 'linear-pattern',
  name: 'Copies in rows',
  searchWords: 'pattern array repeat row grid',
  logWords:
    /\b(linear|rectangular|straight) (pattern|array|copies|copy)|\bcopies in rows?\b|\bpatterns?\b|\barrays?\b|\brepeat(ed)?\b/,
  fields,
  surfaces: ['(number).(step).(role)'],
  effect: () => 'copies',
  build,
  sentence: (step) =>
    `${step.count}${step.second ? ` x ${step.second.count}` : ''} x ${step.steps.join(', ')}, ${step.spacing} apart`,
  form: [
    STEPS,
    { kind: 'axis', path: ['direction'], label: 'Along' },
    count('count', 'Number'),
    length('spacing', 'Spacing'),
    option(
      'second',
      'Second direction',
      () => ({ direction: { base: 'Y' }, count: '2', spacing: '20' }),
      { kind: 'axis', path: ['direction'], label: 'Along' },
      count('count', 'Number'),
      length('spacing', 'Spacing'),
    ),
    SKIP,
  ],
  start: ({ freeId, lastStepId }): StepWith<typeof fields> => ({
    id: freeId('row'),
    steps: [lastStepId],
    direction: { base: 'X' },
    count: '3',
    spacing: '20',
  }),
  repeats: patternPlaces,
  usesSymmetry: true,
});
