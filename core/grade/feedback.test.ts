import { describe, expect, it } from 'vitest';

import { degreeFor, FEEDBACK_DEGREES, gradeMeasurement, reportFor, type FeedbackDegree } from '#core/grade';

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
const shown = (degree: FeedbackDegree, released = true) => reportFor(report, degree, released);

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
    expect(reportFor(near, 'checks', true).lines[0]?.verdict).toBe('wrong');
    expect(reportFor(near, 'numbers', true).lines[0]?.verdict).toBe('near');
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
      const text = JSON.stringify(shown(degree, false));
      expect(text).not.toContain('10000');
      expect(text).not.toContain('missingMm3');
    }
  });
});

describe('of several attempts', () => {
  it('each has its degree, later ones that of the last entry', () => {
    const feedback = ['score', 'checks', 'overlay'] as const;
    expect([1, 2, 3, 4].map((n) => degreeFor(feedback, n, false))).toEqual(['score', 'checks', 'overlay', 'overlay']);
  });

  it('all tell everything that the last may, once nothing more can be handed in', () => {
    expect(degreeFor(['score', 'causes'], 1, true)).toBe('causes');
  });
});
