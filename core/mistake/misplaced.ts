import { getIn, operationOf, type Step } from '#core/recipe';

import type { Path } from './edit.ts';
import { nameOf, written, type Subject } from './subject.ts';

const FACTOR = 0.3;

/** One of the holes of a part that was read from a file, by its own half size off its place: measured from its edge. */
export function misplacedIn(subject: Subject, step: Step): void {
  if (!subject.isFromFile) return;
  const name = nameOf(step);
  for (const { path, half, number } of membersOf(subject, step))
    for (const [direction, words] of [
      [0, 'across'],
      [1, 'up'],
    ] as const)
      for (const sign of ['+', '-'] as const) {
        const whole = [...path, direction] as unknown as Path;
        const own = getIn(step, whole);
        if (typeof own !== 'string') continue;
        const which = number === null ? 'it' : `number ${String(number)}`;
        subject.put({
          kind: 'wrong-edge',
          key: `${step.id}/${whole.join('/')}${sign}${written(half)}`,
          edits: [{ kind: 'set', stepId: step.id, path: whole, value: `(${own}) ${sign} ${written(half)}` }],
          summary: `${name}, place ${words}`,
          message: `${name}: ${which} lies ${subject.words(half, 'width')} off its place, which is half of its own size. Was the place measured to its edge instead of its middle?`,
          factor: FACTOR,
        });
      }
}

interface Member {
  readonly path: readonly (string | number)[];
  /** In the drawing unit. */
  readonly half: number;
  /** From 1; null where the step has only one. */
  readonly number: number | null;
}

function membersOf(subject: Subject, step: Step): readonly Member[] {
  const members = operationOf(step.op).placed?.(step) ?? [];
  return members.flatMap(({ path, half }, i): Member[] => {
    const value = half === null ? null : subject.valueOf(half);
    return value === null
      ? []
      : [{ path, half: value, number: members.length === 1 || path[0] === 'outlines' ? null : i + 1 }];
  });
}
