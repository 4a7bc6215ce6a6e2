import { beforeAll, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import { MISTAKE_KINDS } from '#core/cause';
import { ASSIGNMENTS, EVENING_STUDENTS, HISTORY, loginOf, STUDENTS } from '#demo/course';
import { demoExercises } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';

import { sampleOf } from '../exercises/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

it('every student of the demo has a sign-in name of their own', () => {
  const logins = [...STUDENTS, ...EVENING_STUDENTS].map(loginOf);
  expect(new Set(logins).size).toBe(logins.length);
});

it.each([...sampleOf(ASSIGNMENTS, 4), ...sampleOf(HISTORY, 2)].map((plan) => [plan.exercise, plan] as const))(
  'every attempt that is planned for %s can be built',
  (number, plan) => {
    const exercise = demoExercises.find((one) => one.number === number);
    if (exercise === undefined) throw new Error(`no exercise ${number}`);
    const failed = plan.attempts.flatMap(({ student, work }) => {
      const made =
        typeof work === 'string' || work.kind === 'of-exercise' ? null : modelLikeStudent(kernel, exercise, work);
      return made?.ok === false ? `${student}: ${made.problem.message}` : [];
    });
    expect(failed).toEqual([]);
  },
);

it('the attempts of the demo show every kind of mistake', () => {
  const shown = new Set(
    ASSIGNMENTS.flatMap(({ attempts }) =>
      attempts.flatMap(({ work }) =>
        typeof work === 'object' && work.kind === 'of-catalogue' ? work.mistakes.map(([kind]) => kind) : [],
      ),
    ),
  );
  expect(MISTAKE_KINDS.filter((kind) => !shown.has(kind))).toEqual([]);
});

it('twelve weeks lie behind the demo: exercises in ten different weeks, and fewer mistakes in the last than in the first', () => {
  const weeks = new Set([...HISTORY, ...ASSIGNMENTS].map(({ opensInHours }) => Math.ceil(-opensInHours / 168)));
  expect(Math.max(...weeks)).toBe(12);
  expect(weeks.size).toBeGreaterThanOrEqual(10);
  const wrongShare = (plans: typeof HISTORY): number => {
    const works = plans.flatMap(({ attempts }) => attempts.map(({ work }) => work));
    return works.filter((work) => typeof work === 'string' || work.kind !== 'none').length / works.length;
  };
  expect(wrongShare(HISTORY.slice(-2))).toBeLessThan(wrongShare(HISTORY.slice(0, 2)));
});
