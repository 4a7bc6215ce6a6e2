import { directionOf } from '#core/solid';
import { SAME_DIRECTION_COSINE } from '#core/tolerance';
import { cross, dot, length } from '#core/vector';

import { targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';

/** Faces that lean by less are told square: half a degree. */
const LEAN_DEGREES = 0.5;
const AXES = [0, 1, 2] as const;

/**
 * What the sheet draws square and parallel is so: the most, in degrees, that a face which lies along the axes of the part
 * leans on the model.
 */
export const square = defineKind({
  kind: 'square',
  group: 'features',
  quantity: 'angle',
  check: {},
  target: { ...targetValue },
  hangsOn: [],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: () => ({ nominal: 0, tolerance: LEAN_DEGREES }),
  measure: (_, context) => {
    let worst = { degrees: 0, doubt: 0, faceId: -1, referenceFaceId: -1 };
    for (const face of context.reference.faces) {
      const own = directionOf(face.surface);
      if (own === null || !AXES.some((i) => Math.abs(own[i]) > SAME_DIRECTION_COSINE)) continue;
      const partner = context.partner([face.id]);
      const direction = partner === null ? null : directionOf(partner.surface);
      if (partner === null || direction === null) continue;
      const as = context.directionInFile(own);
      const degrees = (Math.atan2(length(cross(as, direction)), Math.abs(dot(as, direction))) * 180) / Math.PI;
      const doubt = (2 * partner.uncertaintyMm * 180) / (Math.PI * Math.sqrt(partner.areaMm2 + 1e-9));
      if (degrees - doubt > worst.degrees - worst.doubt)
        worst = { degrees, doubt, faceId: partner.id, referenceFaceId: face.id };
    }
    const { degrees, doubt, faceId, referenceFaceId } = worst;
    const isFound = faceId >= 0;
    return {
      measured: degrees,
      faceIds: isFound ? [faceId] : [],
      referenceFaceIds: isFound ? [referenceFaceId] : [],
      ...uncertain(doubt),
    };
  },
  marks: () => [],
  nominalWords: 'as drawn',
  notAsDrawn: (value) => `a face that the sheet draws square leans by ${value}`,
});
