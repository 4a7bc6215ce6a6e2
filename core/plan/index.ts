/** The check plan as its author works on it: suggested from the part, and measured on the part itself. */
export { anchorsOf, nameOfFace, type Anchor } from './anchors.ts';
export { evaluatePlan, soundChecks, type CheckState } from './evaluate.ts';
export { evaluateStages, suggestStages } from './stages.ts';
export { slightChanges, withSlightChanges } from './others.ts';
export type { PlanBasis } from './basis.ts';
export { writtenAs } from './letters.ts';
export { suggestPlan } from './suggest.ts';
