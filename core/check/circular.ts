import { roundingMm } from '#core/solid';

import type { Found, MeasureContext } from './kind.ts';
import { farthest, NO_PARTNER, uncertain } from './rulings.ts';

/**
 * Measures every round that shares a dimension, `factor` times its radius in mm; the one that is missing, or farthest
 * off, speaks for all.
 */
export function measureMembers(
  { members, nominal, tolerance, counted = false }: MemberTarget,
  factor: 1 | 2,
  context: MeasureContext,
): Found {
  const all = members.map((referenceFaceIds) => {
    const best = context.partner(referenceFaceIds);
    // A surface may carry several faces, as a row of grooves does: each of them has to be right.
    const faces = [...(best === null ? [] : [best]), ...context.nearPartners(referenceFaceIds)];
    const radii = faces.flatMap((face) => {
      const radiusMm = roundingMm(face.surface);
      return radiusMm === null ? [] : [{ measured: factor * radiusMm, unsure: factor * face.uncertaintyMm }];
    });
    const off = ({ measured }: { readonly measured: number }): number => Math.abs(measured - nominal);
    const [first, ...more] = radii;
    const own = first && farthest(first, more, off);
    return {
      measured: own?.measured ?? null,
      off: own === undefined ? Infinity : off(own),
      unsure: own?.unsure ?? 0,
      faceIds: context.partnerIds(referenceFaceIds),
      referenceFaceIds,
    };
  });
  const there = all.filter(({ measured }) => measured !== null);
  const measuredMembers = counted && there.length > 0 ? there : all;
  // Of equally wrong ones the first is told, whatever the last digits say.
  const worst = measuredMembers.reduce((a, b) => (b.off > a.off + 1e-9 ? b : a));
  const wrong = measuredMembers.filter(({ off }) => off > tolerance);
  const about = wrong.length > 0 ? wrong : measuredMembers;
  return {
    measured: worst.measured,
    ...uncertain(worst.unsure),
    ...(worst.measured === null ? { reason: NO_PARTNER } : {}),
    faceIds: about.flatMap(({ faceIds }) => faceIds),
    referenceFaceIds: about.flatMap(({ referenceFaceIds }) => referenceFaceIds),
    ...(all.length > 1 ? { members: all.map(({ measured }) => measured) } : {}),
  };
}

interface MemberTarget {
  readonly members: readonly (readonly number[])[];
  readonly nominal: number;
  readonly tolerance: number;
  /** Whether another check counts them: one that is missing says nothing of the size of the others then. */
  readonly counted?: boolean | undefined;
}
