/** One attempt for the instructor. */
export { ReviewPage } from './page.tsx';
export { AttemptHead, ScoreAnswer } from './head.tsx';
