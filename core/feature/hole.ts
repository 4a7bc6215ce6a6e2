import type { Cone, Cylinder, Face } from '#core/solid';
import { add, distanceToLine, dot, negate, scale, subtract, type Vec3 } from '#core/vector';

import { parallel, sameAxis, type FaceGraph, type On } from './graph.ts';

export interface Hole {
  readonly kind: 'hole';
  /** Point of the axis in the plane of the entry, mm; the direction leads into the hole. */
  readonly origin: Vec3;
  readonly direction: Vec3;
  /** Of the narrowest wall. */
  readonly diameterMm: number;
  /** From the entry to the end of the wall; a drill point is not counted. */
  readonly depthMm: number;
  readonly through: boolean;
  readonly bottom: 'open' | 'flat' | 'drill-point' | 'round';
  /** Wider recess at one end, or null. */
  readonly counterbore: { readonly diameterMm: number; readonly depthMm: number } | null;
  /** Conical mouth, or null; the angle is the whole one. */
  readonly countersink: { readonly diameterMm: number; readonly angleRad: number } | null;
  /** Flat face in which the hole begins, or null. */
  readonly entryFaceId: number | null;
  /** Whether the wall is cut open along its length by an edge of the part. */
  readonly broken: boolean;
  /** Whether it ends in another hole. */
  readonly cross: boolean;
  readonly faceIds: readonly number[];
}

/** Like holes have the same key: it says all their sizes, to a micrometer; that of a hole that goes through has no depth. */
export const holeKey = ({ diameterMm, through, depthMm, counterbore, countersink }: Hole): string =>
  [
    diameterMm,
    through ? 0 : depthMm,
    counterbore?.diameterMm ?? 0,
    counterbore?.depthMm ?? 0,
    countersink?.diameterMm ?? 0,
    countersink?.angleRad ?? 0,
  ]
    .map((size) => size.toFixed(3))
    .join(' ');

/** A hole that is cut open still has more than this share of its wall. */
const BROKEN_TURN = 0.53;

type Wall = On<Cylinder> | On<Cone>;

/** Round holes of a solid, in the order of their faces. `taken` are faces that belong to slotted holes or threads. */
export function findHoleFeatures(graph: FaceGraph, taken: ReadonlySet<number>): Hole[] {
  const walls: Wall[] = [...graph.cylinders('concave'), ...graph.cones('concave')].filter(
    ({ face }) => !taken.has(face.id),
  );
  const groups: Wall[][] = [];
  for (const wall of walls) {
    const joined = groups.filter((members) => members.some((member) => belongs(graph, member, wall)));
    const merged = [...joined.flat(), wall];
    for (const group of joined) groups.splice(groups.indexOf(group), 1);
    groups.push(merged);
  }
  return groups
    .flatMap((group) => holeOf(graph, group) ?? [])
    .sort((a, b) => Math.min(...a.faceIds) - Math.min(...b.faceIds));
}

/** Walls of one hole lie about one axis and touch, directly or across a ring or a small round. */
function belongs(graph: FaceGraph, a: Wall, b: Wall): boolean {
  if (!sameAxis(a.surface, b.surface, 2 * graph.toleranceMm)) return false;
  return graph.around(a.face).some(({ face, edge }) => {
    if (face.id === b.face.id) return true;
    const bridge =
      face.surface.kind === 'torus' ||
      (face.surface.kind === 'plane' && parallel(face.surface.normal, a.surface.direction));
    // The plane between a bore and its recess is a ring; the outer face that two bores share is not between them.
    return (
      bridge &&
      edge.convexity !== 'boundary' &&
      face.edgeIds.length <= 4 &&
      graph.around(face).some((next) => next.face.id === b.face.id) &&
      graph.around(face).every((next) => sameAxisOrNone(next.face, a, graph.toleranceMm))
    );
  });
}

const sameAxisOrNone = (face: Face, wall: Wall, toleranceMm: number): boolean =>
  'direction' in face.surface && 'origin' in face.surface
    ? sameAxis(wall.surface, face.surface, 2 * toleranceMm)
    : face.surface.kind !== 'plane';

const isCylinder = (wall: Wall): wall is On<Cylinder> => wall.surface.kind === 'cylinder';
/** A cone that opens less is a taper of its own, not the seat of a screw head. */
const LEAST_SINK_RAD = (45 * Math.PI) / 180;

function holeOf(graph: FaceGraph, group: readonly Wall[]): Hole | null {
  const cylinders = group.filter(isCylinder);
  const [any] = cylinders;
  if (any === undefined) return null;
  const narrowest = cylinders.reduce((a, b) => (b.surface.radiusMm < a.surface.radiusMm ? b : a));
  const { origin, direction, radiusMm } = narrowest.surface;
  const slack = Math.max(1e-3, 2 * graph.toleranceMm);
  const same = cylinders.filter((wall) => Math.abs(wall.surface.radiusMm - radiusMm) < slack);
  const turn = Math.min(
    1,
    same.reduce((sum, wall) => sum + graph.turn(wall.face, origin, direction), 0),
  );
  if (turn < BROKEN_TURN || (turn < 1 && isBlend(graph, narrowest))) return null;

  const bottom = bottomOf(graph, same);
  const counted = group.filter((wall) => wall.face.id !== bottom.faceId);
  const spans = counted.map((wall) => graph.span(wall.face, origin, direction));
  const from = Math.min(...spans.map(([start]) => start));
  const to = Math.max(...spans.map(([, end]) => end));
  if (!(to > from)) return null;
  const isAtEnd = ([start, end]: readonly [number, number]): boolean => start - from < slack || to - end < slack;
  const wider = cylinders
    .filter((wall) => wall.surface.radiusMm > radiusMm + slack && isAtEnd(graph.span(wall.face, origin, direction)))
    .sort((a, b) => b.surface.radiusMm - a.surface.radiusMm)[0];
  const sink = counted.find(
    (wall): wall is On<Cone> => wall.surface.kind === 'cone' && 2 * wall.surface.halfAngleRad >= LEAST_SINK_RAD,
  );
  const recess = wider && graph.span(wider.face, origin, direction);
  const mouth = recess ?? (sink && graph.span(sink.face, origin, direction)) ?? null;
  // Into the hole: away from the recess or mouth, else away from the open end.
  const enters = mouth
    ? mouth[0] + mouth[1] < from + to
      ? 1
      : -1
    : bottom.at === null
      ? downward(direction)
      : bottom.at - from > to - bottom.at
        ? 1
        : -1;
  const entryAt = enters > 0 ? from : to;
  const faceIds = group.map((wall) => wall.face.id);
  return {
    kind: 'hole',
    origin: add(origin, scale(direction, entryAt)),
    direction: enters > 0 ? direction : negate(direction),
    diameterMm: 2 * radiusMm,
    depthMm: to - from,
    through: bottom.kind === 'open',
    bottom: bottom.kind,
    counterbore: wider && recess ? { diameterMm: 2 * wider.surface.radiusMm, depthMm: recess[1] - recess[0] } : null,
    countersink: sink
      ? {
          diameterMm: 2 * graph.radii(sink.face, origin, direction)[1],
          angleRad: 2 * sink.surface.halfAngleRad,
        }
      : null,
    entryFaceId: entryFace(graph, counted, { origin, direction, entryAt, slack }),
    broken: turn < 1,
    cross: endsInHole(graph, counted, faceIds),
    faceIds: bottom.faceId !== null && !faceIds.includes(bottom.faceId) ? [...faceIds, bottom.faceId] : faceIds,
  };
}

/** A hole that is open on both sides is entered from above: against the axis that it runs along most. */
function downward(direction: Vec3): 1 | -1 {
  const [x, y, z] = direction.map(Math.abs) as [number, number, number];
  const along = z >= x && z >= y ? direction[2] : y >= x ? direction[1] : direction[0];
  return along > 0 ? -1 : 1;
}

/** A concave round that blends smoothly into its neighbors along its length is no hole. */
function isBlend(graph: FaceGraph, { face, surface }: On<Cylinder>): boolean {
  return graph
    .around(face)
    .some(
      ({ edge }) =>
        edge.convexity === 'smooth' &&
        edge.curve === 'line' &&
        parallel(subtract(edge.end, edge.start), scale(surface.direction, edge.lengthMm)),
    );
}

interface Bottom {
  readonly kind: Hole['bottom'];
  readonly faceId: number | null;
  /** Where along the axis of the wall, mm; null for an open hole. */
  readonly at: number | null;
}

/** Whether a cone at the end of a wall is cut into by rounds that run another way alone: the tip of a drill in a cross hole. */
const isPiercedAcross = (graph: FaceGraph, cone: Face, wall: Cylinder): boolean =>
  graph
    .around(cone)
    .every(({ face: { surface } }) =>
      surface.kind === 'cylinder'
        ? sameAxis(surface, wall, 2 * graph.toleranceMm) || !parallel(surface.direction, wall.direction)
        : false,
    );

/** Whether a round wall meets a flat face all round in an inner corner, and the face reaches nowhere beyond the wall. */
function isFloor(graph: FaceGraph, wall: Face, floor: Face, radiusMm: number): boolean {
  const rimMm = graph
    .around(wall)
    .filter(({ face }) => face.id === floor.id)
    .reduce((sum, { edge }) => sum + edge.lengthMm, 0);
  return rimMm > 0.9 * 2 * Math.PI * radiusMm && floor.areaMm2 < 1.02 * Math.PI * radiusMm ** 2;
}

/** A bottom is a face across the end of the wall that the axis runs into: a full disk, a cone's tip, a ball's cap. */
function bottomOf(graph: FaceGraph, walls: readonly On<Cylinder>[]): Bottom {
  for (const { face, surface } of walls) {
    const along = (point: Vec3): number => dot(subtract(point, surface.origin), surface.direction);
    for (const { edge, face: other } of graph.around(face)) {
      if (edge.convexity !== 'concave' && edge.convexity !== 'smooth') continue;
      const at = along(edge.start);
      switch (other.surface.kind) {
        case 'cone': {
          const onAxis = distanceToLine(other.surface.apex, surface.origin, surface.direction) < 1e-2;
          const closes = graph.around(other).length === 1 || isPiercedAcross(graph, other, surface);
          if (onAxis && closes && other.surface.side === 'concave')
            return { kind: 'drill-point', faceId: other.id, at };
          break;
        }
        case 'sphere':
          if (graph.around(other).length === 1 && other.surface.side === 'concave')
            return { kind: 'round', faceId: other.id, at };
          break;
        case 'plane': {
          const disk = Math.PI * surface.radiusMm ** 2;
          // Facets leave a disk a little smaller; nothing else is as large and has one rim.
          if (graph.around(other).length === 1 && Math.abs(other.areaMm2 / disk - 1) < 0.08)
            return { kind: 'flat', faceId: null, at };
          // A floor with holes or bosses in it is one all the same, where the wall stands around it.
          if (isFloor(graph, face, other, surface.radiusMm)) return { kind: 'flat', faceId: null, at };
          break;
        }
      }
    }
  }
  return { kind: 'open', faceId: null, at: null };
}

function entryFace(
  graph: FaceGraph,
  walls: readonly Wall[],
  {
    origin,
    direction,
    entryAt,
    slack,
  }: { readonly origin: Vec3; readonly direction: Vec3; readonly entryAt: number; readonly slack: number },
): number | null {
  for (const { face } of walls)
    for (const { edge, face: other } of graph.around(face)) {
      const at = dot(subtract(edge.start, origin), direction);
      if (edge.convexity === 'convex' && other.surface.kind === 'plane' && Math.abs(at - entryAt) < slack)
        return other.id;
    }
  return null;
}

function endsInHole(graph: FaceGraph, walls: readonly Wall[], own: readonly number[]): boolean {
  return walls.some(({ face, surface }) =>
    graph
      .around(face)
      .some(
        ({ face: other }) =>
          !own.includes(other.id) &&
          other.surface.kind === 'cylinder' &&
          other.surface.side === 'concave' &&
          !parallel(other.surface.direction, surface.direction) &&
          graph.turn(other, other.surface.origin, other.surface.direction) > BROKEN_TURN,
      ),
  );
}
