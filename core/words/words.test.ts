import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import type { Sheet, SheetEntity } from '#core/sheet';
import { cleatPlateExercise, fairleadBlockExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { WORD_IDS, WORDS, wordsOf } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** A dimension across with both arrows, at a height of the paper. */
const across = (checkId: string, from: number, to: number, y: number): SheetEntity[] =>
  [
    { at: from, angle: Math.PI },
    { at: to, angle: 0 },
  ].map(({ at, angle }) => ({ kind: 'arrow', tip: [at, y], angle, checkId, viewId: 'front' }));

const paper = (entities: readonly SheetEntity[]): Pick<Sheet, 'pages'> => ({
  pages: [{ widthMm: 420, heightMm: 297, entities }],
});
const spoken = (
  sheet: Pick<Sheet, 'pages'>,
  exercise: Exercise = { ...cleatPlateExercise, sheet: { paper: 'A3', views: [] } },
) => wordsOf({ sheet, exercise });

describe('the words of a sheet', () => {
  it('are those that it uses, as a reader of the cleat plate finds them', () => {
    const { sheet } = unwrap(prepareExercise(kernel, cleatPlateExercise));
    const words = wordsOf({ sheet, exercise: cleatPlateExercise });
    // Written at its views: C, 2 x 12, 18, 36, 44, B, 92, A, 4 x ⌀9 through, 4 x R8.
    for (const id of ['letter', 'diameter', 'radius', 'count', 'through', 'center-line', 'pictorial'] as const)
      expect(words, WORDS[id].name).toContain(id);
    for (const id of ['depth', 'counterbore', 'countersink', 'thread', 'chamfer', 'section', 'bolt-circle'] as const)
      expect(words, WORDS[id].name).not.toContain(id);
    expect(words.filter((id) => id === 'first-angle' || id === 'third-angle')).toHaveLength(1);
  });

  it('name a counterbore and a section where there are some', () => {
    const { sheet } = unwrap(prepareExercise(kernel, fairleadBlockExercise));
    expect(wordsOf({ sheet, exercise: fairleadBlockExercise })).toEqual(
      expect.arrayContaining(['counterbore', 'section', 'hidden-line']),
    );
  });

  it('tell baseline from chain: sizes that begin at one edge, and sizes of which one begins where another ends', () => {
    const baseline = paper([...across('a', 20, 60, 10), ...across('b', 20, 90, 20)]);
    expect(spoken(baseline)).toContain('baseline');
    expect(spoken(baseline)).not.toContain('chain');
    const chain = paper([...across('a', 20, 60, 10), ...across('b', 60, 90, 10)]);
    expect(spoken(chain)).toContain('chain');
    expect(spoken(chain)).not.toContain('baseline');
    // One that ends where another begins, but in another row, is neither.
    const apart = spoken(paper([...across('a', 20, 60, 10), ...across('b', 60, 90, 20)]));
    expect(apart.filter((id) => id === 'chain' || id === 'baseline')).toEqual([]);
  });

  it('leave letters out where their values are printed in place of them', () => {
    const text: SheetEntity = {
      kind: 'text',
      text: 'B + 6',
      at: [50, 50],
      heightMm: 3.5,
      anchor: 'start',
      angle: 0,
      checkId: 'a',
      viewId: 'front',
    };
    expect(spoken(paper([text]))).toContain('letter');
    const values = { ...cleatPlateExercise, sheet: { paper: 'A3', views: [], letters: 'values' } } as const;
    expect(spoken(paper([text]), values)).not.toContain('letter');
  });

  it('each has a name of its own and a sentence', () => {
    expect(new Set(WORD_IDS.map((id) => WORDS[id].name)).size).toBe(WORD_IDS.length);
    for (const id of WORD_IDS) expect(WORDS[id].meaning).toMatch(/^[A-Z].*\.$/);
  });
});
