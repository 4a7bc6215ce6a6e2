/** Features of the whole part: the axis of a turned body, planes of symmetry, threads. */
import { axisOf, type Axis, type Edge, type Solid } from '#core/solid';
import {
  boxDiagonal,
  cross,
  distance,
  distanceToLine,
  dot,
  extremes,
  length,
  negate,
  normalize,
  perpendicular,
  scale,
  subtract,
  symmetricAxes,
  type Vec3,
} from '#core/vector';

import { parallel, sameAxis, turnsAbout, type FaceGraph } from './graph.ts';

export interface TurnedBody {
  readonly kind: 'turned-body';
  readonly origin: Vec3;
  readonly direction: Vec3;
  /** Share of the surface that turns about the axis. */
  readonly share: number;
  readonly faceIds: readonly number[];
}

export interface SymmetryPlane {
  readonly kind: 'symmetry-plane';
  readonly origin: Vec3;
  readonly normal: Vec3;
  readonly faceIds: readonly number[];
}

export interface Thread {
  readonly kind: 'thread';
  readonly origin: Vec3;
  readonly direction: Vec3;
  readonly majorDiameterMm: number;
  readonly lengthMm: number;
  readonly pitchMm: number;
  readonly internal: boolean;
  readonly faceIds: readonly number[];
}

const TURNED_SHARE = 0.8;

/** The axis about which most of the surface turns, where an outer wall is among it. */
export function findTurnedBody(graph: FaceGraph): TurnedBody[] {
  const { faces } = graph.solid;
  const total = faces.reduce((sum, face) => sum + face.areaMm2, 0);
  const axes: Axis[] = [];
  for (const face of faces) {
    const axis = axisOf(face.surface);
    if (axis && !axes.some((known) => sameAxis(known, axis, 2 * graph.toleranceMm))) axes.push(axis);
  }
  const candidates = axes.map((axis) => {
    const turning = faces.filter((face) => turnsAbout(face.surface, axis, 2 * graph.toleranceMm));
    const outer = turning.some(
      (face) =>
        'side' in face.surface && face.surface.side === 'convex' && graph.turn(face, axis.origin, axis.direction) === 1,
    );
    return { axis, turning, outer, share: turning.reduce((sum, face) => sum + face.areaMm2, 0) / total };
  });
  return candidates
    .filter(({ outer, share }) => outer && share > TURNED_SHARE)
    .sort((a, b) => b.share - a.share)
    .slice(0, 1)
    .map(({ axis, turning, share }) => ({
      kind: 'turned-body',
      origin: axis.origin,
      direction: axis.direction,
      share,
      faceIds: turning.map((face) => face.id),
    }));
}

/** Planes through the center of mass about which every face has a twin. */
export function findSymmetryPlanes(solid: Solid): SymmetryPlane[] {
  const { centroidMm: origin, inertiaMm5 } = solid.massProperties;
  const candidates: Vec3[] = [];
  const propose = (normal: Vec3): void => {
    if (length(normal) > 0.5 && !candidates.some((known) => parallel(known, normal))) candidates.push(normal);
  };
  for (const axis of [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ] as const)
    propose(axis);
  for (const { direction } of symmetricAxes(inertiaMm5)) propose(direction);
  for (const { surface } of [...solid.faces].sort((a, b) => b.areaMm2 - a.areaMm2).slice(0, 12))
    if (surface.kind === 'plane') propose(surface.normal);
  return candidates
    .filter((normal) => isSymmetric(solid, origin, normal))
    .map((normal) => ({ kind: 'symmetry-plane', origin, normal, faceIds: [] }));
}

/** Whether every face of a solid has a twin of its kind and area at the mirrored place. */
export function isSymmetric(solid: Solid, origin: Vec3, normal: Vec3): boolean {
  const diagonal = boxDiagonal(solid.bounds);
  const loose = solid.faces.some((face) => face.uncertaintyMm > 0);
  // Facets of twins need not be twins: centers of gravity of faces differ by a little.
  const tolerance = diagonal * (loose ? 3e-3 : 1e-5);
  const share = loose ? 0.02 : 1e-5;
  return solid.faces.every((face) => {
    const mirrored = mirroredPoint(face.centroid, origin, normal);
    return solid.faces.some(
      (twin) =>
        twin.surface.kind === face.surface.kind &&
        Math.abs(twin.areaMm2 - face.areaMm2) <= share * face.areaMm2 + tolerance ** 2 &&
        distance(twin.centroid, mirrored) < tolerance,
    );
  });
}

/** A point mirrored at the plane through `origin` across the unit vector `normal`, mm. */
export const mirroredPoint = (point: Vec3, origin: Vec3, normal: Vec3): Vec3 =>
  subtract(point, scale(normal, 2 * dot(subtract(point, origin), normal)));

interface Helix {
  readonly edge: Edge;
  readonly axis: Axis;
  readonly radius: number;
  readonly pitch: number;
}

/** Zones of helical faces: found by their edges, which climb evenly about an axis at one radius. */
export function findThreads(graph: FaceGraph): Thread[] {
  const wound = graph.solid.edges.filter((edge) => edge.curve === 'other' && graph.pointsOfEdge(edge).length >= 12);
  if (wound.length === 0) return [];
  const axes = axesForThreads(graph);
  const helices = wound.flatMap((edge) => helixOf(graph, edge, axes) ?? []);
  const groups: Helix[][] = [];
  for (const helix of helices) {
    const group = groups.find(([first]) => first && sameAxis(first.axis, helix.axis, 0.05));
    if (group) group.push(helix);
    else groups.push([helix]);
  }
  return groups.flatMap((group) => threadOf(graph, group) ?? []);
}

function axesForThreads(graph: FaceGraph): Axis[] {
  const axes: Axis[] = [];
  const note = (axis: Axis | null): void => {
    if (axis && axes.length < 12 && !axes.some((known) => sameAxis(known, axis, 0.02))) axes.push(axis);
  };
  for (const face of graph.solid.faces) note(axisOf(face.surface));
  // A bolt whose shank is all thread has flat ends, round in outline, that stand square to its axis.
  for (const { face, surface } of graph.planes()) note({ origin: face.centroid, direction: surface.normal });
  return axes;
}

function helixOf(graph: FaceGraph, edge: Edge, axes: readonly Axis[]): Helix | null {
  const points = graph.pointsOfEdge(edge);
  for (const axis of axes) {
    const radii = points.map((p) => distanceToLine(p, axis.origin, axis.direction));
    const radius = radii.reduce((sum, r) => sum + r, 0) / radii.length;
    if (radius < 1e-3 || radii.some((r) => Math.abs(r - radius) > 0.01 * radius + 1e-3)) continue;
    const u = perpendicular(axis.direction);
    const v = cross(axis.direction, u);
    let turned = 0;
    let last: number | null = null;
    const track = points.map((p) => {
      const w = subtract(p, axis.origin);
      const angle = Math.atan2(dot(w, v), dot(w, u));
      if (last !== null) turned += Math.atan2(Math.sin(angle - last), Math.cos(angle - last));
      last = angle;
      return [turned, dot(w, axis.direction)] as const;
    });
    const [first, end] = [track[0], track[track.length - 1]];
    if (!first || !end || Math.abs(end[0]) < Math.PI) continue;
    const climb = (end[1] - first[1]) / end[0];
    const even = track.every(([angle, z]) => Math.abs(z - first[1] - climb * angle) < 0.02 * radius + 0.01);
    if (even && Math.abs(climb) > 1e-3) return { edge, axis, radius, pitch: Math.abs(climb) * 2 * Math.PI };
  }
  return null;
}

function threadOf(graph: FaceGraph, group: readonly Helix[]): Thread | null {
  const [first] = group;
  if (!first) return null;
  const ids = new Set(group.flatMap(({ edge }) => edge.faceIds));
  const faces = graph.solid.faces.filter((face) => ids.has(face.id));
  const { axis } = first;
  const rims = faces.flatMap((face) => [...graph.rim(face)]);
  const radii = rims.map((p) => distanceToLine(p, axis.origin, axis.direction));
  const along = rims.map((p) => dot(subtract(p, axis.origin), axis.direction));
  // Inside a nut the flanks look toward the axis: more of the part lies beyond the thread than within it.
  const [, outermost] = extremes(
    graph.solid.faces.flatMap((face) => graph.rim(face).map((p) => distanceToLine(p, axis.origin, axis.direction))),
  );
  const [, major] = extremes(radii);
  const walls = graph.solid.faces.filter(
    (face) =>
      face.surface.kind === 'cylinder' &&
      sameAxis(face.surface, axis, 0.05) &&
      graph.around(face).some((b) => ids.has(b.face.id)),
  );
  const internal = walls.some((face) => face.surface.kind === 'cylinder' && face.surface.side === 'concave');
  const [start, end] = extremes(along);
  return {
    kind: 'thread',
    origin: axis.origin,
    direction: start < 0 ? negate(axis.direction) : normalize(axis.direction),
    majorDiameterMm: 2 * major,
    lengthMm: end - start,
    pitchMm: first.pitch,
    internal: internal || (walls.length === 0 && outermost > 1.5 * major),
    faceIds: faces.map((face) => face.id),
  };
}
