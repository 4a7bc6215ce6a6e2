/** What every page needs of the server: how it is reached, who is signed in, what a refusal says. */
export { api } from './base.ts';
export { failureText, isConflict, isSignedOut } from './failure.ts';
export * from './news.ts';
export * from './session.ts';
