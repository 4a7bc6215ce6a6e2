/** JSON of strangers. */
export { parseJson } from './json.ts';
