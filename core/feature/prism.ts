/** Features with flat walls: slotted holes, pockets, slots, steps, bosses, grooves, ribs. */
import type { Cylinder, Face, Plane } from '#core/solid';
import { add, distance, dot, negate, normalize, scale, subtract, type Vec3 } from '#core/vector';

import { parallel, sameAxis, type FaceGraph, type On } from './graph.ts';

export interface SlottedHole {
  readonly kind: 'slotted-hole';
  /** Middle of the slot, and the directions of its depth and its length. */
  readonly origin: Vec3;
  readonly direction: Vec3;
  readonly along: Vec3;
  readonly widthMm: number;
  /** Over the round ends. */
  readonly lengthMm: number;
  readonly depthMm: number;
  readonly through: boolean;
  readonly faceIds: readonly number[];
}

export interface Boss {
  readonly kind: 'boss';
  readonly origin: Vec3;
  readonly direction: Vec3;
  readonly diameterMm: number;
  readonly heightMm: number;
  readonly faceIds: readonly number[];
}

export interface Pocket {
  readonly kind: 'pocket';
  readonly direction: Vec3;
  readonly depthMm: number;
  readonly through: boolean;
  readonly faceIds: readonly number[];
}

export interface Slot {
  readonly kind: 'slot';
  readonly direction: Vec3;
  readonly widthMm: number;
  readonly depthMm: number;
  readonly faceIds: readonly number[];
}

export interface Step {
  readonly kind: 'step';
  readonly direction: Vec3;
  readonly depthMm: number;
  readonly faceIds: readonly number[];
}

export interface Groove {
  readonly kind: 'groove';
  readonly origin: Vec3;
  readonly direction: Vec3;
  /** Of its floor. */
  readonly diameterMm: number;
  readonly widthMm: number;
  readonly depthMm: number;
  readonly internal: boolean;
  readonly faceIds: readonly number[];
}

export interface Rib {
  readonly kind: 'rib';
  readonly thicknessMm: number;
  readonly faceIds: readonly number[];
}

/** Two parallel half turns of one radius, joined smoothly by two flat sides. */
export function findSlottedHoles(graph: FaceGraph): SlottedHole[] {
  const ends = graph.cylinders('concave').filter(({ face, surface }) => {
    const turn = graph.turn(face, surface.origin, surface.direction);
    return turn > 0.45 && turn < 0.55;
  });
  const found: SlottedHole[] = [];
  const used = new Set<number>();
  for (const a of ends)
    for (const b of ends) {
      if (b.face.id <= a.face.id || used.has(a.face.id) || used.has(b.face.id)) continue;
      if (!parallel(a.surface.direction, b.surface.direction)) continue;
      if (Math.abs(a.surface.radiusMm - b.surface.radiusMm) > 2 * graph.toleranceMm) continue;
      const sides = smoothFlats(graph, a).filter((side) => smoothFlats(graph, b).some((other) => other.id === side.id));
      if (sides.length < 2) continue;
      used.add(a.face.id).add(b.face.id);
      const { direction, radiusMm } = a.surface;
      const run = subtract(b.surface.origin, a.surface.origin);
      const flat = subtract(run, scale(direction, dot(run, direction)));
      const [from, to] = graph.span(a.face, a.surface.origin, direction);
      const floor = floorOf(graph, a, sides);
      found.push({
        kind: 'slotted-hole',
        origin: add(add(a.surface.origin, scale(direction, (from + to) / 2)), scale(flat, 0.5)),
        direction,
        along: normalize(flat),
        widthMm: 2 * radiusMm,
        lengthMm: Math.sqrt(dot(flat, flat)) + 2 * radiusMm,
        depthMm: to - from,
        through: floor === null,
        faceIds: [a.face.id, b.face.id, ...sides.map((side) => side.id), ...(floor === null ? [] : [floor.id])],
      });
    }
  return found;
}

const smoothFlats = (graph: FaceGraph, { face }: On<Cylinder>): Face[] =>
  graph
    .around(face)
    .filter(({ edge, face: other }) => edge.convexity === 'smooth' && other.surface.kind === 'plane')
    .map((beyond) => beyond.face);

function floorOf(graph: FaceGraph, end: On<Cylinder>, sides: readonly Face[]): Face | null {
  const floor = graph
    .around(end.face)
    .find(
      ({ edge, face }) =>
        edge.convexity === 'concave' &&
        face.surface.kind === 'plane' &&
        parallel(face.surface.normal, end.surface.direction) &&
        graph.around(face).some((next) => sides.some((side) => side.id === next.face.id)),
    );
  return floor?.face ?? null;
}

/** Round bosses: an outer wall that stands on a flat face and ends in another. */
export function findBosses(graph: FaceGraph): Boss[] {
  return graph.cylinders('convex').flatMap(({ face, surface }): Boss[] => {
    if (graph.turn(face, surface.origin, surface.direction) < 1) return [];
    const foot = endAt(graph, face, surface, 'concave');
    const top = endAt(graph, face, surface, 'convex');
    if (foot === null || top === null || foot.plane.id === top.plane.id) return [];
    const up = top.at > foot.at ? surface.direction : negate(surface.direction);
    return [
      {
        kind: 'boss',
        origin: add(surface.origin, scale(surface.direction, foot.at)),
        direction: up,
        diameterMm: 2 * surface.radiusMm,
        heightMm: Math.abs(top.at - foot.at),
        faceIds: [face.id, top.plane.id],
      },
    ];
  });
}

/** The flat face at an end of a wall, looked for behind a small round or chamfer too. */
function endAt(
  graph: FaceGraph,
  wall: Face,
  { origin, direction }: Cylinder,
  convexity: 'convex' | 'concave',
): { readonly plane: Face; readonly at: number } | null {
  const square = (face: Face): boolean => face.surface.kind === 'plane' && parallel(face.surface.normal, direction);
  const place = (plane: Face): { plane: Face; at: number } => ({
    plane,
    at: plane.surface.kind === 'plane' ? dot(subtract(plane.surface.origin, origin), direction) : 0,
  });
  for (const { edge, face } of graph.around(wall)) {
    if (edge.convexity === convexity && square(face)) return place(face);
    const blend =
      (face.surface.kind === 'torus' && face.surface.side === convexity) ||
      (face.surface.kind === 'cone' && edge.convexity === convexity);
    if (!blend) continue;
    const behind = graph.around(face).find((next) => next.face.id !== wall.id && square(next.face));
    if (behind) return place(behind.face);
  }
  return null;
}

/** Ring-shaped channels in a turned wall: a floor between two facing shoulders. */
export function findGrooves(graph: FaceGraph): Groove[] {
  return graph.cylinders().flatMap(({ face, surface }): Groove[] => {
    if (graph.turn(face, surface.origin, surface.direction) < 1) return [];
    const shoulders = graph
      .around(face)
      .flatMap(({ edge, face: other }) =>
        edge.convexity === 'concave' &&
        other.surface.kind === 'plane' &&
        parallel(other.surface.normal, surface.direction)
          ? [{ face: other, normal: other.surface.normal }]
          : [],
      );
    const [a] = shoulders;
    const b = a && shoulders.find(({ normal }) => dot(normal, a.normal) < -0.999);
    if (!a || !b) return [];
    const [from, to] = graph.span(face, surface.origin, surface.direction);
    const walls = [a, b].flatMap((shoulder) =>
      graph
        .around(shoulder.face)
        .flatMap(({ face: other }) =>
          other.id !== face.id &&
          other.surface.kind === 'cylinder' &&
          other.surface.side === surface.side &&
          sameAxis(other.surface, surface, 2 * graph.toleranceMm)
            ? [Math.abs(other.surface.radiusMm - surface.radiusMm)]
            : [],
        ),
    );
    if (walls.length < 1) return [];
    return [
      {
        kind: 'groove',
        origin: add(surface.origin, scale(surface.direction, (from + to) / 2)),
        direction: surface.direction,
        diameterMm: 2 * surface.radiusMm,
        widthMm: to - from,
        depthMm: Math.min(...walls),
        internal: surface.side === 'concave',
        faceIds: [face.id, a.face.id, b.face.id],
      },
    ];
  });
}

interface Wall {
  readonly face: Face;
  readonly normal: Vec3;
  readonly lengthMm: number;
}

/** Pockets, slots and steps by their floors: flat faces with concave edges to walls that stand on them. */
export function findRecesses(graph: FaceGraph, taken: ReadonlySet<number>): (Pocket | Slot | Step)[] {
  const floors = graph.planes().flatMap(({ face, surface }): (Pocket | Slot | Step)[] => {
    if (taken.has(face.id)) return [];
    const walls = wallsOn(graph, face, surface);
    if (walls.length === 0 || walls.some((wall) => taken.has(wall.face.id))) return [];
    const direction = negate(surface.normal);
    const heights = walls.map((wall) => {
      const [from, to] = graph.span(wall.face, surface.origin, surface.normal);
      return Math.max(Math.abs(from), to);
    });
    const faceIds = [face.id, ...walls.map((wall) => wall.face.id)];
    const depthMm = Math.min(...heights);
    const around = graph.edgesOf(face).reduce((sum, edge) => sum + edge.lengthMm, 0);
    const walled = walls.reduce((sum, wall) => sum + wall.lengthMm, 0);
    if (walled > 0.98 * around) return [{ kind: 'pocket', direction, depthMm, through: false, faceIds }];
    const facing = walls.flatMap((a, i) =>
      walls
        .slice(i + 1)
        .flatMap((b) => (dot(a.normal, b.normal) < -0.999 && facesInward(a, b) ? [[a, b] as const] : [])),
    );
    const [pair] = facing;
    if (pair) {
      const widthMm = Math.abs(dot(subtract(pair[1].face.centroid, pair[0].face.centroid), pair[0].normal));
      return [{ kind: 'slot', direction, widthMm, depthMm, faceIds }];
    }
    return [{ kind: 'step', direction, depthMm, faceIds }];
  });
  return [...floors, ...throughPockets(graph, taken)];
}

const facesInward = (a: Wall, b: Wall): boolean => dot(subtract(b.face.centroid, a.face.centroid), a.normal) > 0;

/** Flat walls that meet a floor at a concave edge, or behind a concave round, square to it. */
function wallsOn(graph: FaceGraph, floor: Face, surface: Plane): Wall[] {
  return graph.around(floor).flatMap(({ edge, face }): Wall[] => {
    const standing = (other: Face): Wall[] =>
      other.surface.kind === 'plane' && Math.abs(dot(other.surface.normal, surface.normal)) < 0.5
        ? [{ face: other, normal: other.surface.normal, lengthMm: edge.lengthMm }]
        : [];
    if (edge.convexity === 'concave') return standing(face);
    const blend = edge.convexity === 'smooth' && face.surface.kind === 'cylinder' && face.surface.side === 'concave';
    if (!blend) return [];
    return graph
      .around(face)
      .filter((next) => next.face.id !== floor.id && next.edge.convexity === 'smooth')
      .slice(0, 1)
      .flatMap((next) => standing(next.face));
  });
}

/** Windows: closed rings of inner walls along one direction, without a floor. */
function throughPockets(graph: FaceGraph, taken: ReadonlySet<number>): Pocket[] {
  const found: Pocket[] = [];
  const done = new Set<number>(taken);
  for (const { face, surface } of graph.planes()) {
    if (done.has(face.id)) continue;
    for (const { edge } of graph.around(face)) {
      if (edge.curve !== 'line' || edge.lengthMm === 0) continue;
      const direction = normalize(subtract(edge.end, edge.start));
      if (Math.abs(dot(direction, surface.normal)) > 1e-3) continue;
      const ring = ringAlong(graph, face, direction, done);
      if (ring === null) continue;
      for (const member of ring) done.add(member.id);
      const [from, to] = graph.span(face, face.centroid, direction);
      found.push({ kind: 'pocket', direction, depthMm: to - from, through: true, faceIds: ring.map(({ id }) => id) });
      break;
    }
  }
  return found;
}

/** The faces reached over concave or inwardly rounded edges along a direction, if they close to a ring of their own. */
function ringAlong(graph: FaceGraph, start: Face, direction: Vec3, taken: ReadonlySet<number>): Face[] | null {
  const ring = [start];
  for (const member of ring) {
    const links = graph.around(member).filter(({ edge, face }) => {
      const upright =
        edge.curve === 'line' && edge.lengthMm > 0 && parallel(normalize(subtract(edge.end, edge.start)), direction);
      const inner =
        edge.convexity === 'concave' || (edge.convexity === 'smooth' && (isHollow(member) || isHollow(face)));
      return upright && inner;
    });
    if (new Set(links.map((link) => link.face.id)).size < 2) return null;
    for (const { face } of links) {
      if (taken.has(face.id)) return null;
      if (!ring.some((known) => known.id === face.id)) ring.push(face);
      if (ring.length > 60) return null;
    }
    const ends = graph.around(member).filter(({ face }) => !links.some((link) => link.face.id === face.id));
    if (ends.some(({ edge }) => edge.convexity === 'concave')) return null;
  }
  return ring.length >= 3 ? ring : null;
}

const isHollow = (face: Face): boolean => face.surface.kind === 'cylinder' && face.surface.side === 'concave';

/** Share of the width of its faces below which a wall is a rib. */
const RIB_SHARE = 0.3;

/** Thin walls that join others: two flat sides back to back, both with concave edges to at least two faces. */
export function findRibs(graph: FaceGraph): Rib[] {
  const planes = graph.planes();
  const rooted = (face: Face): number =>
    new Set(
      graph
        .around(face)
        .filter(
          ({ edge, face: other }) => edge.convexity === 'concave' || (edge.convexity === 'smooth' && isHollow(other)),
        )
        .map(({ face: other }) => other.id),
    ).size;
  const found: Rib[] = [];
  const used = new Set<number>();
  for (const a of planes)
    for (const b of planes) {
      if (b.face.id <= a.face.id || used.has(a.face.id) || used.has(b.face.id)) continue;
      if (dot(a.surface.normal, b.surface.normal) > -0.9999) continue;
      const thicknessMm = dot(subtract(a.surface.origin, b.surface.origin), a.surface.normal);
      const alike = a.face.areaMm2 / b.face.areaMm2;
      if (thicknessMm <= 0 || alike < 0.8 || alike > 1.25) continue;
      const sideways = subtract(a.face.centroid, b.face.centroid);
      const shift = distance(sideways, scale(a.surface.normal, dot(sideways, a.surface.normal)));
      const width = Math.sqrt(a.face.areaMm2);
      if (shift > 0.2 * width || thicknessMm > RIB_SHARE * width || rooted(a.face) < 2 || rooted(b.face) < 2) continue;
      used.add(a.face.id).add(b.face.id);
      found.push({ kind: 'rib', thicknessMm, faceIds: [a.face.id, b.face.id] });
    }
  return found;
}
