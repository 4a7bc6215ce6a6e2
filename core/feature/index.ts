/** Recognition on the face graph: the features a teacher talks about, each with its faces. */
import { axisOf, type Axis, type Face, type Solid, type Surface } from '#core/solid';

import { FaceGraph, sameAxis } from './graph.ts';
import { findHoleFeatures, type Hole } from './hole.ts';
import type { Feature, FeatureKind, FeatureOf } from './kinds.ts';
import { nameByFeatures } from './names.ts';
import { findPatterns } from './pattern.ts';
import { findBosses, findGrooves, findRecesses, findRibs, findSlottedHoles } from './prism.ts';
import { findChamfers, findFillets } from './fillet.ts';
import { findSymmetryPlanes, findThreads, findTurnedBody } from './whole.ts';

export { FaceGraph } from './graph.ts';
export { FEATURE_KINDS, type Feature, type FeatureKind, type FeatureOf } from './kinds.ts';
export { holeKey, type Hole } from './hole.ts';
export type { BoltCircle } from './pattern.ts';
export type { Boss, SlottedHole } from './prism.ts';
export type { Chamfer, Fillet } from './fillet.ts';
export { isSymmetric, mirroredPoint, type Thread } from './whole.ts';

const cache = new WeakMap<Solid, readonly Feature[]>();

/** All features of a solid. What one feature explains, such as the walls of a hole, is not counted again as another. */
export function findFeatures(solid: Solid): readonly Feature[] {
  const known = cache.get(solid);
  if (known) return known;
  const found = recognize(solid);
  cache.set(solid, found);
  return found;
}

function recognize(solid: Solid): Feature[] {
  const graph = graphOf(solid);
  const taken = new Set<number>();
  const take = <F extends Feature>(features: readonly F[]): readonly F[] => {
    for (const { faceIds } of features) for (const id of faceIds) taken.add(id);
    return features;
  };
  const threads = take(findThreads(graph));
  const slotted = take(findSlottedHoles(graph));
  const holes = take(findHoleFeatures(graph, taken));
  const rounds = take(findFillets(graph, taken));
  const chamfers = take(findChamfers(graph, taken));
  const grooves = findGrooves(graph);
  const bosses = findBosses(graph);
  const recesses = findRecesses(graph, taken);
  const planes = findSymmetryPlanes(solid);
  const axes: Axis[] = [];
  for (const face of solid.faces) {
    const axis = axisOf(face.surface);
    if (axis && !axes.some((known) => sameAxis(known, axis, graph.toleranceMm))) axes.push(axis);
  }
  return [
    ...holes,
    ...slotted,
    ...bosses,
    ...recesses,
    ...grooves,
    ...findRibs(graph),
    ...rounds,
    ...chamfers,
    ...threads,
    ...findPatterns(holes, axes, planes, graph.toleranceMm),
    ...findTurnedBody(graph),
    ...planes,
  ];
}

/** Names for the surfaces of a model that no recipe built; see `nameByFeatures`. */
export const nameSurfaces = (solid: Solid): ReadonlyMap<string, Surface> => nameByFeatures(solid, findFeatures(solid));

export const featuresOf = <K extends FeatureKind>(solid: Solid, kind: K): FeatureOf<K>[] =>
  findFeatures(solid).filter((feature): feature is FeatureOf<K> => feature.kind === kind);

/** Round holes of a solid with diameter, depth and axis, in the order of their faces. */
export const findHoles = (solid: Solid): Hole[] => featuresOf(solid, 'hole');

const graphs = new WeakMap<Solid, FaceGraph>();

/** Share of the full circle that a cylindrical face covers: 1 for a hole, 1/4 for the round of a square corner. */
export const circleCover = (solid: Solid, { surface, id }: Face): number => {
  const face = solid.faces[id];
  return surface.kind === 'cylinder' && face ? graphOf(solid).turnOf(face) : 0;
};

/** The face graph of a solid, made once. */
export function graphOf(solid: Solid): FaceGraph {
  const known = graphs.get(solid);
  if (known) return known;
  const graph = new FaceGraph(solid);
  graphs.set(solid, graph);
  return graph;
}
