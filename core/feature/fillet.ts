/** Rounds and chamfers: fillets in chains, full rounds, chamfers. */
import type { Face, Plane } from '#core/solid';
import { angleBetween, cross, distanceToLine, dot, length, normalize, subtract, type Vec3 } from '#core/vector';

import { parallel, sameAxis, type FaceGraph } from './graph.ts';

export interface Fillet {
  readonly kind: 'fillet';
  /** Concave fills a corner, convex rounds an edge. */
  readonly side: 'convex' | 'concave';
  readonly radiusMm: number;
  /** All faces of the chain that blend into each other. */
  readonly faceIds: readonly number[];
}

export interface FullRound {
  readonly kind: 'full-round';
  readonly side: 'convex' | 'concave';
  readonly radiusMm: number;
  readonly faceIds: readonly number[];
}

export interface Chamfer {
  readonly kind: 'chamfer';
  /** What it takes off each of the two faces it lies between, mm, and which faces these are. */
  readonly sizesMm: readonly [number, number];
  readonly onFaceIds: readonly [number, number];
  /** Between the chamfer and the first of the two faces. */
  readonly angleRad: number;
  readonly faceIds: readonly number[];
}

interface Blend {
  readonly face: Face;
  readonly radiusMm: number;
  readonly side: 'convex' | 'concave';
  readonly full: boolean;
}

/** Fillets and full rounds. `taken` are faces of holes and slotted holes. */
export function findFillets(graph: FaceGraph, taken: ReadonlySet<number>): (Fillet | FullRound)[] {
  const blends = graph.solid.faces.flatMap((face) => (taken.has(face.id) ? [] : (blendOf(graph, face) ?? [])));
  const byId = new Map(blends.map((blend) => [blend.face.id, blend]));
  const done = new Set<number>();
  const found: (Fillet | FullRound)[] = [];
  for (const blend of blends) {
    if (done.has(blend.face.id)) continue;
    done.add(blend.face.id);
    const chain = [blend];
    for (const member of chain)
      for (const { edge, face } of graph.around(member.face)) {
        const next = byId.get(face.id);
        const alike =
          next?.side === blend.side &&
          next.full === blend.full &&
          Math.abs(next.radiusMm - blend.radiusMm) < 2 * graph.toleranceMm;
        if (edge.convexity !== 'smooth' || !alike || done.has(face.id)) continue;
        done.add(face.id);
        chain.push(next);
      }
    found.push({
      kind: blend.full ? 'full-round' : 'fillet',
      side: blend.side,
      radiusMm: blend.radiusMm,
      faceIds: chain.map(({ face }) => face.id),
    });
  }
  return found;
}

/** A face that joins two others smoothly on both of its long sides, or three and more at a corner. */
function blendOf(graph: FaceGraph, face: Face): Blend | null {
  const { surface } = face;
  const smooth = graph.around(face).filter(({ edge }) => edge.convexity === 'smooth');
  const partners = new Set(smooth.map((beyond) => beyond.face.id));
  switch (surface.kind) {
    case 'cylinder': {
      const sides = smooth.filter(({ edge }) => {
        const run = subtract(edge.end, edge.start);
        return length(run) > 0.5 * edge.lengthMm && Math.abs(dot(normalize(run), surface.direction)) > 0.9;
      });
      const turn = graph.turn(face, surface.origin, surface.direction);
      if (new Set(sides.map((beyond) => beyond.face.id)).size < 2 || turn > 0.75) return null;
      const full = turn > 0.48 && turn < 0.52 && facesApart(sides.map((beyond) => beyond.face));
      // Two flat sides with a concave half turn between them are the end of a slot.
      if (full && surface.side === 'concave') return null;
      return { face, radiusMm: surface.radiusMm, side: surface.side, full };
    }
    case 'torus':
      return partners.size >= 1 && smooth.length >= 1
        ? { face, radiusMm: surface.minorRadiusMm, side: surface.side, full: false }
        : null;
    case 'sphere':
      return partners.size >= 2 ? { face, radiusMm: surface.radiusMm, side: surface.side, full: false } : null;
    default:
      return null;
  }
}

const facesApart = (faces: readonly Face[]): boolean => {
  const normals = faces.flatMap(({ surface }) => (surface.kind === 'plane' ? [surface.normal] : []));
  return normals.some((a) => normals.some((b) => dot(a, b) < -0.999));
};

/** Flat chamfers between flat faces, and conical ones at the rims of shafts. */
export function findChamfers(graph: FaceGraph, taken: ReadonlySet<number>): Chamfer[] {
  return [
    ...graph
      .planes()
      .flatMap(({ face, surface }) => (taken.has(face.id) ? [] : (flatChamfer(graph, face, surface) ?? []))),
    ...graph.cones().flatMap(({ face }) => (taken.has(face.id) ? [] : (conicalChamfer(graph, face) ?? []))),
  ];
}

/** A chamfer is narrower than the faces it lies between, by this factor at least. */
const NARROWER = 1.4;
/** The shorter of its two long edges is at least this share of the longer: no ratio that a drawing has, lest rounding decides. */
const SHORTER = 0.57;

/** The end of a wedge stands square on its base: only what leans against both faces takes an edge off. */
const STEEPEST_RAD = (80 * Math.PI) / 180;

function flatChamfer(graph: FaceGraph, face: Face, surface: Plane): Chamfer | null {
  const sides = graph
    .around(face)
    .flatMap(({ edge, face: other }) =>
      edge.curve === 'line' &&
      (edge.convexity === 'convex' || edge.convexity === 'concave') &&
      other.surface.kind === 'plane'
        ? [{ edge, other, plane: other.surface }]
        : [],
    )
    .sort((a, b) => b.edge.lengthMm - a.edge.lengthMm);
  for (const [i, first] of sides.entries())
    for (const second of sides.slice(i + 1)) {
      const along = normalize(subtract(first.edge.end, first.edge.start));
      if (
        first.edge.convexity !== second.edge.convexity ||
        !parallel(along, normalize(subtract(second.edge.end, second.edge.start)))
      )
        continue;
      const lengthsMm = [first.edge.lengthMm, second.edge.lengthMm];
      if (Math.min(...lengthsMm) < SHORTER * Math.max(...lengthsMm)) continue;
      const corner = angleBetween(first.plane.normal, second.plane.normal);
      const [a, b] = [
        angleBetween(surface.normal, first.plane.normal),
        angleBetween(surface.normal, second.plane.normal),
      ];
      if (corner < 0.3 || corner > Math.PI - 0.3 || a < 0.15 || b < 0.15 || Math.abs(a + b - corner) > 0.01) continue;
      if (Math.max(a, b) > STEEPEST_RAD) continue;
      const width = distanceToLine(second.edge.start, first.edge.start, along);
      const across = (other: Face, plane: Plane): number =>
        extentAlong(graph, other, normalize(cross(plane.normal, along)));
      if (width > first.edge.lengthMm * 1.2) continue;
      if (across(first.other, first.plane) < NARROWER * width || across(second.other, second.plane) < NARROWER * width)
        continue;
      // In the triangle of chamfer and corner, sides are as the sines of the angles that face them.
      const onFirst = (width * Math.sin(b)) / Math.sin(corner);
      const onSecond = (width * Math.sin(a)) / Math.sin(corner);
      return {
        kind: 'chamfer',
        sizesMm: [onFirst, onSecond],
        onFaceIds: [first.other.id, second.other.id],
        angleRad: a,
        faceIds: [face.id],
      };
    }
  return null;
}

function extentAlong(graph: FaceGraph, face: Face, direction: Vec3): number {
  const [from, to] = graph.span(face, face.centroid, direction);
  return to - from;
}

function conicalChamfer(graph: FaceGraph, face: Face): Chamfer | null {
  const { surface } = face;
  if (surface.kind !== 'cone') return null;
  const around = graph.around(face).filter(({ edge }) => edge.convexity === 'convex');
  const flat = around.find(
    ({ face: other }) => other.surface.kind === 'plane' && parallel(other.surface.normal, surface.direction),
  );
  const round = around.find(
    ({ face: other }) => other.surface.kind === 'cylinder' && sameAxis(other.surface, surface, 2 * graph.toleranceMm),
  );
  if (!flat || round?.face.surface.kind !== 'cylinder') return null;
  const [from, to] = graph.span(face, surface.origin, surface.direction);
  const axial = to - from;
  const radii = graph.radii(face, surface.origin, surface.direction);
  const radial = radii[1] - radii[0];
  const [lengthFrom, lengthTo] = graph.span(round.face, surface.origin, surface.direction);
  if (axial > 1.5 * (lengthTo - lengthFrom) || radial > 0.8 * round.face.surface.radiusMm) return null;
  return {
    kind: 'chamfer',
    sizesMm: [radial, axial],
    onFaceIds: [flat.face.id, round.face.id],
    angleRad: Math.atan2(axial, radial),
    faceIds: [face.id],
  };
}
