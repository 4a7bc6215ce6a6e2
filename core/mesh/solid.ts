import { ProblemError } from '#core/problem';
import { LENGTH_UNITS, type LengthUnit } from '#core/quantity';
import {
  roundCoordinate,
  type DisplayMesh,
  type Edge,
  type Face,
  type Solid,
  type Surface,
  type Warning,
} from '#core/solid';
import {
  add,
  boxAround,
  boxDiagonal,
  cross,
  distance,
  dot,
  length,
  normalize,
  pointAt,
  scale,
  subtract,
  type Vec3,
} from '#core/vector';

import { centroidOf, circleThrough, normalAt, planeThrough, residualOf } from '#core/fit';
import { cornerAt, crossOf, estimateOf } from './estimate.ts';
import { polyhedronProperties } from './properties.ts';
import { segment, type Region } from './segment.ts';
import { closeSurface, type ClosedSurface } from './surface.ts';
import type { MeshFile, Triangles } from './triangles.ts';
import { weld } from './weld.ts';

/** Faces that meet at less than this angle meet smoothly. */
const SMOOTH_ANGLE = (3 * Math.PI) / 180;

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
    valid: surface.nonManifoldEdges === 0,
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
  // Small numbers that are rounded to digits look as if they were rounded to decimals: the coarser of both is meant.
  const decimals = [3, 4, 5, 6].find((place) => roundedAt(() => place));
  const digits = [4, 5, 6].find((count) => roundedAt((value) => count - 1 - magnitude(value)));
  return (
    factor *
    Math.max(
      single,
      decimals === undefined ? 0 : 0.5 / 10 ** decimals,
      digits === undefined ? 0 : 0.5 * 10 ** (magnitude(largest) - digits + 1),
    )
  );
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
  if (surface.nonManifoldEdges > 0)
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
  const at = (v: number): Vec3 => pointAt(mesh.positions, v);
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
      convexity:
        right < 0
          ? 'boundary'
          : convexityOf({
              left: regions[left],
              right: regions[right],
              points,
              surface,
              leftId: left,
              rightId: right,
              regionOf,
            }),
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

function convexityOf({
  left,
  right,
  points,
  surface,
  leftId,
  rightId,
  regionOf,
}: {
  readonly left: Region | undefined;
  readonly right: Region | undefined;
  readonly points: readonly Vec3[];
  readonly surface: ClosedSurface;
  readonly leftId: number;
  readonly rightId: number;
  readonly regionOf: Int32Array;
}): Edge['convexity'] {
  const middle = points.length >> 1;
  const [from, to] = [points[Math.max(0, middle - 1)], points[middle]];
  if (!left || !right || !from || !to) return 'non-manifold';
  const tangent = normalize(subtract(to, from));
  const p = scale(add(from, to), 0.5);
  const a = outwardNormal(left, p) ?? triangleNormal(surface, left, { own: leftId, other: rightId, p, regionOf });
  const b = outwardNormal(right, p) ?? triangleNormal(surface, right, { own: rightId, other: leftId, p, regionOf });
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
  {
    own,
    other,
    p,
    regionOf,
  }: { readonly own: number; readonly other: number; readonly p: Vec3; readonly regionOf: Int32Array },
): Vec3 {
  let best: { normal: Vec3; far: number } | null = null;
  for (const t of region.triangles) {
    const borders = [0, 1, 2].some((k) => {
      const u = neighbors[3 * t + k] ?? -1;
      return u >= 0 && regionOf[u] === other && other !== own;
    });
    if (!borders) continue;
    const far = distance(p, cornerAt(mesh, t, 0));
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
