import { describe, expect, it } from 'vitest';

import { readBuildLog } from '#core/buildlog';
import type { Measurement } from '#core/check';
import type { BuildRule } from '#core/recipe';
import { judgeRules } from '#core/grade';
import { unwrap } from '#core/problem';

import { questionsOf } from './questions.ts';

const measured = (changes: Partial<Measurement>) =>
  ({
    bodies: 1,
    closed: true,
    missing: [],
    extra: [],
    replay: null,
    evidence: { blindHoles: 0, symmetryPlanes: { reference: 1, model: 1 }, features: null },
    ...changes,
  }) as unknown as Measurement;
const verdict = (rule: BuildRule, changes: Partial<Measurement> = {}) =>
  judgeRules([rule], measured(changes))[0]?.verdict;
const odd = (kind: string) => ({ kind, sizeMm: 2, faceIds: [] });

describe('build rules, by the geometry alone', () => {
  it('one merged body is proved either way', () => {
    expect(verdict({ kind: 'one-body' })).toBe('kept');
    expect(verdict({ kind: 'one-body' }, { bodies: 2 })).toBe('broken');
    expect(verdict({ kind: 'one-body' }, { closed: false })).toBe('broken');
  });

  it('a through hole that ends inside breaks the rule; one that comes out proves nothing', () => {
    expect(verdict({ kind: 'through' })).toBe('open');
    const evidence = { blindHoles: 2, symmetryPlanes: { reference: 0, model: 0 }, features: null };
    expect(judgeRules([{ kind: 'through' }], measured({ evidence }))[0]).toMatchObject({
      verdict: 'broken',
      evidence: '2 holes end inside the part.',
    });
  });

  it('symmetry that is lost breaks the rule', () => {
    const planes = (model: number) => ({
      evidence: { blindHoles: 0, symmetryPlanes: { reference: 2, model }, features: null },
    });
    expect(verdict({ kind: 'symmetry' }, planes(1))).toBe('broken');
    expect(verdict({ kind: 'symmetry' }, planes(2))).toBe('open');
  });

  it('an operation that leaves a trace is missed, or found where it should not be', () => {
    expect(verdict({ kind: 'required', operation: 'fillet' }, { missing: [odd('fillet')] })).toBe('broken');
    expect(verdict({ kind: 'required', operation: 'revolve' }, { missing: [odd('fillet')] })).toBe('open');
    expect(verdict({ kind: 'excluded', operation: 'chamfer' }, { extra: [odd('chamfer')] })).toBe('broken');
  });

  it('number and order of steps stay open, and so does what was measured before', () => {
    expect(verdict({ kind: 'most-steps', count: 5 })).toBe('open');
    expect(verdict({ kind: 'order', first: 'hole', then: 'fillet' })).toBe('open');
    expect(verdict({ kind: 'through' }, { evidence: null })).toBe('open');
  });
});

describe('build rules, by the list of build steps', () => {
  const ruled = (rule: BuildRule, text: string, changes: Partial<Measurement> = {}) =>
    judgeRules([rule], measured(changes), unwrap(readBuildLog(text)))[0];

  it('an operation is found under any word for it, with the step that has it', () => {
    expect(ruled({ kind: 'required', operation: 'revolve' }, 'Turn the outline\nDrill 6')).toMatchObject({
      verdict: 'kept',
      evidence: 'The list has it in line 1, "Turn the outline".',
    });
    expect(ruled({ kind: 'required', operation: 'rib' }, 'Extrude plate\nDrill 6')?.verdict).toBe('broken');
  });

  it('another operation does as well where the exercise says so', () => {
    const rule = { kind: 'required', operation: 'revolve', or: ['extrude'] } as const;
    expect(ruled(rule, 'Extrude disc')?.verdict).toBe('kept');
    expect(ruled(rule, 'Extrude disc')?.text).toBe('Uses one of the operations "Revolve" or "Extrude"');
  });

  it('a line that was not understood leaves it open, since it may be the very step', () => {
    expect(ruled({ kind: 'required', operation: 'rib' }, 'Extrude plate\nThe tricky bit')?.verdict).toBe('open');
  });

  it('an excluded operation breaks the rule, wherever it stands', () => {
    expect(ruled({ kind: 'excluded', operation: 'mirror' }, 'Extrude half\nMirror it')?.verdict).toBe('broken');
    expect(ruled({ kind: 'excluded', operation: 'mirror' }, 'Extrude all')?.verdict).toBe('kept');
  });

  it('steps are counted, and outlines are none', () => {
    const text = 'Sketch of the plate\nExtrude plate\nHole 6 through\nFillet edges';
    expect(ruled({ kind: 'most-steps', count: 3 }, text)?.verdict).toBe('kept');
    expect(ruled({ kind: 'most-steps', count: 2 }, text)?.verdict).toBe('broken');
    expect(ruled({ kind: 'most-steps', count: 3 }, `${text}\nSomething else`)?.verdict).toBe('open');
  });

  it('order is judged by the last of the one and the first of the other', () => {
    const order = { kind: 'order', first: 'fillet', then: 'hole' } as const;
    expect(ruled(order, 'Extrude plate\nFillet edges\nHole 6')?.verdict).toBe('kept');
    expect(ruled(order, 'Extrude plate\nFillet edges\nHole 6\nFillet rim')?.verdict).toBe('broken');
    expect(ruled(order, 'Extrude plate\nHole 6')?.verdict).toBe('open');
  });

  it('through holes that come out are proved by the words of the step', () => {
    expect(ruled({ kind: 'through' }, 'Extrude plate\nHole 6 through all')?.verdict).toBe('kept');
    expect(ruled({ kind: 'through' }, 'Extrude plate\nHole 6')?.verdict).toBe('open');
  });

  it('the geometry has the last word', () => {
    const evidence = { blindHoles: 1, symmetryPlanes: { reference: 0, model: 0 }, features: null };
    expect(ruled({ kind: 'through' }, 'Extrude plate\nHole 6 through all', { evidence })?.verdict).toBe('broken');
  });

  it('symmetry is used by mirroring, copying, turning, or extruding to both sides', () => {
    for (const step of ['Mirror', 'Circular pattern', 'Revolve outline', 'Extrude both sides'])
      expect(ruled({ kind: 'symmetry' }, step)?.verdict).toBe('kept');
    expect(ruled({ kind: 'symmetry' }, 'Extrude plate')?.verdict).toBe('broken');
  });
});

describe('a list that does not fit the model', () => {
  const questions = (text: string, features: Readonly<Record<string, number>>) =>
    questionsOf(
      unwrap(readBuildLog(text)),
      measured({ evidence: { blindHoles: 0, symmetryPlanes: { reference: 0, model: 0 }, features } }),
    );

  it('claims a revolve where nothing is turned', () => {
    expect(questions('Revolve outline', {})).toEqual([
      'Line 1 of the list, "Revolve outline", is read as "Revolve", but nothing on the model is turned.',
    ]);
    expect(questions('Revolve outline', { 'turned-body': 1 })).toEqual([]);
  });

  it('is silent about rounded edges that the model has', () => {
    expect(questions('Extrude plate', { fillet: 4 })[0]).toContain('filleted edges');
    expect(questions('Extrude plate\nRound edges', { fillet: 4 })).toEqual([]);
  });

  it('is not questioned where there is no list, or features were not counted', () => {
    expect(questions('', { fillet: 4 })).toEqual([]);
    expect(questionsOf(unwrap(readBuildLog('Revolve')), measured({}))).toEqual([]);
  });
});
