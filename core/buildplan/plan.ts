import * as v from 'valibot';

import {
  OPERATIONS,
  operationName,
  operationOf,
  StepSchema,
  type Effect,
  type Operation,
  type Step,
} from '#core/recipe';

const WordsSchema = v.pipe(v.string(), v.maxLength(120));

/** A step as a student plans it, before and while it is built. */
export const PlannedStepSchema = v.strictObject({
  id: v.pipe(v.string(), v.minLength(1), v.maxLength(40)),
  operation: v.picklist(OPERATIONS),
  /** Whether it removes material; of operations that can do both. */
  removes: v.boolean(),
  /** What it makes: "Base plate". */
  name: v.pipe(v.string(), v.maxLength(80)),
  /** The plane or face that its outline lies on, in the student's words. */
  on: WordsSchema,
  /** How far it goes, where it has a depth. */
  extent: v.picklist(['depth', 'through', 'symmetric']),
  /** The dimensions of the sheet that it takes, by the ids of their checks. */
  sizes: v.pipe(v.array(v.pipe(v.string(), v.maxLength(80))), v.maxLength(60)),
  /** The same step with all its numbers, as far as it was given them. */
  made: v.nullable(StepSchema),
});
export type PlannedStep = v.InferOutput<typeof PlannedStepSchema>;

/** How a student means to build a part. */
export const BuildPlanSchema = v.strictObject({
  /** Where the origin goes. */
  origin: WordsSchema,
  /** What is symmetric, and about which plane. */
  symmetry: WordsSchema,
  steps: v.pipe(v.array(PlannedStepSchema), v.maxLength(80)),
});
export type BuildPlan = v.InferOutput<typeof BuildPlanSchema>;

export const EMPTY_PLAN: BuildPlan = { origin: '', symmetry: '', steps: [] };

/** Operations that add or remove, as they are told. */
const BOTH: ReadonlySet<Operation> = new Set<Operation>(['extrude', 'revolve', 'loft']);
export const canRemove = (operation: Operation): boolean => BOTH.has(operation);

/** How far a step of an operation may go, as it is planned; none where it has no depth of its own. */
export const extentsOf = (operation: Operation): readonly PlannedStep['extent'][] =>
  operation === 'extrude' ? ['depth', 'through', 'symmetric'] : operation === 'hole' ? ['depth', 'through'] : [];

/** What a step does to the part. */
export function effectOf({ operation, removes, made }: PlannedStep): Effect {
  if (made !== null) return operationOf(made.op).effect(made);
  // Other operations have one effect, whatever their numbers are.
  return canRemove(operation) ? (removes ? 'cuts' : 'adds') : operationOf(operation).effect({ op: operation } as Step);
}

/** What a step is called where it has no name yet. */
export const nameOf = ({ name, operation }: PlannedStep): string =>
  name.trim() === '' ? operationName(operation) : name.trim();

const EXTENTS: Readonly<Record<PlannedStep['extent'], string>> = {
  depth: '',
  through: ' through all',
  symmetric: ' symmetric',
};

/** A planned step as a line of a list of build steps, as `readBuildLog` reads it. */
export const lineOf = (step: PlannedStep): string =>
  `${operationName(step.operation)} ${step.name.trim()}`.trim() +
  (effectOf(step) === 'cuts' && canRemove(step.operation) ? ', removing material' : '') +
  (extentsOf(step.operation).includes(step.extent) ? EXTENTS[step.extent] : '');

/** The plan as the list of build steps that is handed in. */
export const planAsText = ({ steps }: BuildPlan): string => steps.map(lineOf).join('\n');

/** The steps that have all their numbers, under the names that they have in the plan. */
export const madeSteps = ({ steps }: BuildPlan): Step[] =>
  steps.flatMap((step) => (step.made === null ? [] : { ...step.made, label: nameOf(step) }));

const plannedFrom = (made: Step, id: string): PlannedStep => {
  const effect = operationOf(made.op).effect(made);
  const extent = operationOf(made.op).extent?.(made);
  return {
    id,
    operation: made.op,
    removes: canRemove(made.op) && effect === 'cuts',
    name: made.label ?? '',
    on: '',
    extent: extent === 'through' || extent === 'symmetric' ? extent : 'depth',
    sizes: [],
    made,
  };
};

/** A planned step with numbers: they add or remove, and go as far, as it was planned. */
export function withNumbers(step: PlannedStep, start: Step): PlannedStep {
  const made = 'mode' in start ? { ...start, mode: step.removes ? ('cut' as const) : ('add' as const) } : start;
  return { ...step, made: withExtent(made, step.extent) };
}

function withExtent(made: Step, extent: PlannedStep['extent']): Step {
  if (made.op === 'extrude' && extent !== 'depth') {
    const depth = 'depth' in made.extent ? made.extent.depth : '10';
    return { ...made, extent: extent === 'through' ? { kind: 'through' } : { kind: 'symmetric', depth } };
  }
  if (made.op !== 'hole') return made;
  return { ...made, depth: extent === 'through' ? { kind: 'through' } : { kind: 'blind', depth: made.diameter } };
}

/**
 * The plan after the steps with numbers were changed: what was changed is changed in the plan, what was removed stays planned
 * without numbers, what is new stands after the step before it, and the order of those with numbers is the new one.
 */
export function withMade(plan: BuildPlan, steps: readonly Step[], newId: () => string): BuildPlan {
  const planned = new Map(plan.steps.flatMap((step) => (step.made === null ? [] : [[step.made.id, step] as const])));
  const next = steps.map((made): PlannedStep => {
    const before = planned.get(made.id);
    if (before === undefined) return plannedFrom(made, newId());
    const { removes, extent, operation } = plannedFrom(made, before.id);
    return { ...before, operation, removes, extent, name: made.label ?? before.name, made };
  });
  const kept = new Set(next.map(({ id }) => id));
  // Steps without numbers stay behind the step that they followed.
  const behind = new Map<string | null, PlannedStep[]>();
  let after: string | null = null;
  for (const step of plan.steps) {
    if (kept.has(step.id)) after = step.id;
    else behind.set(after, [...(behind.get(after) ?? []), { ...step, made: null }]);
  }
  return {
    ...plan,
    steps: [...(behind.get(null) ?? []), ...next.flatMap((step) => [step, ...(behind.get(step.id) ?? [])])],
  };
}
