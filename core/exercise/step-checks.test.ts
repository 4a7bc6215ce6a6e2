import { describe, expect, it } from 'vitest';

import { checksByStep } from '#core/exercise';
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
