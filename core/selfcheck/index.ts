/** What a student checks before handing in: the dimensions that the sheet prints, and what was read off the own model for them. */
export { countOf, printedDimensions, uncounted, type PrintedDimension } from './printed.ts';
export { judgeReading, lengthTyped, type ReadingVerdict } from './judge.ts';
export {
  askedSize,
  isDrawn,
  isSize,
  sizeAnswer,
  type Along,
  type AskedSize,
  type DrawnExercise,
  type PaperPoint,
  type SizeAnswer,
  type SizeLink,
} from './size-chain.ts';
