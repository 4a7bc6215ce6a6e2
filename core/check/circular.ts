import type { Found, MeasureContext } from './kind.ts';
import { NO_PARTNER, uncertain } from './rulings.ts';

/**
 * Measures every cylinder that shares a dimension, `factor` times its radius in mm; the one that is missing, or farthest
 * off, speaks for all.
 */
export function measureMembers(
  { members, nominal, tolerance }: MemberTarget,
  factor: 1 | 2,
  context: MeasureContext,
): Found {
  const measuredMembers = members.map((referenceFaceIds) => {
    const face = context.partner(referenceFaceIds);
    const measured = face?.surface.kind === 'cylinder' ? factor * face.surface.radiusMm : null;
    const off = measured === null ? Infinity : Math.abs(measured - nominal);
    const unsure = factor * (face?.uncertaintyMm ?? 0);
    return { measured, off, unsure, faceIds: context.partnerIds(referenceFaceIds), referenceFaceIds };
  });
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
    ...(measuredMembers.length > 1 ? { members: measuredMembers.map(({ measured }) => measured) } : {}),
  };
}

interface MemberTarget {
  readonly members: readonly (readonly number[])[];
  readonly nominal: number;
  readonly tolerance: number;
}
