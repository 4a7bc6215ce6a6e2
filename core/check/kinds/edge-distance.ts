import { SurfaceNameSchema } from '#core/recipe';
import type { Solid } from '#core/solid';
import { dot, subtract } from '#core/vector';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';

/** An edge runs along a face when its ends are equally far from it to this much, mm: what facets leave. */
const ALONG_MM = 0.02;

const EDGE_MISSING = 'The two surfaces do not meet in an edge on the model.';

/** Distances of the ends of the edges, where faces of two lists meet, from a flat face, mm. */
function endsFrom(
  solid: Solid,
  fromId: number,
  [of, on]: readonly [readonly number[], readonly number[]],
): readonly number[] | null {
  const plane = solid.faces[fromId]?.surface;
  if (plane?.kind !== 'plane') return null;
  return solid.edges
    .filter(({ faceIds }) => faceIds.some((id) => of.includes(id)) && faceIds.some((id) => on.includes(id)))
    .flatMap(({ start, end }) => [start, end])
    .map((point) => Math.abs(dot(subtract(point, plane.origin), plane.normal)));
}

/**
 * From a flat surface to the edge where two others meet, which runs along it: the foot of a slope, the end of a rib, the
 * leg of a chamfer, the rim of a cone. Of several such edges the one that is farthest off its nominal counts.
 */
export const edgeDistance = defineKind({
  kind: 'edge-distance',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, from: SurfaceNameSchema, of: SurfaceNameSchema, on: SurfaceNameSchema },
  target: { ...targetSize, fromFaceIds: FaceIdsSchema, faceIds: FaceIdsSchema, onFaceIds: FaceIdsSchema },
  hangsOn: ['from', 'of', 'on'],
  gives: 'place',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const [fromFaceIds, faceIds, onFaceIds] = [check.from, check.of, check.on].map(context.faceIds);
    const sides = [faceIds ?? [], onFaceIds ?? []] as const;
    const ends = endsFrom(context.solid, fromFaceIds?.[0] ?? -1, sides);
    if (ends === null) return context.refuse(`"${check.from}" is not flat.`);
    if (ends.length === 0) return context.refuse(`"${check.of}" and "${check.on}" do not meet in an edge.`);
    if (Math.max(...ends) - Math.min(...ends) > ALONG_MM)
      return context.refuse(`the edge of "${check.of}" and "${check.on}" does not run along "${check.from}".`);
    return { ...context.size(check), fromFaceIds: fromFaceIds ?? [], faceIds: sides[0], onFaceIds: sides[1] };
  },
  measure: ({ fromFaceIds, faceIds, onFaceIds, nominal }, context) => {
    const referenceFaceIds = [...fromFaceIds, ...faceIds, ...onFaceIds];
    const [of, on] = [context.partnerIds(faceIds), context.partnerIds(onFaceIds)];
    const from = context.partner(fromFaceIds);
    const about = { faceIds: [...(from === null ? [] : [from.id]), ...of, ...on], referenceFaceIds };
    const ends = from === null ? null : endsFrom(context.submission, from.id, [of, on]);
    if (ends === null)
      return { ...about, measured: null, reason: 'What it is measured from is not flat on the model.' };
    const [first, ...more] = ends;
    if (first === undefined) return { ...about, measured: null, reason: EDGE_MISSING };
    const off = (distance: number): number => Math.abs(distance - nominal);
    return {
      ...about,
      measured: more.reduce((worst, distance) => (off(distance) > off(worst) ? distance : worst), first),
      ...uncertain(context.uncertaintyMm(about.faceIds)),
    };
  },
  marks: ({ fromFaceIds, faceIds, onFaceIds }) => [...fromFaceIds, ...faceIds, ...onFaceIds],
  drafting: ({ fromFaceIds, faceIds, onFaceIds }) => ({ form: 'edge', fromFaceIds, faceIds, onFaceIds }),
  picking: {
    label: 'edge of two surfaces, from a flat one',
    fills: [{ field: 'of' }, { field: 'on' }, { field: 'from' }],
  },
});
