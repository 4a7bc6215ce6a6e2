/** What the class needs: weeks, exercises, checks, mistakes, and a page for the wall. */
export { InsightPage } from './page.tsx';
export { WallPage } from './wall.tsx';
