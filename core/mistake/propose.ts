import * as v from 'valibot';

import { measureSubmission, prepareReference } from '#core/check';
import { CheckSchema, exerciseOfStage, groupOf, type Check, type Exercise } from '#core/exercise';
import { gradeMeasurement } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { suggestPlan } from '#core/plan';
import { attempt, unwrap } from '#core/problem';
import { RecipeBuilder, withValues } from '#core/recipe';

import {
  safely,
  withMistakes,
  COARSE,
  RECIPE_SOURCE,
  type Atlas,
  type AtlasEntry,
  type AtlasOptions,
} from './atlas.ts';

/** A check that would say where a mistake is. */
export const ProposalSchema = v.object({ mistakeId: v.string(), check: CheckSchema });
export type Proposal = Readonly<v.InferOutput<typeof ProposalSchema>>;

/** Mistakes that are looked at: each is built once more. */
const MOST_LOOKED_AT = 12;

/**
 * Checks that are not in the plan and that would catch what no dimension or feature of the plan catches, the likeliest
 * mistakes first; one for each, as far as the part has any.
 */
export function proposeChecks(
  kernel: Kernel,
  document: Exercise,
  atlas: Atlas,
  { values = {}, stage = 1, builder }: AtlasOptions = {},
): readonly Proposal[] {
  const exercise = exerciseOfStage(document, stage);
  const unlocated = atlas.entries
    .filter((entry) => !isLocated(exercise, entry))
    .sort((a, b) => b.mistake.prior - a.mistake.prior)
    .slice(0, MOST_LOOKED_AT);
  if (unlocated.length === 0) return [];
  const own = builder ?? new RecipeBuilder(kernel);
  try {
    return withPart(kernel, exercise, { values, builder: own }, ({ solid, surfaces, scope }) => {
      const used = new Set(exercise.checks.map(({ id }) => id));
      const known = new Set(exercise.checks.filter(({ off }) => off !== true).map(contentOf));
      const candidates = suggestPlan({ exercise, solid, surfaces, scope })
        .filter((check) => isPlace(check) && check.off !== true && !known.has(contentOf(check)))
        .map((check) => ({ ...check, id: freeId(check.id, used), onSheet: false }) as Check);
      const prepared = prepareReference({ ...exercise, checks: candidates }, solid, surfaces, scope);
      if (!prepared.ok || candidates.length === 0) return [];
      const reference = prepared.value;
      const recipe = unwrap(withValues(exercise.recipe, values));
      const proposals: Proposal[] = [];
      for (const { mistake } of unlocated) {
        const failing = withMistakes(kernel, own, recipe, [mistake], (shape) => {
          const made = safely(kernel, () => kernel.analyze(shape, RECIPE_SOURCE, COARSE));
          const measured = made?.ok === true ? attempt(() => measureSubmission(reference, made.value)) : null;
          if (measured?.ok !== true) return [];
          const { lines } = gradeMeasurement(reference, measured.value, [], exercise.scoring);
          return lines.filter(({ verdict }) => verdict !== 'right').map(({ checkId }) => checkId);
        });
        const check = candidates.find(({ id }) => failing?.includes(id));
        if (check !== undefined) proposals.push({ mistakeId: mistake.id, check });
      }
      return proposals;
    });
  } finally {
    if (builder === undefined) own.free();
  }
}

const isPlace = ({ kind }: Check): boolean => groupOf(kind) === 'dimensions' || groupOf(kind) === 'features';

function isLocated(exercise: Exercise, entry: AtlasEntry): boolean {
  return entry.failing.some((id) => {
    const check = exercise.checks.find((one) => one.id === id);
    return check !== undefined && check.weight > 0 && isPlace(check);
  });
}

/** What a check measures, whatever it is called and weighs. */
const contentOf = (check: Check): string => {
  const { kind, ...rest } = check as Check & Readonly<Record<string, unknown>>;
  const { of, from, to, on, axis, size, like, feature, along } = rest as Readonly<Record<string, unknown>>;
  return JSON.stringify([kind, of, from, to, on, axis, size, like, feature, along]);
};

function freeId(id: string, used: Set<string>): string {
  let free = id;
  for (let i = 2; used.has(free); i++) free = `${id.slice(0, 34)}-${String(i)}`;
  used.add(free);
  return free;
}
