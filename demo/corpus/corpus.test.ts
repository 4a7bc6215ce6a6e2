import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import type { Overlayer } from '#core/overlay';
import { alterations, judgeMirrored, judgeRight, judgeWrong, rightGuises, seeded } from '#demo/corpus';
import { cleatPlateExercise, gudgeonBracketExercise } from '#demo/exercises';
import { loadKernel, loadOverlayer } from '#runtime';

let tools: { kernel: Kernel; overlayer: Overlayer };
beforeAll(async () => {
  tools = { kernel: await loadKernel(), overlayer: await loadOverlayer() };
});

/** A share of the corpus, as `npm run corpus` runs the whole of it. */
describe('of the gudgeon bracket', () => {
  it.each(['moved', 'upside down', 'turned by odd angles', 'faces split at the middle', 'STL, coarse', '3MF', 'OBJ'])(
    'the right part %s gets full marks and no overlay',
    (name) => {
      const guises = rightGuises(tools, gudgeonBracketExercise).filter((guise) => guise.name === name);
      expect(guises).toHaveLength(1);
      expect(judgeRight(tools, gudgeonBracketExercise, guises)).toMatchObject([{ ok: true, fault: '' }]);
    },
  );

  it('every eighth alteration fails exactly the checks that it affects', () => {
    const list = alterations(gudgeonBracketExercise).filter((_, i) => i % 8 === 0);
    const { verdicts } = judgeWrong(tools, gudgeonBracketExercise, list);
    expect(verdicts.length).toBeGreaterThan(3);
    expect(verdicts.filter(({ ok }) => !ok)).toEqual([]);
  });
});

it('the mirrored cleat plate is itself again, so nothing is wrong with it', () => {
  expect(judgeMirrored(tools, cleatPlateExercise)).toMatchObject({ ok: true });
});

it('alterations are many, and the same in every run', () => {
  expect(alterations(cleatPlateExercise).length).toBeGreaterThan(20);
  expect(alterations(cleatPlateExercise)).toEqual(alterations(cleatPlateExercise));
  const [a, b] = [seeded(3), seeded(3)];
  expect([a(), a(), a()]).toEqual([b(), b(), b()]);
});
