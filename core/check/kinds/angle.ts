import { plannedAngle, plannedPair, targetPair, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { facesOfPair, PAIR_FILLS, pairOf } from '../pair.ts';
import { angleDegrees, uncertain } from '../rulings.ts';

/** Degrees between two surfaces: normals of flat ones, axes of round ones. */
export const angle = defineKind({
  kind: 'angle',
  group: 'dimensions',
  quantity: 'angle',
  check: { ...plannedAngle, ...plannedPair },
  target: { ...targetSize, ...targetPair },
  hangsOn: ['from', 'to'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    ...context.angle(check),
    ...pairOf(check, context),
  }),
  measure: ({ fromFaceIds, toFaceIds, nominal }, context) => {
    const { uncertainty: _, ...found } = context.between(fromFaceIds, toFaceIds, angleDegrees(nominal));
    // An offset that is uncertain over the width of a face makes an angle uncertain, degrees.
    const degrees = [context.partner(fromFaceIds), context.partner(toFaceIds)].reduce(
      (sum, face) => sum + (face ? (2 * face.uncertaintyMm * 180) / (Math.PI * Math.sqrt(face.areaMm2 + 1e-9)) : 0),
      0,
    );
    return { ...found, ...uncertain(degrees) };
  },
  marks: facesOfPair,
  chain: (target) => ({ directed: facesOfPair(target) }),
  drafting: ({ fromFaceIds, toFaceIds }) => ({ form: 'angular', fromFaceIds, toFaceIds }),
  picking: {
    label: 'angle between two surfaces',
    fills: PAIR_FILLS,
    starts: { nominal: '90', tolerance: '0.5' },
  },
});
