import { describe, expect, it } from 'vitest';

import {
  degreeFor,
  FEEDBACK_DEGREES,
  gradeMeasurement,
  reportFor,
  type AnswerPhase,
  type FeedbackDegree,
} from '#core/grade';

import { measurement, POLICY, properties, reference, target, VOLUME } from './testing.ts';

const OVERLAY = { missingMm3: 77, extraMm3: 0, pieces: [] };
const report = {
  ...gradeMeasurement(
    { ...reference([target('length', 32), target('pitch', 9), VOLUME], ['volume']), rules: [{ kind: 'one-body' }] },
    // Two digits changed places: 23 for 32.
    measurement(
      { length: 23, pitch: 9, volume: 12_000 },
      {
        missing: [{ kind: 'hole', sizeMm: 6.5, faceIds: [] }],
        massProperties: { ...properties, volumeMm3: 12_345 },
      },
    ),
    { typed: [{ name: 'volume', text: '12000', unit: 'mm³' }], policy: POLICY },
  ),
  overlay: OVERLAY as never,
};
const shown = (degree: FeedbackDegree, phase: AnswerPhase = 'released') => reportFor(report, degree, phase);

describe('how much a report tells', () => {
  it('is the score alone: no check, no cause, nothing of where the part lies', () => {
    const told = shown('score');
    expect(told).toMatchObject({ lines: [], typed: [], causes: [], rules: [], missing: [], overlay: null });
    expect(told.score).toBe(report.score);
  });

  it('is which checks are right, without one number of them', () => {
    const told = shown('checks');
    expect(told.lines.map(({ verdict }) => verdict)).toEqual(['wrong', 'right', 'wrong']);
    for (const line of told.lines)
      expect([line.nominal, line.measured, line.deviation, line.credit]).toEqual([null, null, null, null]);
    expect(told.causes).toEqual([]);
  });

  it('does not let "close" say by how much before the numbers are told', () => {
    const near = gradeMeasurement(reference([target('a', 10)]), measurement({ a: 10.1 }), {
      typed: [],
      policy: POLICY,
    });
    expect(near.lines[0]?.verdict).toBe('near');
    expect(reportFor(near, 'checks', 'released').lines[0]?.verdict).toBe('wrong');
    expect(reportFor(near, 'numbers', 'released').lines[0]?.verdict).toBe('near');
  });

  it('is by how much, but not why', () => {
    const told = shown('numbers');
    expect(told.lines[0]).toMatchObject({ nominal: 32, measured: 23, advice: null });
    expect(told).toMatchObject({ causes: [], missing: [], overlay: null });
  });

  it('is why, and at last where, in the model', () => {
    expect(shown('causes').causes.length).toBeGreaterThan(0);
    expect(shown('causes').overlay).toBeNull();
    expect(shown('overlay').overlay).toEqual(OVERLAY);
  });

  it('never tells an answer that is withheld, at any degree', () => {
    for (const degree of FEEDBACK_DEGREES) {
      const text = JSON.stringify(shown(degree, 'open'));
      expect(text).not.toContain('10000');
      expect(text).not.toContain('missingMm3');
    }
  });
});

describe('the score of a part whose volume is wrong', () => {
  /** Scored with a volume that is off by some of its tolerances, with partial points up to three. */
  const off = (tolerances: number) =>
    gradeMeasurement(
      reference([target('length', 32), VOLUME]),
      measurement({ length: 32, volume: VOLUME.nominal + tolerances * VOLUME.tolerance }),
      { typed: [], policy: { ...POLICY, partialReach: 3 } },
    );

  it('does not say by how much while the answer is withheld and something can be handed in', () => {
    const exact = [1.5, 2, 2.5, 40].map((tolerances) => off(tolerances).score);
    expect(new Set(exact).size).toBe(4);
    const told = [1.5, 2, 2.5, 40].map((tolerances) => reportFor(off(tolerances), 'overlay', 'open'));
    expect(new Set(told.map(({ score }) => score)).size).toBe(1);
    expect(new Set(told.map(({ lines }) => lines.map(({ verdict }) => verdict).join())).size).toBe(1);
  });

  it('is the exact one afterwards, and for a right part always', () => {
    for (const phase of ['ended', 'released'] as const)
      expect(reportFor(off(2), 'overlay', phase).score).toBe(off(2).score);
    expect(reportFor(off(0), 'overlay', 'open').score).toBe(100);
  });

  it('comes without how well the whole fits', () => {
    const fitting = { ...off(2), frame: { ...off(2).frame, agreement: 0.83 } };
    expect(reportFor(fitting, 'overlay', 'open').frame.agreement).toBe(1);
    expect(reportFor(fitting, 'overlay', 'released').frame.agreement).toBe(0.83);
  });
});

describe('of several attempts', () => {
  const feedback = ['score', 'checks', 'overlay'] as const;
  const degreesOf = (allowed: number) =>
    Array.from({ length: allowed }, (_, i) => degreeFor(feedback, { number: i + 1, allowed }, false));

  it('each has its degree', () => {
    expect(degreesOf(3)).toEqual(['score', 'checks', 'overlay']);
  });

  it('the last one is told the last degree, also where attempts were added or taken away', () => {
    expect(degreesOf(5)).toEqual(['score', 'checks', 'checks', 'checks', 'overlay']);
    expect(degreesOf(2)).toEqual(['score', 'overlay']);
    expect(degreesOf(1)).toEqual(['overlay']);
  });

  it('one degree is for all', () => {
    expect(degreeFor(['numbers'], { number: 1, allowed: 3 }, false)).toBe('numbers');
  });

  it('all tell everything that the last may, once nothing more can be handed in', () => {
    expect(degreeFor(['score', 'causes'], { number: 1, allowed: 2 }, true)).toBe('causes');
  });
});
