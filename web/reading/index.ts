/** Reading practice: questions about a sheet, what is due, and how a class reads. */
export { ClassReadingPanel } from './class-reading.tsx';
export { ReadingDue } from './due.tsx';
export { ReadingPage } from './page.tsx';
export { TOPIC_WORDS } from './words.ts';
