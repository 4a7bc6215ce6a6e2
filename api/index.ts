/** The border between page and server: one Valibot schema for everything that crosses it. */
export * from './gradebook.ts';
export * from './insight.ts';
export * from './likeness.ts';
export * from './news.ts';
export * from './people.ts';
export * from './practice.ts';
export * from './progress.ts';
export * from './question.ts';
export * from './service.ts';
export * from './school-site.ts';
export * from './session.ts';
export * from './exercise.ts';
export * from './assignment.ts';
export * from './limits.ts';
export * from './review.ts';
export * from './roles.ts';
export * from './event.ts';
