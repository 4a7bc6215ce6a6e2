/** What the reports of attempts tell before everything is handed in. */
import { expect, it, vi } from 'vitest';

import { FEEDBACK_DEGREES, type FeedbackDegree, type Report } from '#core/grade';
import { randomFrom } from '#core/variant';
import type { Graded, Outcome } from '#server/jobs';

import { GRADED, openSchool, REFUSED, type School, PATIENCE } from '../testing/fixture.ts';

const FEEDBACK: readonly FeedbackDegree[] = ['score', 'checks', 'overlay'];

/** A school with three attempts, each told more than the one before, whose worker answers when the test says so. */
async function openPatientSchool() {
  const waiting: (() => void)[] = [];
  const school = await openSchool(
    (content) =>
      new Promise<Outcome<Graded>>((resolve) => {
        waiting.push(() => {
          resolve(content.startsWith('junk') ? REFUSED : GRADED);
        });
      }),
  );
  school.db
    .prepare('UPDATE assignments SET attempts_allowed = ?, feedback_json = ?')
    .run(FEEDBACK.length, JSON.stringify(FEEDBACK));
  const unfinished = (): number =>
    school.db.prepare("SELECT count(*) FROM attempts WHERE state IN ('waiting', 'running')").pluck().get() as number;
  /** Lets the worker end the file that it has, if there is one. */
  const measureOne = async (): Promise<void> => {
    const before = unfinished();
    if (before === 0) return;
    await vi.waitFor(() => {
      expect(waiting).not.toHaveLength(0);
    }, PATIENCE);
    waiting.shift()?.();
    await vi.waitFor(() => {
      expect(unfinished()).toBe(before - 1);
    }, PATIENCE);
  };
  return { school, measureOne };
}

const rowsOf = (school: School) =>
  school.db.prepare("SELECT id FROM attempts WHERE state = 'graded' ORDER BY id").pluck().all() as number[];

/** The most that any report tells its student now, as a place among the degrees; -1 where there is none. */
async function mostTold(school: School): Promise<number> {
  const told = await Promise.all(
    rowsOf(school).map(async (id) => {
      const answer = await school.request('ansel', 'GET', `/api/attempts/${String(id)}`);
      const { report } = (await answer.json()) as { report: Report | null };
      return report === null ? -1 : FEEDBACK_DEGREES.indexOf(report.detail);
    }),
  );
  return Math.max(-1, ...told);
}

it('a file that waits to be refused opens no report: it may still give its attempt back', async () => {
  const { school, measureOne } = await openPatientSchool();
  await school.handIn('ansel', school.assignmentId, 'good');
  await measureOne();
  for (const junk of ['junk 1', 'junk 2']) await school.handIn('ansel', school.assignmentId, junk);
  expect(FEEDBACK_DEGREES[await mostTold(school)]).toBe('score');
});

it.each(Array.from({ length: 12 }, (_, seed) => seed + 1))(
  'no order of hand-ins, refusals and waiting tells more than the attempts that were measured allow (seed %i)',
  async (seed) => {
    const random = randomFrom(seed);
    const { school, measureOne } = await openPatientSchool();
    /** After each step: how many attempts were measured, and the most that was told. */
    const seen: { measured: number; told: number }[] = [];
    for (let step = 0; step < 14; step++) {
      const choice = random();
      if (choice < 0.3) await school.handIn('ansel', school.assignmentId, `good ${String(step)}`);
      else if (choice < 0.65) await school.handIn('ansel', school.assignmentId, `junk ${String(step)}`);
      else await measureOne();
      seen.push({ measured: rowsOf(school).length, told: await mostTold(school) });
    }
    for (const { measured, told } of seen) {
      const allowed = FEEDBACK[measured - 1];
      expect(told).toBeLessThanOrEqual(allowed === undefined ? -1 : FEEDBACK_DEGREES.indexOf(allowed));
    }
  },
);
