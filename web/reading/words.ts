import type { Topic } from '#core/reading';

/** What each topic is called. */
export const TOPIC_WORDS: Readonly<Record<Topic, string>> = {
  'title-block': 'Title block',
  symbols: 'Signs of dimensions',
  lines: 'Kinds of lines',
  views: 'Which view looks where',
  'across-views': 'The same place in two views',
  pictures: 'Which part it is',
  counts: 'How many in all',
  depths: 'Through or blind',
  dimensions: 'What a dimension says',
  chains: 'Sizes that are not written',
};
