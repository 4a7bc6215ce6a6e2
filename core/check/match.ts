import { munkres } from 'munkres';

import { circleCover, featuresOf, findFeatures, type Feature, type FeatureKind } from '#core/feature';
import type { Face, Solid } from '#core/solid';
import {
  add,
  boxDiagonal,
  cross,
  distance,
  distanceToLine,
  dot,
  length,
  placeDirection,
  placePoint,
  scale,
  subtract,
  type Placement,
  type Vec3,
} from '#core/vector';

import { placeFace, type Frame } from './frame.ts';

/** Partner of each reference face, as the submission has it, by id; absent where there is none. */
export type FacePartners = ReadonlyMap<number, { readonly face: Face; readonly cost: number }>;

interface Candidate {
  readonly face: Face;
  /** The face before it was placed. */
  readonly own: Face;
  /** Share of the circle for cylinders, else 0. */
  readonly cover: number;
}

/** A face whose best partner costs more than this has none. */
const MISSING_COST = 0.75;

/** Beyond this angle two planes or axes are not the same one any more, 5 degrees. */
const ANGLE_SINE = Math.sin((5 * Math.PI) / 180);
/** Flat faces may lean by this much and still be that face: an angle that was modeled wrong. */
const LEAN_SINE = Math.sin((35 * Math.PI) / 180);

const logRatio = (a: number, b: number): number => Math.abs(Math.log((a + 1e-9) / (b + 1e-9)));

/**
 * Dissimilarity of two faces; 0 for the same face in the same place. Position counts more than size, so that a hole of
 * the wrong size in the right place, or of the right size in the wrong place, is still that hole.
 */
function costOf(a: Candidate, b: Candidate, sizeMm: number): number {
  const [s, t] = [a.face.surface, b.face.surface];
  const apart = distance(a.face.centroid, b.face.centroid) / sizeMm;
  if (s.kind === 'plane' && t.kind === 'plane') {
    const lean = length(cross(s.normal, t.normal));
    if (dot(s.normal, t.normal) < 0 || lean > LEAN_SINE) return Infinity;
    const offset = Math.abs(dot(subtract(s.origin, t.origin), s.normal)) / sizeMm;
    const tilted = lean > ANGLE_SINE ? 0.1 + lean * 0.5 : 0;
    return 2 * offset + 0.5 * apart + 0.1 * Math.min(3, logRatio(a.face.areaMm2, b.face.areaMm2)) + tilted;
  }
  if (s.kind === 'cylinder' && t.kind === 'cylinder') {
    if (s.side !== t.side || length(cross(s.direction, t.direction)) > ANGLE_SINE) return Infinity;
    const offset = distanceToLine(t.origin, s.origin, s.direction) / sizeMm;
    const cover = Math.abs(a.cover - b.cover);
    return (
      2 * offset + 0.3 * apart + 0.15 * Math.min(4, logRatio(s.radiusMm, t.radiusMm)) + 0.6 * (cover > 0.2 ? cover : 0)
    );
  }
  if (s.kind !== t.kind) return Infinity;
  return 2 * apart + 0.1 * Math.min(3, logRatio(a.face.areaMm2, b.face.areaMm2));
}

const FORBIDDEN = 1e6;

/** Pairs rows with columns at minimum total cost; a row left alone costs `missing`. Gives the column of each row, or -1. */
function assign(costs: readonly (readonly number[])[], missing: number): number[] {
  if (costs.length === 0) return [];
  // Extra columns stand for "missing", one for each row.
  const padded = costs.map((row, i) => [
    ...row.map((cost) => Math.min(cost, FORBIDDEN)),
    ...costs.map((_, j) => (i === j ? missing : FORBIDDEN)),
  ]);
  const partner = costs.map(() => -1);
  for (const [i, j] of munkres(padded)) {
    const cost = costs[i]?.[j];
    if (cost !== undefined && cost < missing) partner[i] = j;
  }
  return partner;
}

/** A thread as the plain wall it stands for: its zone is compared by major diameter and length, not flank by flank. */
const threadWalls = (solid: Solid): Face[] =>
  featuresOf(solid, 'thread').flatMap((thread): Face[] => {
    const first = solid.faces[thread.faceIds[0] ?? -1];
    const faces = thread.faceIds.flatMap((id) => solid.faces[id] ?? []);
    if (!first) return [];
    const radiusMm = thread.majorDiameterMm / 2;
    const middle = faces.reduce<Vec3>((sum, face) => add(sum, scale(face.centroid, 1 / faces.length)), [0, 0, 0]);
    const origin = add(thread.origin, scale(thread.direction, dot(subtract(middle, thread.origin), thread.direction)));
    return [
      {
        ...first,
        surface: {
          kind: 'cylinder',
          origin,
          direction: thread.direction,
          radiusMm,
          side: thread.internal ? 'concave' : 'convex',
        },
        areaMm2: 2 * Math.PI * radiusMm * thread.lengthMm,
        centroid: origin,
      },
    ];
  });

/** Assigns faces of the two solids to each other at minimum total cost; leaving a face alone costs `MISSING_COST`. */
export function matchFaces(reference: Solid, submission: Solid, frame: Frame): FacePartners {
  const sizeMm = boxDiagonal(reference.bounds);
  const partners = new Map<number, { face: Face; cost: number }>();
  const kinds = [...new Set(reference.faces.map((face) => face.surface.kind))];
  const walls = threadWalls(submission);
  for (const kind of kinds) {
    const rows: Candidate[] = reference.faces
      .filter((face) => face.surface.kind === kind)
      .map((face) => ({ face, own: face, cover: circleCover(reference, face) }));
    const columns: Candidate[] = [
      ...submission.faces
        .filter((face) => face.surface.kind === kind)
        .map((face) => ({ own: face, face: placeFace(frame.placement, face), cover: circleCover(submission, face) })),
      ...walls
        .filter((face) => face.surface.kind === kind)
        .map((face) => ({ own: face, face: placeFace(frame.placement, face), cover: 1 })),
    ];
    if (columns.length === 0) continue;
    const costs = rows.map((row) => columns.map((column) => costOf(row, column, sizeMm)));
    assign(costs, MISSING_COST).forEach((j, i) => {
      const [row, column] = [rows[i], columns[j]];
      if (row && column) partners.set(row.face.id, { face: column.own, cost: costs[i]?.[j] ?? 0 });
    });
  }
  return partners;
}

/** Kinds that are compared one by one; patterns and symmetry follow from these. */
const COMPARED = [
  'hole',
  'slotted-hole',
  'boss',
  'pocket',
  'slot',
  'groove',
  'rib',
  'fillet',
  'full-round',
  'chamfer',
] as const satisfies readonly FeatureKind[];
type Compared = Extract<Feature, { kind: (typeof COMPARED)[number] }>;

export interface FeaturePartners {
  /** Partner of each reference feature on the submission, or null where it is missing. */
  readonly partnerOf: ReadonlyMap<Feature, Feature | null>;
  readonly missing: readonly Compared[];
  readonly extra: readonly Compared[];
}

/** A feature whose best partner costs more than this is missing. */
const FEATURE_MISSING_COST = 0.6;

/** One number that tells features of a kind apart by size, mm. */
export function sizeOf(feature: Compared): number {
  switch (feature.kind) {
    case 'hole':
    case 'boss':
    case 'groove':
      return feature.diameterMm;
    case 'slotted-hole':
    case 'slot':
      return feature.widthMm;
    case 'pocket':
      return feature.depthMm;
    case 'rib':
      return feature.thicknessMm;
    case 'fillet':
    case 'full-round':
      return feature.radiusMm;
    case 'chamfer':
      return Math.max(...feature.sizesMm);
  }
}

/** Where a feature is: the middle of its faces by area. */
function placeOf(solid: Solid, feature: Feature): Vec3 {
  const faces = feature.faceIds.flatMap((id) => solid.faces[id] ?? []);
  const area = faces.reduce((sum, face) => sum + face.areaMm2, 0);
  return faces.reduce<Vec3>((sum, face) => add(sum, scale(face.centroid, face.areaMm2 / area)), [0, 0, 0]);
}

function directionOf(feature: Compared): Vec3 | null {
  return 'direction' in feature ? feature.direction : null;
}

/** Assigns features of a kind to each other at minimum total cost, with "missing" and "extra" as outcomes. */
export function matchFeatures(reference: Solid, submission: Solid, { placement }: Frame): FeaturePartners {
  const sizeMm = boxDiagonal(reference.bounds);
  const partnerOf = new Map<Feature, Feature | null>();
  const missing: Compared[] = [];
  const extra: Compared[] = [];
  const isCompared = (feature: Feature): feature is Compared => (COMPARED as readonly string[]).includes(feature.kind);
  const own = findFeatures(reference).filter(isCompared);
  const theirs = findFeatures(submission).filter(isCompared);
  for (const kind of COMPARED) {
    const rows = own.filter((feature) => feature.kind === kind);
    const columns = theirs.filter((feature) => feature.kind === kind);
    const places = columns.map((feature) => placePoint(placement, placeOf(submission, feature)));
    const costs = rows.map((row) => {
      const place = placeOf(reference, row);
      return columns.map((column, j) => {
        if (!sameDirection(directionOf(row), directionOf(column), placement)) return Infinity;
        const apart = distance(place, places[j] ?? place) / sizeMm;
        return 2 * apart + 0.15 * Math.min(4, logRatio(sizeOf(row), sizeOf(column) * placement.scale));
      });
    });
    const partner = assign(costs, FEATURE_MISSING_COST);
    rows.forEach((row, i) => {
      const found = columns[partner[i] ?? -1] ?? null;
      partnerOf.set(row, found);
      if (found === null) missing.push(row);
    });
    columns.forEach((column, j) => {
      if (!partner.includes(j)) extra.push(column);
    });
  }
  return { partnerOf, missing, extra };
}

const sameDirection = (a: Vec3 | null, b: Vec3 | null, placement: Placement): boolean =>
  a === null || b === null || length(cross(a, placeDirection(placement, b))) < ANGLE_SINE;
