/** Flat faces whose corners all lie on a round surface, as those of a flat on a shaft do. */
import type { Shape } from '#core/fit';
import { cross, dot, normalize, perpendicular, subtract, type Vec3 } from '#core/vector';

import type { FacetMesh } from './facets.ts';

/** A facet this many times as wide as the widest of the others was not cut to the same fineness. */
const OUT_OF_PROPORTION = 1.6;
/** What is left of a cylinder when its flats are taken away has at least so many facets. */
const FEWEST_FACETS = 5;
/** How many flats a shaft may have: two, a square, a hexagon. */
const MOST_FLATS = 6;

/** The angle about an axis within which corners lie: the whole turn less the widest gap between two of them, rad. */
function widthAbout(points: readonly Vec3[], { origin, direction }: { origin: Vec3; direction: Vec3 }): number {
  const u = perpendicular(direction);
  const v = cross(normalize(direction), u);
  const angles = points
    .map((p) => subtract(p, origin))
    .map((w) => Math.atan2(dot(w, v), dot(w, u)))
    .sort((a, b) => a - b);
  const gaps = angles.map((angle, i) => (angles[i + 1] ?? (angles[0] ?? 0) + 2 * Math.PI) - angle);
  return 2 * Math.PI - Math.max(...gaps);
}

const widthOf = (mesh: FacetMesh, facet: number, shape: Extract<Shape, { kind: 'cylinder' }>): number =>
  widthAbout(mesh.cornersOf(mesh.facets[facet]?.triangles ?? []), shape);

/**
 * The facets among those of a cylinder that are flats. An exporter cuts a round surface into facets that are all about as
 * wide; a flat spans what its depth makes it span. The flats are parted from the facets where the widths jump: without
 * such a jump nothing is called a flat.
 */
export function flatsAmong(mesh: FacetMesh, shape: Shape, facets: readonly number[]): readonly number[] {
  if (shape.kind !== 'cylinder') return [];
  const wide = facets.map((facet) => ({ facet, width: widthOf(mesh, facet, shape) })).sort((a, b) => b.width - a.width);
  const jump = wide.findIndex(({ width }, i) => width > OUT_OF_PROPORTION * (wide[i + 1]?.width ?? width));
  if (jump < 0 || jump >= MOST_FLATS || wide.length - jump - 1 < FEWEST_FACETS) return [];
  return wide.slice(0, jump + 1).map(({ facet }) => facet);
}

/** Whether a facet is too wide to belong to a cylinder, beside the facets that do. */
export function widerThan(mesh: FacetMesh, shape: Shape, facets: readonly number[]): (facet: number) => boolean {
  if (shape.kind !== 'cylinder' || facets.length < FEWEST_FACETS) return () => false;
  let most: number | null = null;
  return (facet) => {
    most ??= OUT_OF_PROPORTION * Math.max(...facets.map((own) => widthOf(mesh, own, shape)));
    return widthOf(mesh, facet, shape) > most;
  };
}
