/** The words of a drawing: what they mean, and which of them a sheet uses. */
export { WORDS, WORD_IDS, type Word, type WordId } from './words.ts';
export { wordsOf } from './find.ts';
