/** What surface may go through a facet and those around it: guesses, which growing confirms or refutes. */
import {
  axisOfNormals,
  centroidOf,
  cylinderAlong,
  planeThrough,
  refine,
  residualOf,
  solve,
  sphereThrough,
  torusAbout,
  type Shape,
} from '#core/fit';
import type { Axis } from '#core/solid';
import { cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/vector';

import type { FacetMesh } from './facets.ts';
import type { LooseFacets } from './loose.ts';
import { bandOf, farthestRow, isSameRow, rowOf, rowsOf, sample, spread, type Row } from './profile.ts';

/** How far the facets of a cylinder may lean along it, rad. */
const MOST_SLANT = 0.05;

/** A cylinder whose facets run along it: the side between two of them is one of its rulings. */
export function cylinderAt(loose: LooseFacets, facet: number): Shape | null {
  const { mesh } = loose;
  for (const { facet: other, along, cosine } of loose.smoothAround(facet).slice(0, 3)) {
    if (cosine > 1 - 1e-9) continue;
    const near = neighborhoodAlong(loose, facet, other, along);
    const found = cylinderAlong(along, mesh.cornersOfFacets(near));
    if (found !== null && found.residual <= 2 * mesh.tolerance && found.shape.kind === 'cylinder') return found.shape;
  }
  return null;
}

/** The pair and the next facets around the axis, where their normals stay at right angles to it. */
function neighborhoodAlong(loose: LooseFacets, a: number, b: number, axis: Vec3): number[] {
  const { mesh } = loose;
  const near = new Set([a, b]);
  const turn = dot(mesh.facets[a]!.normal, mesh.facets[b]!.normal);
  for (const f of [a, b])
    for (const { facet: g, cosine } of loose.smoothAround(f))
      if (Math.abs(dot(mesh.facets[g]!.normal, axis)) < 1e-3 && Math.abs(cosine - turn) < 0.3 * (1 - turn)) near.add(g);
  return [...near];
}

/** A cylinder whose facets do not run along it, because its two rims were cut up differently. */
export function slantedCylinderAt(loose: LooseFacets, facet: number): Shape | null {
  const { mesh } = loose;
  const near = loose.neighborhood(facet, 2, 24);
  const normals = near.map((f) => mesh.facets[f]!.normal);
  if (normals.length < 4) return null;
  const across = planeThrough([...normals, ...normals.map((n) => scale(n, -1))]);
  if (across.kind !== 'plane' || normals.some((n) => Math.abs(dot(n, across.normal)) > MOST_SLANT)) return null;
  const points = mesh.cornersOfFacets(near);
  const found = cylinderAlong(across.normal, points);
  if (found?.shape.kind !== 'cylinder' || found.residual > MOST_SLANT * found.shape.radius) return null;
  const fit = refine(found.shape, points, { sizeMm: mesh.sizeMm, noise: mesh.noise });
  return fit.residual <= mesh.tolerance ? fit.shape : null;
}

/** A ball through the corners around a facet. */
export function sphereAt(loose: LooseFacets, facet: number): Shape | null {
  const { mesh } = loose;
  const near = loose.neighborhood(facet, 2, 24);
  const points = mesh.cornersOfFacets(near);
  if (points.length < 7) return null;
  const found = sphereThrough(points);
  if (found === null || found.residual > mesh.tolerance || spread(points) < 1e-4) return null;
  // Two circles lie on a ball as well as on a cylinder or cone; the simpler explanation is one of these.
  const isSimpler = [cylinderAt, coneAt].some((guess) => {
    const other = guess(loose, facet);
    return (
      other !== null && refine(other, points, { sizeMm: mesh.sizeMm, noise: mesh.noise }).residual <= mesh.tolerance
    );
  });
  return isSimpler ? null : found.shape;
}

/** A ring, cone or cylinder about one of the axes that are known, by the circles that the corners lie on. */
export function revolvedAt(loose: LooseFacets, facet: number, axes: readonly Axis[]): Shape | null {
  const { mesh } = loose;
  const [near, wide] = [
    mesh.cornersOfFacets(loose.neighborhood(facet, 2, 32)),
    mesh.cornersOfFacets(loose.neighborhood(facet, 6, 90)),
  ];
  if (near.length < 6) return null;
  const likely = axesFaced(mesh, facet, axes);
  for (const points of [near, wide])
    for (const { origin, direction } of likely) {
      const found = torusAbout(origin, direction, points);
      if (found === null || found.residual > mesh.tolerance) continue;
      const rows = rowsOf({ origin, direction }, points, mesh.tolerance);
      if (rows.length >= 4 && !isStraight(mesh, rows)) return found.shape;
    }
  // Two circles are a cone only where nothing wider around them says more.
  for (const points of [wide, near])
    for (const { origin, direction } of likely) {
      const rows = points.map((p) => rowOf(origin, direction, p));
      const [first = [0, 0], last] = [rows[0], farthestRow(rows)];
      if (isSameRow(first, last, mesh.tolerance)) continue;
      const band = isStraight(mesh, rows)
        ? bandOf(origin, direction, { a: first, b: last, tolerance: mesh.tolerance })
        : null;
      if (band !== null) return band;
    }
  return null;
}

/**
 * A cylinder or cone about a known axis through the two circles that the corners of a facet lie on, and those of facets
 * beside it. It needs no more than one strip, so it may also be a strip of a ring.
 */
export function bandAt(loose: LooseFacets, facet: number, axes: readonly Axis[]): Shape | null {
  const { mesh } = loose;
  const corners = mesh.cornersOfFacets([facet]);
  for (const { origin, direction } of axesFaced(mesh, facet, axes)) {
    const [lower, upper, more] = rowsOf({ origin, direction }, corners, mesh.tolerance, 3);
    if (lower === undefined || upper === undefined || more !== undefined) continue;
    const isOnBoth = (p: Vec3): boolean => {
      const row = rowOf(origin, direction, p);
      return [lower, upper].some((other) => isSameRow(other, row, mesh.tolerance));
    };
    const beside = loose.smoothAround(facet).filter((other) => mesh.cornersOfFacets([other.facet]).every(isOnBoth));
    if (beside.length < 2) continue;
    const band = bandOf(origin, direction, { a: lower, b: upper, tolerance: mesh.tolerance });
    if (band !== null) return band;
  }
  return null;
}

/** The axes that a facet looks toward or away from, as all facets of a surface of revolution do. */
function axesFaced(mesh: FacetMesh, facet: number, axes: readonly Axis[]): readonly Axis[] {
  const { normal, triangles } = mesh.facets[facet]!;
  const middle = centroidOf(mesh.cornersOf(triangles));
  return axes.filter(({ origin, direction }) => {
    const lever = cross(subtract(middle, origin), direction);
    return Math.abs(dot(lever, normal)) <= 0.3 * length(lever) + mesh.tolerance;
  });
}

function isStraight(mesh: FacetMesh, rows: readonly Row[]): boolean {
  const [first, last] = [rows[0] ?? [0, 0], farthestRow(rows)];
  const [dr, dz] = [last[0] - first[0], last[1] - first[1]];
  const limit = mesh.tolerance * Math.hypot(dr, dz);
  return rows.every(([r, z]) => Math.abs((r - first[0]) * dz - (z - first[1]) * dr) <= limit);
}

/** The planes of three neighboring strips of a cone meet in its apex, and its rulings make one angle with the axis. */
export function coneAt(loose: LooseFacets, facet: number): Shape | null {
  const { mesh } = loose;
  const near = loose.smoothAround(facet).filter(({ cosine }) => cosine < 1 - 1e-9);
  for (let i = 0; i < Math.min(3, near.length); i++)
    for (let j = i + 1; j < Math.min(4, near.length); j++) {
      const trio = [facet, near[i]!.facet, near[j]!.facet];
      const planes = trio.map((f) => mesh.facets[f]!);
      const apex = solve(
        planes.map(({ normal }) => normal),
        planes.map(({ normal, triangles }) => dot(normal, mesh.corner(triangles[0] ?? 0, 0))),
      );
      if (apex === null) continue;
      const tip: Vec3 = [apex[0] ?? 0, apex[1] ?? 0, apex[2] ?? 0];
      const points = mesh.cornersOfFacets(trio).filter((p) => length(subtract(p, tip)) > 10 * mesh.tolerance);
      const rulings = points.map((p) => normalize(subtract(p, tip)));
      const plane = planeThrough(rulings);
      if (plane.kind !== 'plane' || rulings.length < 4) continue;
      const along = dot(plane.normal, rulings[0] ?? plane.normal);
      const direction = along < 0 ? scale(plane.normal, -1) : plane.normal;
      const shape: Shape = { kind: 'cone', apex: tip, direction, halfAngle: Math.acos(Math.min(1, Math.abs(along))) };
      if (residualOf(shape, points) > 100 * mesh.tolerance) continue;
      const fit = refine(shape, points, { sizeMm: mesh.sizeMm, noise: mesh.noise });
      if (fit.residual <= mesh.tolerance) return fit.shape;
    }
  return null;
}

/** A ring about an axis of its own, to which all normals point. */
export function freeTorusAt(loose: LooseFacets, facet: number): Shape | null {
  const { mesh } = loose;
  const near = loose.neighborhood(facet, 3, 60);
  const points = mesh.cornersOfFacets(near);
  if (points.length < 12) return null;
  const triangles = near.flatMap((f) => mesh.facets[f]?.triangles ?? []);
  const axis = axisOfNormals(
    triangles.map((t) => mesh.middle(t)),
    triangles.map((t) => mesh.normal(t)),
  );
  if (axis === null) return null;
  const start = torusAbout(axis.origin, axis.direction, points);
  const reach = Math.max(...points.map((p) => length(subtract(p, points[0] ?? p))));
  if (start === null || start.residual > 0.02 * reach + 10 * mesh.tolerance) return null;
  if (start.shape.kind !== 'torus' || start.shape.minor > 3 * mesh.sizeMm || start.shape.major > 10 * mesh.sizeMm)
    return null;
  const fit = refine(start.shape, sample(points, 60), { sizeMm: mesh.sizeMm, noise: mesh.noise, rounds: 15 });
  return residualOf(fit.shape, points) <= mesh.tolerance ? fit.shape : null;
}
