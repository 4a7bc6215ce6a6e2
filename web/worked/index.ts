/** The steps of a reference, shown one by one beside the sheet. */
export { WorkedPage } from './page.tsx';
