import { describe, expect, it } from 'vitest';

import {
  checkFigures,
  exerciseFigures,
  median,
  quantile,
  weeksOf,
  type CheckSums,
  type OfStudent,
} from '#core/insight';

describe('the middle', () => {
  it('of an even number lies between the two in the middle', () => {
    expect(median([9, 1, 4, 2])).toBe(3);
    expect(median([7])).toBe(7);
    expect(median([])).toBeNull();
  });

  it('has quarters beside it', () => {
    // 0, 10, 20, 30, 40: a quarter of four steps is one step.
    expect(quantile([40, 0, 30, 10, 20], 0.25)).toBe(10);
  });
});

const sumsOf = (attempts: readonly (readonly [isRight: boolean, rest: number])[]): CheckSums => ({
  count: attempts.length,
  right: attempts.filter(([isRight]) => isRight).length,
  restSum: attempts.reduce((sum, [, rest]) => sum + rest, 0),
  restSquares: attempts.reduce((sum, [, rest]) => sum + rest ** 2, 0),
  restOfRight: attempts.reduce((sum, [isRight, rest]) => sum + (isRight ? rest : 0), 0),
});
const times = <T>(count: number, one: T): T[] => Array.from({ length: count }, () => one);

describe('a check', () => {
  it('that exactly the better half gets right divides a class entirely', () => {
    const figures = checkFigures(sumsOf([...times(5, [true, 90] as const), ...times(5, [false, 40] as const)]));
    expect(figures.facility).toBe(0.5);
    expect(figures.discrimination).toBeCloseTo(1, 12);
  });

  it('that the better half misses says the opposite of the others', () => {
    const figures = checkFigures(sumsOf([...times(5, [false, 90] as const), ...times(5, [true, 40] as const)]));
    expect(figures.discrimination).toBeCloseTo(-1, 12);
  });

  it('that everybody gets right as often says nothing', () => {
    // In both halves, two of four are right.
    const half = (rest: number) => [...times(2, [true, rest] as const), ...times(2, [false, rest] as const)];
    expect(checkFigures(sumsOf([...half(90), ...half(40)])).discrimination).toBeCloseTo(0, 12);
  });

  it('has the correlation of a table worked by hand', () => {
    // Right: 80, 60, 70, 90 (mean 75); wrong: 50, 70, 60, 40 (mean 55). Mean 65, variance (225+25+25+625+225+25+25+625)/8 =
    // 225, standard deviation 15; p = 0.5. Point-biserial r = (75 - 55) / 15 * sqrt(0.5 * 0.5) = 2/3.
    const right = [80, 60, 70, 90].map((rest) => [true, rest] as const);
    const wrong = [50, 70, 60, 40].map((rest) => [false, rest] as const);
    expect(checkFigures(sumsOf([...right, ...wrong])).discrimination).toBeCloseTo(2 / 3, 12);
  });

  it('of few attempts, or that never varies, divides nobody', () => {
    expect(
      checkFigures(
        sumsOf([
          [true, 90],
          [false, 10],
        ]),
      ).discrimination,
    ).toBeNull();
    expect(checkFigures(sumsOf(times(20, [true, 50] as const)))).toEqual({ facility: 1, discrimination: null });
    expect(checkFigures(sumsOf([])).facility).toBe(0);
  });
});

describe('an exercise', () => {
  let lastId = 0;
  const student = (scores: readonly number[], more: Partial<OfStudent> = {}): OfStudent => ({
    studentId: ++lastId,
    scores,
    attemptsAllowed: 3,
    isClosed: true,
    hoursToFirst: null,
    ...more,
  });

  it('is given up where attempts are left, the work is closed and full marks were not reached', () => {
    const figures = exerciseFigures([
      student([40]),
      student([40, 60, 70]),
      student([40, 100]),
      student([40], { isClosed: false }),
      student([]),
    ]);
    expect(figures.gaveUp).toBe(1);
    expect(figures.students).toBe(4);
  });

  it('says how a class began and ended, and how long it took to begin', () => {
    const figures = exerciseFigures([
      student([50, 90], { hoursToFirst: 10 }),
      student([70, 80], { hoursToFirst: 30 }),
      student([60], { hoursToFirst: 20 }),
    ]);
    expect(figures).toMatchObject({
      firstMedian: 60,
      lastMedian: 80,
      attemptsPerStudent: 5 / 3,
      hoursToFirstMedian: 20,
    });
  });

  it('of several stages counts each student once', () => {
    const figures = exerciseFigures([
      student([40], { studentId: 7 }),
      student([50, 60], { studentId: 7 }),
      student([100], { studentId: 8 }),
    ]);
    expect(figures).toMatchObject({ students: 2, attemptsPerStudent: 2, gaveUp: 1 });
  });

  it('that nobody began has no figures', () => {
    expect(exerciseFigures([student([])])).toMatchObject({ students: 0, firstMedian: null, attemptsPerStudent: null });
  });
});

describe('weeks', () => {
  const attempt = (handedInAt: string, studentId = 1, score: number | null = 80) => ({ handedInAt, studentId, score });

  it('begin on the Monday of their place, and the empty ones between are there', () => {
    const weeks = weeksOf(
      [
        // Sunday 23:30 by UTC is Monday in London in summer.
        attempt('2026-05-10T23:30:00Z', 1, 60),
        attempt('2026-05-12T10:00:00Z', 1, 80),
        attempt('2026-05-13T10:00:00Z', 2, null),
        attempt('2026-05-25T10:00:00Z'),
      ],
      'Europe/London',
    );
    expect(weeks).toEqual([
      { from: '2026-05-11', attempts: 3, students: 2, medianScore: 70 },
      { from: '2026-05-18', attempts: 0, students: 0, medianScore: null },
      { from: '2026-05-25', attempts: 1, students: 1, medianScore: 80 },
    ]);
  });

  it('begin at midnight also where clocks are half an hour off', () => {
    // Monday 00:00 in India is Sunday 18:30 by UTC.
    const weeks = weeksOf([attempt('2026-05-10T18:29:00Z'), attempt('2026-05-10T18:31:00Z')], 'Asia/Kolkata');
    expect(weeks.map(({ from, attempts }) => [from, attempts])).toEqual([
      ['2026-05-04', 1],
      ['2026-05-11', 1],
    ]);
  });

  it('go on over a change of the clocks', () => {
    // Summer time ends in London on 25 October 2026.
    const weeks = weeksOf([attempt('2026-10-20T10:00:00Z'), attempt('2026-11-03T10:00:00Z')], 'Europe/London');
    expect(weeks.map(({ from }) => from)).toEqual(['2026-10-19', '2026-10-26', '2026-11-02']);
  });

  it('of nothing are none', () => {
    expect(weeksOf([], 'UTC')).toEqual([]);
  });
});
