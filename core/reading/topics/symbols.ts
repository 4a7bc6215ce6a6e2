import { countOf } from '#core/selfcheck';

import type { Draft, ReadSheet, TopicQuestions } from '../question.ts';

interface Sign {
  readonly key: string;
  /** Found in the words of a dimension. */
  readonly pattern: RegExp;
  readonly meaning: string;
  readonly why: string;
}

const SIGNS: readonly Sign[] = [
  {
    key: 'diameter',
    pattern: /⌀/,
    meaning: 'A diameter: the whole width of a round',
    why: 'The crossed circle stands before a diameter, from wall to wall through the middle.',
  },
  {
    key: 'radius',
    pattern: /(^|\s)R\.?\d/,
    meaning: 'A radius: from the center to the round',
    why: 'R stands before a radius, which is half of the diameter.',
  },
  {
    key: 'depth',
    pattern: /↧/,
    meaning: 'A depth, from the surface that it begins in',
    why: 'The arrow down to a line stands before how deep a hole or a recess is.',
  },
  {
    key: 'counterbore',
    pattern: /⌴/,
    meaning: 'A counterbore: a wider hole with a flat bottom around the hole',
    why: 'The open rectangle is the section of a counterbore; its diameter and depth follow.',
  },
  {
    key: 'countersink',
    pattern: /⌵/,
    meaning: 'A countersink: a cone that opens the hole',
    why: 'The V is the section of a countersink; its diameter at the surface and its angle follow.',
  },
  {
    key: 'count',
    pattern: /^\d+ x(?= )/,
    meaning: 'How many of these there are',
    why: 'The number before the x counts all that are like the one where it is drawn.',
  },
  {
    key: 'through',
    pattern: /through/,
    meaning: 'The hole goes on until it comes out',
    why: 'A hole that is noted as through has no depth: it goes through all the material in its way.',
  },
];

const ASIDE: readonly string[] = [
  'A thread',
  'How round the feature has to be',
  'How far the feature may be off its place',
];

/** What the signs of dimensions stand for, as far as they are on the sheet. */
export const symbols: TopicQuestions = ({ dimensions }: ReadSheet) =>
  SIGNS.flatMap((sign): Draft[] => {
    const found = dimensions.find(
      ({ printed }) => sign.pattern.test(printed) && (sign.key !== 'count' || countOf(printed) !== null),
    );
    if (found === undefined) return [];
    const shown = sign.pattern.exec(found.printed)?.[0].trim() ?? '';
    return [
      {
        key: sign.key,
        text: `What does "${sign.key === 'radius' ? 'R' : shown}" say in "${found.printed}"?`,
        right: sign.meaning,
        wrong: [...SIGNS.filter((other) => other !== sign).map(({ meaning }) => meaning), ...ASIDE],
        why: sign.why,
        checkId: found.checkId,
        page: found.page,
      },
    ];
  });
