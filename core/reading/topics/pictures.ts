import { causeName } from '#core/cause';
import type { Lookalikes } from '#core/lookalike';

import { chanceOf, type Draft, type ReadSheet, type TopicQuestions } from '../question.ts';

const WRONG_AT_ONCE = 3;
const LETTERS = ['a', 'b', 'c', 'd'] as const;

/** Which of four parts is the one on the sheet: the others have a mistake that is seen. */
export const pictures: TopicQuestions = (sheet: ReadSheet) => {
  const { lookalikes } = sheet;
  if (lookalikes === undefined || lookalikes === null) return [];
  const { right, wrong } = lookalikes;
  return Array.from({ length: Math.floor(wrong.length / WRONG_AT_ONCE) }, (_, i) =>
    questionOf(sheet, right, wrong.slice(WRONG_AT_ONCE * i, WRONG_AT_ONCE * (i + 1)), i),
  );
};

function questionOf({ exercise }: ReadSheet, right: Lookalikes['right'], wrong: Lookalikes['wrong'], i: number): Draft {
  const place = chanceOf(`${exercise.number} ${exercise.title} ${String(i)}`) % LETTERS.length;
  const inOrder = [...wrong.slice(0, place), null, ...wrong.slice(place)];
  const named = inOrder.map((one, at) => ({ one, name: `Part ${LETTERS[at] ?? ''}` }));
  const faults = named.flatMap(({ one, name }) =>
    one === null ? [] : `${name}: ${causeName(one.kind)}${one.about === '' ? '' : ` (${one.about})`}`,
  );
  return {
    key: `part ${String(i + 1)}`,
    text: 'Four parts, seen from above and behind. Which one is on the sheet?',
    right: `Part ${LETTERS[place] ?? ''}`,
    wrong: named.flatMap(({ one, name }) => (one === null ? [] : name)),
    inOrder: true,
    why: `Go from view to view and look for what each picture shows otherwise. ${faults.join('; ')}.`,
    pictures: inOrder.map((one) => (one === null ? right : one.picture)),
  };
}
