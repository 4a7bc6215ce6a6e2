/** What happened to somebody's work, read from where it is kept anyway: nothing is noted a second time. */
import type { Standing } from '#api';
import { joinStaff } from '#server/auth';
import { GIVEN_BACK } from '#server/assignment';
import { JOIN_ISSUED, JOIN_EXERCISE, type Db } from '#server/db';

/** From when until when; both ISO 8601, the first left out. */
export interface Span {
  readonly userId: number;
  readonly since: string;
  readonly until: string;
  /** `since` and `until` as far ahead as one is reminded before a due time. */
  readonly dueSince: string;
  readonly dueUntil: string;
}

interface About {
  readonly exercise: string;
  readonly timeZone: string;
  readonly at: string;
}

export interface AssignmentFact extends About {
  readonly assignmentId: number;
  readonly dueAt: string;
}
/** An assignment that is due soon. */
export interface DueFact extends AssignmentFact {
  /** From when on students see it. */
  readonly seenFrom: string;
}
export interface ExtensionFact extends AssignmentFact {
  readonly ownDueAt: string | null;
  readonly extraAttempts: number;
  readonly standing: Standing;
}
/** Something about the sheet of one stage. */
export interface StageFact extends AssignmentFact {
  readonly stage: number;
}
export interface QuestionFact extends StageFact {
  readonly own: 0 | 1;
}
export interface AskedFact extends AssignmentFact {
  readonly student: string;
}
export interface RetentionFact {
  readonly courseId: number;
  readonly title: string;
  /** A day. */
  readonly keepUntil: string;
}
export interface AttemptFact extends About {
  readonly attemptId: number;
}
export interface RequestFact extends AttemptFact {
  readonly student: string;
  readonly wantsLook: 0 | 1;
}
export interface ClassFact extends DueFact {
  readonly section: string;
  readonly students: number;
  readonly begun: number;
}

const EXERCISE = `exercises.number || ' ' || exercises.title AS exercise, coalesce(courses.time_zone, 'UTC') AS timeZone`;
const OF_ASSIGNMENT = `FROM assignments ${JOIN_ISSUED}
  JOIN sections ON sections.id = assignments.section_id JOIN courses ON courses.id = sections.course_id`;
const TAUGHT = 'courses.archived_at IS NULL AND assignments.withdrawn_at IS NULL';
/** The assignments of a student, with the own due time. */
const OWN_JOINED = `${OF_ASSIGNMENT} JOIN enrollments ON enrollments.section_id = sections.id AND enrollments.user_id = @userId
  LEFT JOIN extensions ON extensions.assignment_id = assignments.id AND extensions.student_id = @userId`;
const OWN_HOLDS = `${TAUGHT} AND coalesce(extensions.standing, 'owed') <> 'excused'`;
const OWN = `${OWN_JOINED} WHERE ${OWN_HOLDS}`;
const OWN_DUE = 'coalesce(extensions.due_at, assignments.due_at)';
const OWN_ATTEMPT = `FROM attempts ${JOIN_EXERCISE}
  JOIN sections ON sections.id = assignments.section_id JOIN courses ON courses.id = sections.course_id`;
/** When a report reaches its student by somebody's hand. */
const RELEASED = 'reviews.released_at';
const IS_RELEASED = `(assignments.release = 'automatic' OR ${RELEASED} IS NOT NULL)`;
/** From when on students see an assignment. */
const SEEN_FROM = 'max(assignments.opens_at, assignments.created_at)';
/** The files of somebody in an assignment that were read, or may be. */
const HANDED_IN = `EXISTS (SELECT 1 FROM attempts WHERE attempts.assignment_id = assignments.id
  AND attempts.student_id = @userId AND attempts.state <> 'refused')`;
const within = (moment: string, since = '@since', until = '@until'): string =>
  `${moment} > ${since} AND ${moment} <= ${until}`;

/** The statements, one a kind of news. */
export const newsStatements = (db: Db) => ({
  issued: db.prepare<[Span], AssignmentFact>(
    `SELECT assignments.id AS assignmentId, ${EXERCISE}, ${OWN_DUE} AS dueAt,
            ${SEEN_FROM} AS "at"
     ${OWN} AND ${within(SEEN_FROM)}`,
  ),
  dueChanged: db.prepare<[Span], AssignmentFact>(
    `SELECT assignments.id AS assignmentId, ${EXERCISE}, assignments.due_at AS dueAt, due_changed_at AS "at"
     ${OWN} AND extensions.due_at IS NULL AND assignments.opens_at <= @until AND ${within('due_changed_at')}`,
  ),
  dueSoon: db.prepare<[Span], DueFact>(
    `SELECT ${SEEN_FROM} AS seenFrom, assignments.id AS assignmentId, ${EXERCISE}, ${OWN_DUE} AS dueAt, ${OWN_DUE} AS "at"
     ${OWN} AND assignments.opens_at <= @until AND NOT ${HANDED_IN} AND ${within(OWN_DUE, '@dueSince', '@dueUntil')}
       AND ${OWN_DUE} > @until`,
  ),
  answers: db.prepare<[Span], AssignmentFact>(
    `SELECT assignments.id AS assignmentId, ${EXERCISE}, ${OWN_DUE} AS dueAt, max(${OWN_DUE}, coalesce(assignments.late_until, '')) AS "at"
     ${OWN} AND assignments.answers = 'after-due' AND ${HANDED_IN}
       AND ${within(`max(${OWN_DUE}, coalesce(assignments.late_until, ''))`)}`,
  ),
  extensions: db.prepare<[Span], ExtensionFact>(
    `SELECT assignments.id AS assignmentId, ${EXERCISE}, assignments.due_at AS dueAt, extensions.due_at AS ownDueAt,
            extensions.extra_attempts AS extraAttempts, extensions.standing, extensions.made_at AS "at"
     ${OF_ASSIGNMENT} JOIN extensions ON extensions.assignment_id = assignments.id
     WHERE ${TAUGHT} AND extensions.student_id = @userId AND ${within('extensions.made_at')}`,
  ),
  reports: db.prepare<[Span], AttemptFact>(
    `SELECT attempts.id AS attemptId, ${EXERCISE}, ${RELEASED} AS "at"
     ${OWN_ATTEMPT} JOIN reviews ON reviews.attempt_id = attempts.id
     WHERE ${TAUGHT} AND attempts.student_id = @userId AND assignments.release <> 'automatic' AND ${within(RELEASED)}`,
  ),
  remarks: db.prepare<[Span], AttemptFact>(
    `SELECT attempts.id AS attemptId, ${EXERCISE}, max(remarks.made_at) AS "at"
     ${OWN_ATTEMPT} JOIN remarks ON remarks.attempt_id = attempts.id
     LEFT JOIN reviews ON reviews.attempt_id = attempts.id
     WHERE ${TAUGHT} AND attempts.student_id = @userId AND ${IS_RELEASED} AND ${within('remarks.made_at')}
     GROUP BY attempts.id`,
  ),
  answered: db.prepare<[Span], AttemptFact>(
    `SELECT attempts.id AS attemptId, ${EXERCISE}, max(replies.answered_at) AS "at"
     ${OWN_ATTEMPT} JOIN replies ON replies.attempt_id = attempts.id
     WHERE ${TAUGHT} AND attempts.student_id = @userId AND ${within('replies.answered_at')}
     GROUP BY attempts.id`,
  ),
  /** Questions about a sheet: the own ones that were answered, and those of others that were answered for all. */
  questionsAnswered: db.prepare<[Span], QuestionFact>(
    `SELECT assignments.id AS assignmentId, ${EXERCISE}, ${OWN_DUE} AS dueAt, questions.stage, questions.answered_at AS "at",
            questions.student_id IS @userId AS own
     ${OWN_JOINED} JOIN questions ON questions.assignment_id = assignments.id
     WHERE ${OWN_HOLDS} AND assignments.opens_at <= @until AND (questions.student_id = @userId OR questions.to_all = 1)
       AND ${within('questions.answered_at')}`,
  ),
  errata: db.prepare<[Span], StageFact>(
    `SELECT assignments.id AS assignmentId, ${EXERCISE}, ${OWN_DUE} AS dueAt, errata.stage, errata.made_at AS "at"
     ${OWN_JOINED} JOIN errata ON errata.assignment_id = assignments.id
     WHERE ${OWN_HOLDS} AND assignments.opens_at <= @until AND ${within('errata.made_at')}`,
  ),
  corrected: db.prepare<[Span], AssignmentFact & { readonly handedIn: 0 | 1 }>(
    `SELECT assignments.id AS assignmentId, ${EXERCISE}, ${OWN_DUE} AS dueAt, corrections.made_at AS "at",
            EXISTS (SELECT 1 FROM corrected_attempts JOIN attempts ON attempts.id = attempt_id
                    WHERE correction_id = corrections.id AND attempts.student_id = @userId) AS handedIn
     ${OWN_JOINED} JOIN corrections ON corrections.assignment_id = assignments.id
     WHERE ${OWN_HOLDS} AND assignments.opens_at <= @until AND ${within('corrections.made_at')}`,
  ),
  /** It is accepted when it is given back, and not judged any more. */
  givenBack: db.prepare<[Span], AttemptFact>(
    `SELECT attempts.id AS attemptId, ${EXERCISE}, reviews.accepted_at AS "at"
     ${OWN_ATTEMPT} JOIN reviews ON reviews.attempt_id = attempts.id
     WHERE ${TAUGHT} AND attempts.student_id = @userId AND attempts.refusal_code = '${GIVEN_BACK}'
       AND ${within('reviews.accepted_at')}`,
  ),
  questions: db.prepare<[Span], AskedFact>(
    `SELECT assignments.id AS assignmentId, ${EXERCISE}, assignments.due_at AS dueAt, users.name AS student,
            questions.asked_at AS "at"
     ${OF_ASSIGNMENT} ${joinStaff('courses.id', 'review')}
     JOIN questions ON questions.assignment_id = assignments.id JOIN users ON users.id = questions.student_id
     WHERE course_staff.user_id = @userId AND ${TAUGHT} AND questions.answer IS NULL AND ${within('questions.asked_at')}`,
  ),
  /** Courses whose work of students is erased soon. */
  retention: db.prepare<[{ userId: number; from: string; to: string }], RetentionFact>(
    `SELECT courses.id AS courseId, courses.title, keep_until AS keepUntil FROM courses
     ${joinStaff('courses.id', 'manage-course')}
     WHERE course_staff.user_id = @userId AND forgotten_at IS NULL AND keep_until > @from AND keep_until <= @to`,
  ),
  requests: db.prepare<[Span], RequestFact>(
    `SELECT attempts.id AS attemptId, ${EXERCISE}, users.name AS student, replies.wants_look AS wantsLook,
            replies.written_at AS "at"
     FROM replies JOIN attempts ON attempts.id = replies.attempt_id JOIN users ON users.id = attempts.student_id
     ${JOIN_EXERCISE}
     JOIN sections ON sections.id = assignments.section_id JOIN courses ON courses.id = sections.course_id
     ${joinStaff('courses.id', 'review')}
     WHERE course_staff.user_id = @userId AND ${TAUGHT} AND replies.answered_at IS NULL
       AND ${within('replies.written_at')}`,
  ),
  /** Of the assignments of one's courses that are due soon or have ended, how many students have begun. */
  classes: db.prepare<[Span & { readonly from: string; readonly to: string }], ClassFact>(
    `SELECT ${SEEN_FROM} AS seenFrom, assignments.id AS assignmentId, ${EXERCISE}, sections.name AS section, assignments.due_at AS dueAt,
            assignments.due_at AS "at",
            (SELECT count(*) FROM enrollments WHERE enrollments.section_id = sections.id) AS students,
            (SELECT count(DISTINCT student_id) FROM attempts
             WHERE attempts.assignment_id = assignments.id AND attempts.state <> 'refused') AS begun
     ${OF_ASSIGNMENT} ${joinStaff('courses.id', 'review')}
     WHERE course_staff.user_id = @userId AND ${TAUGHT} AND assignments.opens_at <= @until
       AND assignments.due_at > @from AND assignments.due_at <= @to`,
  ),
});
