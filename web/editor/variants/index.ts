/** The tab of variants, stages and the answer key. */
export { VariantsTab } from './tab.tsx';
