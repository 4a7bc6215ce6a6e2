import type { Hole } from '#core/feature';

import type { Found, MeasureContext, PrepareContext, Ruling } from './kind.ts';
import { uncertain } from './rulings.ts';

/** The hole of the reference whose wall is named, with the faces of that wall. Refuses where it is no round hole. */
export function requireHole(
  surfaceName: string,
  context: PrepareContext,
): { readonly hole: Hole; readonly wallIds: readonly number[] } {
  const wallIds = context.faceIds(surfaceName);
  const hole = context.holes().find(({ faceIds }) => faceIds.some((id) => wallIds.includes(id)));
  return hole === undefined ? context.refuse(`"${surfaceName}" is not the wall of a round hole.`) : { hole, wallIds };
}

/** Measures a size of the partner of the hole that has one of some faces of the reference. */
export function measureHole(
  referenceFaceIds: readonly number[],
  sizeOf: (hole: Hole) => Ruling,
  context: MeasureContext,
): Found {
  const hole = context.holePartner(referenceFaceIds);
  const about = { faceIds: hole?.faceIds ?? [], referenceFaceIds };
  if (hole === null) return { ...about, measured: null, reason: 'The hole is not on the model.' };
  const size = sizeOf(hole);
  return typeof size === 'string'
    ? { ...about, measured: null, reason: size }
    : { ...about, measured: size, ...uncertain(context.uncertaintyMm(hole.faceIds)) };
}
