/** A student's own progress: what the reports of a term tell together. */
import type { Hono } from 'hono';
import * as v from 'valibot';

import type { Progress, User } from '#api';
import { causeName, CauseKindSchema, currentCause } from '#core/cause';
import { grouped } from '#core/group';
import { isTopic, TOPICS } from '#core/reading';
import { minutesOf, TimeLogSchema } from '#core/timelog';
import type { Attempts } from '#server/attempt';
import { JOIN_ISSUED, type Db } from '#server/db';
import { allow, userOf, type AppEnv } from '#server/http';

interface AnswerRow {
  readonly topic: string;
  readonly answers: number;
  readonly right: number;
  readonly dueAt: string | null;
}

interface LogRow {
  readonly assignmentId: number;
  readonly exercise: string;
  readonly documentJson: string;
}

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);

/** No more than each report by itself tells: what is withheld there is withheld here. */
export function createProgress(
  db: Db,
  attempts: Pick<Attempts, 'detailFor'>,
  now: () => Date,
): (student: User) => Progress {
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
  const logs = db.prepare<[number], LogRow>(
    `SELECT workings.assignment_id AS assignmentId, exercises.number || ' ' || exercises.title AS exercise,
            workings.document_json AS documentJson
     FROM workings JOIN assignments ON assignments.id = workings.assignment_id ${JOIN_ISSUED}
     WHERE workings.student_id = ? AND workings.kind = 'time' ORDER BY assignments.opens_at DESC, stage`,
  );
  const timesOf = (studentId: number): Progress['times'] =>
    grouped(logs.all(studentId), ({ assignmentId }) => assignmentId).map((stages) => {
      const [{ assignmentId, exercise }] = stages;
      const kept = stages.flatMap(({ documentJson }) => {
        const log = v.safeParse(TimeLogSchema, JSON.parse(documentJson));
        return log.success ? [log.output] : [];
      });
      const estimates = kept.flatMap(({ estimateMinutes }) => estimateMinutes ?? []);
      return {
        assignmentId,
        exercise,
        minutes: sum(kept.map((log) => minutesOf(log, now().getTime()))),
        estimateMinutes: estimates.length === 0 ? null : sum(estimates),
      };
    });
  return (student) => ({
    times: timesOf(student.id),
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
