import { describe, expect, it } from 'vitest';

import { blankExercise, DEFAULT_SHEET, type Exercise } from '#core/exercise';
import type { Step } from '#core/recipe';
import { cleatPlateExercise } from '#demo/exercises';

import { differencesOf } from './compare.ts';
import { changed, historyOf, redone, undone } from './history.ts';
import { PRESETS } from './presets.ts';
import { getIn, setIn } from '#core/recipe';

import { firstDifference } from './first-difference.ts';
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
    const stages = [{ title: 'More', brief: '', values: {}, adds: ['base'] }];
    expect(renamedIn({ ...cleatPlateExercise, stages }, 'base', 'slab').stages[0]?.adds).toEqual(['slab']);
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
    expect(told[2]).toMatchObject({ before: 'fillet R 8, 4 edges', after: 'fillet R 6, 4 edges' });
    expect(told[3]?.after).toBe('–');
    expect(differencesOf(after, after)).toEqual([]);
  });

  /** What is told of a change, as "what: before > after". */
  const told = (change: (exercise: Exercise) => Partial<Exercise>): string[] =>
    differencesOf(cleatPlateExercise, { ...cleatPlateExercise, ...change(cleatPlateExercise) }).map(
      ({ what, before, after }) => `${what}: ${before} > ${after}`,
    );

  it('differ also by how points are given, and by what is asked', () => {
    expect(told(({ scoring }) => ({ scoring: { ...scoring, partialReach: 4, rootCauseOnce: true } }))).toEqual([
      expect.stringMatching(/^Scoring: partial credit up to .* > partial credit up to 4 tolerances; .*counts once/),
    ]);
    const { scoring, checks } = cleatPlateExercise;
    const gated = { ...scoring, gates: [{ checkId: checks[0]!.id, most: 60 }] };
    expect(told(() => ({ scoring: gated }))[0]).toContain(`at most 60 % if ${checks[0]!.label} is wrong`);
    expect(told(() => ({ typedValues: ['volume'] }))).toEqual([expect.stringMatching(/^Typed numbers: .* > Volume$/)]);
    expect(told(() => ({ rules: [{ kind: 'excluded', operation: 'loft' }] }))).toEqual([
      expect.stringMatching(/^How it should be built: .* > Does without the operation/),
    ]);
    expect(told(() => ({ likelihoods: { 'radius-as-diameter': 3 } }))).toEqual([
      expect.stringMatching(/^How likely mistakes are: – > .* 3 x$/),
    ]);
  });

  it('differ by the values of variants and stages, each told for itself', () => {
    const withVariants = (first: string): Exercise => ({
      ...cleatPlateExercise,
      variants: [
        { name: '1', values: { A: first } },
        { name: '2', values: {} },
      ],
    });
    expect(differencesOf(withVariants('125'), withVariants('131'))).toEqual([
      { what: 'Variant 1', before: 'A = 125', after: 'A = 131' },
    ]);
    expect(differencesOf(withVariants('125'), cleatPlateExercise)).toEqual([
      { what: 'Variant 1', before: 'A = 125', after: '–' },
      { what: 'Variant 2', before: 'as drawn', after: '–' },
    ]);
    const stage = { title: 'Longer', brief: '', values: { A: '140' } };
    expect(told(() => ({ stages: [stage] }))).toEqual(['Stage 2: – > Longer; A = 140']);
  });

  it('differ by the sheet, also where only its arrangement changed', () => {
    const sheet = cleatPlateExercise.sheet ?? DEFAULT_SHEET;
    expect(told(() => ({ sheet: { ...sheet, scale: 0.5 }, decimals: 2 }))).toEqual([
      expect.stringMatching(/^Sheet: .* > .*1:2, .*2 decimals/),
    ]);
    const [check] = cleatPlateExercise.checks;
    expect(told(() => ({ sheet: { ...sheet, placed: { [check!.id]: { offset: [5, 5] } } } }))).toEqual([
      expect.stringMatching(/^Sheet: (.*) > \1 \(changed inside\)$/),
    ]);
    expect(told(() => ({ notes: ['Break all edges'] }))).toEqual([
      expect.stringMatching(/^Notes on the sheet: .* > Break all edges$/),
    ]);
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
