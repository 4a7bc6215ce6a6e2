import { expect, it } from 'vitest';

import { changesSince, type Report, type Verdict } from '#core/grade';

const reportOf = (verdicts: Readonly<Record<string, Verdict>>, withheld: readonly string[] = []) =>
  ({
    lines: Object.entries(verdicts).map(([label, verdict]) => ({
      checkId: label,
      label,
      verdict,
      credit: withheld.includes(label) ? null : verdict === 'right' ? 1 : 0,
    })),
  }) as unknown as Pick<Report, 'lines'>;

it('an attempt beside the one before: what was mended, what broke, and what is still to do', () => {
  const first = reportOf({ length: 'right', bore: 'wrong', slot: 'missing', round: 'near' });
  const second = reportOf({ length: 'wrong', bore: 'right', slot: 'missing', round: 'right' });
  expect(changesSince(first, second)).toEqual({
    mended: ['bore', 'round'],
    broken: ['length'],
    still: ['slot'],
    compared: 4,
  });
  expect(changesSince(first, first)).toEqual({ mended: [], broken: [], still: ['bore', 'slot', 'round'], compared: 4 });
});

it('says nothing of what one of both reports withholds or does not have', () => {
  const first = reportOf({ length: 'right', volume: 'wrong' }, ['volume']);
  const second = reportOf({ length: 'right', volume: 'right', mass: 'wrong' });
  expect(changesSince(first, second)).toEqual({ mended: [], broken: [], still: [], compared: 1 });
  expect(changesSince(reportOf({}), second).compared).toBe(0);
});
