/** What the words and signs of a sheet mean, with small pictures. */
export { WordsPanel } from './panel.tsx';
