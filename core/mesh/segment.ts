/** Splits a triangle mesh into the surfaces that a modeling program tessellated. */
import { add, cross, distanceToLine, dot, length, normalize, scale, subtract, type Vec3 } from '#core/vector';

import {
  axisOfNormals,
  centroidOf,
  cylinderAlong,
  distanceTo,
  normalAt,
  planeThrough,
  refine,
  residualOf,
  solve,
  sphereThrough,
  torusAbout,
  type Fit,
  type Shape,
} from '#core/fit';
import { FacetMesh, type Line, type Neighbor } from './facets.ts';
import { axisOfShape, bandOf, farthestRow, rowOf, rowsOf, sample, spread, type Row } from './profile.ts';
import type { ClosedSurface } from './surface.ts';

/** A connected piece of one surface; `fit` is null where no simple surface goes through its corners. */
export interface Region {
  readonly triangles: readonly number[];
  readonly fit: Fit | null;
  /** Whether the normal of the fitted shape points out of the material. */
  readonly outward: boolean;
}

/** Triangles that meet at less than this angle may be pieces of one round surface. */
const SMOOTH_COSINE = Math.cos((36 * Math.PI) / 180);
/** Triangles that meet at more than this are on two sides of an edge. */
const CORNER_COSINE = Math.cos((50 * Math.PI) / 180);
/** A triangle belongs to a surface when its normal differs from that of the surface by less than this. */
const SAME_SIDE_COSINE = Math.cos((38 * Math.PI) / 180);
/** A flat face may touch a round surface at more corners than this, at normals that differ by more than that. */
const MOST_CORNERS = 4;
const CAP_TURN_COSINE = Math.cos(0.1);
/** Sine of half the largest turn from strip to strip of a ring. */
const MOST_MITRE = 0.35;
/** How many times farther off a surface may pass a triangle that is tried for it. */
const REACH = 5;
/** How far the facets of a cylinder may lean along it, rad. */
const MOST_SLANT = 0.05;
/** Seeds that may come to nothing before the search for a kind of surface is given up: in one smooth skin, and in all. */
const MOST_FAILURES = 120;
const MOST_FAILURES_IN_ALL = 2000;
/** Axes of revolution that are tried at each seed. */
const MOST_AXES = 40;

class Segmenter {
  private readonly mesh: FacetMesh;
  /** Region of each triangle, -1 while it has none. */
  private readonly regionOf: Int32Array;
  private readonly regions: (Region | null)[] = [];
  /** Round of the last visit of a triangle, so that marks need no clearing. */
  private readonly visited: Int32Array;
  private round = 0;
  /** Which facets are flat faces that only touch the surface that is being grown. */
  private caps: { readonly shape: Shape; readonly isCap: Map<number, boolean> } | null = null;
  /** Facets with smooth neighbors, the most telling first. */
  private readonly order: readonly number[];
  /** The smooth skin that each facet is part of. */
  private readonly skinOf: Int32Array;

  constructor(mesh: FacetMesh) {
    this.mesh = mesh;
    this.regionOf = new Int32Array(mesh.count).fill(-1);
    this.visited = new Int32Array(mesh.count);
    this.order = mostTelling(mesh);
    this.skinOf = skinsOf(mesh);
  }

  run(): Region[] {
    this.growFrom((facet) => this.cylinderAt(facet), 'wary');
    this.growCoaxial();
    this.growFrom((facet) => this.slantedCylinderAt(facet), 'wary');
    this.growFrom((facet) => this.sphereAt(facet));
    this.growFrom((facet) => this.coneAt(facet));
    this.mergeStacks();
    this.growFrom((facet) => this.freeTorusAt(facet));
    this.growCoaxial();
    this.growFrom((facet) => this.cylinderAt(facet));
    this.absorbBands();
    this.extend();
    this.takeRest();
    return this.regions.filter((region) => region !== null);
  }

  private smoothAround(facet: number): Neighbor[] {
    return (this.mesh.around[facet] ?? []).filter(
      ({ facet: other, cosine }) => cosine > SMOOTH_COSINE && this.isFree(other),
    );
  }

  private isFree(facet: number): boolean {
    return this.mesh.facets[facet]?.triangles.some((t) => (this.regionOf[t] ?? 0) < 0) ?? false;
  }

  private freeOf(facet: number): number[] {
    return this.mesh.facets[facet]?.triangles.filter((t) => (this.regionOf[t] ?? 0) < 0) ?? [];
  }

  /** Facets within some steps over smooth sides, small ones only: a flat face beside a round is not part of it. */
  private neighborhood(facet: number, steps: number, most: number): number[] {
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

  /** Tries `guess` at every free facet with smooth neighbors, the most telling first, and grows what it finds. */
  private growFrom(guess: (facet: number) => Shape | null, trust: 'wary' | 'full' = 'full'): void {
    const hopeless = new Set<number>();
    const failuresIn = new Map<number, number>();
    let inAll = 0;
    for (const facet of this.order) {
      const skin = this.skinOf[facet] ?? 0;
      const failures = failuresIn.get(skin) ?? 0;
      if (failures > MOST_FAILURES || !this.isFree(facet) || hopeless.has(facet)) continue;
      const shape = guess(facet);
      if (shape !== null && this.accept(facet, shape, trust)) {
        failuresIn.set(skin, 0);
        continue;
      }
      failuresIn.set(skin, failures + 1);
      for (const { facet: near } of this.smoothAround(facet)) if (failures > 8) hopeless.add(near);
      if (++inAll > MOST_FAILURES_IN_ALL) return;
    }
  }

  /** Grows a surface over its neighbors, fits it anew to all corners, and keeps it when there is enough of it. */
  private accept(facet: number, guess: Shape, trust: 'wary' | 'full'): boolean {
    const seed = this.mesh.facets[facet]?.triangles ?? [];
    let triangles = this.grow(seed, guess);
    if (triangles.length < 4) return false;
    if (trust === 'wary' && guess.kind === 'cylinder' && this.goesOn(guess.direction, triangles)) return false;
    let fit: Fit | null = null;
    // Each round reaches farther, as the fit to more corners is better.
    for (let round = 0; round < 10; round++) {
      const points = this.mesh.cornersOf(triangles);
      fit = refine(fit?.shape ?? guess, sample(points), this.mesh.sizeMm, this.mesh.noise);
      if (fit.residual > 2 * this.mesh.tolerance) return false;
      const grown = this.grow(seed, fit.shape);
      const settled = grown.length <= triangles.length * 1.001;
      triangles = grown;
      if (!settled) continue;
      // What a fit to a small piece with rounded corners just misses may belong to it all the same.
      const wider = this.grow(seed, fit.shape, REACH);
      if (wider.length <= triangles.length * 1.001) break;
      const other = refine(fit.shape, sample(this.mesh.cornersOf(wider)), this.mesh.sizeMm, this.mesh.noise);
      if (other.residual > 2 * this.mesh.tolerance) break;
      fit = other;
      triangles = this.grow(seed, fit.shape);
    }
    if (fit === null || triangles.length < 4 || !this.isEnough(fit.shape, triangles)) return false;
    if (trust === 'wary' && fit.shape.kind === 'cylinder' && this.goesOn(fit.shape.direction, triangles)) return false;
    this.keep(triangles, this.simplest(fit, triangles));
    return true;
  }

  /** A ring whose tube is many times as thick as the ring is wide is a ball. */
  private simplest(fit: Fit, triangles: readonly number[]): Fit {
    if (fit.shape.kind !== 'torus' || fit.shape.major > 0.05 * fit.shape.minor) return fit;
    const points = sample(this.mesh.cornersOf(triangles));
    const ball: Shape = { kind: 'sphere', center: fit.shape.center, radius: fit.shape.minor };
    const other = refine(ball, points, this.mesh.sizeMm, this.mesh.noise);
    return other.residual <= 2 * this.mesh.tolerance ? other : fit;
  }

  /**
   * Whether a cylinder goes on beyond its ends in triangles of the same size at small angles: then it is one strip of a
   * ring, which lies on a cylinder as well.
   */
  private goesOn(direction: Vec3, triangles: readonly number[]): boolean {
    const own = new Set(triangles);
    let [ends, smooth] = [0, 0];
    for (const t of triangles)
      for (let k = 0; k < 3; k++) {
        const u = this.mesh.neighbors[3 * t + k] ?? -1;
        if (u < 0 || own.has(u)) continue;
        const side = subtract(this.mesh.corner(t, (k + 1) % 3), this.mesh.corner(t, k));
        const size = length(side);
        // Strips of a ring end at right angles, but for half the turn to the next one; those of two mitred rounds do not.
        if (Math.abs(dot(side, direction)) > MOST_MITRE * size) continue;
        ends += size;
        const ratio = (this.mesh.areas[u] ?? 0) / Math.max(1e-300, this.mesh.areas[t] ?? 0);
        if (dot(this.mesh.normal(t), this.mesh.normal(u)) > SMOOTH_COSINE && ratio > 0.2 && ratio < 5) smooth += size;
      }
    return smooth > 0.4 * ends;
  }

  private keep(triangles: readonly number[], fit: Fit | null): void {
    const id = this.regions.length;
    let outward = 0;
    for (const t of triangles) {
      this.regionOf[t] = id;
      if (fit !== null)
        outward += dot(normalAt(fit.shape, this.mesh.middle(t)), this.mesh.normal(t)) * (this.mesh.areas[t] ?? 0);
    }
    this.regions.push({ triangles, fit, outward: outward >= 0 });
  }

  /** The triangles around a seed that lie on a shape, `reach` times as far off as corners may be. */
  private grow(seed: readonly number[], shape: Shape, reach = 1): number[] {
    const first = seed[0] ?? 0;
    const sign = Math.sign(dot(normalAt(shape, this.mesh.middle(first)), this.mesh.normal(first))) || 1;
    const mark = ++this.round;
    const triangles: number[] = [];
    const consider = (t: number): void => {
      if (this.visited[t] === mark) return;
      this.visited[t] = mark;
      if ((this.regionOf[t] ?? 0) < 0 && this.fits(t, shape, sign, reach)) triangles.push(t);
    };
    for (const t of seed) consider(t);
    for (const t of triangles)
      for (let k = 0; k < 3; k++) {
        const u = this.mesh.neighbors[3 * t + k] ?? -1;
        if (u >= 0 && !this.isCorner(t, u)) consider(u);
      }
    return triangles;
  }

  /** Whether two triangles meet as the sides of a hexagon do, not as facets of a round. */
  private isCorner(t: number, u: number): boolean {
    if (dot(this.mesh.normal(t), this.mesh.normal(u)) > CORNER_COSINE) return false;
    return !this.isSpeck(t) && !this.isSpeck(u);
  }

  /** A triangle too small to say which way it looks. */
  private isSpeck(t: number): boolean {
    return (this.mesh.areas[t] ?? 0) < 1e-12 * this.mesh.sizeMm ** 2;
  }

  private fits(t: number, shape: Shape, sign: number, reach = 1): boolean {
    const corners = [this.mesh.corner(t, 0), this.mesh.corner(t, 1), this.mesh.corner(t, 2)] as const;
    const far = reach * this.mesh.tolerance;
    for (const p of corners) if (Math.abs(distanceTo(shape, p)) > far) return false;
    if (this.isSpeck(t)) return true;
    if (this.isCapOf(shape, this.mesh.facetOf[t] ?? 0)) return false;
    const normal = this.mesh.normal(t);
    if (sign * dot(normalAt(shape, this.mesh.middle(t)), normal) < SAME_SIDE_COSINE) return false;
    // A round surface rises over a triangle by a quarter of side times the angle between them at the corners. Triangles
    // of a flat face that only touches it lie along it at the corners and yet far below.
    const lean = Math.max(...corners.map((p) => length(cross(normalAt(shape, p), normal))));
    return corners.every((p, k) => {
      const q = corners[(k + 1) % 3] ?? p;
      const rise = Math.abs(distanceTo(shape, scale(add(p, q), 0.5)));
      return rise <= far + 0.6 * lean * length(subtract(q, p));
    });
  }

  /**
   * Whether a facet is a flat face whose rim lies on a surface, as the end of a flat cone does: a facet of the surface
   * itself has three or four corners, or more along its rulings, but not five that look five ways.
   */
  private isCapOf(shape: Shape, facet: number): boolean {
    if (this.caps?.shape !== shape) this.caps = { shape, isCap: new Map() };
    const known = this.caps.isCap.get(facet);
    if (known !== undefined) return known;
    const { triangles = [] } = this.mesh.facets[facet] ?? {};
    const ways: Vec3[] = [];
    if (triangles.length > MOST_CORNERS - 2)
      for (const p of this.mesh.cornersOf(triangles)) {
        if (ways.length > 3 * MOST_CORNERS) break;
        if (Math.abs(distanceTo(shape, p)) > this.mesh.tolerance) continue;
        const normal = normalAt(shape, p);
        if (ways.every((other) => dot(other, normal) < 1 - 1e-4)) ways.push(normal);
      }
    const isCap = ways.length > MOST_CORNERS && ways.some((a) => ways.some((b) => dot(a, b) < CAP_TURN_COSINE));
    this.caps.isCap.set(facet, isCap);
    return isCap;
  }

  /** At least three facets around, over at least 20 degrees: less is a polygon as well as a round. */
  private isEnough(shape: Shape, triangles: readonly number[]): boolean {
    const facets = new Set(triangles.map((t) => this.mesh.facetOf[t] ?? 0));
    if (facets.size < 3) return false;
    const normals = [...facets].map((facet) => this.mesh.facets[facet]!.normal);
    const widest = normals.reduce((worst, n) => Math.min(worst, dot(n, normals[0] ?? n)), 1);
    if (widest > Math.cos((14 * Math.PI) / 180)) return false;
    switch (shape.kind) {
      case 'cylinder':
        return shape.radius < 20 * this.mesh.sizeMm;
      case 'cone':
        return shape.halfAngle > 0.01 && shape.halfAngle < Math.PI / 2 - 0.01;
      case 'sphere':
        return shape.radius < 5 * this.mesh.sizeMm && triangles.length >= 6 && spread(normals) > 1e-4;
      case 'torus':
        return shape.minor < 5 * this.mesh.sizeMm && shape.minor > 2 * this.mesh.tolerance && triangles.length >= 8;
      case 'plane':
        return true;
    }
  }

  private cylinderAt(facet: number): Shape | null {
    for (const { facet: other, along, cosine } of this.smoothAround(facet).slice(0, 3)) {
      if (cosine > 1 - 1e-9) continue;
      const near = this.neighborhoodAlong(facet, other, along);
      const found = cylinderAlong(along, this.mesh.cornersOfFacets(near));
      if (found !== null && found.residual <= 2 * this.mesh.tolerance && found.shape.kind === 'cylinder')
        return found.shape;
    }
    return null;
  }

  /** The pair and the next facets around the axis, where their normals stay at right angles to it. */
  private neighborhoodAlong(a: number, b: number, axis: Vec3): number[] {
    const near = new Set([a, b]);
    const turn = dot(this.mesh.facets[a]!.normal, this.mesh.facets[b]!.normal);
    for (const f of [a, b])
      for (const { facet: g, cosine } of this.smoothAround(f))
        if (Math.abs(dot(this.mesh.facets[g]!.normal, axis)) < 1e-3 && Math.abs(cosine - turn) < 0.3 * (1 - turn))
          near.add(g);
    return [...near];
  }

  /** A cylinder whose facets do not run along it, because its two rims were cut up differently. */
  private slantedCylinderAt(facet: number): Shape | null {
    const near = this.neighborhood(facet, 2, 24);
    const normals = near.map((f) => this.mesh.facets[f]!.normal);
    if (normals.length < 4) return null;
    const across = planeThrough([...normals, ...normals.map((n) => scale(n, -1))]);
    if (across.kind !== 'plane' || normals.some((n) => Math.abs(dot(n, across.normal)) > MOST_SLANT)) return null;
    const points = this.mesh.cornersOfFacets(near);
    const found = cylinderAlong(across.normal, points);
    if (found?.shape.kind !== 'cylinder' || found.residual > MOST_SLANT * found.shape.radius) return null;
    const fit = refine(found.shape, points, this.mesh.sizeMm, this.mesh.noise);
    return fit.residual <= this.mesh.tolerance ? fit.shape : null;
  }

  private sphereAt(facet: number): Shape | null {
    const near = this.neighborhood(facet, 2, 24);
    const points = this.mesh.cornersOfFacets(near);
    if (points.length < 7) return null;
    const found = sphereThrough(points);
    if (found === null || found.residual > this.mesh.tolerance || spread(points) < 1e-4) return null;
    // Two circles lie on a ball as well as on a cone; the simpler story is the cone.
    const cone = this.coneAt(facet);
    const fitted = cone && refine(cone, points, this.mesh.sizeMm, this.mesh.noise);
    return fitted !== null && fitted.residual <= this.mesh.tolerance ? null : found.shape;
  }

  /** Surfaces of revolution about the axes that are known so far, which leaves their profile alone to be found. */
  private growCoaxial(): void {
    const axes = this.axes();
    if (axes.length > 0) this.growFrom((facet) => this.revolvedAt(facet, axes));
  }

  private revolvedAt(facet: number, axes: readonly Line[]): Shape | null {
    const [near, wide] = [
      this.mesh.cornersOfFacets(this.neighborhood(facet, 2, 32)),
      this.mesh.cornersOfFacets(this.neighborhood(facet, 6, 90)),
    ];
    if (near.length < 6) return null;
    const likely = axes.filter((axis) => this.facesAxis(facet, axis));
    for (const points of [near, wide])
      for (const { origin, direction } of likely) {
        const found = torusAbout(origin, direction, points);
        if (found === null || found.residual > this.mesh.tolerance) continue;
        const rows = rowsOf(origin, direction, points, this.mesh.tolerance);
        if (rows.length >= 4 && !this.isStraight(rows)) return found.shape;
      }
    // Two circles are a cone only where nothing wider around them says more.
    for (const points of [wide, near])
      for (const { origin, direction } of likely) {
        const rows = points.map((p) => rowOf(origin, direction, p));
        const [first = [0, 0], last] = [rows[0], farthestRow(rows)];
        if (Math.hypot(last[0] - first[0], last[1] - first[1]) < 4 * this.mesh.tolerance) continue;
        const band = this.isStraight(rows) ? bandOf(origin, direction, first, last, this.mesh.tolerance) : null;
        if (band !== null) return band;
      }
    return null;
  }

  /** Whether a facet looks toward an axis or away from it, as all facets of a surface of revolution do. */
  private facesAxis(facet: number, { origin, direction }: Line): boolean {
    const { normal, triangles } = this.mesh.facets[facet]!;
    const lever = cross(subtract(centroidOf(this.mesh.cornersOf(triangles)), origin), direction);
    return Math.abs(dot(lever, normal)) <= 0.3 * length(lever) + this.mesh.tolerance;
  }

  private isStraight(rows: readonly Row[]): boolean {
    const [first, last] = [rows[0] ?? [0, 0], farthestRow(rows)];
    const [dr, dz] = [last[0] - first[0], last[1] - first[1]];
    const limit = this.mesh.tolerance * Math.hypot(dr, dz);
    return rows.every(([r, z]) => Math.abs((r - first[0]) * dz - (z - first[1]) * dr) <= limit);
  }

  /** Axis lines of the surfaces found so far and of the round rims of flat faces, each once. */
  private axes(): Line[] {
    const lines: Line[] = [];
    const note = (line: Line): void => {
      const known = lines.some(
        (other) =>
          length(cross(other.direction, line.direction)) < 1e-4 &&
          distanceToLine(line.origin, other.origin, other.direction) < 10 * this.mesh.tolerance,
      );
      if (!known && lines.length < MOST_AXES) lines.push(line);
    };
    for (const region of this.regions) {
      const shape = region?.fit?.shape;
      if (shape?.kind === 'cylinder') note({ origin: shape.origin, direction: shape.direction });
      if (shape?.kind === 'torus') note({ origin: shape.center, direction: shape.direction });
      if (shape?.kind === 'cone') note({ origin: shape.apex, direction: shape.direction });
    }
    this.mesh.facets.forEach((facet, id) => {
      if (facet.triangles.length >= 5 && this.isFree(id)) for (const rim of this.mesh.roundRims(facet)) note(rim);
    });
    return lines;
  }

  /** The planes of three neighboring strips of a cone meet in its apex, and its rulings make one angle with the axis. */
  private coneAt(facet: number): Shape | null {
    const near = this.smoothAround(facet).filter(({ cosine }) => cosine < 1 - 1e-9);
    for (let i = 0; i < Math.min(3, near.length); i++)
      for (let j = i + 1; j < Math.min(4, near.length); j++) {
        const trio = [facet, near[i]!.facet, near[j]!.facet];
        const planes = trio.map((f) => this.mesh.facets[f]!);
        const apex = solve(
          planes.map(({ normal }) => normal),
          planes.map(({ normal, triangles }) => dot(normal, this.mesh.corner(triangles[0] ?? 0, 0))),
        );
        if (apex === null) continue;
        const tip: Vec3 = [apex[0] ?? 0, apex[1] ?? 0, apex[2] ?? 0];
        const points = this.mesh
          .cornersOfFacets(trio)
          .filter((p) => length(subtract(p, tip)) > 10 * this.mesh.tolerance);
        const rulings = points.map((p) => normalize(subtract(p, tip)));
        const plane = planeThrough(rulings);
        if (plane.kind !== 'plane' || rulings.length < 4) continue;
        const along = dot(plane.normal, rulings[0] ?? plane.normal);
        const direction = along < 0 ? scale(plane.normal, -1) : plane.normal;
        const shape: Shape = { kind: 'cone', apex: tip, direction, halfAngle: Math.acos(Math.min(1, Math.abs(along))) };
        if (residualOf(shape, points) > 100 * this.mesh.tolerance) continue;
        const fit = refine(shape, points, this.mesh.sizeMm, this.mesh.noise);
        if (fit.residual <= this.mesh.tolerance) return fit.shape;
      }
    return null;
  }

  private freeTorusAt(facet: number): Shape | null {
    const near = this.neighborhood(facet, 3, 60);
    const points = this.mesh.cornersOfFacets(near);
    if (points.length < 12) return null;
    const triangles = near.flatMap((f) => this.mesh.facets[f]?.triangles ?? []);
    const axis = axisOfNormals(
      triangles.map((t) => this.mesh.middle(t)),
      triangles.map((t) => this.mesh.normal(t)),
    );
    if (axis === null) return null;
    const start = torusAbout(axis.origin, axis.direction, points);
    const reach = Math.max(...points.map((p) => length(subtract(p, points[0] ?? p))));
    if (start === null || start.residual > 0.02 * reach + 10 * this.mesh.tolerance) return null;
    if (
      start.shape.kind !== 'torus' ||
      start.shape.minor > 3 * this.mesh.sizeMm ||
      start.shape.major > 10 * this.mesh.sizeMm
    )
      return null;
    const fit = refine(start.shape, sample(points, 60), this.mesh.sizeMm, this.mesh.noise, 15);
    return residualOf(fit.shape, points) <= this.mesh.tolerance ? fit.shape : null;
  }

  /** A band of a ring or ball that was taken for a surface of its own goes back to it, and pieces of one surface join. */
  private absorbBands(): void {
    for (let id = 0; id < this.regions.length; id++) {
      const region = this.regions[id];
      const shape = region?.fit?.shape;
      if (!region || (shape?.kind !== 'torus' && shape?.kind !== 'sphere')) continue;
      for (const other of this.smoothNeighborsOf(region)) {
        const band = this.regions[other];
        if (!band?.fit || band.fit.shape.kind === 'plane') continue;
        const points = this.mesh.cornersOf(band.triangles);
        if (residualOf(shape, points) > 2 * this.mesh.tolerance) continue;
        this.regions[other] = null;
        this.regions[id] = null;
        this.keepMerged([region, band], shape);
        break;
      }
    }
  }

  /** Free triangles beside a surface that lie on it join it. */
  private extend(): void {
    this.regions.forEach((region, id) => {
      if (!region?.fit) return;
      const triangles = [...region.triangles];
      for (const t of triangles)
        for (let k = 0; k < 3; k++) {
          const u = this.mesh.neighbors[3 * t + k] ?? -1;
          if (u < 0 || (this.regionOf[u] ?? 0) >= 0 || !this.fits(u, region.fit.shape, region.outward ? 1 : -1))
            continue;
          this.regionOf[u] = id;
          triangles.push(u);
        }
      this.regions[id] = { ...region, triangles };
    });
  }

  private keepMerged(parts: readonly Region[], shape: Shape): void {
    const triangles = parts.flatMap((part) => part.triangles);
    this.keep(triangles, refine(shape, sample(this.mesh.cornersOf(triangles)), this.mesh.sizeMm, this.mesh.noise));
  }

  private smoothNeighborsOf(region: Region): Set<number> {
    const found = new Set<number>();
    const own = this.regionOf[region.triangles[0] ?? 0];
    for (const t of region.triangles)
      for (let k = 0; k < 3; k++) {
        const u = this.mesh.neighbors[3 * t + k] ?? -1;
        const other = u < 0 ? -1 : (this.regionOf[u] ?? -1);
        if (other >= 0 && other !== own && dot(this.mesh.normal(t), this.mesh.normal(u)) > SMOOTH_COSINE)
          found.add(other);
      }
    return found;
  }

  /** Bands of cones and cylinders that lie on each other smoothly are the rows of a coarse ring or ball. */
  private mergeStacks(): void {
    this.absorbBands();
    for (let id = 0; id < this.regions.length; id++) {
      const axis = axisOfShape(this.regions[id]?.fit?.shape);
      if (axis === null) continue;
      const along = (member: number): number =>
        dot(
          subtract(centroidOf(this.mesh.cornersOf(this.regions[member]?.triangles ?? [])), axis.origin),
          axis.direction,
        );
      const stack = this.stackOf(id)
        .map((member) => ({ member, at: along(member) }))
        .sort((a, b) => a.at - b.at)
        .map(({ member }) => member);
      for (let many = stack.length; many >= 3; many--)
        for (let from = 0; from + many <= stack.length; from++) {
          const run = stack.slice(from, from + many).flatMap((member) => this.regions[member] ?? []);
          if (run.length < 3) continue;
          const points = this.mesh.cornersOf(run.flatMap((region) => region.triangles));
          const found = torusAbout(axis.origin, axis.direction, points);
          if (found === null || found.residual > 4 * this.mesh.tolerance) continue;
          for (const member of stack.slice(from, from + many)) this.regions[member] = null;
          this.keepMerged(run, found.shape);
        }
    }
  }

  /** The region and all that follow it smoothly about the same axis. */
  private stackOf(id: number): number[] {
    const axis = axisOfShape(this.regions[id]?.fit?.shape);
    if (axis === null) return [];
    const stack = [id];
    for (const member of stack)
      for (const t of this.regions[member]?.triangles ?? [])
        for (let k = 0; k < 3; k++) {
          const u = this.mesh.neighbors[3 * t + k] ?? -1;
          const other = u < 0 ? -1 : (this.regionOf[u] ?? -1);
          if (other < 0 || stack.includes(other) || dot(this.mesh.normal(t), this.mesh.normal(u)) < SMOOTH_COSINE)
            continue;
          const line = axisOfShape(this.regions[other]?.fit?.shape);
          if (
            line !== null &&
            length(cross(line.direction, axis.direction)) < 1e-3 &&
            distanceToLine(line.origin, axis.origin, axis.direction) < 20 * this.mesh.tolerance
          )
            stack.push(other);
        }
    return stack;
  }

  /** What no round surface took: flat faces, and patches of freeform surface. */
  private takeRest(): void {
    const rest = this.mesh.facets.map((_, f) => f).filter((f) => this.isFree(f));
    const free = new Set(rest);
    const done = new Set<number>();
    for (const start of rest) {
      if (done.has(start)) continue;
      const patch = [start];
      done.add(start);
      for (const f of patch)
        for (const { facet: g, cosine } of this.mesh.around[f] ?? [])
          if (free.has(g) && !done.has(g) && cosine > Math.cos((24 * Math.PI) / 180)) {
            done.add(g);
            patch.push(g);
          }
      const typical = patch.map((f) => this.mesh.facets[f]!.area).sort((a, b) => a - b)[patch.length >> 1] ?? 0;
      const isFlat = (f: number): boolean => patch.length <= 3 || this.mesh.facets[f]!.area > 12 * typical;
      for (const f of patch) if (isFlat(f)) this.keepPlane(f);
      this.keepPatches(new Set(patch.filter((f) => !isFlat(f))));
    }
  }

  private keepPlane(facet: number): void {
    const { normal } = this.mesh.facets[facet]!;
    const triangles = this.freeOf(facet);
    const points = sample(this.mesh.cornersOf(triangles));
    const origin = centroidOf(points);
    const fit =
      points.length > 3
        ? refine({ kind: 'plane', origin, normal }, points, this.mesh.sizeMm, this.mesh.noise)
        : { shape: { kind: 'plane', origin, normal } as const, residual: 0, uncertainty: this.mesh.noise };
    this.keep(triangles, {
      ...fit,
      uncertainty: Math.min(fit.uncertainty, Math.max(fit.residual, 3 * this.mesh.noise)),
    });
  }

  private keepPatches(facets: Set<number>): void {
    for (const start of facets) {
      const patch = [start];
      facets.delete(start);
      for (const f of patch)
        for (const { facet: g, cosine } of this.mesh.around[f] ?? [])
          if (facets.has(g) && cosine > SMOOTH_COSINE) {
            facets.delete(g);
            patch.push(g);
          }
      this.keep(
        patch.flatMap((f) => this.freeOf(f)),
        null,
      );
    }
  }
}

/** Numbers the pieces of a mesh that hang together over smooth sides. */
function skinsOf({ facets, around }: FacetMesh): Int32Array {
  const skinOf = new Int32Array(facets.length).fill(-1);
  let skins = 0;
  for (const start of facets.keys()) {
    if ((skinOf[start] ?? 0) >= 0) continue;
    const skin = [start];
    skinOf[start] = skins;
    for (const facet of skin)
      for (const { facet: other, cosine } of around[facet] ?? []) {
        if (cosine <= SMOOTH_COSINE || (skinOf[other] ?? 0) >= 0) continue;
        skinOf[other] = skins;
        skin.push(other);
      }
    skins++;
  }
  return skinOf;
}

/** Facets with smooth sides, those with the longest sides at the largest angles first: they tell an axis best. */
function mostTelling({ around }: FacetMesh): number[] {
  const weights = Float64Array.from(around, (neighbors) =>
    neighbors.reduce(
      (sum, { side, cosine }) => (cosine > SMOOTH_COSINE ? sum + side * Math.sqrt(1 - Math.min(1, cosine) ** 2) : sum),
      0,
    ),
  );
  const order = Uint32Array.from(weights.keys()).filter((f) => (weights[f] ?? 0) > 0);
  return [...order.sort((a, b) => (weights[b] ?? 0) - (weights[a] ?? 0))];
}

/**
 * Finds the surfaces of a mesh: cylinders, spheres, tori, cones and planes through the corners of its triangles, which
 * an exporter puts on the true surface. `noise` is how far a corner may be off by rounding. What fits none is freeform.
 */
export const segment = (surface: ClosedSurface, sizeMm: number, noise: number): Region[] =>
  new Segmenter(new FacetMesh(surface, sizeMm, noise)).run();
