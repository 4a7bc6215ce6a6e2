/** Where an instructor builds an exercise: part, check plan, variants. */
export { EditorPage } from './page.tsx';
