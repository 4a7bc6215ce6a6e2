import { expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import { unwrap } from '#core/problem';
import { cleatPlateExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { createReferences } from './index.ts';

it('a reference is read once, however many ask for it at the same time and later, and a missing one is told to all', async () => {
  const { reference } = unwrap(prepareExercise(await loadKernel(), cleatPlateExercise));
  const reads: string[] = [];
  const references = createReferences({
    read: (sha256) => {
      reads.push(sha256);
      return sha256 === 'there'
        ? Promise.resolve(Buffer.from(JSON.stringify(reference)))
        : Promise.reject(new Error('no such file'));
    },
  });
  const both = await Promise.all([references.at('there'), references.at('there')]);
  expect(both[0].targets).toEqual(JSON.parse(JSON.stringify(reference.targets)));
  expect(await references.at('there')).toBe(both[1]);
  expect(reads).toEqual(['there']);
  await expect(references.at('gone')).rejects.toThrow('no such file');
  // What failed is asked for again.
  await expect(references.at('gone')).rejects.toThrow('no such file');
  expect(reads).toEqual(['there', 'gone', 'gone']);
});
