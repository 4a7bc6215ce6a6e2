import { describe, expect, it } from 'vitest';

import type { Measurement } from '#core/check';
import type { BuildRule } from '#core/exercise';
import { judgeRules } from '#core/grade';

const measured = (changes: Partial<Measurement>) =>
  ({
    bodies: 1,
    closed: true,
    missing: [],
    extra: [],
    evidence: { blindHoles: 0, symmetryPlanes: { reference: 1, model: 1 } },
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
    const evidence = { blindHoles: 2, symmetryPlanes: { reference: 0, model: 0 } };
    expect(judgeRules([{ kind: 'through' }], measured({ evidence }))[0]).toMatchObject({
      verdict: 'broken',
      evidence: '2 holes end inside the part.',
    });
  });

  it('symmetry that is lost breaks the rule', () => {
    const planes = (model: number) => ({ evidence: { blindHoles: 0, symmetryPlanes: { reference: 2, model } } });
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
