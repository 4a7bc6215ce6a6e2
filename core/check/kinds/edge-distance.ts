import { SurfaceNameSchema } from '#core/recipe';
import { edgesBetween, type Cylinder, type Edge, type Solid } from '#core/solid';
import { MEASURED_PARALLEL_SINE } from '#core/tolerance';
import { cross, distanceToLine, dot, extremes, length, normalize, pointsOf, subtract, type Vec3 } from '#core/vector';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';

/** An edge runs along a face when its ends are equally far from it to this much, mm: what facets leave. */
const ALONG_MM = 0.02;

const EDGE_MISSING = 'The two surfaces do not meet in an edge on the model.';

type Sides = readonly [of: readonly number[], on: readonly number[]];

/**
 * Distances of the edges, where faces of two lists meet, from a flat face or from the axis of a round one, mm: of both ends
 * of straight ones. A curved edge counts where all of it is equally far from the flat face, as the rim of a cone; elsewhere
 * its ends do not tell where it is. Null where the face is neither flat nor round.
 */
function distancesFrom(solid: Solid, fromId: number, [of, on]: Sides): readonly number[] | null {
  const edges = edgesBetween(solid, of, on);
  const from = solid.faces[fromId]?.surface;
  if (from?.kind === 'cylinder') return edges.flatMap((edge) => distancesFromAxis(from, edge));
  if (from?.kind !== 'plane') return null;
  const offMm = (point: Vec3): number => Math.abs(dot(subtract(point, from.origin), from.normal));
  const lines = new Map(solid.mesh.edges.map(({ edgeId, points }) => [edgeId, points]));
  return edges.flatMap(({ id, curve, start, end }) => {
    if (curve === 'line') return [start, end].map(offMm);
    const distances = pointsOf(lines.get(id) ?? []).map(offMm);
    const [least, most] = extremes(distances);
    return distances.length > 0 && most - least < ALONG_MM ? [least, most] : [];
  });
}

/** Of the ends of a straight edge from an axis that runs along it or square to it; none for others. */
function distancesFromAxis({ origin, direction }: Cylinder, { curve, start, end }: Edge): readonly number[] {
  if (curve !== 'line') return [];
  const along = normalize(subtract(end, start));
  if (length(cross(along, direction)) < MEASURED_PARALLEL_SINE)
    return [start, end].map((point) => distanceToLine(point, origin, direction));
  if (Math.abs(dot(along, direction)) > MEASURED_PARALLEL_SINE) return [];
  const across = cross(along, direction);
  return [start, end].map((point) => Math.abs(dot(subtract(point, origin), across)));
}

/**
 * From a flat surface, or an axis, to the edge where two others meet, which runs along it: the foot of a slope, the end of
 * a rib, the leg of a chamfer, the rim of a cone, the corner that a leaning boss is placed from. Of several such edges the one that is farthest off its nominal counts.
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
    const fromFaceIds = context.faceIds(check.from);
    const sides: Sides = [context.faceIds(check.of), context.faceIds(check.on)];
    const distances = distancesFrom(context.solid, fromFaceIds[0] ?? -1, sides);
    if (distances === null) return context.refuse(`"${check.from}" is neither flat nor round.`);
    if (distances.length === 0)
      return context.refuse(`"${check.of}" and "${check.on}" do not meet in an edge that runs along "${check.from}".`);
    if (Math.max(...distances) - Math.min(...distances) > ALONG_MM)
      return context.refuse(`the edge of "${check.of}" and "${check.on}" does not run along "${check.from}".`);
    return { ...context.size(check), fromFaceIds, faceIds: sides[0], onFaceIds: sides[1] };
  },
  measure: ({ fromFaceIds, faceIds, onFaceIds, nominal }, context) => {
    const referenceFaceIds = [...fromFaceIds, ...faceIds, ...onFaceIds];
    const [of, on] = [context.partnerIds(faceIds), context.partnerIds(onFaceIds)];
    const from = context.partner(fromFaceIds);
    const about = { faceIds: [...(from === null ? [] : [from.id]), ...of, ...on], referenceFaceIds };
    const distances = from === null ? null : distancesFrom(context.submission, from.id, [of, on]);
    if (distances === null)
      return { ...about, measured: null, reason: 'What it is measured from is neither flat nor round on the model.' };
    const [first, ...more] = distances;
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
    label: 'edge of two surfaces, from a flat one or an axis',
    fills: [{ field: 'of' }, { field: 'on' }, { field: 'from' }],
  },
});
