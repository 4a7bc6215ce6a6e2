import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import { shownChains } from '#core/chain';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import {
  askedSize,
  isSize,
  judgeReading,
  printedDimensions,
  sizeAnswer,
  type DrawnExercise,
  type PaperPoint,
} from '#core/selfcheck';
import { demoExercises } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, holesStep, sizeCheck } from '../exercise/testing.ts';

const NO_MARKS = [
  { page: 1, at: [0, 0] },
  { page: 1, at: [0, 0] },
] as const;

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** A plate of 60 x 40 x 20 with two holes of 8, 15 from the left and 12 from the right end, both 12 from the front. */
const PLATE = exerciseOf({
  steps: [
    blockStep([60, 40, 20]),
    holesStep(
      'holes',
      [
        [15, 12],
        [48, 12],
      ],
      8,
    ),
  ],
  checks: [
    sizeCheck('length', 'overall-size', 60, { axis: 'x' }),
    sizeCheck('width', 'overall-size', 40, { axis: 'y' }),
    sizeCheck('height', 'overall-size', 20, { axis: 'z' }),
    sizeCheck('bore', 'diameter', 8, { of: ['holes.1.wall', 'holes.2.wall'] }),
    sizeCheck('left', 'hole-position', 15, { of: 'holes.1.wall', from: 'block.left' }),
    sizeCheck('right', 'hole-position', 12, { of: 'holes.2.wall', from: 'block.right' }),
    sizeCheck('front', 'hole-position', 12, { of: 'holes.1.wall', from: 'block.lower' }),
    sizeCheck('second-front', 'hole-position', 12, { of: 'holes.2.wall', from: 'block.lower' }),
  ],
});

function drawn(exercise: Exercise): DrawnExercise {
  const { reference, sheet } = unwrap(prepareExercise(kernel, exercise));
  return { exercise, reference, sheet };
}

/** The point of the page where a view shows a point of the part, as somebody picks it. */
function pointOn({ sheet }: DrawnExercise, viewId: string, part: readonly [number, number, number]): PaperPoint {
  const view = sheet.views.find((one) => one.viewId === viewId);
  if (view?.lies === undefined) throw new Error(`no view ${viewId}`);
  const { origin, right, up } = view.lies;
  const along = (axis: readonly number[]): number => axis.reduce((sum, part_, i) => sum + part_ * (part[i] ?? 0), 0);
  const height = sheet.pages[view.page - 1]?.heightMm ?? 0;
  return {
    page: view.page,
    at: [origin[0] + along(right) * view.scale, height - origin[1] - along(up) * view.scale],
  };
}
const topOf = ({ sheet, exercise }: DrawnExercise): string => {
  const views = exercise.sheet?.views ?? [];
  const top = views.find((view) => view.kind === 'plain' && view.direction === 'top');
  return top?.id ?? sheet.views.find(({ lies }) => lies?.up[1] === 1)?.viewId ?? '';
};

describe('a size that a sheet does not write', () => {
  it('between two holes is the length less both distances from the ends', () => {
    const plate = drawn(PLATE);
    const view = topOf(plate);
    const picked = [pointOn(plate, view, [15, 14, 20]), pointOn(plate, view, [48, 9, 20])] as const;
    const asked = unwrap(askedSize(plate, picked, null));
    expect(asked).toMatchObject({ axis: 0, along: 'across', from: 15, to: 48 });
    const answer = sizeAnswer(plate, asked);
    expect(answer).toEqual({
      kind: 'follows',
      links: [
        { checkId: 'length', part: 'whole', sense: 'plus' },
        { checkId: 'left', part: 'whole', sense: 'minus' },
        { checkId: 'right', part: 'whole', sense: 'minus' },
      ],
    });
    // 60 - 15 - 12 = 33
    const judged = (sum: string): unknown => isSize(asked, sum, plate.reference);
    expect(judged('33')).toEqual({ ok: true, value: true });
    expect(judged('60 - 15 - 12')).toEqual({ ok: true, value: true });
    expect(judged('60 - 15')).toEqual({ ok: true, value: false });
    expect(judged('Z - 27')).toMatchObject({ ok: false });
    expect(judged('sixty')).toMatchObject({ ok: false });
  });

  it('is said to be written where one dimension says it, whichever way it is picked', () => {
    const plate = drawn(PLATE);
    const view = topOf(plate);
    const [end, hole] = [pointOn(plate, view, [60, 4, 20]), pointOn(plate, view, [48, 12, 20])];
    for (const picked of [[end, hole] as const, [hole, end] as const]) {
      const asked = unwrap(askedSize(plate, picked, 'across'));
      expect(sizeAnswer(plate, asked)).toEqual({ kind: 'written', checkId: 'right' });
    }
  });

  it('is taken from the line that is nearest to the point, and marked there', () => {
    const plate = drawn(PLATE);
    const view = topOf(plate);
    const [left, hole] = [pointOn(plate, view, [0, 5, 20]), pointOn(plate, view, [15, 5, 20])];
    const near: PaperPoint = { page: left.page, at: [left.at[0] + 1.2, left.at[1]] };
    const asked = unwrap(askedSize(plate, [near, hole], 'across'));
    expect(asked.marks[0].at[0]).toBeCloseTo(left.at[0], 9);
    expect(asked.marks[1].at[0]).toBeCloseTo(hole.at[0], 9);
  });

  it('is refused beside the views, in two views, on one line, and far from any line', () => {
    const plate = drawn(PLATE);
    const view = topOf(plate);
    const hole = pointOn(plate, view, [15, 12, 20]);
    const other = plate.sheet.views.find(({ viewId, lies }) => viewId !== view && lies !== undefined);
    const ask = (a: PaperPoint, b: PaperPoint, along: 'across' | 'up' | null = null): unknown =>
      askedSize(plate, [a, b], along);
    const refused = { ok: false, problem: { code: 'no-such-place' } };
    expect(ask({ page: 1, at: [1, 1] }, hole)).toMatchObject(refused);
    expect(ask(hole, pointOn(plate, other?.viewId ?? '', [15, 12, 10]))).toMatchObject(refused);
    expect(ask(hole, hole)).toMatchObject(refused);
    const off: PaperPoint = { page: hole.page, at: [hole.at[0] + 5, hole.at[1]] };
    const scale = plate.sheet.views.find(({ viewId }) => viewId === view)?.scale ?? 1;
    // A hole of 8 at this scale: five millimeters of paper beside its center no line runs upward.
    expect(scale).toBeGreaterThanOrEqual(1);
    expect(ask(off, pointOn(plate, view, [60, 12, 20]), 'across')).toMatchObject(refused);
  });

  it('of any demo part is what the sum of its links gives, and never in the answer itself', () => {
    let asked = 0;
    for (const exercise of demoExercises.slice(0, 6)) {
      const part = drawn(exercise);
      const { targets } = part.reference;
      for (const [axis, chain] of shownChains(exercise, part.reference).entries())
        for (const { at: from } of chain.places)
          for (const { at: to } of chain.places) {
            if (axis > 2 || from >= to) continue;
            const answer = sizeAnswer(part, { axis: axis as 0 | 1 | 2, along: 'up', from, to, marks: NO_MARKS });
            asked++;
            if (answer.kind !== 'follows' || answer.links.some(({ checkId }) => checkId === null)) continue;
            const total = answer.links.reduce((sum, { checkId, part: share, sense }) => {
              const target = targets.find((one) => one.checkId === checkId);
              const nominal = target !== undefined && 'nominal' in target ? target.nominal : Number.NaN;
              return sum + (sense === 'plus' ? 1 : -1) * (share === 'half' ? nominal / 2 : nominal);
            }, 0);
            expect(total, `${exercise.title} along ${String(axis)}`).toBeCloseTo(to - from, 3);
          }
    }
    expect(asked).toBeGreaterThan(100);
  });
});

describe('a dimension that was read off the own model', () => {
  const length = {
    checkId: 'length',
    printed: '60',
    label: 'Length',
    quantity: 'length',
    page: 1,
    nominal: 60,
    tolerance: 0.05,
  } as const;
  const angle = { ...length, quantity: 'angle', nominal: 30, tolerance: 0.05 } as const;

  it.each(['60', '60,04', '59.95', '60 mm', '6 cm', '120/2', '-60'])('"%s" agrees with 60 ± 0.05', (text) => {
    expect(judgeReading(length, text, 'mm')).toEqual({ kind: 'agrees' });
  });

  it.each([
    ['30', 'half'],
    ['120', 'twice'],
    ['2.362', null],
    ['1524', 'other-unit'],
    ['61', null],
  ])('"%s" differs, and what it may come of is %s', (text, likely) => {
    expect(judgeReading(length, text, 'mm')).toEqual({ kind: 'differs', likely });
  });

  it('in inches takes fractions, and tells millimeters that were read for them', () => {
    const inch = { ...length, nominal: 44.45, tolerance: 0.0127 };
    expect(judgeReading(inch, '1 3/4', 'in')).toEqual({ kind: 'agrees' });
    expect(judgeReading(inch, '44.45 mm', 'in')).toEqual({ kind: 'agrees' });
    expect(judgeReading({ ...length, nominal: 25.4, tolerance: 0.0127 }, '0.03937', 'in')).toEqual({
      kind: 'differs',
      likely: 'other-unit',
    });
  });

  it('an angle is in degrees, and its other side is told apart', () => {
    expect(judgeReading(angle, '30°', 'mm')).toEqual({ kind: 'agrees' });
    for (const text of ['', '  ', 'steep', '30 31'])
      expect(judgeReading(angle, text, 'mm').kind, text).toBe('unreadable');
    expect(judgeReading(angle, '30,04', 'mm')).toEqual({ kind: 'agrees' });
    expect(judgeReading(angle, '15', 'mm')).toEqual({ kind: 'differs', likely: 'half' });
    expect(judgeReading(angle, '150', 'mm')).toEqual({ kind: 'differs', likely: 'supplement' });
    expect(judgeReading({ ...angle, quantity: 'count', nominal: 4, tolerance: 0 }, '2', 'mm')).toEqual({
      kind: 'differs',
      likely: null,
    });
  });

  it.each(['', 'abc', '1..2', '5 / 0'])('"%s" is no number, which is said', (text) => {
    expect(judgeReading(length, text, 'mm').kind).toBe('unreadable');
  });

  it('belongs to each dimension of the sheet, with its words, and to no check that is not on it', () => {
    const { sheet, reference } = drawn(PLATE);
    const dimensions = printedDimensions(sheet, reference);
    expect(dimensions.map(({ checkId }) => checkId).sort()).toEqual(PLATE.checks.map(({ id }) => id).sort());
    expect(dimensions.find(({ checkId }) => checkId === 'length')).toMatchObject({
      printed: '60',
      nominal: 60,
      page: 1,
    });
    // One callout for like rounds of two checks: the number is written for one, the size for the other.
    const words = (checkId: string, text: string) =>
      ({ kind: 'text', checkId, text, at: [0, 0], heightMm: 3.5, anchor: 'start' }) as const;
    const joined = {
      pages: sheet.pages.map((page) => ({ ...page, entities: [words('left', '6 x'), words('bore', ' ⌀8')] })),
    };
    expect(printedDimensions(joined, reference).map(({ printed }) => printed)).toEqual(['6 x ⌀8', '⌀8']);
    const bare = { pages: sheet.pages.map((page) => ({ ...page, entities: [] })) };
    expect(printedDimensions(bare, reference)).toEqual([]);
  });
});
