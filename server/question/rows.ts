/** Questions about sheets, and errata, in the database. */
import type { OpenQuestions } from '#api';
import type { AssignmentRow } from '#server/assignment';
import { joinStaff } from '#server/auth';
import { JOIN_ISSUED, type Db } from '#server/db';

export interface QuestionRow {
  readonly id: number;
  readonly stage: number;
  readonly studentId: number | null;
  readonly student: string | null;
  readonly sheetSha256: string;
  readonly placeJson: string | null;
  readonly text: string;
  readonly at: string;
  readonly answer: string | null;
  readonly answeredBy: string | null;
  readonly answeredAt: string | null;
  readonly toAll: 0 | 1;
  /** Of a sheet that was replaced since. */
  readonly isEarlier: 0 | 1;
}

/** An assignment whose work somebody reviews. */
export interface ReviewedRow extends Pick<AssignmentRow, 'exerciseId' | 'revision' | 'documentJson'> {
  readonly exercise: string;
  readonly section: string;
  readonly courseId: number;
  readonly timeZone: string;
}

export interface ErratumRow {
  readonly id: number;
  readonly stage: number;
  readonly sheetSha256: string;
  readonly placeJson: string | null;
  readonly text: string;
  readonly by: string;
  readonly at: string;
  readonly isEarlier: 0 | 1;
}

/** Of whom, and of which stage of which assignment. */
export interface Asker {
  readonly assignmentId: number;
  readonly studentId: number;
  readonly stage: number;
}

/** What somebody writes about a sheet. */
export interface Written {
  readonly assignmentId: number;
  readonly stage: number;
  readonly userId: number;
  readonly sheetSha256: string;
  readonly placeJson: string | null;
  readonly text: string;
  readonly at: string;
}

/** Whether a corrected revision came after it. */
const isEarlier = (table: string, moment: string): string =>
  `EXISTS (SELECT 1 FROM corrections WHERE corrections.assignment_id = ${table}.assignment_id
     AND corrections.made_at > ${table}.${moment}) AS isEarlier`;
const QUESTIONS = `SELECT questions.id, stage, student_id AS studentId, students.name AS student, sheet_sha256 AS sheetSha256,
          place_json AS placeJson, text, asked_at AS "at", answer, staff.name AS answeredBy, answered_at AS answeredAt,
          to_all AS toAll, ${isEarlier('questions', 'asked_at')}
   FROM questions LEFT JOIN users AS students ON students.id = student_id LEFT JOIN users AS staff ON staff.id = answered_by`;
const ERRATA = `SELECT errata.id, stage, sheet_sha256 AS sheetSha256, place_json AS placeJson, text, users.name AS "by", made_at AS "at",
          ${isEarlier('errata', 'made_at')}
   FROM errata JOIN users ON users.id = made_by`;

export const questionStatements = (db: Db) => ({
  mayReview: db.prepare<[number, number], ReviewedRow>(
    `SELECT exercises.number || ' ' || exercises.title AS exercise, sections.name AS section, sections.course_id AS courseId,
            coalesce(courses.time_zone, 'UTC') AS timeZone, exercises.id AS exerciseId, exercise_revisions.number AS revision,
            exercise_revisions.document_json AS documentJson
     FROM assignments ${JOIN_ISSUED} JOIN sections ON sections.id = assignments.section_id
     JOIN courses ON courses.id = sections.course_id ${joinStaff('sections.course_id', 'review')}
     WHERE assignments.id = ? AND course_staff.user_id = ?`,
  ),
  /** The own ones, and those that were answered for all. */
  ofStudent: db.prepare<[Asker], QuestionRow>(
    `${QUESTIONS} WHERE assignment_id = @assignmentId AND stage = @stage
       AND (student_id = @studentId OR (to_all = 1 AND answer IS NOT NULL)) ORDER BY questions.id`,
  ),
  errataOf: db.prepare<[{ assignmentId: number; stage: number | null }], ErratumRow>(
    `${ERRATA} WHERE assignment_id = @assignmentId AND (@stage IS NULL OR stage = @stage) ORDER BY errata.id`,
  ),
  ofAssignment: db.prepare<[number], QuestionRow>(
    `${QUESTIONS} WHERE assignment_id = ? ORDER BY answered_at IS NOT NULL, questions.id`,
  ),
  one: db.prepare<[number], QuestionRow & { assignmentId: number }>(
    `${QUESTIONS.replace('SELECT', 'SELECT assignment_id AS assignmentId,')} WHERE questions.id = ?`,
  ),
  waiting: db.prepare<[number], OpenQuestions>(
    `SELECT assignments.id AS assignmentId, exercises.number AS exerciseNumber, exercises.title AS exerciseTitle,
            sections.name AS section, courses.title AS course, count(*) AS count
     FROM questions JOIN assignments ON assignments.id = questions.assignment_id ${JOIN_ISSUED}
     JOIN sections ON sections.id = assignments.section_id JOIN courses ON courses.id = sections.course_id
     ${joinStaff('sections.course_id', 'review')}
     WHERE course_staff.user_id = ? AND questions.answer IS NULL GROUP BY assignments.id ORDER BY min(questions.id)`,
  ),
  unanswered: db
    .prepare<[{ assignmentId: number; studentId: number }], number>(
      `SELECT count(*) FROM questions WHERE assignment_id = @assignmentId AND student_id = @studentId AND answer IS NULL`,
    )
    .pluck(),
  ask: db.prepare<[Written]>(
    `INSERT INTO questions (assignment_id, student_id, stage, sheet_sha256, place_json, text, asked_at)
     VALUES (@assignmentId, @userId, @stage, @sheetSha256, @placeJson, @text, @at)`,
  ),
  takeBack: db.prepare<[{ id: number; studentId: number; assignmentId: number }]>(
    `DELETE FROM questions
     WHERE id = @id AND assignment_id = @assignmentId AND student_id = @studentId AND answer IS NULL`,
  ),
  answer: db.prepare<[{ id: number; answer: string; toAll: 0 | 1; userId: number; at: string }]>(
    `UPDATE questions SET answer = @answer, to_all = @toAll, answered_by = @userId, answered_at = @at WHERE id = @id`,
  ),
  correct: db.prepare<[Written]>(
    `INSERT INTO errata (assignment_id, made_by, stage, sheet_sha256, place_json, text, made_at)
     VALUES (@assignmentId, @userId, @stage, @sheetSha256, @placeJson, @text, @at)`,
  ),
  withdraw: db.prepare<[number, number]>('DELETE FROM errata WHERE id = ? AND assignment_id = ?'),
});
