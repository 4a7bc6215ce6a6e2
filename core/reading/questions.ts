import { isUploaded } from '#core/sheet';

import {
  chanceOf,
  TOPICS,
  type Draft,
  type Question,
  type ReadSheet,
  type Topic,
  type TopicQuestions,
} from './question.ts';
import { acrossViews } from './topics/across-views.ts';
import { chains } from './topics/chains.ts';
import { counts, depths, dimensions } from './topics/dimensions.ts';
import { lines } from './topics/lines.ts';
import { pictures } from './topics/pictures.ts';
import { symbols } from './topics/symbols.ts';
import { titleBlock } from './topics/title-block.ts';
import { views } from './topics/views.ts';

const MAKERS: Readonly<Record<Topic, TopicQuestions>> = {
  'title-block': titleBlock,
  symbols,
  lines,
  views,
  'across-views': acrossViews,
  pictures,
  counts,
  depths,
  dimensions,
  chains,
};

const MOST_OPTIONS = 4;

function withOptions(topic: Topic, { key, right, wrong, inOrder, ...draft }: Draft): Question | null {
  const id = `${topic} ${key}`;
  const shuffled = (texts: readonly string[]): readonly string[] =>
    [...texts].sort((a, b) => chanceOf(`${id} ${a}`) - chanceOf(`${id} ${b}`));
  const others = [...new Set(wrong)].filter((text) => text !== right);
  const chosen = [right, ...(inOrder === true ? others : shuffled(others)).slice(0, MOST_OPTIONS - 1)];
  if (chosen.length < 2) return null;
  const options = inOrder === true ? [...chosen].sort() : shuffled(chosen);
  const { text, why, rings = [], checkId = null, page = 1, pictures: shown = null } = draft;
  return { id, topic, text, why, rings, checkId, page, options, pictures: shown, answer: options.indexOf(right) };
}

/** All questions that a sheet answers, topic by topic; the same sheet always gives the same ones. A drawing that was made elsewhere is not read. */
export const questionsOf = (sheet: ReadSheet): readonly Question[] =>
  isUploaded(sheet.sheet)
    ? []
    : TOPICS.flatMap((topic) => MAKERS[topic](sheet).flatMap((draft) => withOptions(topic, draft) ?? []));
