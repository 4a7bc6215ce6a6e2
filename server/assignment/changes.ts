/** What is changed of an assignment after it was issued, for all or for one student. */
import type { ChangeAssignment, Extension, GivenExtension, Shifted, Standing, User } from '#api';
import { refuse, succeed, unwrap, type Result } from '#core/problem';
import { shiftedBy } from '#core/schedule';
import type { Audit } from '#server/audit';
import { joinStaff } from '#server/auth';
import { JOIN_ISSUED, type Db } from '#server/db';
import type { StudentGroups } from '#server/student-group';

export interface AssignmentChanges {
  /** Whether somebody may change an assignment. */
  mayChange(assignmentId: number, userId: number): boolean;
  change(assignmentId: number, by: User, change: ChangeAssignment): Result<null>;
  /**
   * Moves an assignment and all later ones of its section by days, at the same hours by the clocks of the course: what is
   * open already only ends otherwise, and what has ended stays.
   */
  shiftFrom(assignmentId: number, by: User, days: number): Result<Shifted['shifted']>;
  /** What was given to students one by one; what their groups have is told with the groups. */
  extensionsOf(assignmentId: number): GivenExtension[];
  /** Gives one student other dates, more attempts, or leave; in place of what was given before. */
  extend(assignmentId: number, studentId: number, by: User, extension: Extension): Result<null>;
  takeBack(assignmentId: number, studentId: number, by: User): Result<null>;
}

interface Dates {
  readonly courseId: number;
  readonly exercise: string;
  readonly opensAt: string;
  readonly dueAt: string;
  readonly lateUntil: string | null;
  readonly attemptsAllowed: number;
  readonly answers: string;
  readonly release: string;
  readonly feedbackJson: string;
  readonly aidsJson: string;
  readonly withdrawnAt: string | null;
}

interface LaterRow {
  readonly id: number;
  readonly opensAt: string;
  readonly dueAt: string;
  readonly lateUntil: string | null;
  readonly timeZone: string;
}

const iso = (time: string): string => new Date(time).toISOString();

export interface AssignmentChangesParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly groups: Pick<StudentGroups, 'derive' | 'shift'>;
  readonly now: () => Date;
}

export function createAssignmentChanges({ db, audit, groups, now }: AssignmentChangesParts): AssignmentChanges {
  const may = db.prepare<[number, number]>(
    `SELECT 1 FROM assignments JOIN sections ON sections.id = assignments.section_id
     ${joinStaff('sections.course_id', 'issue')} WHERE assignments.id = ? AND course_staff.user_id = ?`,
  );
  const find = db.prepare<[number], Dates>(
    `SELECT sections.course_id AS courseId, exercises.number AS exercise, opens_at AS opensAt, due_at AS dueAt,
            late_until AS lateUntil, attempts_allowed AS attemptsAllowed, answers, release, feedback_json AS feedbackJson, aids_json AS aidsJson,
            withdrawn_at AS withdrawnAt
     FROM assignments JOIN sections ON sections.id = assignments.section_id
     ${JOIN_ISSUED} WHERE assignments.id = ?`,
  );
  const update = db.prepare<[Omit<Dates, 'courseId' | 'exercise'> & { id: number; changedAt: string }]>(
    `UPDATE assignments SET opens_at = @opensAt, due_at = @dueAt, late_until = @lateUntil,
       attempts_allowed = @attemptsAllowed, answers = @answers, release = @release, feedback_json = @feedbackJson, aids_json = @aidsJson,
       withdrawn_at = @withdrawnAt,
       due_changed_at = CASE WHEN due_at = @dueAt THEN due_changed_at ELSE @changedAt END WHERE id = @id`,
  );
  const later = db.prepare<[{ id: number; now: string }], LaterRow>(
    `SELECT other.id, other.opens_at AS opensAt, other.due_at AS dueAt, other.late_until AS lateUntil,
            coalesce(courses.time_zone, 'UTC') AS timeZone
     FROM assignments AS other JOIN assignments AS first ON first.section_id = other.section_id
     JOIN sections ON sections.id = other.section_id JOIN courses ON courses.id = sections.course_id
     WHERE first.id = @id AND other.withdrawn_at IS NULL AND other.due_at > @now
       AND (other.id = first.id OR other.opens_at > first.opens_at) ORDER BY other.opens_at, other.id`,
  );
  const list = db.prepare<[number], GivenExtension>(
    `SELECT student_id AS studentId, users.name AS student, due_at AS dueAt, extra_attempts AS extraAttempts, standing, reason,
            staff.name AS "by", made_at AS "at"
     FROM extensions JOIN users ON users.id = student_id JOIN users AS staff ON staff.id = made_by
     WHERE assignment_id = ? AND group_id IS NULL ORDER BY users.name`,
  );
  const belongs = db
    .prepare<[number, number], string>(
      `SELECT users.name FROM assignments JOIN enrollments ON enrollments.section_id = assignments.section_id
       JOIN users ON users.id = enrollments.user_id WHERE assignments.id = ? AND enrollments.user_id = ?`,
    )
    .pluck();
  const put = db.prepare<[number, number, string | null, number, Standing, string, number, string]>(
    `INSERT INTO extensions (assignment_id, student_id, due_at, extra_attempts, standing, reason, made_by, made_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?)
     ON CONFLICT DO UPDATE SET due_at = excluded.due_at, extra_attempts = excluded.extra_attempts,
       standing = excluded.standing, group_id = NULL, reason = excluded.reason, made_by = excluded.made_by, made_at = excluded.made_at`,
  );
  const drop = db.prepare<[number, number]>('DELETE FROM extensions WHERE assignment_id = ? AND student_id = ?');
  const extensionsOf = (assignmentId: number): GivenExtension[] => list.all(assignmentId);
  const NONE = 'There is no such assignment.';

  const changeOne = db.transaction((assignmentId: number, by: User, change: ChangeAssignment): Result<null> => {
    const before = find.get(assignmentId);
    if (before === undefined) return refuse('not-found', NONE);
    const { courseId, exercise, ...dates } = before;
    const lateUntil = change.lateUntil === undefined ? dates.lateUntil : change.lateUntil && iso(change.lateUntil);
    const after = {
      opensAt: change.opensAt === undefined ? dates.opensAt : iso(change.opensAt),
      dueAt: change.dueAt === undefined ? dates.dueAt : iso(change.dueAt),
      lateUntil,
      attemptsAllowed: change.attemptsAllowed ?? dates.attemptsAllowed,
      answers: change.answers ?? dates.answers,
      release: change.release ?? dates.release,
      feedbackJson: change.feedback === undefined ? dates.feedbackJson : JSON.stringify(change.feedback),
      aidsJson: change.aids === undefined ? dates.aidsJson : JSON.stringify(change.aids),
      withdrawnAt: change.withdrawn === undefined ? dates.withdrawnAt : change.withdrawn ? now().toISOString() : null,
    };
    if (after.dueAt <= after.opensAt) return refuse('bad-input', 'The due time must be after the opening.');
    if (after.lateUntil !== null && after.lateUntil <= after.dueAt)
      return refuse('bad-input', 'Late work can only be taken after the due time.');
    update.run({ ...after, id: assignmentId, changedAt: now().toISOString() });
    audit.note({ by, courseId, what: 'assignment', subject: exercise, before: dates, after });
    return succeed(null);
  });

  return {
    mayChange: (assignmentId, userId) => may.get(assignmentId, userId) !== undefined,
    extensionsOf,
    change: changeOne,
    shiftFrom: db.transaction((assignmentId: number, by: User, days: number): Result<Shifted['shifted']> => {
      const time = now().toISOString();
      const rows = later.all({ id: assignmentId, now: time });
      if (rows.length === 0) return refuse('closed', 'Nothing that is still open is issued from here on.');
      const moves = rows.map(({ id, opensAt, dueAt, lateUntil, timeZone }) => {
        const moved = (moment: string): string => shiftedBy(moment, days, timeZone);
        const change = {
          ...(opensAt > time ? { opensAt: moved(opensAt) } : {}),
          dueAt: moved(dueAt),
          ...(lateUntil === null ? {} : { lateUntil: moved(lateUntil) }),
        };
        return { id, change, timeZone };
      });
      if (moves.some(({ change }) => change.dueAt <= time))
        return refuse('bad-input', 'Something would be due in the past then. Shift by fewer days.');
      return succeed(
        moves.map(({ id, change, timeZone }) => {
          // Distances stay as they are, so that nothing can be wrong with them; if it is, all of it is taken back.
          unwrap(changeOne(id, by, change));
          groups.shift(id, days, timeZone);
          return { id, exercise: find.get(id)?.exercise ?? '', dueAt: change.dueAt };
        }),
      );
    }),
    extend: (assignmentId, studentId, by, { dueAt, extraAttempts, standing, reason }) =>
      db.transaction((): Result<null> => {
        const assignment = find.get(assignmentId);
        const student = belongs.get(assignmentId, studentId);
        if (assignment === undefined || student === undefined)
          return refuse('not-found', 'Nobody of this number is in the section.');
        if (dueAt !== null && iso(dueAt) <= assignment.opensAt)
          return refuse('bad-input', 'The due time must be after the opening.');
        const before = extensionsOf(assignmentId).find((given) => given.studentId === studentId);
        const time = now().toISOString();
        put.run(assignmentId, studentId, dueAt && iso(dueAt), extraAttempts, standing, reason, by.id, time);
        const subject = `${assignment.exercise}, ${student}`;
        const after = { dueAt, extraAttempts, standing, reason };
        audit.note({ by, courseId: assignment.courseId, what: 'extension', subject, before, after });
        return succeed(null);
      })(),
    takeBack: (assignmentId, studentId, by) =>
      db.transaction((): Result<null> => {
        const assignment = find.get(assignmentId);
        const before = extensionsOf(assignmentId).find((given) => given.studentId === studentId);
        if (assignment === undefined || before === undefined)
          return refuse('not-found', 'There is no extension to take back.');
        drop.run(assignmentId, studentId);
        groups.derive(assignmentId);
        const subject = `${assignment.exercise}, ${before.student}`;
        audit.note({ by, courseId: assignment.courseId, what: 'extension taken back', subject, before });
        return succeed(null);
      })(),
  };
}
