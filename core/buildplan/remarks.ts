import { effectOf, nameOf, type BuildPlan, type PlannedStep } from './plan.ts';

/** A dimension of the sheet, as it is printed. */
export interface PlannedSize {
  readonly checkId: string;
  readonly printed: string;
  readonly label: string;
}

export type RemarkKind =
  | 'nothing-to-work-on'
  | 'nothing-to-copy'
  | 'finished-too-early'
  | 'may-be-filled'
  | 'nothing-left'
  | 'without-size'
  | 'sizes-unused'
  | 'fewer-steps'
  | 'origin-open';

/** Something to think about before building; a plan may be right in spite of it. */
export interface PlanRemark {
  readonly kind: RemarkKind;
  /** The step that it is about; null where it is about the plan. */
  readonly stepId: string | null;
  readonly words: string;
}

/** What is known of the part that the steps with numbers build. */
export interface PlanBuilt {
  /** Ids of steps of the recipe that a surface of the finished part is named after. */
  readonly visible: ReadonlySet<string>;
}

const shapes = (step: PlannedStep): boolean => ['adds', 'cuts'].includes(effectOf(step));

/** Looks a plan over: its order, its sizes, and whether fewer steps would do. Nothing of the reference is needed. */
export function remarksOn(
  plan: BuildPlan,
  sizes: readonly PlannedSize[],
  built: PlanBuilt | null = null,
): readonly PlanRemark[] {
  const { steps } = plan;
  if (steps.length === 0) return [];
  const number = (step: PlannedStep): string => `step ${String(steps.indexOf(step) + 1)}`;
  const titled = (step: PlannedStep): string => `Step ${String(steps.indexOf(step) + 1)} (${nameOf(step)})`;
  return [
    ...beginning(steps, titled),
    ...order(steps, titled, number),
    ...left(plan, built, titled),
    ...openSizes(steps, sizes, titled),
    ...alike(steps, number),
    ...(plan.origin.trim() === ''
      ? [{ kind: 'origin-open' as const, stepId: null, words: 'Nothing says yet where the origin of the part goes.' }]
      : []),
  ];
}

type Named = (step: PlannedStep) => string;

/** The first step that shapes anything has to add material; copies need something to copy. */
function beginning(steps: readonly PlannedStep[], titled: Named): PlanRemark[] {
  const firstAdding = steps.findIndex((step) => effectOf(step) === 'adds');
  const end = firstAdding < 0 ? steps.length : firstAdding;
  return steps.slice(0, end).flatMap((step): PlanRemark[] => {
    const effect = effectOf(step);
    if (effect === 'cuts' || effect === 'dresses')
      return [
        {
          kind: 'nothing-to-work-on',
          stepId: step.id,
          words: `${titled(step)} has no material to work on yet: begin with a step that adds some.`,
        },
      ];
    if (effect === 'copies')
      return [{ kind: 'nothing-to-copy', stepId: step.id, words: `${titled(step)} has nothing to copy yet.` }];
    return [];
  });
}

function order(steps: readonly PlannedStep[], titled: Named, number: Named): PlanRemark[] {
  const firstAdding = steps.findIndex((step) => effectOf(step) === 'adds');
  return steps.flatMap((step, i): PlanRemark[] => {
    if (firstAdding < 0 || i < firstAdding) return [];
    const later = steps.slice(i + 1);
    const effect = effectOf(step);
    if (effect === 'dresses') {
      const shaping = later.find(shapes);
      return shaping === undefined
        ? []
        : [
            {
              kind: 'finished-too-early',
              stepId: step.id,
              words: `${titled(step)} finishes edges before ${number(shaping)} changes the shape. Rounds and chamfers mostly come last: earlier ones may get in the way of what follows.`,
            },
          ];
    }
    if (effect === 'cuts') {
      const adding = later.find((other) => effectOf(other) === 'adds');
      return adding === undefined
        ? []
        : [
            {
              kind: 'may-be-filled',
              stepId: step.id,
              words: `${titled(step)} removes material before ${number(adding)} adds some. Where both meet, it is filled again: add first, unless they lie apart.`,
            },
          ];
    }
    return [];
  });
}

/** Steps of which the finished part shows nothing. */
function left({ steps }: BuildPlan, built: PlanBuilt | null, titled: Named): PlanRemark[] {
  if (built === null) return [];
  return steps.flatMap((step): PlanRemark[] =>
    step.made === null || step.made.off === true || !shapes(step) || built.visible.has(step.made.id)
      ? []
      : [
          {
            kind: 'nothing-left',
            stepId: step.id,
            words: `Nothing is left of ${titled(step).replace(/^S/, 's')} in the part: it changes nothing, or a later step takes it away or fills it.`,
          },
        ],
  );
}

const MOST_NAMED = 6;

function openSizes(steps: readonly PlannedStep[], sizes: readonly PlannedSize[], titled: Named): PlanRemark[] {
  const used = new Set(steps.flatMap((step) => step.sizes));
  const unused = sizes.filter(({ checkId }) => !used.has(checkId));
  const named = unused.slice(0, MOST_NAMED).map(({ printed, label }) => `${printed} (${label})`);
  const more = unused.length - named.length;
  return [
    ...steps
      .filter((step) => step.made === null && step.sizes.length === 0)
      .filter((step) => shapes(step) || effectOf(step) === 'dresses')
      .map((step): PlanRemark => ({
        kind: 'without-size',
        stepId: step.id,
        words: `${titled(step)} takes no size of the sheet yet.`,
      })),
    ...(unused.length === 0 || sizes.length === 0
      ? []
      : [
          {
            kind: 'sizes-unused' as const,
            stepId: null,
            words: `In no step yet: ${named.join(', ')}${more > 0 ? ` and ${String(more)} more` : ''}.`,
          },
        ]),
  ];
}

/** Steps of the same operation with the same sizes: one would do. */
function alike(steps: readonly PlannedStep[], number: Named): PlanRemark[] {
  const keyOf = (step: PlannedStep): string =>
    `${step.operation} ${effectOf(step)} ${step.extent} ${[...step.sizes].sort().join(' ')}`;
  const groups = new Map<string, PlannedStep[]>();
  for (const step of steps)
    if (step.sizes.length > 0 && (shapes(step) || effectOf(step) === 'dresses'))
      groups.set(keyOf(step), [...(groups.get(keyOf(step)) ?? []), step]);
  return [...groups.values()].flatMap((own): PlanRemark[] => {
    const [first] = own;
    if (first === undefined || own.length < 2) return [];
    const names = own.map(number);
    const last = names.pop() ?? '';
    const how =
      effectOf(first) === 'dresses'
        ? 'one step can take all their edges'
        : 'where they make like things, one step with a pattern, a mirror or several outlines does';
    return [
      {
        kind: 'fewer-steps',
        stepId: first.id,
        words: `${names.join(', ').replace(/^s/, 'S')} and ${last} take the same sizes for the same operation: ${how}.`,
      },
    ];
  });
}
