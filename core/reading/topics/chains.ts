import { shownChains } from '#core/chain';
import { askedSize, isDrawn, sizeAnswer, uncounted, type SizeLink } from '#core/selfcheck';
import type { Vec3 } from '#core/vector';

import type { Draft, ReadSheet, TopicQuestions } from '../question.ts';
import { plainViews, shownAt, type PlainView } from '../views.ts';

const AXES = [0, 1, 2] as const;
/** Sums of a question are no longer than this. */
const MOST_LINKS = 3;
const MOST_QUESTIONS = 6;

const SAME_NUMBER_MM = 1e-3;

/** "⌀9" of "4 x ⌀9 through": the number in a sum; an expression in brackets. */
const sizeAlone = (printed: string): string => {
  const size = uncounted(printed)
    .replace(/^bolt circle ⌀ ?/, '⌀')
    .replace(/^[↧⌴⌵ ]+/, '')
    .replace(/ through$/, '');
  return / [-+] /.test(size) ? `(${size})` : size;
};

const wordsOf = (links: readonly SizeLink[], printed: (checkId: string) => string): string =>
  links
    .map(({ checkId, part, sense }, i) => {
      const size = `${part === 'half' ? 'half of ' : ''}${printed(checkId ?? '')}`;
      return i === 0 && sense === 'plus' ? size : `${sense === 'plus' ? '+' : '-'} ${size}`;
    })
    .join(' ');

/** From which sizes one follows that is not written: by what is added and what is taken off, never the size itself. */
export const chains: TopicQuestions = (sheet: ReadSheet) => {
  const found = new Map<string, Draft>();
  for (const view of plainViews(sheet))
    for (const pair of pairsIn(sheet, view)) {
      const draft = questionOf(sheet, view, pair);
      // The same sum on both sides of a part is one question.
      if (draft !== null && !found.has(draft.right)) found.set(draft.right, draft);
      if (found.size >= MOST_QUESTIONS) return [...found.values()];
    }
  return [...found.values()];
};

interface Pair {
  readonly along: 'across' | 'up';
  readonly from: Vec3;
  readonly to: Vec3;
}

/** Pairs of places along the ways of a view, neighbors and those with one between them. */
function* pairsIn({ exercise, reference }: ReadSheet, { lies }: PlainView): Generator<Pair> {
  const all = shownChains(exercise, reference);
  const { min, max } = reference.solid.bounds;
  const middle: Vec3 = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  for (const along of ['across', 'up'] as const) {
    const direction = along === 'across' ? lies.right : lies.up;
    const axis = AXES.find((i) => Math.abs(direction[i]) > 1 - 1e-9);
    if (axis === undefined) continue;
    const places = all[axis].places
      .filter(isDrawn)
      .map(({ at }) => at)
      .sort((a, b) => a - b);
    const at = (place: number): Vec3 => middle.map((value, i) => (i === axis ? place : value)) as unknown as Vec3;
    for (const step of [1, 2])
      for (let i = 0; i + step < places.length; i++)
        yield { along, from: at(places[i] ?? 0), to: at(places[i + step] ?? 0) };
  }
}

function questionOf(sheet: ReadSheet, view: PlainView, { along, from, to }: Pair): Draft | null {
  const picked = [shownAt(sheet, view, from), shownAt(sheet, view, to)] as const;
  const asked = askedSize(sheet, picked, along);
  if (!asked.ok) return null;
  const answer = sizeAnswer(sheet, asked.value);
  if (answer.kind !== 'follows' || answer.links.length < 2 || answer.links.length > MOST_LINKS) return null;
  const { links } = answer;
  const byId = new Map(sheet.dimensions.map((dimension) => [dimension.checkId, dimension]));
  if (links.some(({ checkId }) => checkId === null || !byId.has(checkId))) return null;
  const printed = (checkId: string): string => sizeAlone(byId.get(checkId)?.printed ?? '');
  const totalOf = (way: readonly SizeLink[]): number =>
    way.reduce(
      (sum, { checkId, part, sense }) =>
        sum + (byId.get(checkId ?? '')?.nominal ?? 0) * (part === 'half' ? 0.5 : 1) * (sense === 'plus' ? 1 : -1),
      0,
    );
  /** A sum of other sizes that comes to the same is not wrong. */
  const isWrong = (way: readonly SizeLink[]): boolean =>
    totalOf(way) > 0 && Math.abs(totalOf(way) - totalOf(links)) > SAME_NUMBER_MM;
  const used = new Set(links.map(({ checkId }) => checkId));
  const others = sheet.dimensions.filter(
    ({ checkId, quantity, printed: words }) => quantity === 'length' && !used.has(checkId) && !words.includes('°'),
  );
  const replaced = others.slice(0, 2).map(({ checkId }) => [...links.slice(0, -1), { ...lastOf(links), checkId }]);
  const turned = links.map((link, i): SizeLink =>
    i === 0 ? link : { ...link, sense: link.sense === 'plus' ? 'minus' : 'plus' },
  );
  const [first, second] = asked.value.marks;
  return {
    key: `${view.id}-${along}-${String(Math.round(asked.value.from * 1000))}-${String(Math.round(asked.value.to * 1000))}`,
    text: 'The size between 1 and 2 is not written. How does it follow?',
    right: wordsOf(links, printed),
    wrong: [turned, links.slice(0, -1), ...replaced].filter(isWrong).map((way) => wordsOf(way, printed)),
    why: `Go from line to line: ${links.map(({ checkId, part, sense }) => `${sense === 'plus' ? 'add' : 'take off'} ${part === 'half' ? 'half of ' : ''}${printed(checkId ?? '')} (${byId.get(checkId ?? '')?.label ?? ''})`).join(', ')}.`,
    rings: [
      { label: '1', at: first },
      { label: '2', at: second },
    ],
    page: first.page,
  };
}

const lastOf = (links: readonly [SizeLink, ...SizeLink[]]): SizeLink => links[links.length - 1] ?? links[0];
