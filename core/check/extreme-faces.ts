import { SAME_PLACE_MM, FLAT_ON_END_SINE } from '#core/tolerance';
import type { Solid } from '#core/solid';
import { cross, dot, length, type Vec3 } from '#core/vector';

/** Flat faces at the two ends of a solid along a direction. */
export function extremeFaceIds(solid: Solid, direction: Vec3): readonly number[] {
  const flat = solid.faces.flatMap(({ id, surface }) =>
    surface.kind === 'plane' && length(cross(surface.normal, direction)) < FLAT_ON_END_SINE
      ? [{ id, at: dot(surface.origin, direction), outward: dot(surface.normal, direction) }]
      : [],
  );
  const top = Math.max(...flat.filter(({ outward }) => outward > 0).map(({ at }) => at));
  const bottom = Math.min(...flat.filter(({ outward }) => outward < 0).map(({ at }) => at));
  return flat
    .filter(({ at, outward }) => Math.abs(at - (outward > 0 ? top : bottom)) < SAME_PLACE_MM)
    .map(({ id }) => id);
}
