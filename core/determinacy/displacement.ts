import { distanceTo } from '#core/fit';
import { anchorsOf } from '#core/plan';
import type { NamedSurfaces } from '#core/recipe';
import { shapeOf, axisOf, type Axis, type Solid, type Surface } from '#core/solid';
import { ARITHMETIC_MM, BUILT_PARALLEL_SINE, SAME_PLACE_MM } from '#core/tolerance';
import { cross, distance, distanceToLine, dot, length, pointAt, subtract, type Vec3 } from '#core/vector';

/** A named surface of the part, with points of its faces. */
export interface Sampled {
  readonly name: string;
  readonly surface: Surface;
  readonly faceIds: readonly number[];
  readonly points: readonly Vec3[];
}

const MOST_POINTS = 12;

/** The named surfaces that are on a part, with some points of each. */
export function sampled(solid: Solid, surfaces: NamedSurfaces): readonly Sampled[] {
  return anchorsOf(solid, surfaces).map(({ name, surface, faceIds }) => {
    const corners = solid.mesh.groups
      .filter(({ faceId }) => faceIds.includes(faceId))
      .flatMap(({ start, count }) => Array.from({ length: count }, (_, i) => solid.mesh.indices[start + i] ?? 0));
    const own = [...new Set(corners)];
    const every = Math.max(1, Math.floor(own.length / MOST_POINTS));
    return {
      name,
      surface,
      faceIds,
      points: own.filter((_, i) => i % every === 0).map((i) => pointAt(solid.mesh.positions, i)),
    };
  });
}

/** How far a surface moved off the points of its faces, mm; infinite where it is another kind of surface. */
export function displacementMm({ surface, points }: Sampled, then: Surface | undefined): number {
  const shape = then === undefined || then.kind !== surface.kind ? null : shapeOf(then);
  if (shape === null) return then?.kind === 'freeform' ? 0 : Infinity;
  return Math.max(0, ...points.map((point) => Math.abs(distanceTo(shape, point))));
}

/** How far a flat face or an axis moved along the axes of the part, mm; null for what has no one place. */
export function shiftMm(from: Surface, to: Surface): Vec3 | null {
  if (from.kind === 'plane' && to.kind === 'plane') {
    const by = dot(subtract(to.origin, from.origin), from.normal);
    return [by * from.normal[0], by * from.normal[1], by * from.normal[2]];
  }
  if (from.kind === 'cylinder' && to.kind === 'cylinder') {
    const by = subtract(to.origin, from.origin);
    const along = dot(by, from.direction);
    return subtract(by, [along * from.direction[0], along * from.direction[1], along * from.direction[2]]);
  }
  return null;
}

/** Of faces that no step names, as rounds of many edges: the face of the other part in the same place of the list. */
const MOST_UNNAMED_MM = 0.5;

function unnamedMm(before: Solid, named: ReadonlySet<number>, after: Solid): number {
  const moved = before.faces.map(({ id, surface }) => {
    const then = after.faces[id]?.surface;
    const shape = named.has(id) || then?.kind !== surface.kind ? null : shapeOf(then);
    const group = before.mesh.groups.find(({ faceId }) => faceId === id);
    if (shape === null || group === undefined) return 0;
    const every = Math.max(1, Math.floor(group.count / MOST_POINTS));
    const points = Array.from({ length: Math.ceil(group.count / every) }, (_, i) =>
      pointAt(before.mesh.positions, before.mesh.indices[group.start + i * every] ?? 0),
    );
    return Math.max(...points.map((point) => Math.abs(distanceTo(shape, point))));
  });
  return Math.max(0, ...moved.filter((mm) => mm < MOST_UNNAMED_MM));
}

/** Two parts are one where each face of one has its like in the other, whatever the surfaces are called. */
const isSamePart = (a: Solid, b: Solid): boolean =>
  a.faces.length === b.faces.length &&
  a.faces.every((face) =>
    b.faces.some(
      (other) =>
        Math.abs(other.areaMm2 - face.areaMm2) < SAME_AREA_SHARE * face.areaMm2 &&
        distance(other.centroid, face.centroid) < ARITHMETIC_MM,
    ),
  );

const SAME_AREA_SHARE = 1e-9;

/**
 * How much a part differs from another that was built by the same steps, mm: the most that a surface moved, and what the
 * volume says of those without a formula.
 */
export function changeMm(
  before: { readonly solid: Solid; readonly samples: readonly Sampled[] },
  after: { readonly solid: Solid; readonly surfaces: NamedSurfaces },
): number {
  if (isSamePart(before.solid, after.solid)) return 0;
  const moved = before.samples.map((sample) => displacementMm(sample, after.surfaces.get(sample.name)));
  const { volumeMm3, areaMm2 } = before.solid.massProperties;
  const grown = Math.abs(after.solid.massProperties.volumeMm3 - volumeMm3) / areaMm2;
  if (after.solid.faces.length !== before.solid.faces.length) return Math.max(1, grown);
  const named = new Set(before.samples.flatMap(({ faceIds }) => faceIds));
  const unnamed = unnamedMm(before.solid, named, after.solid);
  return Math.max(grown, unnamed, ...moved.filter((mm) => Number.isFinite(mm)));
}

/**
 * Whether what moved turned about an axis that everything that stayed is round about: the part is the same, and lies
 * otherwise. Without faces that stay, nothing says so.
 */
export function turnsAsWhole(samples: readonly Sampled[], after: NamedSurfaces, faceCount: number): boolean {
  if (new Set(samples.flatMap(({ faceIds }) => faceIds)).size < faceCount) return false;
  const still = samples.filter((sample) => displacementMm(sample, after.get(sample.name)) < STAYS_MM);
  return still.some(({ surface }) => {
    const axis = axisOf(surface);
    return axis !== null && still.every((other) => isRoundAbout(other.surface, axis));
  });
}

const STAYS_MM = 1e-4;

function isRoundAbout(surface: Surface, { origin, direction }: Axis): boolean {
  if (surface.kind === 'plane') return length(cross(surface.normal, direction)) < BUILT_PARALLEL_SINE;
  const own = axisOf(surface);
  return (
    own !== null &&
    length(cross(own.direction, direction)) < BUILT_PARALLEL_SINE &&
    distanceToLine(own.origin, origin, direction) < SAME_PLACE_MM
  );
}
