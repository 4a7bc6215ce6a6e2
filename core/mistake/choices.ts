import { operationOf, type Step } from '#core/recipe';

import type { Edit } from './edit.ts';
import { nameOf, type Subject } from './subject.ts';

/** What a step is set to, other than the sheet shows: the mistakes that belong to its operation. */
export function choicesIn(subject: Subject, step: Step): void {
  const name = nameOf(step);
  const mistakes = operationOf(step.op).mistakes?.(step, subject.recipe.unit) ?? [];
  for (const { kind, key, changes, words, factor = 1, ofAnySize } of mistakes) {
    const [first, ...more] = changes.map(({ path, value, hole }): Edit => {
      const edit = { stepId: step.id, path: [...path] as unknown as Extract<Edit, { kind: 'set' }>['path'], value };
      return hole === undefined ? { ...edit, kind: 'set' } : { ...edit, kind: 'single', hole };
    });
    if (first === undefined) continue;
    subject.put({
      kind,
      key: `${step.id}/${key}`,
      edits: [first, ...more],
      summary: name,
      message: `${name}: ${words}`,
      factor,
      ...(ofAnySize === undefined ? {} : { ofAnySize }),
    });
  }
}
