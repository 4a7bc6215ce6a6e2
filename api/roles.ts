import * as v from 'valibot';

/**
 * What each role may do. Guards of routes, joins in SQL and the page read this table and nothing else. Staff may do it in
 * the courses that they belong to, students with their own work, administrators with people and the state of the service:
 * grades are not theirs to see.
 */
const ROLES = {
  administrator: ['administer'],
  instructor: ['read-course', 'review', 'release', 'edit-exercises', 'issue', 'score', 'manage-course'],
  assistant: ['read-course', 'review'],
  student: ['work'],
} as const satisfies Readonly<Record<string, readonly string[]>>;

export type Role = keyof typeof ROLES;
export const ROLE_NAMES = Object.keys(ROLES) as readonly Role[];
export const RoleSchema = v.picklist(ROLE_NAMES);

/** What is done: the words of guards and joins. */
export type Action = (typeof ROLES)[Role][number];

/** What an assistant may be allowed by the course, one by one. */
export const ALLOWABLE = ['release'] as const satisfies readonly Action[];

const actionsOf: Readonly<Record<Role, readonly Action[]>> = ROLES;

/** Whether a role may do something wherever it belongs; what a course allows an assistant beyond that is not in it. */
export const may = (role: Role, action: Action): boolean => actionsOf[role].includes(action);

/** Whether somebody may do something: by the role, or because they look after the service beside it. */
export const mayDo = (user: { readonly role: Role; readonly administers: boolean }, action: Action): boolean =>
  may(user.role, action) || (user.administers && may('administrator', action));

/** The roles that may do something. */
export const rolesThatMay = (action: Action): readonly Role[] => ROLE_NAMES.filter((role) => may(role, action));
