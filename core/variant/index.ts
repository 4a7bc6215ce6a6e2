/** Variants of an exercise: other values of its letters for other students, checked before they are given out. */
export { assignVariants } from './assign.ts';
export { answerKey, keyAsCsv, KeyEntrySchema, keyRows, type KeyEntry } from './key.ts';
export { generateVariants, type ParameterRange, type Generated } from './generate.ts';
export { parseVariantTable, variantTable } from './table.ts';
export { judgeVariants, type VariantVerdict } from './judge.ts';
export { randomFrom } from './random.ts';
