import { describe, expect, it } from 'vitest';

import { keyRows, type KeyEntry } from '#core/variant';
import { cleatPlateExercise } from '#demo/exercises';
import { renderTable } from '#print';

const entry: KeyEntry = {
  variant: 'red',
  stage: 'first',
  values: { A: '110' },
  problem: null,
  properties: {
    volumeMm3: 60_000,
    areaMm2: 18_000,
    centroidMm: [0, 0, 5],
    inertiaMm5: [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ],
  },
  massG: 162,
  sizeMm: [110, 64, 10],
};

describe('the printed key', () => {
  it('has a column for every letter and every number that proves a part', () => {
    const { head, body } = keyRows([entry], cleatPlateExercise);
    expect(head.slice(0, 5)).toEqual(['Variant', 'Stage', 'A', 'B', 'C']);
    expect(body[0]).toEqual([
      'red',
      'first',
      '110',
      '64',
      '10',
      '60000.00',
      '162.00',
      '18000.00',
      '0.00 / 0.00 / 5.00',
      '110.00 x 64.00 x 10.00',
    ]);
    expect(body[0]).toHaveLength(head.length);
  });

  it('says what is wrong with a variant that cannot be built', () => {
    const bad = { ...entry, properties: null, massG: null, sizeMm: null, problem: 'It falls apart.' };
    expect(keyRows([bad], cleatPlateExercise).body[0]?.[5]).toBe('It falls apart.');
  });

  it('is a PDF of one page for few variants and of several for many, with its head on each', async () => {
    const pages = async (count: number) => {
      const rows = keyRows(
        Array.from({ length: count }, () => entry),
        cleatPlateExercise,
      );
      const bytes = await renderTable({ ...rows, title: 'SB-101 Cleat plate: answer key', note: 'Brass', paper: 'A4' });
      const text = new TextDecoder('latin1').decode(bytes);
      expect(text.startsWith('%PDF-')).toBe(true);
      return text.match(/\/Type \/Page\b/g)?.length ?? 0;
    };
    expect(await pages(3)).toBe(1);
    expect(await pages(120)).toBeGreaterThan(2);
  });
});
