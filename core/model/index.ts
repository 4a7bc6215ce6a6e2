/** Model files of any format as the analyzed form, and reference parts: built from a recipe or read from a file. */
export { openPart, withPart, type PartOptions, type PartSource, type ReferencePart } from './part.ts';
export {
  acceptedExtensions,
  detectFormat,
  FILE_FORMATS,
  formatNames,
  formatOf,
  formatOfName,
  writtenExtensions,
  type FileFormat,
  type FormatDefinition,
} from './formats.ts';
export { readModel, type ReadOptions } from './read.ts';
export type { Stage } from './stage.ts';
