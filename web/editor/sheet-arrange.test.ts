import { describe, expect, it } from 'vitest';

import { DEFAULT_SHEET } from '#core/exercise';

import { draggedOffset, reset, withMoved, withOffset, withView } from './sheet-arrange.ts';

const level = { id: 'a', viewId: 'front', angle: 0, acrossMm: 40 } as const;

describe('a dimension that is dragged', () => {
  it('moves along and away from its view', () => {
    expect(draggedOffset({ ...level, offset: [0, 9] }, [5, 7])).toEqual([5, 16]);
  });
  it('keeps outside of the view, and jumps to its other side when it is dragged past the middle', () => {
    expect(draggedOffset({ ...level, offset: [0, 9] }, [0, -20])).toEqual([0, 4]);
    // 9 above a view 40 high, dragged down by 60: 11 below it.
    expect(draggedOffset({ ...level, offset: [0, 9] }, [0, -60])).toEqual([0, -11]);
    expect(draggedOffset({ ...level, offset: [0, -9] }, [0, 60])).toEqual([0, 11]);
  });
  it('that stands upright moves to the left where its row goes out', () => {
    const upright = { ...level, angle: Math.PI / 2, offset: [0, 9] as const };
    expect(draggedOffset(upright, [-7, 3])).toEqual([3, 16]);
  });
  it('that is a leader goes wherever it is put', () => {
    expect(draggedOffset({ ...level, angle: null, offset: [10, 5] }, [-30, 2])).toEqual([-20, 7]);
  });
});

describe('the arrangement', () => {
  const placed = withOffset(DEFAULT_SHEET, 'width', [0, 12]);
  it('is kept by dimension and by view, and moves add up', () => {
    expect(placed.placed).toEqual({ width: { offset: [0, 12] } });
    expect(withMoved(withMoved(placed, 'top', [3, 0]), 'top', [2, 1]).moved).toEqual({ top: [5, 1] });
  });
  it('of a dimension in another view begins anew', () => {
    expect(withView(placed, 'width', 'top').placed).toEqual({ width: { view: 'top' } });
  });
  it('is taken back for one dimension, or for all', () => {
    expect(reset(placed, 'width').placed).toEqual({});
    expect(reset(withMoved(placed, 'top', [1, 1]))).toEqual(DEFAULT_SHEET);
  });
});
