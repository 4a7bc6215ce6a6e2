/** What is stored of a course's grades: its students and assignments, what was handed in, given and caused. */
import type { Standing } from '#api';
import type { CauseKind } from '#core/cause';
import { SELECT_ASSIGNMENT, type AssignmentRow, type GivenDates } from '#server/assignment';
import { staffMay } from '#server/auth';
import type { Db } from '#server/db';

export interface AttemptFacts {
  readonly assignmentId: number;
  readonly studentId: number;
  readonly id: number;
  readonly stage: number;
  readonly state: string;
  readonly score: number | null;
  readonly handedInAt: string;
  readonly accepted: 0 | 1;
}

export interface ExtensionFacts extends GivenDates {
  readonly assignmentId: number;
  readonly studentId: number;
  readonly standing: Standing;
}

export interface StudentFacts {
  readonly id: number;
  readonly name: string;
  readonly login: string;
  readonly section: string;
  readonly sectionId: number;
}

/** Parameters of a statement about a course, or about one section of it. */
export interface Asked {
  readonly courseId: number;
  readonly sectionId: number | null;
}

export interface OneStudent {
  readonly courseId: number;
  readonly studentId: number;
}

export interface SectionFacts {
  readonly id: number;
  readonly name: string;
  readonly students: number;
}

export interface CourseFacts {
  readonly title: string;
  readonly timeZone: string;
  readonly gradingJson: string | null;
}

const STUDENTS = `SELECT users.id, users.name, users.login, sections.name AS section, sections.id AS sectionId
   FROM sections JOIN enrollments ON enrollments.section_id = sections.id JOIN users ON users.id = enrollments.user_id
   WHERE sections.course_id = @courseId`;
const OF_COURSE = `JOIN assignments ON assignments.id = assignment_id
   JOIN sections ON sections.id = assignments.section_id WHERE sections.course_id = @courseId`;
const ATTEMPTS = `SELECT assignment_id AS assignmentId, student_id AS studentId, attempts.id, stage, state, score,
          handed_in_at AS handedInAt, reviews.accepted_at IS NOT NULL AS accepted
   FROM attempts LEFT JOIN reviews ON reviews.attempt_id = attempts.id ${OF_COURSE}`;
const EXTENSIONS = `SELECT assignment_id AS assignmentId, student_id AS studentId, extensions.due_at AS dueAt,
          extra_attempts AS extraAttempts, standing
   FROM extensions ${OF_COURSE}`;
/** Of one section where one is asked for. */
const IN_SECTION = 'AND (@sectionId IS NULL OR sections.id = @sectionId)';

/** The statements about a whole course, or one of its sections. */
export const courseStatements = (db: Db) => ({
  teaches: db.prepare<[number, number], CourseFacts>(
    `SELECT courses.title, coalesce(courses.time_zone, 'UTC') AS timeZone, courses.grading_json AS gradingJson
     FROM course_staff JOIN courses ON courses.id = course_staff.course_id
     WHERE course_id = ? AND user_id = ? AND ${staffMay('read-course')}`,
  ),
  sections: db.prepare<[number], SectionFacts>(
    `SELECT sections.id, sections.name, count(enrollments.user_id) AS students
     FROM sections LEFT JOIN enrollments ON enrollments.section_id = sections.id
     WHERE sections.course_id = ? GROUP BY sections.id ORDER BY sections.name`,
  ),
  assignments: db.prepare<[number], AssignmentRow>(
    `${SELECT_ASSIGNMENT} WHERE courses.id = ? AND assignments.withdrawn_at IS NULL ORDER BY assignments.opens_at, assignments.id`,
  ),
  students: db.prepare<[Asked], StudentFacts>(`${STUDENTS} ${IN_SECTION} ORDER BY users.name, users.id, sections.name`),
  attempts: db.prepare<[Asked], AttemptFacts>(`${ATTEMPTS} ${IN_SECTION} ORDER BY attempts.id`),
  /** What the records of the school call students and sections, where they call them something. */
  studentIds: db.prepare<[number], { id: number; schoolId: string }>(
    `SELECT DISTINCT users.id, users.school_id AS schoolId FROM users
     JOIN enrollments ON enrollments.user_id = users.id JOIN sections ON sections.id = enrollments.section_id
     WHERE sections.course_id = ? AND users.school_id IS NOT NULL`,
  ),
  classIds: db.prepare<[number], { id: number; schoolId: string }>(
    'SELECT id, school_id AS schoolId FROM sections WHERE course_id = ? AND school_id IS NOT NULL',
  ),
  extensions: db.prepare<[Asked], ExtensionFacts>(`${EXTENSIONS} ${IN_SECTION}`),
});

/** The statements about one student of a course. */
export const studentStatements = (db: Db) => ({
  student: db.prepare<[OneStudent], StudentFacts>(`${STUDENTS} AND users.id = @studentId ORDER BY sections.name`),
  attempts: db.prepare<[OneStudent], AttemptFacts>(`${ATTEMPTS} AND student_id = @studentId ORDER BY attempts.id`),
  extensions: db.prepare<[OneStudent], ExtensionFacts>(`${EXTENSIONS} AND student_id = @studentId`),
  reasons: db.prepare<[number], { assignmentId: number; reason: string }>(
    'SELECT assignment_id AS assignmentId, reason FROM extensions WHERE student_id = ?',
  ),
  /** Of the newest graded attempt at each stage. */
  causes: db.prepare<[OneStudent], { kind: CauseKind; attemptId: number }>(
    `WITH newest AS (
       SELECT max(attempts.id) AS id FROM attempts JOIN assignments ON assignments.id = attempts.assignment_id
       JOIN sections ON sections.id = assignments.section_id
       WHERE sections.course_id = @courseId AND attempts.student_id = @studentId AND attempts.state = 'graded'
       GROUP BY attempts.assignment_id, attempts.stage)
     SELECT DISTINCT report_causes.kind, report_causes.attempt_id AS attemptId
     FROM newest JOIN report_causes ON report_causes.attempt_id = newest.id ORDER BY report_causes.attempt_id`,
  ),
});
