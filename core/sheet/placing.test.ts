import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { cleatPlateExercise, firstExercises, winchDrumExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const svgOf = (exercise: Exercise, values: Record<string, string> = {}): string =>
  unwrap(prepareExercise(kernel, exercise, { values })).sheetSvg;

/** Words of the sheet, each with its check where it is a dimension. */
function wordsOf(svg: string): { text: string; check: string | null; x: number; y: number }[] {
  return [...svg.matchAll(/<text x="([-\d.]+)" y="([-\d.]+)"([^>]*)>([^<]*)<\/text>/g)].map((match) => ({
    x: Number(match[1]),
    y: Number(match[2]),
    check: /data-check="([^"]*)"/.exec(match[3] ?? '')?.[1] ?? null,
    text: match[4] ?? '',
  }));
}

describe('letters in place of numbers', () => {
  it('stand at the dimension; their values stand in the table and change with the variant', () => {
    for (const [values, length] of [
      [{}, '120'],
      [{ A: '150' }, '150'],
    ] as const) {
      const words = wordsOf(svgOf(cleatPlateExercise, values));
      expect(words.find((word) => word.check === 'length')?.text).toBe('A');
      expect(words.some((word) => word.check === null && word.text === length)).toBe(true);
    }
  });

  it('a size worked out from letters is written as its value', () => {
    const pitch = (values: Record<string, string>) =>
      wordsOf(svgOf(cleatPlateExercise, values)).find((word) => word.check === 'bolt-pitch-x')?.text;
    expect(pitch({})).toBe('92');
    expect(pitch({ A: '150' })).toBe('122');
  });
});

describe('rows of dimensions', () => {
  it('shorter ones lie inside longer ones: the overall length is farthest from the view', () => {
    const words = wordsOf(svgOf(cleatPlateExercise));
    const height = (check: string): number => words.find((word) => word.check === check)?.y ?? Number.NaN;
    // In the upper view they are stacked upwards; y runs downwards in the picture.
    expect(height('length')).toBeLessThan(height('bolt-pitch-x'));
    expect(height('bolt-pitch-x')).toBeLessThan(height('slot-center'));
    expect(height('slot-center')).toBeLessThan(height('bolt-edge-x'));
  });

  it('a dimension that the plan keeps off the sheet is not on it', () => {
    expect(svgOf(cleatPlateExercise)).not.toContain('data-check="bolt-3-x"');
  });

  it('turned diameters are written across the side view, holes with a leader in the view along their axis', () => {
    const words = wordsOf(svgOf(winchDrumExercise));
    expect(words.find((word) => word.check === 'lower-flange')?.text).toBe('⌀B');
    expect(words.find((word) => word.check === 'bolt-diameter')?.text).toBe('6 x ⌀.281');
  });
});

describe('scale', () => {
  it.each([
    [{ A: '120', B: '64' }, '1:1'],
    [{ A: '300', B: '160' }, '1:2'],
    // At 1:5 the top view and the isometric view beside it would need 160 + 170 and their dimensions: more than 386.
    [{ A: '800', B: '400' }, '1:10'],
  ])('of a plate with %j is %s, the largest of the standard series that fits', (values, scale) => {
    expect(wordsOf(svgOf(cleatPlateExercise, values)).map((word) => word.text)).toContain(scale);
  });
});

describe('the picture', () => {
  it.each(firstExercises.map((exercise) => [exercise.title, exercise] as const))(
    'of the %s is A3 in millimeters, and every line is a number',
    (_title, exercise) => {
      const svg = svgOf(exercise);
      expect(svg).toContain('viewBox="0 0 420 297" width="420mm" height="297mm"');
      expect(svg).not.toMatch(/NaN|Infinity|undefined/);
    },
  );

  it('hides nothing of the answers in itself: no volume, no mass, no tolerance of a property', () => {
    for (const exercise of firstExercises) {
      const { reference, sheetSvg } = unwrap(prepareExercise(kernel, exercise));
      const volume = Math.round(reference.solid.massProperties.volumeMm3);
      expect(sheetSvg).not.toContain(String(volume));
      expect(sheetSvg).not.toMatch(/data-check="(volume|mass|center-of-mass)"/);
    }
  });
});
