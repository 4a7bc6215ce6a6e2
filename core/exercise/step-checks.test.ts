import { describe, expect, it } from 'vitest';

import { checksByStep, meansSurface, surfacesByCheck } from '#core/exercise';
import { cleatPlateExercise, demoExercises } from '#demo/exercises';

describe('the dimensions of a step', () => {
  it('are those that name its surfaces; between two steps, the later one has them', () => {
    const { checks } = cleatPlateExercise;
    const found = checksByStep(cleatPlateExercise);
    const stepOf = (label: string): string | undefined => {
      const id = checks.find((check) => check.label === label)?.id ?? '';
      return [...found].find(([, ids]) => ids.includes(id))?.[0];
    };
    expect(stepOf('Length')).toBe('base');
    expect(stepOf('Bolt holes')).toBe('bolts');
  });

  it('are in one step each, and those of the whole part in none', () => {
    for (const exercise of demoExercises) {
      const all = [...checksByStep(exercise).values()].flat();
      expect(new Set(all).size).toBe(all.length);
      const whole = exercise.checks.filter(({ kind }) => kind === 'volume' || kind === 'mass').map(({ id }) => id);
      expect(whole.length).toBeGreaterThan(0);
      expect(all.filter((id) => whole.includes(id))).toEqual([]);
    }
  });
});

describe('the surfaces that a check hangs on', () => {
  it('are those that it names, and none of a check of the whole part', () => {
    const found = surfacesByCheck(cleatPlateExercise);
    for (const [checkId, names] of found)
      for (const name of names)
        expect(
          cleatPlateExercise.recipe.steps.map(({ id }) => id),
          checkId,
        ).toContain(name.split('.')[0]);
    expect(found.get('thickness')).toEqual(['base.start', 'base.end']);
  });

  it('are all of a step that is named as a whole', () => {
    expect(meansSurface('bolts', 'bolts.3.wall')).toBe(true);
    expect(meansSurface('bolts.3', 'bolts.3.wall')).toBe(true);
    expect(meansSurface('bolt', 'bolts.3.wall')).toBe(false);
  });
});
