/** Who may do and read what of an attempt: the time of an assignment, its teachers, and the degree of feedback. */
import { may, type User } from '#api';
import { degreeFor, type FeedbackDegree } from '#core/grade';
import type { Problem } from '#core/problem';
import { endOf, feedbackOf, type AssignmentRow } from '#server/assignment';
import { joinStaff } from '#server/auth';
import type { Db } from '#server/db';

import type { AttemptRecord, AttemptStore } from './rows.ts';

const NO_ATTEMPTS_LEFT = 'All attempts of this exercise are used.';

export interface Access {
  readonly isOpenYet: (row: AssignmentRow) => boolean;
  /** Why nothing can be handed in, or null where it can. */
  closedBecause(row: AssignmentRow, attemptsUsed: number): Problem | null;
  /** How much the report of an attempt tells its student; null as long as it is not released. */
  degreeOf(
    row: AssignmentRow,
    attempt: Pick<AttemptRecord, 'id' | 'stage' | 'studentId'>,
    released: boolean,
  ): FeedbackDegree | null;
  teaches(assignmentId: number, user: User): boolean;
  /** An attempt where the user handed it in or teaches its course, or null. */
  visible(attemptId: number, user: User): AttemptRecord | null;
}

export function createAccess(db: Db, store: AttemptStore, now: () => Date): Access {
  const staff = db.prepare<[number, number], { yes: number }>(
    `SELECT 1 AS yes FROM assignments JOIN sections ON sections.id = assignments.section_id
     ${joinStaff('sections.course_id', 'read-course')}
     WHERE assignments.id = ? AND course_staff.user_id = ?`,
  );

  const teaches = (assignmentId: number, user: User): boolean =>
    may(user.role, 'read-course') && staff.get(assignmentId, user.id) !== undefined;

  function closedBecause(row: AssignmentRow, attemptsUsed: number): Problem | null {
    const time = now().toISOString();
    if (time < row.opensAt) return { code: 'closed', message: 'This exercise is not open yet.' };
    if (time > endOf(row))
      return { code: 'closed', message: 'The due time has passed; nothing can be handed in any more.' };
    if (attemptsUsed >= row.attemptsAllowed) return { code: 'no-attempts-left', message: NO_ATTEMPTS_LEFT };
    return null;
  }

  return {
    isOpenYet: (row) => row.opensAt <= now().toISOString(),
    closedBecause,
    // What waits may yet be refused and come back, so that only what was measured counts here.
    degreeOf(row, { id, stage, studentId }, released) {
      if (!released) return null;
      const measured = store.measured(row.id, studentId, stage);
      const closed = closedBecause(row, measured.length) !== null;
      const number = measured.filter((earlier) => earlier <= id).length || 1;
      return degreeFor(feedbackOf(row), { number, allowed: row.attemptsAllowed }, closed);
    },
    teaches,
    visible(attemptId, user) {
      const record = store.attempt(attemptId);
      if (record === null) return null;
      return record.studentId === user.id || teaches(record.assignmentId, user) ? record : null;
    },
  };
}
