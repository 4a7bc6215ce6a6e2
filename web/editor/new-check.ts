import { CHECK_KINDS, checkFromSurfaces, pickingOf, usualTolerance, type Check, type CheckKind } from '#core/check';
import type { Exercise } from '#core/exercise';

/** Kinds of checks that are made by picking surfaces in the part. */
export const PICKABLE_KINDS = CHECK_KINDS.filter((kind) => pickingOf(kind) !== null);

/** How many surfaces are picked for a check of a kind. */
export const surfacesOf = (kind: CheckKind): number => pickingOf(kind)?.fills.length ?? 0;

const WEIGHT = 5;

/** A new check on picked surfaces, under an id that is free. Its nominal is to be typed; the live value says what the part has. */
export function checkFromFaces(kind: CheckKind, names: readonly string[], exercise: Exercise): Check {
  const taken = new Set(exercise.checks.map(({ id }) => id));
  let n = 1;
  while (taken.has(`${kind}-${String(n)}`)) n++;
  return checkFromSurfaces(kind, names, {
    id: `${kind}-${String(n)}`,
    label: `${pickingOf(kind)?.label ?? kind} ${String(n)}`.slice(0, 80),
    weight: WEIGHT,
    tolerance: usualTolerance(exercise.decimals),
  });
}
