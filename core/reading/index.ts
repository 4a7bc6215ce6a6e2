/** Reading practice: questions that a sheet answers, made from the sheet. */
export { questionsOf } from './questions.ts';
export { isTopic, TOPICS, type Question, type ReadSheet, type Ring, type Topic } from './question.ts';
