/** What is new, behind the bell of every page. */
export { Bell } from './bell.tsx';
