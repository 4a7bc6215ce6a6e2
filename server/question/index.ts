/** Questions about a sheet before anything is handed in, answered for one or for all, and errata of sheets. */
export { createQuestions, type Questions } from './questions.ts';
export { questionRoutes } from './routes.ts';
