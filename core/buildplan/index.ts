/** How a student means to build a part: steps with the sizes that they take from the sheet, and what to think about before building. */
export {
  BuildPlanSchema,
  canRemove,
  effectOf,
  EMPTY_PLAN,
  extentsOf,
  lineOf,
  madeSteps,
  nameOf,
  planAsText,
  withMade,
  withNumbers,
  type BuildPlan,
  type PlannedStep,
} from './plan.ts';
export { remarksOn, type PlanBuilt, type PlannedSize, type PlanRemark, type RemarkKind } from './remarks.ts';
