/** Recognition on the face graph. This slice knows holes; a hole is a chain of coaxial inner walls. */
import type { Cylinder, Face, Solid } from '#core/solid';
import { cross, distanceToLine, dot, length, subtract, type Vec3 } from '#core/vector';

export interface Hole {
  readonly kind: 'hole';
  /** Point and unit vector of the axis, mm. */
  readonly origin: Vec3;
  readonly direction: Vec3;
  /** Of the narrowest wall. */
  readonly diameterMm: number;
  readonly depthMm: number;
  readonly through: boolean;
  /** Wider recess at one end, or null. */
  readonly counterbore: { readonly diameterMm: number; readonly depthMm: number } | null;
  readonly faceIds: readonly number[];
}

interface Wall {
  readonly face: Face;
  readonly surface: Cylinder;
}

const COAXIAL_MM = 1e-3;
const PARALLEL_SINE = 1e-5;
/** A wall counts as round all the way when it covers all but a ten-thousandth of its circle. */
const FULL_COVER = 1 - 1e-4;

export const coaxial = (a: Cylinder, b: Cylinder): boolean =>
  length(cross(a.direction, b.direction)) < PARALLEL_SINE &&
  distanceToLine(b.origin, a.origin, a.direction) < COAXIAL_MM;

/** Where a face begins and ends along a line, from its bounds seen along that line. */
export function spanAlong(solid: Solid, face: Face, origin: Vec3, direction: Vec3): readonly [number, number] {
  let from = Infinity;
  let to = -Infinity;
  for (const id of face.edgeIds) {
    const edge = solid.edges[id];
    if (edge === undefined || edge.joint === 'degenerate') continue;
    for (const point of [edge.start, edge.end]) {
      const at = dot(subtract(point, origin), direction);
      from = Math.min(from, at);
      to = Math.max(to, at);
    }
  }
  return [from, to];
}

/** Share of the full circle that a cylindrical face covers: 1 for a hole, 1/4 for the round of a square corner. */
export function circleCover(solid: Solid, face: Face): number {
  if (face.surface.kind !== 'cylinder') return 0;
  const { origin, direction, radiusMm } = face.surface;
  const [from, to] = spanAlong(solid, face, origin, direction);
  return to > from ? face.areaMm2 / (2 * Math.PI * radiusMm * (to - from)) : 0;
}

function touching(solid: Solid, a: Face, b: Face): boolean {
  return a.edgeIds.some((id) => b.edgeIds.includes(id) || bridged(solid, id, a, b));
}

/** Whether the face across edge `id` of `a` also borders `b`: the shoulder between a hole and its recess. */
function bridged(solid: Solid, id: number, a: Face, b: Face): boolean {
  const other = solid.edges[id]?.faceIds.find((faceId) => faceId !== a.id);
  const face = other === undefined ? undefined : solid.faces[other];
  return face?.surface.kind === 'plane' && solid.edges[id]?.joint !== 'smooth'
    ? face.edgeIds.length === 2 && face.edgeIds.some((edgeId) => b.edgeIds.includes(edgeId))
    : false;
}

/** Round holes of a solid with diameter, depth and axis, in the order of their faces. */
export function findHoles(solid: Solid): Hole[] {
  const walls: Wall[] = solid.faces.flatMap((face) =>
    face.surface.kind === 'cylinder' && face.surface.side === 'concave' ? [{ face, surface: face.surface }] : [],
  );
  const round = walls.filter(({ face }) => circleCover(solid, face) > FULL_COVER * 0.5);
  const groups: Wall[][] = [];
  for (const wall of round) {
    const group = groups.find((members) =>
      members.some((member) => coaxial(member.surface, wall.surface) && touching(solid, member.face, wall.face)),
    );
    if (group) group.push(wall);
    else groups.push([wall]);
  }
  return groups.flatMap((group) => holeOf(solid, group));
}

function holeOf(solid: Solid, group: readonly Wall[]): Hole[] {
  const narrowest = group.reduce((a, b) => (b.surface.radiusMm < a.surface.radiusMm ? b : a));
  const { origin, direction, radiusMm } = narrowest.surface;
  const same = group.filter((wall) => Math.abs(wall.surface.radiusMm - radiusMm) < COAXIAL_MM);
  if (same.reduce((sum, wall) => sum + circleCover(solid, wall.face), 0) < FULL_COVER) return [];
  const spans = group.map((wall) => spanAlong(solid, wall.face, origin, direction));
  const from = Math.min(...spans.map(([start]) => start));
  const to = Math.max(...spans.map(([, end]) => end));
  const wider = group.find((wall) => wall.surface.radiusMm > radiusMm + COAXIAL_MM);
  const recess = wider && spanAlong(solid, wider.face, origin, direction);
  return [
    {
      kind: 'hole',
      origin,
      direction,
      diameterMm: 2 * radiusMm,
      depthMm: to - from,
      through: !hasFloor(solid, narrowest),
      counterbore: wider && recess ? { diameterMm: 2 * wider.surface.radiusMm, depthMm: recess[1] - recess[0] } : null,
      faceIds: group.map((wall) => wall.face.id),
    },
  ];
}

/** A floor is a face across the end of the wall that the axis runs into: a full disk, or the tip of a cone. */
function hasFloor(solid: Solid, { face, surface }: Wall): boolean {
  return face.edgeIds.some((id) => {
    const edge = solid.edges[id];
    if (edge?.joint !== 'concave') return false;
    const other = solid.faces[edge.faceIds.find((faceId) => faceId !== face.id) ?? -1];
    if (other === undefined) return false;
    if (other.surface.kind === 'cone')
      return distanceToLine(other.surface.apex, surface.origin, surface.direction) < 1e-3;
    const disk = Math.PI * surface.radiusMm ** 2;
    return other.surface.kind === 'plane' && other.edgeIds.length === 1 && Math.abs(other.areaMm2 / disk - 1) < 1e-3;
  });
}
