import { ProblemError } from '#core/problem';
import { LENGTH_UNITS, type LengthUnit } from '#core/quantity';
import {
  roundCoordinate,
  type DisplayMesh,
  type Edge,
  type Estimate,
  type Face,
  type MassProperties,
  type Solid,
  type Surface,
  type Warning,
} from '#core/solid';
import { add, boxAround, boxDiagonal, cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/vector';

import { centroidOf, circleThrough, curvaturesAt, distanceTo, normalAt, planeThrough, residualOf } from '#core/fit';
import { polyhedronProperties } from './properties.ts';
import { segment, type Region } from './segment.ts';
import { closeSurface, type ClosedSurface } from './surface.ts';
import type { MeshFile, Triangles } from './triangles.ts';
import { weld } from './weld.ts';

/** Faces that meet at less than this angle meet smoothly. */
const SMOOTH_ANGLE = (3 * Math.PI) / 180;

/** Share of the correction for roundness that is still in doubt. */
const DOUBT = 0.1;

/**
 * The analyzed form of a mesh file whose numbers are taken in `unit`. Raises `empty-mesh` when nothing with an area is
 * left.
 */
export function solidOfMesh(file: MeshFile, unit: LengthUnit): Solid {
  const joined = joinParts(file.parts, LENGTH_UNITS[unit]);
  const welded = weld(joined);
  if (welded.indices.length === 0)
    throw new ProblemError('empty-mesh', 'The file holds no triangle with an area. Export the solid body itself.');
  const surface = closeSurface(welded);
  const sizeMm = boxDiagonal(boxAround(welded.positions));
  const noise = coordinateNoise(welded.positions, LENGTH_UNITS[unit]);
  const regions = segment(surface, sizeMm, noise);
  const tables = tablesOf(surface, regions, noise);
  const closed = surface.openSides === 0;
  const massProperties = polyhedronProperties(surface.mesh);
  return {
    source: {
      format: file.format,
      declaredUnit: file.declaredUnit,
      productName: file.name,
      originatingSystem: file.program,
    },
    bodies: closed ? surface.bodies : 0,
    valid: surface.knots === 0,
    closed,
    massProperties,
    estimate: estimateOf(surface, regions, massProperties, noise),
    bounds: boxAround(surface.mesh.positions),
    faces: tables.faces,
    edges: tables.edges,
    mesh: displayOf(surface, regions, tables),
    warnings: warningsOf(surface, file, Math.abs(massProperties.volumeMm3) < EMPTY_SHARE * sizeMm ** 3),
  };
}

/** All objects of a file as one mesh in mm. Parts stay apart: corners are joined within each. */
function joinParts(parts: readonly Triangles[], factor: number): Triangles {
  const corners = parts.reduce((sum, part) => sum + part.positions.length, 0);
  const positions = new Float64Array(corners);
  const indices = new Uint32Array(parts.reduce((sum, part) => sum + part.indices.length, 0));
  let atCorner = 0;
  let atIndex = 0;
  for (const part of parts) {
    for (let i = 0; i < part.positions.length; i++) positions[atCorner + i] = (part.positions[i] ?? 0) * factor;
    for (let i = 0; i < part.indices.length; i++) indices[atIndex + i] = (part.indices[i] ?? 0) + atCorner / 3;
    atCorner += part.positions.length;
    atIndex += part.indices.length;
  }
  return { positions, indices };
}

/**
 * How far a coordinate may be off: half of the last digit where the file rounds, to decimals or to digits that count,
 * else the precision of 32-bit numbers.
 */
function coordinateNoise(positions: Float64Array, factor: number): number {
  let largest = 0;
  for (const value of positions) largest = Math.max(largest, Math.abs(value) / factor);
  const single = largest * 6e-8;
  const step = Math.max(1, Math.floor(positions.length / 3000));
  const sampled: number[] = [];
  for (let i = 0; i < positions.length; i += step) sampled.push(Math.abs((positions[i] ?? 0) / factor));
  const isMultiple = (value: number, of: number): boolean =>
    Math.abs(value * of - Math.round(value * of)) < 1e-3 + value * of * 1e-7;
  const magnitude = (value: number): number => Math.floor(Math.log10(Math.max(value, 1e-6)));
  const roundedAt = (place: (value: number) => number): boolean =>
    sampled.every((value) => isMultiple(value, 10 ** place(value))) &&
    sampled.filter((value) => !isMultiple(value, 10 ** (place(value) - 1))).length > 0.1 * sampled.length;
  for (let decimals = 3; decimals <= 6; decimals++)
    if (roundedAt(() => decimals)) return factor * Math.max(single, 0.5 / 10 ** decimals);
  for (let digits = 4; digits <= 6; digits++)
    if (roundedAt((value) => digits - 1 - magnitude(value)))
      return factor * Math.max(single, 0.5 * 10 ** (magnitude(largest) - digits + 1));
  return factor * single;
}

/** A closed surface around less than this share of its cube holds nothing. */
const EMPTY_SHARE = 1e-9;

function warningsOf(surface: ClosedSurface, file: MeshFile, isEmpty: boolean): Warning[] {
  const warnings: Warning[] = [];
  const add = (code: string, message: string): void => {
    warnings.push({ code, message });
  };
  if (surface.openSides > 0)
    add(
      'not-closed',
      `The surface of the model is not closed: ${String(surface.openSides)} triangle sides have no neighbor. Close the gap and export a solid.`,
    );
  if (surface.openSides === 0 && isEmpty)
    add('empty', 'The model encloses no volume: it is flat. Export the solid body itself.');
  if (surface.knots > 0)
    add('self-contact', 'The model touches itself along an edge, so inside and outside meet there.');
  if (surface.turned > 0)
    add('turned-triangles', `${String(surface.turned)} triangles faced the wrong way and were turned.`);
  if (surface.inverted > 0)
    add('inverted', 'The surface of the model was inside out and was turned. Check the export.');
  if (surface.openSides === 0 && surface.bodies > 1)
    add('several-bodies', `The model is ${String(surface.bodies)} separate bodies; merge them into one.`);
  if (file.parts.length > 1 && surface.bodies <= 1)
    add('several-objects', `The file builds ${String(file.parts.length)} objects.`);
  return warnings;
}

/** Position and normal of a triangle's points for integration: the middles of its sides, exact to second degree. */
function* pointsOf(mesh: Triangles, t: number): Generator<readonly [point: Vec3, share: number]> {
  for (let k = 0; k < 3; k++) yield [scale(add(cornerAt(mesh, t, k), cornerAt(mesh, t, k + 1)), 0.5), 1 / 3];
}

const crossOf = (mesh: Triangles, t: number): Vec3 =>
  cross(subtract(cornerAt(mesh, t, 1), cornerAt(mesh, t, 0)), subtract(cornerAt(mesh, t, 2), cornerAt(mesh, t, 0)));

/**
 * What the part would have without facets: between each triangle and the round surface it stands for lies a thin lens
 * whose volume and place are added, and its area is that of the surface above it.
 */
function estimateOf(
  surface: ClosedSurface,
  regions: readonly Region[],
  { volumeMm3, areaMm2, centroidMm }: MassProperties,
  noise: number,
): Estimate {
  let [lens, lenses, area, doubtfulVolume, doubtfulArea] = [0, 0, 0, 0, 0];
  let moment: Vec3 = [0, 0, 0];
  for (const region of regions) {
    const { fit } = region;
    for (const t of region.triangles) {
      const twice = crossOf(surface.mesh, t);
      const facet = length(twice) / 2;
      if (facet === 0) continue;
      if (fit === null) {
        const bulge = facet * freeformSagitta(surface, t);
        doubtfulVolume += bulge;
        doubtfulArea += 0.02 * facet;
        continue;
      }
      doubtfulVolume += facet * Math.max(fit.residual, noise);
      if (fit.shape.kind === 'plane') continue;
      const normal = normalize(twice);
      const sign = region.outward ? 1 : -1;
      for (const [p, share] of pointsOf(surface.mesh, t)) {
        const cosine = Math.abs(dot(normalAt(fit.shape, p), normal));
        // How far the surface lies above the facet, seen along its own normal.
        const rise = -distanceTo(fit.shape, p);
        const [k1, k2] = curvaturesAt(fit.shape, p);
        const stretch = cosine / Math.max(0.2, (1 - rise * k1) * (1 - rise * k2));
        const volume = sign * rise * cosine * facet * share;
        lens += volume;
        lenses += Math.abs(volume);
        area += facet * share * (stretch - 1);
        moment = add(moment, scale(subtract(p, centroidMm), volume));
      }
    }
  }
  const rims = rimArea(surface, regions);
  area += rims.area;
  doubtfulArea += DOUBT * rims.amount;
  const whole = volumeMm3 + lens;
  const size = boxDiagonal(boxAround(surface.mesh.positions));
  const volumeUncertaintyMm3 = DOUBT * lenses + doubtfulVolume;
  return {
    volumeMm3: whole,
    areaMm2: areaMm2 + area,
    centroidMm: whole === 0 ? centroidMm : add(centroidMm, scale(moment, 1 / whole)),
    volumeUncertaintyMm3,
    areaUncertaintyMm2: DOUBT * Math.abs(area) + doubtfulArea + 1e-9 * areaMm2,
    centroidUncertaintyMm: whole === 0 ? size : noise + (volumeUncertaintyMm3 * size) / (2 * Math.abs(whole)),
  };
}

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

function cornerAt({ positions, indices }: Triangles, t: number, k: number): Vec3 {
  const at = 3 * (indices[3 * t + (k % 3)] ?? 0);
  return [positions[at] ?? 0, positions[at + 1] ?? 0, positions[at + 2] ?? 0];
}

/** How far a smooth surface may rise above a triangle of it, from the angles to its neighbors: side x angle / 8. */
function freeformSagitta({ mesh, neighbors }: ClosedSurface, t: number): number {
  let worst = 0;
  const own = normalize(crossOf(mesh, t));
  const side = Math.sqrt(length(crossOf(mesh, t)));
  for (let k = 0; k < 3; k++) {
    const u = neighbors[3 * t + k] ?? -1;
    if (u < 0) continue;
    const angle = Math.acos(Math.max(-1, Math.min(1, dot(own, normalize(crossOf(mesh, u))))));
    if (angle < 0.7) worst = Math.max(worst, (side * angle) / 8);
  }
  return worst;
}

interface Tables {
  readonly faces: Face[];
  readonly edges: Edge[];
  /** Corners of each edge in order. */
  readonly paths: readonly (readonly number[])[];
}

/** The fitted shape with its side, as the face table has it. */
function surfaceOf(region: Region, corners: readonly Vec3[]): Surface {
  const { fit, outward } = region;
  if (fit === null) return { kind: 'freeform' };
  const { shape } = fit;
  const side = outward ? 'convex' : 'concave';
  const mean = centroidOf(corners);
  switch (shape.kind) {
    case 'plane':
      return { kind: 'plane', origin: shape.origin, normal: outward ? shape.normal : scale(shape.normal, -1) };
    case 'cylinder': {
      const along = dot(subtract(mean, shape.origin), shape.direction);
      const origin = add(shape.origin, scale(shape.direction, along));
      return { kind: 'cylinder', origin, direction: shape.direction, radiusMm: shape.radius, side };
    }
    case 'cone': {
      const along = dot(subtract(mean, shape.apex), shape.direction);
      return {
        kind: 'cone',
        origin: add(shape.apex, scale(shape.direction, along)),
        direction: shape.direction,
        radiusMm: Math.abs(along) * Math.tan(shape.halfAngle),
        halfAngleRad: shape.halfAngle,
        apex: shape.apex,
        side,
      };
    }
    case 'sphere':
      return { kind: 'sphere', center: shape.center, radiusMm: shape.radius, side };
    case 'torus':
      return {
        kind: 'torus',
        center: shape.center,
        direction: shape.direction,
        majorRadiusMm: Math.abs(shape.major),
        minorRadiusMm: shape.minor,
        side,
      };
  }
}

function tablesOf(surface: ClosedSurface, regions: readonly Region[], noise: number): Tables {
  const { mesh, neighbors } = surface;
  const regionOf = new Int32Array(mesh.indices.length / 3).fill(-1);
  regions.forEach((region, id) => {
    for (const t of region.triangles) regionOf[t] = id;
  });
  const paths = boundariesOf(mesh, neighbors, regionOf);
  const at = (v: number): Vec3 => [
    mesh.positions[3 * v] ?? 0,
    mesh.positions[3 * v + 1] ?? 0,
    mesh.positions[3 * v + 2] ?? 0,
  ];
  const edgesOfFace = regions.map((): number[] => []);
  const edges = paths.map(({ corners, left, right }, id): Edge => {
    const faceIds = right < 0 ? [left] : left === right ? [left] : [left, right];
    for (const faceId of faceIds) edgesOfFace[faceId]?.push(id);
    const points = corners.map(at);
    const lengthMm = points.slice(1).reduce((sum, p, i) => sum + length(subtract(p, points[i] ?? p)), 0);
    return {
      id,
      curve: curveOf(points, 10 * noise + 1e-6 * lengthMm),
      lengthMm,
      start: points[0] ?? [0, 0, 0],
      end: points[points.length - 1] ?? [0, 0, 0],
      faceIds,
      joint: right < 0 ? 'free' : jointOf(regions[left], regions[right], points, surface, left, right, regionOf),
    };
  });
  const faces = regions.map((region, id): Face => {
    const corners = new Set<number>();
    let areaMm2 = 0;
    let moment: Vec3 = [0, 0, 0];
    for (const t of region.triangles) {
      const twice = length(crossOf(mesh, t));
      areaMm2 += twice / 2;
      let middle: Vec3 = [0, 0, 0];
      for (let k = 0; k < 3; k++) {
        const v = mesh.indices[3 * t + k] ?? 0;
        corners.add(v);
        middle = add(middle, scale(at(v), 1 / 3));
      }
      moment = add(moment, scale(middle, twice / 2));
    }
    const points = [...corners].map(at);
    return {
      id,
      surface: surfaceOf(region, points),
      areaMm2,
      centroid: areaMm2 > 0 ? scale(moment, 1 / areaMm2) : centroidOf(points),
      bounds: boxAround(Float64Array.from(points.flat())),
      edgeIds: edgesOfFace[id] ?? [],
      bodyId: surface.bodyOf[region.triangles[0] ?? 0] ?? 0,
      uncertaintyMm: region.fit?.uncertainty ?? noise,
    };
  });
  return { faces, edges, paths: paths.map(({ corners }) => corners) };
}

interface Boundary {
  /** Corners in the sense in which the left region runs around. */
  readonly corners: readonly number[];
  readonly left: number;
  readonly right: number;
}

/** The lines between regions: sides of triangles with another region beyond, strung together from corner to corner. */
function boundariesOf(mesh: Triangles, neighbors: Int32Array, regionOf: Int32Array): Boundary[] {
  const next = new Map<string, Map<number, number[]>>();
  const touching = new Map<number, Set<number>>();
  const touch = (v: number, region: number): void => {
    const known = touching.get(v);
    if (known) known.add(region);
    else touching.set(v, new Set([region]));
  };
  for (let t = 0; t < regionOf.length; t++)
    for (let k = 0; k < 3; k++) {
      const u = neighbors[3 * t + k] ?? -1;
      const left = regionOf[t] ?? -1;
      const right = u < 0 ? -1 : (regionOf[u] ?? -1);
      if (left === right || (right >= 0 && right < left)) continue;
      const [a, b] = [mesh.indices[3 * t + k] ?? 0, mesh.indices[3 * t + ((k + 1) % 3)] ?? 0];
      for (const v of [a, b]) {
        touch(v, left);
        touch(v, right);
      }
      const key = `${String(left)},${String(right)}`;
      const sides = next.get(key) ?? new Map<number, number[]>();
      next.set(key, sides);
      const known = sides.get(a);
      if (known) known.push(b);
      else sides.set(a, [b]);
    }
  return [...next].flatMap(([key, sides]) => {
    const [left = -1, right = -1] = key.split(',').map(Number);
    const isEnd = (v: number): boolean => (touching.get(v)?.size ?? 0) > 2;
    const found: Boundary[] = [];
    const follow = (start: number): void => {
      const corners = [start];
      for (let v = start; ;) {
        const choices = sides.get(v);
        const to = choices?.pop();
        if (to === undefined) break;
        if (choices?.length === 0) sides.delete(v);
        corners.push(to);
        v = to;
        if (v === start || isEnd(v)) break;
      }
      if (corners.length > 1) found.push({ corners, left, right });
    };
    for (const start of [...sides.keys()].filter(isEnd)) while (sides.has(start)) follow(start);
    // Lines whose beginning is not a meeting of three: their start is where nothing leads to.
    const ends = new Set([...sides.values()].flat());
    for (const start of [...sides.keys()].filter((v) => !ends.has(v))) while (sides.has(start)) follow(start);
    for (const start of [...sides.keys()]) while (sides.has(start)) follow(start);
    return found;
  });
}

function curveOf(points: readonly Vec3[], tolerance: number): Edge['curve'] {
  const [first, last] = [points[0], points[points.length - 1]];
  if (!first || !last) return 'other';
  const chord = subtract(last, first);
  if (length(chord) > tolerance) {
    const direction = normalize(chord);
    if (points.every((p) => length(cross(subtract(p, first), direction)) <= tolerance)) return 'line';
  }
  const plane = planeThrough(points);
  if (plane.kind !== 'plane' || residualOf(plane, points) > tolerance) return 'other';
  const u = normalize(cross(plane.normal, Math.abs(plane.normal[0]) < 0.8 ? [1, 0, 0] : [0, 1, 0]));
  const v = cross(plane.normal, u);
  const circle = circleThrough(
    points.map((p) => [dot(subtract(p, plane.origin), u), dot(subtract(p, plane.origin), v)]),
  );
  return circle !== null && circle.residual <= 2 * tolerance && points.length >= 4 ? 'circle' : 'other';
}

function jointOf(
  left: Region | undefined,
  right: Region | undefined,
  points: readonly Vec3[],
  surface: ClosedSurface,
  leftId: number,
  rightId: number,
  regionOf: Int32Array,
): Edge['joint'] {
  const middle = points.length >> 1;
  const [from, to] = [points[Math.max(0, middle - 1)], points[middle]];
  if (!left || !right || !from || !to) return 'knot';
  const tangent = normalize(subtract(to, from));
  const p = scale(add(from, to), 0.5);
  const a = outwardNormal(left, p) ?? triangleNormal(surface, left, leftId, rightId, p, regionOf);
  const b = outwardNormal(right, p) ?? triangleNormal(surface, right, rightId, leftId, p, regionOf);
  const turn = cross(a, b);
  if (Math.atan2(length(turn), dot(a, b)) < SMOOTH_ANGLE) return 'smooth';
  return dot(turn, tangent) > 0 ? 'convex' : 'concave';
}

const outwardNormal = (region: Region, p: Vec3): Vec3 | null =>
  region.fit === null ? null : scale(normalAt(region.fit.shape, p), region.outward ? 1 : -1);

/** Normal of the triangle of a freeform region that borders another region nearest to a point. */
function triangleNormal(
  { mesh, neighbors }: ClosedSurface,
  region: Region,
  own: number,
  other: number,
  p: Vec3,
  regionOf: Int32Array,
): Vec3 {
  let best: { normal: Vec3; far: number } | null = null;
  for (const t of region.triangles) {
    const borders = [0, 1, 2].some((k) => {
      const u = neighbors[3 * t + k] ?? -1;
      return u >= 0 && regionOf[u] === other && other !== own;
    });
    if (!borders) continue;
    const at = 3 * (mesh.indices[3 * t] ?? 0);
    const far = length(
      subtract(p, [mesh.positions[at] ?? 0, mesh.positions[at + 1] ?? 0, mesh.positions[at + 2] ?? 0]),
    );
    if (best === null || far < best.far) best = { normal: normalize(crossOf(mesh, t)), far };
  }
  return best?.normal ?? [0, 0, 1];
}

/** Triangles by face, each face with corners of its own, so that the viewer can shade faces apart. */
function displayOf({ mesh }: ClosedSurface, regions: readonly Region[], { edges, paths }: Tables): DisplayMesh {
  const positions: number[] = [];
  const indices: number[] = [];
  const groups = regions.map((region, faceId) => {
    const start = indices.length;
    const own = new Map<number, number>();
    for (const t of region.triangles)
      for (let k = 0; k < 3; k++) {
        const v = mesh.indices[3 * t + k] ?? 0;
        let id = own.get(v);
        if (id === undefined) {
          id = positions.length / 3;
          own.set(v, id);
          for (let j = 0; j < 3; j++) positions.push(roundCoordinate(mesh.positions[3 * v + j] ?? 0));
        }
        indices.push(id);
      }
    return { faceId, start, count: indices.length - start };
  });
  return {
    positions,
    indices,
    groups,
    edges: edges.map((edge, i) => ({
      edgeId: edge.id,
      faceIds: edge.faceIds,
      points: (paths[i] ?? []).flatMap((v) => [0, 1, 2].map((k) => roundCoordinate(mesh.positions[3 * v + k] ?? 0))),
    })),
  };
}
