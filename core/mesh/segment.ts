/** Splits a triangle mesh into the surfaces that a modeling program tessellated. */
import type { Axis } from '#core/solid';
import { add, cross, distanceToLine, dot, length, scale, subtract, type Vec3 } from '#core/vector';

import { centroidOf, distanceTo, normalAt, refine, residualOf, torusAbout, type Fit, type Shape } from '#core/fit';
import { FacetMesh } from './facets.ts';
import { flatsAmong, widerThan } from './flats.ts';
import { bandAt, coneAt, cylinderAt, freeTorusAt, revolvedAt, slantedCylinderAt, sphereAt } from './guess.ts';
import { LooseFacets, mostTelling, patchesOf, SMOOTH_COSINE } from './loose.ts';
import { axisOfShape, sample, spread } from './profile.ts';
import type { ClosedSurface } from './surface.ts';

/** A connected piece of one surface; `fit` is null where no simple surface goes through its corners. */
export interface Region {
  readonly triangles: readonly number[];
  readonly fit: Fit | null;
  /** Whether the normal of the fitted shape points out of the material. */
  readonly outward: boolean;
}

/** Triangles that meet at more than this are on two sides of an edge. */
const CORNER_COSINE = Math.cos((50 * Math.PI) / 180);
/** A triangle belongs to a surface when its normal differs from that of the surface by less than this. */
const SAME_SIDE_COSINE = Math.cos((38 * Math.PI) / 180);
/** The same for a triangle with others of the surface on two sides. */
const GAP_COSINE = Math.cos((60 * Math.PI) / 180);
/** A flat face may touch a round surface at more corners than this, at normals that differ by more than that. */
const MOST_CORNERS = 4;
const CAP_TURN_COSINE = Math.cos(0.1);
/** Sine of half the largest turn from strip to strip of a ring. */
const MOST_MITRE = 0.35;
/** How many times farther off a surface may pass a triangle that is tried for it. */
const REACH = 5;
/** Seeds that may come to nothing before the search for a kind of surface is given up: in one smooth patch, and in all. */
const MOST_FAILURES = 120;
const MOST_FAILURES_IN_ALL = 2000;
/** Axes of revolution that are tried at each seed. */
const MOST_AXES = 40;

/** A flat face is so many times as large as the facets of a freeform surface that it goes on in. */
const FLAT_SIZES = 12;
/** Sizes of facets go down by less from one to the next, and none has such a share of its surface. */
const SIZE_JUMP = 3;
const FLAT_SHARE = 0.15;

/**
 * The area of the smallest facet of a smooth patch that is a flat face of its own. Where an exporter cuts a freeform surface
 * more finely here than there, sizes go down step by step; flat faces stand out from what is left.
 */
function leastFlat(areas: readonly number[]): number {
  if (areas.length <= 3) return 0;
  const sorted = [...areas].sort((a, b) => b - a);
  const typical = sorted[sorted.length >> 1] ?? 0;
  const total = sorted.reduce((sum, area) => sum + area, 0);
  const isLarge = (area: number): boolean => area > FLAT_SIZES * typical;
  const last = sorted.findLastIndex(
    (area, i) => isLarge(area) && (area > SIZE_JUMP * (sorted[i + 1] ?? 0) || area > FLAT_SHARE * total),
  );
  return sorted[last] ?? Number.POSITIVE_INFINITY;
}

/**
 * What meets a freeform surface smoothly along this share of its rim, and has less than this share of its area, is a piece of
 * it. A fillet beside it meets it along half of its rim at most.
 */
const CHANCE_PIECES = { cone: { sides: 0.3, area: 0.15 }, other: { sides: 0.5, area: 0.03 } } as const;

class Segmenter {
  private readonly mesh: FacetMesh;
  private readonly loose: LooseFacets;
  /** Region of each triangle, -1 while it has none. */
  private readonly regionOf: Int32Array;
  private readonly regions: (Region | null)[] = [];
  /** Round of the last visit of a triangle, so that marks need no clearing. */
  private readonly visited: Int32Array;
  private round = 0;
  /** Which facets are flat faces that only touch the surface that is being grown. */
  private caps: { readonly shape: Shape; readonly isCap: Map<number, boolean> } | null = null;
  /** Facets that were found to be flats of a round surface, and are part of none. */
  private readonly flats = new Set<number>();
  /** Facets with smooth neighbors, the most telling first. */
  private readonly order: readonly number[];
  /** The smooth patch that each facet is part of. */
  private readonly patchOf: Int32Array;

  constructor(mesh: FacetMesh) {
    this.mesh = mesh;
    this.loose = new LooseFacets(mesh);
    this.regionOf = this.loose.regionOf;
    this.visited = new Int32Array(mesh.count);
    this.order = mostTelling(mesh);
    this.patchOf = patchesOf(mesh);
  }

  run(): Region[] {
    this.growFrom(cylinderAt, 'wary');
    this.growCoaxial();
    // A round between two cylinders shows when they are taken, and so does a cone between rounds.
    this.growBands('cylinder');
    this.growCoaxial();
    this.growBands('cone');
    this.growFrom(slantedCylinderAt, 'wary');
    this.growFrom(sphereAt);
    this.growFrom(coneAt);
    this.mergeStacks();
    this.growFrom(freeTorusAt);
    this.growCoaxial();
    this.growFrom(cylinderAt);
    this.absorbBands();
    this.extend();
    this.takeRest();
    this.givePiecesBack();
    return this.regions.filter((region) => region !== null);
  }

  /** Tries `guess` at every free facet with smooth neighbors, the most telling first, and grows what it finds. */
  private growFrom(guess: (loose: LooseFacets, facet: number) => Shape | null, trust: 'wary' | 'full' = 'full'): void {
    const hopeless = new Set<number>();
    const failuresIn = new Map<number, number>();
    let inAll = 0;
    for (const facet of this.order) {
      const patch = this.patchOf[facet] ?? 0;
      const failures = failuresIn.get(patch) ?? 0;
      if (failures > MOST_FAILURES || !this.loose.isFree(facet) || hopeless.has(facet)) continue;
      const shape = guess(this.loose, facet);
      if (shape !== null && this.accept(facet, shape, trust)) {
        failuresIn.set(patch, 0);
        continue;
      }
      failuresIn.set(patch, failures + 1);
      for (const { facet: near } of this.loose.smoothAround(facet)) if (failures > 8) hopeless.add(near);
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
      fit = refine(fit?.shape ?? guess, sample(points), { sizeMm: this.mesh.sizeMm, noise: this.mesh.noise });
      if (fit.residual > 2 * this.mesh.tolerance) return false;
      const grown = this.grow(seed, fit.shape);
      const settled = grown.length <= triangles.length * 1.001;
      triangles = grown;
      if (!settled) continue;
      // What a fit to a small piece with rounded corners just misses may belong to it all the same.
      const wider = this.grow(seed, fit.shape, REACH);
      if (wider.length <= triangles.length * 1.001) break;
      const other = refine(fit.shape, sample(this.mesh.cornersOf(wider)), {
        sizeMm: this.mesh.sizeMm,
        noise: this.mesh.noise,
      });
      if (other.residual > 2 * this.mesh.tolerance) break;
      fit = other;
      triangles = this.grow(seed, fit.shape);
    }
    if (fit === null) return false;
    const flats = flatsAmong(this.mesh, fit.shape, this.facetsOf(triangles));
    for (const facet of flats) this.flats.add(facet);
    if (flats.length > 0) triangles = this.grow(seed, fit.shape);
    if (
      triangles.length < 4 ||
      !this.isEnough(fit.shape, triangles) ||
      (trust === 'wary' && fit.shape.kind === 'cylinder' && this.goesOn(fit.shape.direction, triangles))
    ) {
      // Of a surface that is not there, nothing is a flat.
      for (const facet of flats) this.flats.delete(facet);
      return false;
    }
    this.keep(triangles, this.simplest(fit, triangles));
    return true;
  }

  private facetsOf(triangles: readonly number[]): number[] {
    return [...new Set(triangles.map((t) => this.mesh.facetOf[t] ?? 0))];
  }

  /** A ring whose tube is many times as thick as the ring is wide is a ball. */
  private simplest(fit: Fit, triangles: readonly number[]): Fit {
    if (fit.shape.kind !== 'torus' || fit.shape.major > 0.05 * fit.shape.minor) return fit;
    const points = sample(this.mesh.cornersOf(triangles));
    const ball: Shape = { kind: 'sphere', center: fit.shape.center, radius: fit.shape.minor };
    const other = refine(ball, points, { sizeMm: this.mesh.sizeMm, noise: this.mesh.noise });
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
      if (this.loose.isLoose(t) && this.fits(t, shape, sign, reach)) triangles.push(t);
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
    if (this.flats.has(facet)) return true;
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
    const facets = this.facetsOf(triangles);
    if (facets.length < 3) return false;
    const normals = facets.map((facet) => this.mesh.facets[facet]!.normal);
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

  /** Surfaces of revolution about the axes that are known so far, which leaves their profile alone to be found. */
  private growCoaxial(): void {
    const axes = this.axes();
    if (axes.length > 0) this.growFrom((loose, facet) => revolvedAt(loose, facet, axes));
  }

  /** Strips about the axes that are known so far, each a cylinder or a cone of its own. */
  private growBands(kind: 'cylinder' | 'cone'): void {
    const axes = this.axes();
    if (axes.length === 0) return;
    this.growFrom((loose, facet) => {
      const band = bandAt(loose, facet, axes);
      return band?.kind === kind ? band : null;
    });
  }

  /** Axis lines of the surfaces found so far and of the round rims of flat faces, each once. */
  private axes(): Axis[] {
    const lines: Axis[] = [];
    const note = (line: Axis): void => {
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
      if (facet.triangles.length >= 5 && this.loose.isFree(id)) for (const rim of this.mesh.roundRims(facet)) note(rim);
    });
    return lines;
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
      const { shape } = region.fit;
      const triangles = [...region.triangles];
      const isFlat = widerThan(this.mesh, shape, this.facetsOf(triangles));
      for (const t of triangles)
        for (let k = 0; k < 3; k++) {
          const u = this.mesh.neighbors[3 * t + k] ?? -1;
          if (u < 0 || !this.loose.isLoose(u) || isFlat(this.mesh.facetOf[u] ?? 0)) continue;
          if (!this.fits(u, shape, region.outward ? 1 : -1) && !this.fillsGap(u, id, shape)) continue;
          this.regionOf[u] = id;
          triangles.push(u);
        }
      this.regions[id] = { ...region, triangles };
    });
  }

  /** Whether a triangle lies between others of a round surface, with its corners on it, however askew it was cut. */
  private fillsGap(t: number, region: number, shape: Shape): boolean {
    const sides = [0, 1, 2].filter((k) => this.regionOf[this.mesh.neighbors[3 * t + k] ?? -1] === region);
    if (sides.length < 2 || shape.kind === 'plane') return false;
    const corners = [0, 1, 2].map((k) => this.mesh.corner(t, k));
    return (
      corners.every((p) => Math.abs(distanceTo(shape, p)) <= this.mesh.tolerance) &&
      Math.abs(dot(normalAt(shape, this.mesh.middle(t)), this.mesh.normal(t))) > GAP_COSINE &&
      !this.isCapOf(shape, this.mesh.facetOf[t] ?? 0)
    );
  }

  private keepMerged(parts: readonly Region[], shape: Shape): void {
    const triangles = parts.flatMap((part) => part.triangles);
    this.keep(
      triangles,
      refine(shape, sample(this.mesh.cornersOf(triangles)), { sizeMm: this.mesh.sizeMm, noise: this.mesh.noise }),
    );
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
    const rest = this.mesh.facets.map((_, f) => f).filter((f) => this.loose.isFree(f));
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
      const least = leastFlat(patch.map((f) => this.mesh.facets[f]!.area));
      // One triangle alone is a piece of a surface, however large it is beside the others.
      const isFlat = (f: number): boolean =>
        this.mesh.facets[f]!.area >= least && (least === 0 || this.mesh.facets[f]!.triangles.length > 1);
      for (const f of patch) if (isFlat(f)) this.keepPlane(f);
      this.keepPatches(new Set(patch.filter((f) => !isFlat(f))));
    }
  }

  /** Small pieces of a freeform surface lie on cones, and fewer on other surfaces, by chance: they go back to it. */
  private givePiecesBack(): void {
    for (const [id, region] of this.regions.entries()) {
      if (!region?.fit) continue;
      const chance = CHANCE_PIECES[region.fit.shape.kind === 'cone' ? 'cone' : 'other'];
      const sides = this.sidesOf(region.triangles, id);
      const around = sides.reduce((sum, { size }) => sum + size, 0);
      const intoFreeform = sides.filter(({ other, smooth }) => smooth && this.regions[other]?.fit === null);
      const [into] = intoFreeform.sort((a, b) => b.size - a.size);
      const host = into === undefined ? null : (this.regions[into.other] ?? null);
      if (into === undefined || host === null) continue;
      const smooth = intoFreeform.reduce((sum, { size }) => sum + size, 0);
      if (smooth <= chance.sides * around) continue;
      if (this.areaOf(region.triangles) > chance.area * this.areaOf(host.triangles)) continue;
      for (const t of region.triangles) this.regionOf[t] = into.other;
      this.regions[into.other] = { ...host, triangles: [...host.triangles, ...region.triangles] };
      this.regions[id] = null;
    }
  }

  /** What a region meets, by region and by whether it goes on there smoothly, with the length of the sides between. */
  private sidesOf(
    triangles: readonly number[],
    own: number,
  ): { readonly other: number; readonly smooth: boolean; readonly size: number }[] {
    const found = new Map<string, { other: number; smooth: boolean; size: number }>();
    for (const t of triangles)
      for (let k = 0; k < 3; k++) {
        const u = this.mesh.neighbors[3 * t + k] ?? -1;
        const other = u < 0 ? -1 : (this.regionOf[u] ?? -1);
        if (other === own) continue;
        const smooth = u >= 0 && dot(this.mesh.normal(t), this.mesh.normal(u)) > SMOOTH_COSINE;
        const size = length(subtract(this.mesh.corner(t, (k + 1) % 3), this.mesh.corner(t, k)));
        const key = `${String(other)} ${String(smooth)}`;
        const known = found.get(key);
        if (known === undefined) found.set(key, { other, smooth, size });
        else known.size += size;
      }
    return [...found.values()];
  }

  private areaOf(triangles: readonly number[]): number {
    return triangles.reduce((sum, t) => sum + (this.mesh.areas[t] ?? 0), 0);
  }

  private keepPlane(facet: number): void {
    const { normal } = this.mesh.facets[facet]!;
    const triangles = this.loose.freeOf(facet);
    const points = sample(this.mesh.cornersOf(triangles));
    const origin = centroidOf(points);
    const fit =
      points.length > 3
        ? refine({ kind: 'plane', origin, normal }, points, { sizeMm: this.mesh.sizeMm, noise: this.mesh.noise })
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
        patch.flatMap((f) => this.loose.freeOf(f)),
        null,
      );
    }
  }
}

/**
 * Finds the surfaces of a mesh: cylinders, spheres, tori, cones and planes through the corners of its triangles, which
 * an exporter puts on the true surface. `noise` is how far a corner may be off by rounding. What fits none is freeform.
 */
export const segment = (surface: ClosedSurface, sizeMm: number, noise: number): Region[] =>
  new Segmenter(new FacetMesh(surface, sizeMm, noise)).run();
