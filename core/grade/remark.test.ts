import { describe, expect, it } from 'vitest';

import { fillRemark, gradeMeasurement, type RemarkContext } from '#core/grade';

import { measurement, POLICY, reference, target } from './testing.ts';

const context = (checkId: string | null = null): RemarkContext => ({
  student: 'Ansel Brody',
  exercise: 'SB-101 Cleat plate',
  report: gradeMeasurement(
    reference([target('length', 32), target('pitch', 9)]),
    measurement({ length: 23, pitch: 9 }),
    { typed: [], policy: POLICY },
  ),
  checkId,
});

describe('a remark of the collection', () => {
  it('fills in who, what was wanted and what was measured', () => {
    expect(fillRemark('{student}: {check} is {measured}, the sheet says {wanted}.', context())).toBe(
      'Ansel Brody: length is 23.00 mm, the sheet says 32.00 mm.',
    );
  });

  it('speaks of the chosen check rather than of the first wrong one', () => {
    expect(fillRemark('{check} {measured}', context('pitch'))).toBe('pitch 9.00 mm');
  });

  it('names exercise, score and cause', () => {
    expect(fillRemark('{exercise}: {score}. {cause}', context())).toMatch(/^SB-101 Cleat plate: 50\. .*23/);
  });

  it('leaves room for what has no value here, and braces that are no field', () => {
    const right = { ...context(), report: { ...context().report, lines: [], causes: [] } };
    expect(fillRemark('{cause} {check} {colour} {}', right)).toBe('... ... {colour} {}');
  });
});
