/** What the pages about one work of a student have in common. */
export { PageOfWork } from './page-of-work.tsx';
