import * as v from 'valibot';

import { holeKey, type Hole } from '#core/feature';
import { SAME_SIZE_MM } from '#core/tolerance';

import { FaceIdsSchema, MembersSchema } from './entries.ts';
import type { Found, MeasureContext, PrepareContext } from './kind.ts';
import type { OddHole } from './measurement.ts';
import { farthest, notAllThere, uncertain } from './rulings.ts';

/** What a target of a size of holes keeps: the wall that is named, and those of the like holes that have the size too. */
export const ofHoles = {
  faceIds: FaceIdsSchema,
  like: v.optional(MembersSchema),
  /** Whether another check counts them: one that is missing says nothing of the size of the others then. */
  counted: v.optional(v.boolean()),
};
type OfHoles = Readonly<v.InferOutput<ReturnType<typeof v.object<typeof ofHoles>>>>;

const holeWith = (wallIds: readonly number[], context: PrepareContext): Hole | undefined =>
  context.holes().find(({ faceIds }) => faceIds.some((id) => wallIds.includes(id)));

/** The hole of the reference whose wall is named, with the faces of that wall. Refuses where it is no round hole. */
export function requireHole(
  surfaceName: string,
  context: PrepareContext,
): { readonly hole: Hole; readonly wallIds: readonly number[] } {
  const wallIds = context.faceIds(surfaceName);
  const hole = holeWith(wallIds, context);
  return hole === undefined ? context.refuse(`"${surfaceName}" is not the wall of a round hole.`) : { hole, wallIds };
}

/** Whether the plan counts the holes of a diameter. */
const isCounted = (diameterMm: number, context: PrepareContext): boolean =>
  context.checks.some(({ kind, off, like }) => {
    if (kind !== 'hole-count' || off === true || like === undefined) return false;
    const hole = holeWith(context.named(like), context);
    return hole !== undefined && Math.abs(hole.diameterMm - diameterMm) < SAME_SIZE_MM;
  });

/** Whether walls of a diameter are those of holes that the plan counts; a recess is none. */
export function areCounted(
  members: readonly (readonly number[])[],
  nominalMm: number,
  context: PrepareContext,
): boolean {
  const holes = members.map((wallIds) => holeWith(wallIds, context));
  const areHoles = holes.every((hole) => hole !== undefined && Math.abs(hole.diameterMm - nominalMm) < SAME_SIZE_MM);
  return areHoles && isCounted(nominalMm, context);
}

/**
 * The hole whose wall a check of a size names, with the like ones that have the size too, as `sizeOf` says: the sheet
 * writes it once. Those that another check of the same size names have it from there.
 */
export function holesLike(
  check: { readonly kind: string; readonly of: string; readonly size?: string },
  sizeOf: (hole: Hole) => number | OddHole,
  context: PrepareContext,
): OfHoles & { readonly hole: Hole } {
  const { hole, wallIds } = requireHole(check.of, context);
  const named = context.checks.flatMap(({ kind, off, of, size }) =>
    kind === check.kind && off !== true && typeof of === 'string' && size === check.size
      ? (holeWith(context.named(of), context) ?? [])
      : [],
  );
  const own = sizeOf(hole);
  const isAlike = (other: Hole): boolean => {
    const size = sizeOf(other);
    const isSame =
      typeof own === 'number' && typeof size === 'number' ? Math.abs(own - size) < SAME_SIZE_MM : own === size;
    return isSame && holeKey(other) === holeKey(hole);
  };
  const like = context
    .holes()
    .filter((other) => isAlike(other) && ![hole, ...named].some(({ faceIds }) => faceIds[0] === other.faceIds[0]));
  return {
    hole,
    faceIds: wallIds,
    ...(like.length === 0 ? {} : { like: like.map(({ faceIds }) => faceIds) }),
    ...(isCounted(hole.diameterMm, context) ? { counted: true } : {}),
  };
}

const ODD_WORDS: Readonly<Record<OddHole, string>> = {
  'goes-through': 'goes through',
  'no-counterbore': 'has no counterbore',
  'no-countersink': 'has no countersink',
};

/**
 * Measures a size of the partners of like holes; `sizeOf` says what a hole is instead of having it. The one that lacks it,
 * or is farthest off, speaks for all.
 */
export function measureHoles(
  { faceIds, like = [], counted = false, nominal }: OfHoles & { readonly nominal: number },
  sizeOf: (hole: Hole) => number | OddHole,
  context: MeasureContext,
): Found {
  const members = [faceIds, ...like].map((referenceFaceIds) => ({
    referenceFaceIds,
    partner: context.holePartner(referenceFaceIds),
  }));
  const found = members.flatMap(({ partner, referenceFaceIds }) =>
    partner === null ? [] : [{ hole: partner, referenceFaceIds, size: sizeOf(partner) }],
  );
  const [first, ...more] = found;
  if (first === undefined || (found.length < members.length && !counted)) return notAllThere('hole', members);
  const { hole, size, referenceFaceIds } = farthest(first, more, (one) =>
    typeof one.size === 'string' ? Infinity : Math.abs(one.size - nominal),
  );
  const about = { faceIds: hole.faceIds, referenceFaceIds };
  if (typeof size === 'number') return { ...about, measured: size, ...uncertain(context.uncertaintyMm(hole.faceIds)) };
  const which = members.length === 1 ? 'The hole' : 'A hole';
  return { ...about, measured: null, oddHole: size, reason: `${which} ${ODD_WORDS[size]} on the model.` };
}
