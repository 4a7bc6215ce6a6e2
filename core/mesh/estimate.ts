/** What a part would measure without its facets. */
import { curvaturesAt, distanceTo, normalAt } from '#core/fit';
import type { Estimate, MassProperties } from '#core/solid';
import {
  add,
  boxAround,
  boxDiagonal,
  cross,
  dot,
  length,
  normalize,
  pointAt,
  scale,
  subtract,
  type Vec3,
} from '#core/vector';

import type { Region } from './segment.ts';
import type { ClosedSurface } from './surface.ts';
import type { Triangles } from './triangles.ts';

/** Share of the correction for roundness that is still in uncertainty. */
const UNSURE_SHARE = 0.1;

/** Position and normal of a triangle's points for integration: the middles of its sides, exact to second degree. */
function* pointsOf(mesh: Triangles, t: number): Generator<readonly [point: Vec3, share: number]> {
  for (let k = 0; k < 3; k++) yield [scale(add(cornerAt(mesh, t, k), cornerAt(mesh, t, k + 1)), 0.5), 1 / 3];
}

/** Normal of triangle `t` by its winding, as long as twice its area, mm². */
export const crossOf = (mesh: Triangles, t: number): Vec3 =>
  cross(subtract(cornerAt(mesh, t, 1), cornerAt(mesh, t, 0)), subtract(cornerAt(mesh, t, 2), cornerAt(mesh, t, 0)));

/**
 * What the part would have without facets: between each triangle and the round surface it stands for lies a thin correction
 * whose volume and place are added, and its area is that of the surface above it.
 */
export function estimateOf(
  surface: ClosedSurface,
  regions: readonly Region[],
  { volumeMm3, areaMm2, centroidMm }: MassProperties,
  noise: number,
): Estimate {
  let [correction, corrections, area, uncertainVolume, uncertainArea] = [0, 0, 0, 0, 0];
  let moment: Vec3 = [0, 0, 0];
  for (const region of regions) {
    const { fit } = region;
    for (const t of region.triangles) {
      const twice = crossOf(surface.mesh, t);
      const facet = length(twice) / 2;
      if (facet === 0) continue;
      if (fit === null) {
        const bulge = facet * freeformSagitta(surface, t);
        uncertainVolume += bulge;
        uncertainArea += 0.02 * facet;
        continue;
      }
      uncertainVolume += facet * Math.max(fit.residual, noise);
      if (fit.shape.kind === 'plane') continue;
      const normal = normalize(twice);
      const sign = region.outward ? 1 : -1;
      if (!spans(surface, t, fit.shape, fit.residual + noise)) {
        uncertainVolume += facet * (freeformSagitta(surface, t) + noise);
        uncertainArea += 0.02 * facet;
        continue;
      }
      for (const [p, share] of pointsOf(surface.mesh, t)) {
        const cosine = Math.abs(dot(normalAt(fit.shape, p), normal));
        // How far the surface lies above the facet, seen along its own normal.
        const rise = -distanceTo(fit.shape, p);
        const [k1, k2] = curvaturesAt(fit.shape, p);
        const stretch = cosine / Math.max(0.2, (1 - rise * k1) * (1 - rise * k2));
        const volume = sign * rise * cosine * facet * share;
        correction += volume;
        corrections += Math.abs(volume);
        area += facet * share * (stretch - 1);
        moment = add(moment, scale(subtract(p, centroidMm), volume));
      }
    }
  }
  const rims = rimArea(surface, regions);
  area += rims.area;
  uncertainArea += UNSURE_SHARE * rims.amount;
  const whole = volumeMm3 + correction;
  const size = boxDiagonal(boxAround(surface.mesh.positions));
  const volumeUncertaintyMm3 = UNSURE_SHARE * corrections + uncertainVolume;
  return {
    volumeMm3: whole,
    areaMm2: areaMm2 + area,
    centroidMm: whole === 0 ? centroidMm : add(centroidMm, scale(moment, 1 / whole)),
    volumeUncertaintyMm3,
    areaUncertaintyMm2: UNSURE_SHARE * Math.abs(area) + uncertainArea + 1e-9 * areaMm2,
    centroidUncertaintyMm: whole === 0 ? size : noise + (volumeUncertaintyMm3 * size) / (2 * Math.abs(whole)),
  };
}

/**
 * Whether a surface runs over a triangle as over one of its own facets: no higher than the angles to the neighbors allow.
 * A surface that was fitted to too few facets may lie far off them.
 */
function spans(surface: ClosedSurface, t: number, shape: NonNullable<Region['fit']>['shape'], slack: number): boolean {
  const most = 2 * freeformSagitta(surface, t, STEEPEST_RAD) + 4 * slack;
  for (const [p] of pointsOf(surface.mesh, t)) if (Math.abs(distanceTo(shape, p)) > most) return false;
  return true;
}

/** Facets of one round face meet at less than this. */
const STEEPEST_RAD = 1.2;

/**
 * What faces gain or lose at their rims, because the true line between two surfaces bulges from the straight side of a
 * triangle: the middle of the side moves to where both surfaces meet, and the area under such an arc is two thirds.
 */
function rimArea({ mesh, neighbors }: ClosedSurface, regions: readonly Region[]): { area: number; amount: number } {
  const regionOf = new Int32Array(mesh.indices.length / 3).fill(-1);
  regions.forEach((region, id) => {
    for (const t of region.triangles) regionOf[t] = id;
  });
  let area = 0;
  let amount = 0;
  regions.forEach((region, id) => {
    if (region.fit === null) return;
    for (const t of region.triangles)
      for (let k = 0; k < 3; k++) {
        const u = neighbors[3 * t + k] ?? -1;
        const other = u < 0 ? undefined : regions[regionOf[u] ?? -1];
        if (!other || regionOf[u] === id || other.fit === null) continue;
        const [a, b] = [cornerAt(mesh, t, k), cornerAt(mesh, t, k + 1)];
        const chord = subtract(b, a);
        const side = length(chord);
        const middle = scale(add(a, b), 0.5);
        const own = scale(normalAt(region.fit.shape, middle), region.outward ? 1 : -1);
        const beyond = scale(normalAt(other.fit.shape, middle), other.outward ? 1 : -1);
        const outOfFace = normalize(cross(chord, own));
        const riseOwn = -distanceTo(region.fit.shape, middle) * (region.outward ? 1 : -1);
        const riseBeyond = -distanceTo(other.fit.shape, middle) * (other.outward ? 1 : -1);
        const slope = dot(beyond, outOfFace);
        if (Math.abs(slope) < 0.1) continue;
        const bulge = (riseBeyond - riseOwn * dot(own, beyond)) / slope;
        area += (2 / 3) * side * bulge;
        amount += (2 / 3) * side * Math.abs(bulge);
      }
  });
  return { area, amount };
}

/** Corner `k` of triangle `t`, counted around: 3 is the first again. mm. */
export function cornerAt({ positions, indices }: Triangles, t: number, k: number): Vec3 {
  return pointAt(positions, indices[3 * t + (k % 3)] ?? 0);
}

/** How far a smooth surface may rise above a triangle of it, from the angles to its neighbors: side x angle / 8. */
function freeformSagitta({ mesh, neighbors }: ClosedSurface, t: number, steepestRad = 0.7): number {
  let worst = 0;
  const own = normalize(crossOf(mesh, t));
  const side = Math.sqrt(length(crossOf(mesh, t)));
  for (let k = 0; k < 3; k++) {
    const u = neighbors[3 * t + k] ?? -1;
    if (u < 0) continue;
    const angle = Math.acos(Math.max(-1, Math.min(1, dot(own, normalize(crossOf(mesh, u))))));
    if (angle < steepestRad) worst = Math.max(worst, (side * angle) / 8);
  }
  return worst;
}
