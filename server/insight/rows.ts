/** What is read of the attempts of a course, or of one of its sections. */
import type { Standing } from '#api';
import type { GivenDates } from '#server/assignment';
import { staffMay } from '#server/auth';
import { JOIN_ISSUED, JOIN_EXERCISE, type Db } from '#server/db';

export interface Asked {
  readonly courseId: number;
  /** Null for all sections. */
  readonly sectionId: number | null;
}

/** Attempts, as a JSON list of their ids. */
export interface OfList {
  readonly attempts: string;
}

export interface AttemptFact {
  readonly assignmentId: number;
  readonly exerciseId: number;
  readonly studentId: number;
  readonly stage: number;
  readonly score: number;
  readonly handedInAt: string;
}

export interface AssignmentFact {
  readonly assignmentId: number;
  readonly exerciseId: number;
  readonly number: string;
  readonly title: string;
  readonly opensAt: string;
  readonly dueAt: string;
  readonly lateUntil: string | null;
  readonly attemptsAllowed: number;
}

export interface ExtensionFact extends GivenDates {
  readonly assignmentId: number;
  readonly studentId: number;
  readonly standing: Standing;
}

export interface CauseFact {
  readonly kind: string;
  readonly message: string;
  readonly attemptId: number;
  readonly studentId: number;
  readonly student: string;
  readonly exerciseId: number;
  readonly exercise: string;
}

export interface CheckFact {
  readonly checkId: string;
  readonly label: string;
  readonly count: number;
  readonly right: number;
  readonly restSum: number;
  readonly restSquares: number;
  readonly restOfRight: number;
}

export interface VariantFact {
  readonly revisionId: number;
  readonly variant: number;
  readonly studentId: number;
  readonly score: number;
}

const IN_SECTION = 'AND (@sectionId IS NULL OR sections.id = @sectionId)';
const IN_COURSE = `${JOIN_EXERCISE} JOIN sections ON sections.id = assignments.section_id
  WHERE sections.course_id = @courseId ${IN_SECTION}`;
/** Attempts that are given as a list. */
const OF_LIST = 'IN (SELECT value FROM json_each(@attempts))';
const MOST_WRONG = 40;

type Since = Asked & { readonly since: string };

export const insightStatements = (db: Db) => ({
  course: db.prepare<[number, number], { title: string; school: string; timeZone: string }>(
    `SELECT courses.title, courses.school, coalesce(courses.time_zone, 'UTC') AS timeZone
     FROM course_staff JOIN courses ON courses.id = course_staff.course_id
     WHERE course_id = ? AND user_id = ? AND ${staffMay('read-course')}`,
  ),
  sections: db.prepare<[number], { id: number; name: string; students: number }>(
    `SELECT id, name, (SELECT count(*) FROM enrollments WHERE section_id = sections.id) AS students
     FROM sections WHERE course_id = ? ORDER BY name`,
  ),
  assignments: db.prepare<[Asked], AssignmentFact>(
    `SELECT assignments.id AS assignmentId, exercises.id AS exerciseId, exercises.number, exercises.title,
            opens_at AS opensAt, due_at AS dueAt, late_until AS lateUntil, attempts_allowed AS attemptsAllowed
     FROM assignments ${JOIN_ISSUED}
     JOIN sections ON sections.id = assignments.section_id
     WHERE sections.course_id = @courseId ${IN_SECTION} ORDER BY exercises.number`,
  ),
  extensions: db.prepare<[Asked], ExtensionFact>(
    `SELECT assignment_id AS assignmentId, student_id AS studentId, extensions.due_at AS dueAt,
            extra_attempts AS extraAttempts, standing
     FROM extensions JOIN assignments ON assignments.id = assignment_id
     JOIN sections ON sections.id = assignments.section_id
     WHERE sections.course_id = @courseId ${IN_SECTION}`,
  ),
  attempts: db.prepare<[Asked], AttemptFact>(
    `SELECT attempts.assignment_id AS assignmentId, exercises.id AS exerciseId, student_id AS studentId, stage,
            attempts.score, handed_in_at AS handedInAt
     FROM attempts ${IN_COURSE} AND attempts.state = 'graded' AND attempts.score IS NOT NULL ORDER BY attempts.id`,
  ),
  causes: db.prepare<[Since], CauseFact>(
    `SELECT report_causes.kind, report_causes.message, attempts.id AS attemptId, attempts.student_id AS studentId,
            users.name AS student, exercises.id AS exerciseId, exercises.number || ' ' || exercises.title AS exercise
     FROM report_causes JOIN attempts ON attempts.id = report_causes.attempt_id
     JOIN users ON users.id = attempts.student_id ${IN_COURSE} AND attempts.state <> 'refused' AND attempts.handed_in_at >= @since
     ORDER BY attempts.id DESC, report_causes.place`,
  ),
  /** The kinds of mistakes of most students, counted where they are kept. */
  commonest: db.prepare<[Since & { readonly most: number }], { kind: string; students: number }>(
    `SELECT report_causes.kind, count(DISTINCT attempts.student_id) AS students
     FROM report_causes JOIN attempts ON attempts.id = report_causes.attempt_id
     ${IN_COURSE} AND attempts.state <> 'refused' AND attempts.handed_in_at >= @since
     GROUP BY report_causes.kind ORDER BY students DESC, count(*) DESC LIMIT @most`,
  ),
  /** Of each of these kinds the parts on which it was made, those of most students first, with what the newest report says. */
  examples: db.prepare<
    [Since & { readonly kinds: string }],
    { kind: string; exerciseId: number; exercise: string; message: string }
  >(
    `SELECT report_causes.kind, exercises.id AS exerciseId, exercises.number || ' ' || exercises.title AS exercise,
            report_causes.message, count(DISTINCT attempts.student_id) AS students, max(attempts.id)
     FROM report_causes JOIN attempts ON attempts.id = report_causes.attempt_id
     ${IN_COURSE} AND attempts.state <> 'refused' AND attempts.handed_in_at >= @since
       AND report_causes.kind IN (SELECT value FROM json_each(@kinds))
     GROUP BY report_causes.kind, exercises.id ORDER BY students DESC`,
  ),
  /** The first measured attempt of each student at an exercise: its first stage. */
  firsts: db
    .prepare<[Asked & { readonly exerciseId: number }], number>(
      `SELECT min(attempts.id) FROM attempts ${IN_COURSE} AND exercises.id = @exerciseId
       AND attempts.state = 'graded' AND attempts.stage = 1 GROUP BY attempts.assignment_id, attempts.student_id`,
    )
    .pluck(),
  /** Likewise of exercises with the same number in the other courses that somebody may read: those of other years. */
  firstsElsewhere: db
    .prepare<[{ readonly courseId: number; readonly exerciseId: number; readonly userId: number }], number>(
      `SELECT min(attempts.id) FROM attempts ${JOIN_EXERCISE} JOIN sections ON sections.id = assignments.section_id
       JOIN course_staff ON course_staff.course_id = sections.course_id AND user_id = @userId AND ${staffMay('read-course')}
       WHERE sections.course_id <> @courseId AND exercises.number = (SELECT number FROM exercises WHERE id = @exerciseId)
         AND attempts.state = 'graded' AND attempts.stage = 1 GROUP BY attempts.assignment_id, attempts.student_id`,
    )
    .pluck(),
  checks: db.prepare<[OfList], CheckFact>(
    `SELECT check_id AS checkId, max(label) AS label, count(*) AS count, sum(credit >= 1) AS "right",
            sum(attempts.score - points) AS restSum,
            sum((attempts.score - points) * (attempts.score - points)) AS restSquares,
            sum((credit >= 1) * (attempts.score - points)) AS restOfRight
     FROM report_checks JOIN attempts ON attempts.id = report_checks.attempt_id
     WHERE attempt_id ${OF_LIST} GROUP BY check_id`,
  ),
  wrong: db.prepare<[OfList], { checkId: string; attemptId: number }>(
    `SELECT checkId, attemptId FROM (
       SELECT check_id AS checkId, attempt_id AS attemptId,
              row_number() OVER (PARTITION BY check_id ORDER BY attempt_id) AS place
       FROM report_checks WHERE attempt_id ${OF_LIST} AND credit < 1)
     WHERE place <= ${String(MOST_WRONG)} ORDER BY attemptId`,
  ),
  revision: db.prepare<[number], { documentJson: string; exerciseId: number; revision: number }>(
    `SELECT document_json AS documentJson, exercise_id AS exerciseId, number AS revision
     FROM exercise_revisions WHERE id = ?`,
  ),
  variants: db.prepare<[OfList], VariantFact>(
    `SELECT assignments.revision_id AS revisionId,
            assigned_variants.variant, attempts.student_id AS studentId, attempts.score
     FROM attempts JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN assigned_variants ON assigned_variants.assignment_id = attempts.assignment_id
       AND assigned_variants.student_id = attempts.student_id
     WHERE attempts.id ${OF_LIST} AND attempts.score IS NOT NULL`,
  ),
});
