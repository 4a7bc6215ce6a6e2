import * as v from 'valibot';

import { holeKey, type Hole } from '#core/feature';

import { FaceIdsSchema, MembersSchema } from './entries.ts';
import type { Found, MeasureContext, PrepareContext } from './kind.ts';
import type { OddHole } from './measurement.ts';
import { uncertain } from './rulings.ts';

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
export const isCounted = (diameterMm: number, context: PrepareContext): boolean =>
  context.checks.some(({ kind, off, like }) => {
    if (kind !== 'hole-count' || off === true || like === undefined) return false;
    const hole = holeWith(context.named(like), context);
    return hole !== undefined && hole.diameterMm.toFixed(3) === diameterMm.toFixed(3);
  });

/**
 * The hole whose wall a check of a size names, with the like ones: the sheet writes their size once. Those that another
 * check of the same size names have it from there.
 */
export function holesLike(
  check: { readonly kind: string; readonly of: string; readonly size?: string },
  context: PrepareContext,
): OfHoles {
  const { hole, wallIds } = requireHole(check.of, context);
  const named = context.checks.flatMap(({ kind, off, of, size }) =>
    kind === check.kind && off !== true && typeof of === 'string' && size === check.size
      ? (holeWith(context.named(of), context) ?? [])
      : [],
  );
  const isNamed = ({ faceIds }: Hole): boolean => named.some((other) => other.faceIds[0] === faceIds[0]);
  const like = context
    .holes()
    .filter((other) => other.faceIds[0] !== hole.faceIds[0] && holeKey(other) === holeKey(hole) && !isNamed(other));
  return {
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
    hole: context.holePartner(referenceFaceIds),
  }));
  const found = members.flatMap(({ hole, referenceFaceIds }) =>
    hole === null ? [] : [{ hole, referenceFaceIds, size: sizeOf(hole) }],
  );
  const [first, ...more] = found;
  if (first === undefined || (found.length < members.length && !counted))
    return {
      measured: null,
      reason:
        members.length === 1
          ? 'The hole is not on the model.'
          : `${String(found.length)} of the ${String(members.length)} holes are on the model.`,
      faceIds: found.flatMap(({ hole }) => hole.faceIds),
      referenceFaceIds: members.flatMap((member) => (member.hole === null ? member.referenceFaceIds : [])),
    };
  const off = ({ size }: typeof first): number => (typeof size === 'string' ? Infinity : Math.abs(size - nominal));
  // Of equally wrong ones the first is told, whatever the last digits say.
  const { hole, size, referenceFaceIds } = more.reduce((a, b) => (off(b) > off(a) + 1e-9 ? b : a), first);
  const about = { faceIds: hole.faceIds, referenceFaceIds };
  if (typeof size === 'number') return { ...about, measured: size, ...uncertain(context.uncertaintyMm(hole.faceIds)) };
  const which = members.length === 1 ? 'The hole' : 'A hole';
  return { ...about, measured: null, oddHole: size, reason: `${which} ${ODD_WORDS[size]} on the model.` };
}
