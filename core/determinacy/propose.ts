import {
  isOnSheet,
  kindOf,
  measureInPlace,
  prepareReference,
  subjectOf,
  type Check,
  type CheckKind,
} from '#core/check';
import type { Exercise } from '#core/exercise';
import { writtenAs, type PlanBasis } from '#core/plan';
import { evaluateExpression, LENGTH_UNITS } from '#core/quantity';
import { SAME_PLACE_MM } from '#core/tolerance';
import { boxDiagonal } from '#core/vector';

import type { Freedom } from './determine.ts';
import type { Sampled } from './displacement.ts';
import { ideasFor, type Sides } from './ideas.ts';

/** A place that is nearer, as a share of the part, is measured from something else where it can be. */
const SMALL_SHARE = 0.02;
/** A step in a face that is less high is none, mm. */
const STEP_MM = 0.004;

/** The part as drawn, and with one letter changed in each of the others. */
export interface Known {
  readonly basis: PlanBasis;
  readonly others: readonly PlanBasis[];
  readonly samples: readonly Sampled[];
}

/** Whether the sheet has to say a size, or whether it is said and only a check has to decide it. */
export type Asked = 'to say' | 'to check';

/**
 * A check that measures the change: one that is planned but not on the sheet before others, and one whose number a drawing
 * would write before those that only the arithmetic of the part gives. What the sheet says already is checked off it.
 */
export function proposalFor(freedom: Freedom, { basis, others }: Known, sides: Sides, asked: Asked): Check | null {
  const { exercise } = basis;
  const counts = exercise.checks.filter((check) => check.off !== true && (asked === 'to check' || isOnSheet(check)));
  const there = new Set(counts.map(subjectOf));
  const hidden = exercise.checks.filter((check) => check.off !== true && !counts.includes(check));
  const ideas = [...hidden, ...ideasFor(basis, sides)].filter(
    (check) => !there.has(subjectOf(check)) && (asked === 'to check' || isDrawn(check.kind)),
  );
  let [second, last]: [Check | null, Check | null] = [null, null];
  const smallMm = SMALL_SHARE * boxDiagonal(basis.solid.bounds);
  for (const idea of ideas) {
    const [now, then] = [measuredBy(idea, basis, basis.solid), measuredBy(idea, basis, freedom.part.solid)];
    if (now === null || then === null || ('nominal' in idea && now < SAME_PLACE_MM)) continue;
    // Where a step appears in a face it is as high as the variation, however far its new faces reach.
    const reach =
      kindOf(idea.kind).quantity === 'angle' ? 1e-3 : idea.kind === 'flush' ? STEP_MM : freedom.changeMm / 4;
    if (Math.abs(then - now) < reach) continue;
    const isPlanned = hidden.includes(idea);
    const check = isPlanned || !('nominal' in idea) ? idea : { ...idea, nominal: nominalFor(now, idea, basis, others) };
    if (!isPlanned && 'nominal' in check && !holds(check, basis, others)) continue;
    const proposal = { ...check, ...shownAs(asked, idea.kind) } as Check;
    // With other letters a short distance may come to lie on the other side.
    const isShort = kindOf(idea.kind).gives === 'place' && 'nominal' in check && now < smallMm;
    if (!isShort && (!('nominal' in check) || isWritable(check.nominal, idea, exercise))) return proposal;
    if (isShort) last ??= proposal;
    else second ??= proposal;
  }
  return second ?? last;
}

/** Whether a nominal is right for other values of the letters too. */
const holds = (check: Check, basis: PlanBasis, others: readonly PlanBasis[]): boolean =>
  'nominal' in check &&
  others.every((other) => {
    const measured = measuredBy(check, other, other.solid);
    const nominal = evaluateExpression(check.nominal, other.scope, basis.exercise.recipe.unit);
    const isLength = kindOf(check.kind).quantity === 'length';
    const wanted = nominal.ok ? nominal.value * (isLength ? LENGTH_UNITS[basis.exercise.recipe.unit] : 1) : Number.NaN;
    return measured !== null && Math.abs(measured - wanted) < SAME_PLACE_MM;
  });

/** Whether a sheet has a dimension for checks of a kind. */
const isDrawn = (kind: CheckKind): boolean =>
  kindOf(kind).drafting !== undefined || kindOf(kind).spanOfTarget !== undefined;

const shownAs = (asked: Asked, kind: CheckKind): { readonly onSheet?: boolean } =>
  'onSheet' in kindOf(kind).checkSchema.entries ? { onSheet: asked === 'to say' } : {};

/** Whether a drawing would write a nominal: in letters, with the decimals of the sheet, in inches in parts of 64. */
function isWritable(nominal: string, { kind }: Check, { decimals, recipe: { unit } }: Exercise): boolean {
  const isAngle = kindOf(kind).quantity === 'angle';
  return (nominal.match(/\d*\.\d+/g) ?? []).every((number) => {
    const value = Number(number);
    if (unit === 'in' && !isAngle && Number.isInteger(value * 64)) return true;
    return (number.split('.')[1]?.length ?? 0) <= (isAngle ? 1 : decimals);
  });
}

function measuredBy(
  check: Check,
  { exercise, solid, surfaces, scope }: PlanBasis,
  on: PlanBasis['solid'],
): number | null {
  const reference = prepareReference({ ...exercise, checks: [check] }, solid, surfaces, scope);
  return reference.ok ? (measureInPlace(reference.value, on)[0]?.measured ?? null) : null;
}

/** A measured length as it follows from the letters, or any other value as a number. */
function nominalFor(measured: number, check: Check, basis: PlanBasis, others: readonly PlanBasis[]): string {
  if (kindOf(check.kind).quantity !== 'length') return String(Number(measured.toFixed(4)));
  const values = others.map((other) => measuredBy(check, other, other.solid) ?? undefined);
  return writtenAs(measured, values, basis, others);
}
