import { describe, expect, it } from 'vitest';

import { offerOf, type Check } from '#core/check';

const size = { nominal: '10', tolerance: '0.05', weight: 1 } as const;
const length: Check = { ...size, kind: 'overall-size', axis: 'x', id: 'length', label: 'Length' };
const thick = {
  ...size,
  kind: 'distance',
  from: 'base.start',
  to: 'base.end',
  id: 'thick',
  label: 'Thickness',
} as const satisfies Check;
const bore: Check = { ...size, kind: 'diameter', of: ['bore.wall'], id: 'bore', label: 'Bore' };

describe('a plan that is suggested again', () => {
  it('offers what the plan lacks, and keeps what it has', () => {
    expect(offerOf([length], [length, bore])).toEqual({ added: [bore], differing: [], dropped: [] });
  });

  it('knows a check by what it measures: another name, weight or order of fields is the same check', () => {
    const renamed: Check = {
      weight: 7,
      label: 'Over all',
      id: 'all',
      axis: 'x',
      kind: 'overall-size',
      nominal: '10',
      tolerance: '0.05',
    };
    expect(offerOf([renamed], [length])).toEqual({ added: [], differing: [], dropped: [] });
  });

  it('knows a thickness from either of its faces, and does not mind the view that it is drawn in', () => {
    const turned: Check = { ...thick, from: thick.to, to: thick.from, view: 'front', prefix: '2 x' };
    expect(offerOf([turned], [thick])).toEqual({ added: [], differing: [], dropped: [] });
  });

  it('tells a place of a hole from another face from its place from this one', () => {
    const place: Check = { ...size, kind: 'hole-position', of: 'bore.wall', from: 'base.left', id: 'x', label: 'X' };
    const other: Check = { ...place, from: 'base.right' };
    expect(offerOf([place], [other])).toMatchObject({ added: [{ from: 'base.right' }], dropped: [place] });
  });

  it('says which checks have other values than it would give them, or are off or not on the sheet', () => {
    const typed: Check = { ...length, nominal: 'A' };
    const off: Check = { ...bore, off: true };
    const hidden: Check = { ...thick, onSheet: false };
    const { differing } = offerOf([typed, off, hidden], [length, bore, thick]);
    expect(differing).toEqual([typed, off, hidden]);
  });

  it('says which checks replacing the plan would drop', () => {
    expect(offerOf([length, thick], [length]).dropped).toEqual([thick]);
  });

  it('gives what it adds ids that the plan does not use', () => {
    const other: Check = { ...thick, id: 'bore', label: 'Thick' };
    const [added] = offerOf([other], [bore]).added;
    expect(added).toEqual({ ...bore, id: 'bore-2' });
  });
});
