import { describe, expect, it } from 'vitest';

import { blankExercise, type Exercise } from '#core/exercise';
import type { Step } from '#core/recipe';
import { cleatPlateExercise } from '#demo/exercises';

import { differencesOf } from './compare.ts';
import { changed, historyOf, redone, undone } from './history.ts';
import { PRESETS } from './presets.ts';
import { firstDifference, getIn, setIn } from './set-in.ts';
import { duplicated, freeId, moved, newStep, renamedIn, withoutStep, withStep } from './steps.ts';

describe('undo', () => {
  it('goes back and forth without limit, and typing on is one step of it', () => {
    let history = historyOf('a');
    history = changed(history, 'ab', 'title');
    history = changed(history, 'abc', 'title');
    history = changed(history, 'x', 'other');
    expect(undone(history).present).toBe('abc');
    expect(undone(undone(history)).present).toBe('a');
    expect(undone(undone(undone(history))).present).toBe('a');
    expect(redone(redone(undone(undone(history)))).present).toBe('x');
  });

  it('a change after undo ends what could be done again', () => {
    const history = changed(undone(changed(historyOf(1), 2)), 3);
    expect(redone(history).present).toBe(3);
    expect(undone(history).present).toBe(1);
  });
});

describe('values within documents', () => {
  const step = { outlines: [{ width: 'A', corner: ['0', '1'] }], off: true };
  it('are read, replaced and taken away without touching the original', () => {
    expect(getIn(step, ['outlines', 0, 'corner', 1])).toBe('1');
    expect(getIn(step, ['outlines', 3, 'corner'])).toBeUndefined();
    const next = setIn(step, ['outlines', 0, 'corner', 1], '2');
    expect(next.outlines[0]?.corner).toEqual(['0', '2']);
    expect(step.outlines[0]?.corner).toEqual(['0', '1']);
    expect(setIn(step, ['off'], undefined)).not.toHaveProperty('off');
  });
  it('the place of a difference is found', () => {
    expect(firstDifference(step, setIn(step, ['outlines', 0, 'width'], 'B'))).toEqual(['outlines', '0', 'width']);
    expect(firstDifference(step, step)).toBeNull();
  });
});

describe('steps', () => {
  const { recipe } = cleatPlateExercise;
  const ids = ({ steps }: { steps: readonly Step[] }) => steps.map(({ id }) => id);
  const [first = '', second = ''] = ids(recipe);

  it('are put in after the chosen one, moved, duplicated and removed', () => {
    const step = newStep('hole', recipe, ['base.end']);
    expect(step).toMatchObject({ op: 'hole', plane: { surface: 'base.end' } });
    expect(ids(withStep(recipe, step, first))[1]).toBe(step.id);
    expect(ids(withStep(recipe, step, null)).at(-1)).toBe(step.id);
    expect(ids(moved(recipe, first, 1)).slice(0, 2)).toEqual([second, first]);
    expect(ids(withoutStep(recipe, second))).not.toContain(second);
    const copy = duplicated(recipe, first);
    expect(ids(copy!.recipe)[1]).toBe(copy!.copy.id);
    expect(new Set(ids(copy!.recipe)).size).toBe(recipe.steps.length + 1);
    expect(freeId({ ...recipe, steps: [{ ...recipe.steps[0]!, id: 'hole1' }] }, 'hole')).toBe('hole2');
  });

  it('in inches begin with sizes in inches', () => {
    const block = newStep('extrude', blankExercise('1', 'x', 'in').recipe, []);
    expect(block).toMatchObject({ extent: { depth: '0.375' }, plane: { base: 'XY' } });
  });

  it('take their references along when they are renamed', () => {
    const renamed = renamedIn(cleatPlateExercise, 'base', 'slab');
    expect(JSON.stringify(renamed)).not.toContain('"base.');
    expect(renamed.recipe.steps[0]?.id).toBe('slab');
    const length = (exercise: Exercise) => JSON.stringify(exercise).split('slab.').length;
    expect(length(renamed)).toBe(JSON.stringify(cleatPlateExercise).split('"base.').length);
    expect(renamed.title).toBe(cleatPlateExercise.title);
  });
});

describe('two states of an exercise', () => {
  it('are told apart in words: letters, steps, checks, material', () => {
    const after: Exercise = {
      ...cleatPlateExercise,
      material: { ...cleatPlateExercise.material, densityGPerCm3: 2.8 },
      recipe: {
        ...cleatPlateExercise.recipe,
        parameters: cleatPlateExercise.recipe.parameters.map((p) => (p.name === 'A' ? { ...p, value: '130' } : p)),
        steps: cleatPlateExercise.recipe.steps.map((s) => (s.op === 'fillet' ? { ...s, radius: '6' } : s)),
      },
      checks: cleatPlateExercise.checks.slice(1),
    };
    const told = differencesOf(cleatPlateExercise, after);
    expect(told.map(({ what }) => what)).toEqual(['Material', 'Letter A', 'Step Corner rounds', 'Check Length']);
    expect(told[1]).toMatchObject({ before: '120 (Length)', after: '130 (Length)' });
    expect(told[2]).toMatchObject({ before: 'round R 8, 4 edges', after: 'round R 6, 4 edges' });
    expect(told[3]?.after).toBe('–');
    expect(differencesOf(after, after)).toEqual([]);
  });
});

describe('ways of scoring', () => {
  it.each(PRESETS.map((preset) => [preset.name, preset] as const))('%s: weights add up to 100', (_name, { apply }) => {
    const { checks } = apply(cleatPlateExercise);
    expect(checks.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(100, 0);
  });
  it('a key number leaves nothing to sizes', () => {
    const keyed = PRESETS.find(({ name }) => name === 'Key number')!.apply(cleatPlateExercise);
    expect(keyed.checks.filter(({ kind, weight }) => kind === 'overall-size' && weight > 0)).toEqual([]);
    expect(keyed.scoring.partialReach).toBe(1);
  });
});
