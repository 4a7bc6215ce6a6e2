import * as v from 'valibot';

import {
  PaperPointSchema,
  type AnswerQuestion,
  type AskedQuestion,
  type AssignmentQuestions,
  type Erratum,
  type NewErratum,
  type NewQuestion,
  type OpenQuestions,
  type PaperPoint,
  type User,
  type WorkQuestions,
} from '#api';
import { stageCount } from '#core/exercise';
import { refuse, succeed, type Result } from '#core/problem';
import { documentOf } from '#server/assignment';
import type { Attempts } from '#server/attempt';
import type { Audit } from '#server/audit';
import type { Db } from '#server/db';

import { questionStatements, type ErratumRow, type QuestionRow } from './rows.ts';

export interface Questions {
  /** What a student asked of a stage, what was answered for all, and what is wrong on the sheet; null where it is not theirs. */
  ofWork(assignmentId: number, studentId: number, stage?: number): WorkQuestions | null;
  ask(assignmentId: number, studentId: number, question: NewQuestion): Result<null>;
  /** Takes a question back that nobody has answered yet. */
  takeBack(assignmentId: number, studentId: number, questionId: number): Result<null>;
  /** Null for who does not review the work of the assignment. */
  ofAssignment(assignmentId: number, user: User): AssignmentQuestions | null;
  answer(questionId: number, by: User, answer: AnswerQuestion): Result<null>;
  correct(assignmentId: number, by: User, erratum: NewErratum): Result<null>;
  withdraw(assignmentId: number, by: User, erratumId: number): Result<null>;
  /** What waits for an answer, of all assignments that somebody reviews. */
  waitingFor(userId: number): readonly OpenQuestions[];
  /** The sheet that a question was asked about, for who answers it. */
  sheetOf(questionId: number, user: User): string | null;
}

export interface QuestionsParts {
  readonly db: Db;
  readonly attempts: Pick<Attempts, 'workDetail' | 'sheetOf' | 'sheetOfAssignment'>;
  readonly audit: Audit;
  readonly now: () => Date;
}

/** More than anybody waits for at once. */
const MOST_UNANSWERED = 10;
const NONE = 'There is no such question, or it is not yours.';

/** The place of something on the sheet that somebody reads; null where that is another sheet. */
const placeOn = (
  readSha256: string | undefined,
  { sheetSha256, placeJson }: { readonly sheetSha256: string; readonly placeJson: string | null },
): PaperPoint | null =>
  placeJson === null || sheetSha256 !== readSha256 ? null : v.parse(PaperPointSchema, JSON.parse(placeJson));

const askedOf = (row: QuestionRow, readSha256: string | undefined): Omit<AskedQuestion, 'own'> => ({
  id: row.id,
  stage: row.stage,
  text: row.text,
  place: placeOn(readSha256, row),
  at: row.at,
  answer: row.answer,
  answeredBy: row.answeredBy,
  answeredAt: row.answeredAt,
  toAll: row.toAll === 1,
  isEarlier: row.isEarlier === 1,
});

const erratumOf = (
  { id, stage, text, by, at, isEarlier, ...row }: ErratumRow,
  readSha256: string | undefined,
): Erratum => ({
  id,
  stage,
  text,
  by,
  at,
  isEarlier: isEarlier === 1,
  place: placeOn(readSha256, row),
});

export function createQuestions({ db, attempts, audit, now }: QuestionsParts): Questions {
  const rows = questionStatements(db);
  const written = (assignmentId: number, userId: number, sheetSha256: string, { stage, text, place }: NewQuestion) => ({
    assignmentId,
    userId,
    stage,
    text,
    sheetSha256,
    placeJson: place && JSON.stringify(place),
    at: now().toISOString(),
  });
  const reviewed = (questionId: number, user: User) => {
    const question = rows.one.get(questionId);
    const assignment = question && rows.mayReview.get(question.assignmentId, user.id);
    return question === undefined || assignment === undefined ? null : { question, assignment };
  };

  return {
    ofWork(assignmentId, studentId, asked) {
      const work = attempts.workDetail(assignmentId, studentId, asked);
      if (work === null) return null;
      const { stage } = work;
      const sheet = attempts.sheetOf(assignmentId, studentId, stage)?.sha256;
      return {
        questions: rows.ofStudent
          .all({ assignmentId, studentId, stage })
          .map((row) => ({ ...askedOf(row, sheet), own: row.studentId === studentId })),
        errata: rows.errataOf.all({ assignmentId, stage }).map((row) => erratumOf(row, sheet)),
      };
    },

    ask: (assignmentId, studentId, question) =>
      db.transaction((): Result<null> => {
        const work = attempts.workDetail(assignmentId, studentId, question.stage);
        const sheet = attempts.sheetOf(assignmentId, studentId, question.stage);
        if (work === null || sheet === null)
          return refuse('not-found', 'There is no such exercise, or it is not yours.');
        if ((rows.unanswered.get({ assignmentId, studentId }) ?? 0) >= MOST_UNANSWERED)
          return refuse(
            'too-many-tries',
            `${String(MOST_UNANSWERED)} of your questions wait for an answer. Take one back, or wait for the answers.`,
          );
        rows.ask.run(written(assignmentId, studentId, sheet.sha256, question));
        return succeed(null);
      })(),

    takeBack: (assignmentId, studentId, id) =>
      rows.takeBack.run({ id, studentId, assignmentId }).changes > 0
        ? succeed(null)
        : refuse('not-found', 'There is no such question, or it is answered already.'),

    ofAssignment(assignmentId, user) {
      const assignment = rows.mayReview.get(assignmentId, user.id);
      if (assignment === undefined) return null;
      const { exercise, section, timeZone } = assignment;
      return {
        assignment: { id: assignmentId, exercise, section, timeZone, stages: stageCount(documentOf(assignment)) },
        questions: rows.ofAssignment
          .all(assignmentId)
          // Staff looks at each question on the sheet that it was asked about.
          .map((row) => ({ ...askedOf(row, row.sheetSha256), student: row.student })),
        errata: rows.errataOf.all({ assignmentId, stage: null }).map((row) => erratumOf(row, row.sheetSha256)),
      };
    },

    answer: (questionId, by, { answer, toAll }) =>
      db.transaction((): Result<null> => {
        if (reviewed(questionId, by) === null) return refuse('not-found', NONE);
        const at = now().toISOString();
        rows.answer.run({ id: questionId, answer, toAll: toAll ? 1 : 0, userId: by.id, at });
        return succeed(null);
      })(),

    correct: (assignmentId, by, erratum) =>
      db.transaction((): Result<null> => {
        const assignment = rows.mayReview.get(assignmentId, by.id);
        const sheet = attempts.sheetOfAssignment(assignmentId, erratum.stage, by);
        if (assignment === undefined || sheet === null) return refuse('not-found', 'There is no such sheet.');
        rows.correct.run(written(assignmentId, by.id, sheet.sha256, erratum));
        const { courseId, exercise } = assignment;
        audit.note({ by, courseId, what: 'erratum', subject: exercise, after: { text: erratum.text } });
        return succeed(null);
      })(),

    withdraw: (assignmentId, by, erratumId) =>
      db.transaction((): Result<null> => {
        const assignment = rows.mayReview.get(assignmentId, by.id);
        const before = rows.errataOf.all({ assignmentId, stage: null }).find(({ id }) => id === erratumId);
        if (assignment === undefined || before === undefined) return refuse('not-found', 'There is no such erratum.');
        rows.withdraw.run(erratumId, assignmentId);
        const { courseId, exercise } = assignment;
        audit.note({ by, courseId, what: 'erratum withdrawn', subject: exercise, before: { text: before.text } });
        return succeed(null);
      })(),

    waitingFor: (userId) => rows.waiting.all(userId),
    sheetOf: (questionId, user) => reviewed(questionId, user)?.question.sheetSha256 ?? null,
  };
}
