import { countOf } from '#core/selfcheck';

import type { Draft, ReadSheet, TopicQuestions } from '../question.ts';

/** How many of a feature there are, where a dimension counts them. */
export const counts: TopicQuestions = ({ dimensions }: ReadSheet) =>
  dimensions.flatMap(({ checkId, printed, page }): Draft[] => {
    const count = countOf(printed);
    if (count === null || count < 2) return [];
    return [
      {
        key: checkId,
        text: `"${printed}" is drawn at one place. How many places of the part does it hold for?`,
        right: String(count),
        wrong: ['1', String(2 * count), String(count - 1), String(count + 1)],
        why: `"${String(count)} x" counts all of them, with the one where it is drawn.`,
        checkId,
        page,
      },
    ];
  });

const THROUGH = 'It goes through until it comes out';
const BLIND = 'It ends inside the part, at the depth that is written';
const OPEN = 'The sheet does not say';

/** Whether a hole goes through, as its dimension says. */
export const depths: TopicQuestions = ({ dimensions }: ReadSheet) =>
  dimensions.flatMap(({ checkId, printed, page }): Draft[] => {
    const isThrough = printed.includes('through');
    const isBlind = /^(?!.*⌴).*↧/.test(printed);
    if (isThrough === isBlind) return [];
    return [
      {
        key: checkId,
        text: `How deep is the hole of "${printed}"?`,
        right: isThrough ? THROUGH : BLIND,
        wrong: [isThrough ? BLIND : THROUGH, OPEN],
        why: isThrough
          ? '"through" stands behind the diameter: no depth is needed.'
          : 'The depth stands behind its sign, counted from the surface that the hole begins in.',
        checkId,
        page,
      },
    ];
  });

/** What a number on the sheet is the size of. */
export const dimensions: TopicQuestions = ({ dimensions: all }: ReadSheet) => {
  const labels = [...new Set(all.map(({ label }) => label))];
  return labels.length < 3
    ? []
    : all
        .filter(({ quantity }) => quantity === 'length')
        .map(({ checkId, printed, label, page }) => ({
          key: checkId,
          text: `What does "${printed}" say?`,
          right: label,
          wrong: labels,
          why: `Its extension lines or its leader lead there: ${label}.`,
          checkId,
          page,
        }));
};
