/** The instructor's first page. */
export { DeskPage } from './page.tsx';
