/** The facets of a mesh that no surface has taken yet, and what is around them. */
import type { FacetMesh, Neighbor } from './facets.ts';

/** Triangles that meet at less than this angle may be pieces of one round surface. */
export const SMOOTH_COSINE = Math.cos((36 * Math.PI) / 180);

/** Which triangles of a mesh still belong to no region. */
export class LooseFacets {
  readonly mesh: FacetMesh;
  /** Region of each triangle, -1 while it has none. */
  readonly regionOf: Int32Array;

  constructor(mesh: FacetMesh) {
    this.mesh = mesh;
    this.regionOf = new Int32Array(mesh.count).fill(-1);
  }

  /** Whether a triangle has no region. */
  isLoose(triangle: number): boolean {
    return (this.regionOf[triangle] ?? 0) < 0;
  }

  /** Free facets beside one, over sides where both may be pieces of one round surface. */
  smoothAround(facet: number): Neighbor[] {
    return (this.mesh.around[facet] ?? []).filter(
      ({ facet: other, cosine }) => cosine > SMOOTH_COSINE && this.isFree(other),
    );
  }

  /** Whether a facet has a triangle without a region. */
  isFree(facet: number): boolean {
    return this.mesh.facets[facet]?.triangles.some((t) => this.isLoose(t)) ?? false;
  }

  /** The triangles of a facet without a region. */
  freeOf(facet: number): number[] {
    return this.mesh.facets[facet]?.triangles.filter((t) => this.isLoose(t)) ?? [];
  }

  /** Facets within some steps over smooth sides, small ones only: a flat face beside a round is not part of it. */
  neighborhood(facet: number, steps: number, most: number): number[] {
    const found = new Set([facet]);
    let border = [facet];
    const limit = 12 * (this.mesh.facets[facet]?.area ?? 0);
    for (let step = 0; step < steps && found.size < most; step++) {
      const next: number[] = [];
      for (const f of border)
        for (const { facet: g } of this.smoothAround(f)) {
          if (found.has(g) || (this.mesh.facets[g]?.area ?? 0) > limit) continue;
          found.add(g);
          next.push(g);
        }
      border = next;
    }
    return [...found];
  }
}

/** Numbers the pieces of a mesh that hang together over smooth sides. */
export function patchesOf({ facets, around }: FacetMesh): Int32Array {
  const patchOf = new Int32Array(facets.length).fill(-1);
  let patches = 0;
  for (const start of facets.keys()) {
    if ((patchOf[start] ?? 0) >= 0) continue;
    const patch = [start];
    patchOf[start] = patches;
    for (const facet of patch)
      for (const { facet: other, cosine } of around[facet] ?? []) {
        if (cosine <= SMOOTH_COSINE || (patchOf[other] ?? 0) >= 0) continue;
        patchOf[other] = patches;
        patch.push(other);
      }
    patches++;
  }
  return patchOf;
}

/** Facets with smooth sides, those with the longest sides at the largest angles first: they tell an axis best. */
export function mostTelling({ around }: FacetMesh): number[] {
  const weights = Float64Array.from(around, (neighbors) =>
    neighbors.reduce(
      (sum, { side, cosine }) => (cosine > SMOOTH_COSINE ? sum + side * Math.sqrt(1 - Math.min(1, cosine) ** 2) : sum),
      0,
    ),
  );
  const order = Uint32Array.from(weights.keys()).filter((f) => (weights[f] ?? 0) > 0);
  return [...order.sort((a, b) => (weights[b] ?? 0) - (weights[a] ?? 0))];
}
