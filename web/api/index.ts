/** The routes of the server by subject: one endpoint a route, every answer checked against its schema. */
export { failureText, isSignedOut } from '#web/server';
export * from './exercise.ts';
export * from './draft.ts';
export * from './assignment.ts';
export * from './attempt.ts';
export * from './work.ts';
export * from './gradebook.ts';
export * from './insight.ts';
export * from './part.ts';
export * from './people.ts';
export * from './practice.ts';
export * from './question.ts';
export * from './schedule.ts';
export * from './school-site.ts';
export * from './service.ts';
export * from './student-group.ts';
export type { User } from '#api';
