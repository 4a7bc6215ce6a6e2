/** A triangle mesh as flat pieces: the facets that a modeling program cut its surfaces into, and how they meet. */
import { centroidOf, circleThrough, planeThrough } from '#core/fit';
import type { Axis } from '#core/solid';
import { add, cross, dot, length, normalize, perpendicular, pointAt, scale, subtract, type Vec3 } from '#core/vector';

import { sample } from './profile.ts';
import type { ClosedSurface } from './surface.ts';

/** Triangles of one flat face differ in direction by less than this, unless they are too thin to tell. */
const FLAT_ANGLE = 0.01;
const FLAT_COSINE = Math.cos(FLAT_ANGLE);

export interface Facet {
  readonly triangles: number[];
  readonly normal: Vec3;
  readonly area: number;
}

interface Flat {
  readonly normal: Vec3;
  readonly origin: Vec3;
}

export interface Neighbor {
  readonly facet: number;
  readonly side: number;
  /** Direction of the side between the two, along which both planes meet. */
  readonly along: Vec3;
  readonly cosine: number;
}

/** Facets of a mesh with their neighbors. `noise` is how far a corner may be off by rounding, mm. */
export class FacetMesh {
  readonly neighbors: Int32Array;
  /** Triangles of the mesh. */
  readonly count: number;
  readonly areas: Float64Array;
  /** Facet of each triangle. */
  readonly facetOf: Int32Array;
  readonly facets: Facet[] = [];
  readonly around: Neighbor[][] = [];
  readonly sizeMm: number;
  readonly noise: number;
  /** How far a corner may be from the surface that it belongs to, mm. */
  readonly tolerance: number;
  private readonly positions: Float64Array;
  private readonly indices: Uint32Array;
  private readonly normals: Float64Array;
  /** Round of the last visit of a triangle or corner, so that marks need no clearing. */
  private readonly visited: Int32Array;
  private readonly seenCorner: Int32Array;
  private round = 0;

  constructor(surface: ClosedSurface, sizeMm: number, noise: number) {
    this.positions = surface.mesh.positions;
    this.indices = surface.mesh.indices;
    this.neighbors = surface.neighbors;
    this.count = this.indices.length / 3;
    this.normals = new Float64Array(3 * this.count);
    this.areas = new Float64Array(this.count);
    this.facetOf = new Int32Array(this.count).fill(-1);
    this.visited = new Int32Array(this.count);
    this.seenCorner = new Int32Array(this.positions.length / 3);
    this.sizeMm = sizeMm;
    this.noise = noise;
    this.tolerance = 3 * noise + 2e-7 * sizeMm;
    this.measureTriangles();
    this.makeFacets();
    this.linkFacets();
  }

  corner(t: number, k: number): Vec3 {
    return pointAt(this.positions, this.indices[3 * t + k] ?? 0);
  }

  normal(t: number): Vec3 {
    return pointAt(this.normals, t);
  }

  private measureTriangles(): void {
    for (let t = 0; t < this.count; t++) {
      const [a, b, c] = [this.corner(t, 0), this.corner(t, 1), this.corner(t, 2)];
      const n = cross(subtract(b, a), subtract(c, a));
      const twice = length(n);
      this.areas[t] = twice / 2;
      const unit = twice > 0 ? scale(n, 1 / twice) : n;
      this.normals.set(unit, 3 * t);
    }
  }

  /** Flat pieces: neighbors in one plane, the largest triangle of each first. */
  private makeFacets(): void {
    const order = Uint32Array.from({ length: this.count }, (_, t) => t).sort(
      (s, t) => (this.areas[t] ?? 0) - (this.areas[s] ?? 0),
    );
    for (const seed of order) {
      if ((this.facetOf[seed] ?? 0) >= 0) continue;
      let plane: Flat = { normal: this.normal(seed), origin: this.corner(seed, 0) };
      let triangles = this.flood(seed, plane);
      // One triangle tells the plane only roughly; all that were found tell it better.
      for (let round = 0; round < 3 && triangles.length > 3; round++) {
        const fitted = planeThrough(sample(this.cornersOf(triangles)));
        if (fitted.kind !== 'plane') break;
        const sign = dot(fitted.normal, plane.normal) < 0 ? -1 : 1;
        plane = { normal: scale(fitted.normal, sign), origin: fitted.origin };
        const grown = this.flood(seed, plane);
        const settled = grown.length === triangles.length;
        if (grown.length > 0) triangles = grown;
        if (settled) break;
      }
      const id = this.facets.length;
      let area = 0;
      for (const t of triangles) {
        this.facetOf[t] = id;
        area += this.areas[t] ?? 0;
      }
      this.facets.push({ triangles, normal: plane.normal, area });
    }
  }

  private flood(seed: number, plane: Flat): number[] {
    const mark = ++this.round;
    const triangles = [seed];
    this.visited[seed] = mark;
    for (const t of triangles)
      for (let k = 0; k < 3; k++) {
        const u = this.neighbors[3 * t + k] ?? -1;
        if (u < 0 || this.visited[u] === mark || (this.facetOf[u] ?? 0) >= 0) continue;
        this.visited[u] = mark;
        if (this.inPlane(u, plane)) triangles.push(u);
      }
    return triangles;
  }

  private inPlane(t: number, { normal, origin }: Flat): boolean {
    for (let k = 0; k < 3; k++)
      if (Math.abs(dot(normal, subtract(this.corner(t, k), origin))) > this.tolerance) return false;
    const cosine = dot(this.normal(t), normal);
    if (cosine > FLAT_COSINE) return true;
    let longest = 0;
    for (let k = 0; k < 3; k++)
      longest = Math.max(longest, length(subtract(this.corner(t, (k + 1) % 3), this.corner(t, k))));
    const height = longest > 0 ? (2 * (this.areas[t] ?? 0)) / longest : 0;
    // The normal of a sliver is as unsure as its corners are, over its height.
    const allowed = FLAT_ANGLE + (height > 0 ? (4 * this.noise) / height : Math.PI);
    return cosine > Math.cos(Math.min(allowed, Math.PI));
  }

  private linkFacets(): void {
    for (const _facet of this.facets) this.around.push([]);
    for (let t = 0; t < this.count; t++)
      for (let k = 0; k < 3; k++) {
        const u = this.neighbors[3 * t + k] ?? -1;
        const [f, g] = [this.facetOf[t] ?? 0, u < 0 ? -1 : (this.facetOf[u] ?? 0)];
        if (u < 0 || f === g) continue;
        const line = subtract(this.corner(t, (k + 1) % 3), this.corner(t, k));
        const cosine = dot(this.facets[f]!.normal, this.facets[g]!.normal);
        this.around[f]?.push({ facet: g, side: length(line), along: normalize(line), cosine });
      }
    for (const list of this.around) list.sort((a, b) => b.side - a.side);
  }

  /** Distinct corners of triangles. */
  cornersOf(triangles: Iterable<number>): Vec3[] {
    const mark = ++this.round;
    const points: Vec3[] = [];
    for (const t of triangles)
      for (let k = 0; k < 3; k++) {
        const v = this.indices[3 * t + k] ?? 0;
        if (this.seenCorner[v] === mark) continue;
        this.seenCorner[v] = mark;
        points.push(this.corner(t, k));
      }
    return points;
  }

  cornersOfFacets(facets: readonly number[]): Vec3[] {
    return this.cornersOf(facets.flatMap((facet) => this.facets[facet]?.triangles ?? []));
  }

  middle(t: number): Vec3 {
    return centroidOf([this.corner(t, 0), this.corner(t, 1), this.corner(t, 2)]);
  }

  /** The axes of the closed lines around a flat facet that are circles. */
  roundRims({ triangles, normal }: Facet): Axis[] {
    const own = new Set(triangles);
    const next = new Map<number, number>();
    for (const t of triangles)
      for (let k = 0; k < 3; k++)
        if (!own.has(this.neighbors[3 * t + k] ?? -1))
          next.set(this.indices[3 * t + k] ?? 0, this.indices[3 * t + ((k + 1) % 3)] ?? 0);
    const found: Axis[] = [];
    const u = perpendicular(normal);
    const v = cross(normal, u);
    for (const start of [...next.keys()]) {
      const loop: Vec3[] = [];
      for (let at: number | undefined = start; at !== undefined && next.has(at);) {
        const to: number | undefined = next.get(at);
        next.delete(at);
        loop.push(pointAt(this.positions, at));
        at = to;
      }
      const circle = loop.length >= 8 ? circleThrough(loop.map((p) => [dot(p, u), dot(p, v)])) : null;
      if (circle === null || circle.residual > this.tolerance) continue;
      const height = dot(loop[0] ?? [0, 0, 0], normal);
      found.push({
        origin: add(add(scale(u, circle.center[0]), scale(v, circle.center[1])), scale(normal, height)),
        direction: normal,
      });
    }
    return found;
  }
}
