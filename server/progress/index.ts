/** A student's own progress: what the reports of a term tell together. */
import type { Hono } from 'hono';
import * as v from 'valibot';

import type { Progress, User } from '#api';
import { causeName, CauseKindSchema, currentCause } from '#core/cause';
import { isTopic, TOPICS } from '#core/reading';
import type { Attempts } from '#server/attempt';
import type { Db } from '#server/db';
import { allow, userOf, type AppEnv } from '#server/http';

interface AnswerRow {
  readonly topic: string;
  readonly answers: number;
  readonly right: number;
  readonly dueAt: string | null;
}

/** No more than each report by itself tells: what is withheld there is withheld here. */
export function createProgress(db: Db, attempts: Pick<Attempts, 'detailFor'>): (student: User) => Progress {
  const graded = db
    .prepare<[number], number>(
      `SELECT id FROM attempts WHERE student_id = ? AND state = 'graded' ORDER BY handed_in_at, id`,
    )
    .pluck();
  const answers = db.prepare<[number], AnswerRow>(
    `SELECT reading_answers.topic, count(*) AS answers, sum(is_right) AS "right", max(reading_cards.due_at) AS dueAt
     FROM reading_answers
     LEFT JOIN reading_cards ON reading_cards.student_id = reading_answers.student_id AND reading_cards.topic = reading_answers.topic
     WHERE reading_answers.student_id = ? GROUP BY reading_answers.topic`,
  );
  return (student) => ({
    attempts: graded.all(student.id).flatMap((attemptId) => {
      const detail = attempts.detailFor(attemptId, student);
      if (detail === null) return [];
      const { report, assignment, handedInAt } = detail;
      const causes = (report?.causes ?? []).flatMap(({ id, message }) => {
        const kind = v.safeParse(CauseKindSchema, currentCause(id));
        return kind.success ? [{ kind: kind.output, name: causeName(kind.output), message }] : [];
      });
      return [
        {
          attemptId,
          exercise: `${assignment.exerciseNumber} ${assignment.exerciseTitle}`,
          at: handedInAt,
          score: report?.score ?? null,
          causes,
        },
      ];
    }),
    reading: answers
      .all(student.id)
      .flatMap((row) => (isTopic(row.topic) ? [{ ...row, topic: row.topic }] : []))
      .sort((a, b) => TOPICS.indexOf(a.topic) - TOPICS.indexOf(b.topic)),
  });
}

export function progressRoutes(app: Hono<AppEnv>, progressOf: (student: User) => Progress): void {
  app.get('/api/my-progress', allow('work'), (c) => c.json(progressOf(userOf(c))));
}
