import * as v from 'valibot';

import { facesOn } from '#core/recipe';
import type { Face } from '#core/solid';
import { SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
import { dot, subtract } from '#core/vector';

import { MembersSchema, plannedCoincidence, SurfaceNamesSchema, targetValue } from '../entries.ts';
import { defineKind, type Found, type MeasureContext, type PrepareContext } from '../kind.ts';
import { farthest, NO_PARTNER, uncertain } from '../rulings.ts';

/** A flat face of the submission with how far it lies from the plane of the first of its line. */
interface Placed {
  readonly face: Face;
  readonly referenceFaceIds: readonly number[];
  readonly atMm: number;
}

/** The partners of the faces that lie in one plane on the reference, as far as they are flat and look the same way. */
function placedLine(members: readonly (readonly number[])[], context: MeasureContext): readonly Placed[] {
  const first = context.reference.faces[members[0]?.[0] ?? -1];
  if (first?.surface.kind !== 'plane') return [];
  const { normal, origin } = first.surface;
  return members.flatMap((referenceFaceIds): Placed[] => {
    const face = context.partner(referenceFaceIds);
    const looksThere =
      face?.surface.kind === 'plane' &&
      dot(face.surface.normal, context.directionInFile(normal)) > SAME_DIRECTION_COSINE;
    return face !== null && looksThere
      ? [{ face, referenceFaceIds, atMm: dot(subtract(context.pointOnReference(face.centroid), origin), normal) }]
      : [];
  });
}

/** The level that most of them are at, of several the first. */
function levelOf(line: readonly Placed[], first: Placed): number {
  const near = ({ atMm }: Placed): number => line.filter((other) => Math.abs(other.atMm - atMm) < SAME_PLACE_MM).length;
  return line.reduce((best, one) => (near(one) > near(best) ? one : best), first).atMm;
}

/** For each named surface, all faces of the reference that lie in its plane and look the same way. */
function linesOf(names: readonly string[], context: PrepareContext): readonly (readonly (readonly number[])[])[] {
  const { faces } = context.solid;
  const lines = names.map((name) => {
    const plane = faces[context.faceIds(name)[0] ?? -1]?.surface;
    if (plane?.kind !== 'plane') return context.refuse(`"${name}" is not flat.`);
    return facesOn(faces, plane).map((id) => [id]);
  });
  const alone = names.find((_, i) => (lines[i]?.length ?? 0) < 2);
  return alone === undefined ? lines : context.refuse(`nothing else lies in the plane of "${alone}".`);
}

/**
 * The farthest that one of several flat surfaces lies off the others, which the sheet draws in line: the floors or the
 * sides of copies. One that is not on the model says nothing here.
 */
export const inLine = defineKind({
  kind: 'in-line',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedCoincidence, of: SurfaceNamesSchema },
  target: { ...targetValue, lines: v.pipe(v.array(MembersSchema), v.readonly()) },
  hangsOn: ['of'],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    nominal: 0,
    tolerance: context.lengthMm(check.tolerance),
    lines: linesOf(check.of, context),
  }),
  measure: ({ lines }, context): Found => {
    const steps = lines.flatMap((members) => {
      const line = placedLine(members, context);
      const [first] = line;
      if (first === undefined) return [];
      const levelMm = levelOf(line, first);
      return line.map((placed) => ({ ...placed, stepMm: Math.abs(placed.atMm - levelMm) }));
    });
    const [first, ...more] = steps;
    if (first === undefined) return { measured: null, reason: NO_PARTNER, faceIds: [], referenceFaceIds: [] };
    const { face, referenceFaceIds, stepMm } = farthest(first, more, (one) => one.stepMm);
    return {
      measured: stepMm,
      ...uncertain(2 * context.uncertaintyMm([face.id])),
      faceIds: [face.id],
      referenceFaceIds,
    };
  },
  marks: ({ lines }) => lines.flat(2),
  notAsDrawn: (value) => `what the sheet draws in line has a step of ${value}`,
});
