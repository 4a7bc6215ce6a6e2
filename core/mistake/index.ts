/** Mistakes of students: which there can be in a part, what they make of it, and which of them a model shows. */
export { applyEdits, EditSchema, type Edit } from './edit.ts';
export { MistakeSchema, type Mistake } from './mistake.ts';
export { mistakesOf } from './generate.ts';
export { MistakenParts } from './build.ts';
export { numericArgumentsOf, type NumericArgument } from './numeric-arguments.ts';
export { catalogueContent } from './content.ts';
export { groundOf, type Ground } from './ground.ts';
export {
  atlasOf,
  AtlasSchema,
  buildAtlas,
  MadeMistakeSchema,
  makeMistakes,
  verifier,
  type Atlas,
  type AtlasEntry,
  type MadeMistake,
  type Verifier,
} from './atlas.ts';
export {
  diagnose,
  DiagnosisSchema,
  NO_DIAGNOSIS,
  type DiagnoseOptions,
  type DifferencePiece,
  type Diagnosis,
  type Hypothesis,
  type Verify,
} from './diagnose.ts';
export { diagnosedOf } from './diagnosed.ts';
export { explainNumbers, type Numbers, type NumbersAnswer, type NumberCause, type ReadNumber } from './numbers.ts';
export { coverageOf, CoverageSchema, type Coverage, type CoverageRow } from './coverage.ts';
export { proposeChecks, ProposalSchema, withProposed, type Proposal } from './propose.ts';
export { blurOf, VariantBlurSchema, type VariantBlur } from './variants.ts';
