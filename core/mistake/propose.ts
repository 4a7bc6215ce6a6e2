import * as v from 'valibot';

import { prepareReference, CheckSchema, saysWhere, subjectOf, type Check } from '#core/check';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import { gradeMeasurement } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { suggestPlan } from '#core/plan';

import type { Atlas, AtlasEntry } from './atlas.ts';
import { MistakenParts, type PartOptions } from './build.ts';

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
  options: PartOptions = {},
): readonly Proposal[] {
  const { ground } = options;
  const exercise = exerciseOfStage(ground?.exercise ?? document, options.stage ?? 1);
  const unlocated = atlas.entries
    .filter((entry) => !isLocated(exercise, entry))
    .sort((a, b) => b.mistake.prior - a.mistake.prior)
    .slice(0, MOST_LOOKED_AT);
  if (unlocated.length === 0) return [];
  const parts = new MistakenParts(kernel, document, options);
  try {
    return withPart(
      kernel,
      exercise,
      { ...options, builder: ground?.builder, model: ground?.model },
      ({ solid, surfaces, scope }) => {
        const used = new Set(exercise.checks.map(({ id }) => id));
        const known = new Set(exercise.checks.filter(({ off }) => off !== true).map(subjectOf));
        const candidates = suggestPlan({ exercise, solid, surfaces, scope })
          .filter((check) => saysWhere(check) && check.off !== true && !known.has(subjectOf(check)))
          .map((check) => ({ ...check, id: freeId(check.id, used), onSheet: false }) as Check);
        const prepared = prepareReference({ ...exercise, checks: candidates }, solid, surfaces, scope);
        if (!prepared.ok || candidates.length === 0) return [];
        return unlocated.flatMap(({ mistake }): Proposal[] => {
          const failing = parts.with([mistake], (shape) => {
            const made = parts.measured(shape, prepared.value);
            if (made === null) return [];
            const { lines } = gradeMeasurement(prepared.value, made.measurement, {
              typed: [],
              policy: exercise.scoring,
            });
            return lines.filter(({ verdict }) => verdict !== 'right').map(({ checkId }) => checkId);
          });
          const check = candidates.find(({ id }) => failing?.includes(id));
          return check === undefined ? [] : [{ mistakeId: mistake.id, check }];
        });
      },
    );
  } finally {
    parts.free();
  }
}

function isLocated(exercise: Exercise, entry: AtlasEntry): boolean {
  return entry.failing.some((id) => {
    const check = exercise.checks.find((one) => one.id === id);
    return check !== undefined && check.weight > 0 && saysWhere(check);
  });
}

/** A plan with a proposed check more, under an id that is free in it; null where the plan measures that already. */
export function withProposed(plan: readonly Check[], check: Check): readonly Check[] | null {
  if (plan.some((other) => other.off !== true && subjectOf(other) === subjectOf(check))) return null;
  return [...plan, { ...check, id: freeId(check.id, new Set(plan.map(({ id }) => id))) }];
}

function freeId(id: string, used: Set<string>): string {
  let free = id;
  for (let i = 2; used.has(free); i++) free = `${id.slice(0, 34)}-${String(i)}`;
  used.add(free);
  return free;
}
