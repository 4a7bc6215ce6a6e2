import { ALLOWABLE, rolesThatMay, type Action } from '#api';

const isAllowable = (action: Action): boolean => (ALLOWABLE as readonly Action[]).includes(action);

/**
 * SQL that is true for a row of `course_staff` whose person may do something in the course. Staff of one course may have
 * another role in the next one.
 */
export function staffMay(action: Action): string {
  const roles = rolesThatMay(action).map((role) => `'${role}'`);
  const byRole = `course_staff.role IN (${roles.join(', ')})`;
  // What is allowed one by one has a column of its own.
  return isAllowable(action) ? `(${byRole} OR course_staff.may_${action} = 1)` : byRole;
}

/**
 * SQL that joins the staff of a course, given by the column that holds its id; the caller binds the person to
 * `course_staff.user_id`.
 */
export const joinStaff = (courseColumn: string, action: Action): string =>
  `JOIN course_staff ON course_staff.course_id = ${courseColumn} AND ${staffMay(action)}`;
