/** Questions about a sheet before anything is handed in, and errata of sheets. */
export { AskPanel } from './ask.tsx';
export { QuestionsPage } from './page.tsx';
export { QuestionsWaiting } from './waiting.tsx';
export { useSheetQuestions } from './sheet-questions.ts';
