import * as v from 'valibot';

import { Vec3Schema, type Face, type Solid, type Surface } from '#core/solid';
import {
  AS_MODELED,
  AXIS_ROTATIONS,
  boxCenter,
  boxDiagonal,
  boxSize,
  distanceToLine,
  dot,
  length,
  cross,
  placeDirection,
  placePoint,
  rotationAngle,
  scale,
  subtract,
  type Box,
  type Placement,
  type Vec3,
} from '#core/vector';

export const FrameSchema = v.object({
  kind: v.picklist(['as-modeled', 'moved', 'turned', 'scaled']),
  /** Carries the submission onto the reference. */
  placement: v.object({
    rotation: v.pipe(v.tuple([Vec3Schema, Vec3Schema, Vec3Schema]), v.readonly()),
    scale: v.number(),
    translation: Vec3Schema,
  }),
  /** Share of the reference surface that the placed submission covers, 0 to 1. */
  agreement: v.number(),
});
/** How the submission lies with respect to the reference. */
export type Frame = Readonly<v.InferOutput<typeof FrameSchema>>;

/** Sizes that a wrong unit gives: the submission times this factor has the size of the reference. */
const SCALES = [1, 25.4, 1 / 25.4, 10, 0.1, 1000, 0.001];

const PARALLEL_SINE = 1e-3;

export function placeSurface(placement: Placement, surface: Surface): Surface {
  const point = (p: Vec3) => placePoint(placement, p);
  const direction = (d: Vec3) => placeDirection(placement, d);
  switch (surface.kind) {
    case 'plane':
      return { ...surface, origin: point(surface.origin), normal: direction(surface.normal) };
    case 'cylinder':
      return {
        ...surface,
        origin: point(surface.origin),
        direction: direction(surface.direction),
        radiusMm: surface.radiusMm * placement.scale,
      };
    case 'cone':
      return {
        ...surface,
        origin: point(surface.origin),
        direction: direction(surface.direction),
        apex: point(surface.apex),
        radiusMm: surface.radiusMm * placement.scale,
      };
    case 'sphere':
      return { ...surface, center: point(surface.center), radiusMm: surface.radiusMm * placement.scale };
    case 'torus':
      return {
        ...surface,
        center: point(surface.center),
        direction: direction(surface.direction),
        majorRadiusMm: surface.majorRadiusMm * placement.scale,
        minorRadiusMm: surface.minorRadiusMm * placement.scale,
      };
    case 'freeform':
      return surface;
  }
}

/** Box around the placed corners of a box; exact for the axis rotations. */
export function placeBox(placement: Placement, box: Box): Box {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) =>
    placePoint(placement, [
      i & 1 ? box.max[0] : box.min[0],
      i & 2 ? box.max[1] : box.min[1],
      i & 4 ? box.max[2] : box.min[2],
    ]),
  );
  const extreme = (pick: (...xs: number[]) => number): Vec3 => [
    pick(...corners.map((c) => c[0])),
    pick(...corners.map((c) => c[1])),
    pick(...corners.map((c) => c[2])),
  ];
  return { min: extreme(Math.min), max: extreme(Math.max) };
}

/** A face carried into the frame of the reference. */
export function placeFace(placement: Placement, face: Face): Face {
  return {
    ...face,
    surface: placeSurface(placement, face.surface),
    areaMm2: face.areaMm2 * placement.scale ** 2,
    centroid: placePoint(placement, face.centroid),
    bounds: placeBox(placement, face.bounds),
  };
}

/** Whether two faces lie on the same surface within `toleranceMm`. */
function samePlace(a: Surface, b: Surface, toleranceMm: number): boolean {
  if (a.kind === 'plane' && b.kind === 'plane')
    return (
      dot(a.normal, b.normal) > 0 &&
      length(cross(a.normal, b.normal)) < PARALLEL_SINE &&
      Math.abs(dot(subtract(a.origin, b.origin), a.normal)) < toleranceMm
    );
  if (a.kind === 'cylinder' && b.kind === 'cylinder')
    return (
      a.side === b.side &&
      length(cross(a.direction, b.direction)) < PARALLEL_SINE &&
      Math.abs(a.radiusMm - b.radiusMm) < toleranceMm &&
      distanceToLine(b.origin, a.origin, a.direction) < toleranceMm
    );
  return a.kind === b.kind;
}

/** Overlap of two boxes as a share of their union, 0 to 1; thin directions count by `thinMm`. */
function boxOverlap(a: Box, b: Box, thinMm: number): number {
  let share = 1;
  for (const axis of [0, 1, 2] as const) {
    const common = Math.min(a.max[axis], b.max[axis]) - Math.max(a.min[axis], b.min[axis]) + thinMm;
    const union = Math.max(a.max[axis], b.max[axis]) - Math.min(a.min[axis], b.min[axis]) + thinMm;
    share *= Math.max(0, common) / union;
  }
  return share;
}

function agreementOf(reference: Solid, submission: readonly Face[], toleranceMm: number): number {
  let covered = 0;
  let total = 0;
  for (const face of reference.faces) {
    let best = 0;
    for (const other of submission)
      if (samePlace(face.surface, other.surface, toleranceMm))
        best = Math.max(best, boxOverlap(face.bounds, other.bounds, toleranceMm));
    covered += face.areaMm2 * best;
    total += face.areaMm2;
  }
  return total > 0 ? covered / total : 0;
}

/** Weights of shifts along one axis, gathered in bins as wide as the tolerance. */
class Votes {
  private readonly bins = new Map<number, { sum: number; weight: number }>();
  private readonly binMm: number;
  constructor(binMm: number) {
    this.binMm = binMm;
  }

  cast(shiftMm: number, weight: number): void {
    const key = Math.round(shiftMm / this.binMm);
    const bin = this.bins.get(key) ?? { sum: 0, weight: 0 };
    bin.sum += shiftMm * weight;
    bin.weight += weight;
    this.bins.set(key, bin);
  }

  /** The shift with most weight, with that of the neighboring bins; 0 when nothing was cast. */
  best(): number {
    let top = { shift: 0, weight: 0 };
    for (const key of this.bins.keys()) {
      const near = [key - 1, key, key + 1].flatMap((k) => this.bins.get(k) ?? []);
      const weight = near.reduce((sum, bin) => sum + bin.weight, 0);
      if (weight > top.weight + 1e-9) top = { shift: near.reduce((sum, bin) => sum + bin.sum, 0) / weight, weight };
    }
    return top.shift;
  }
}

/** The shift along each axis that brings most surface of the two solids together. */
function votedTranslation(reference: readonly Face[], submission: readonly Face[], toleranceMm: number): Vec3 {
  const votes = [new Votes(toleranceMm), new Votes(toleranceMm), new Votes(toleranceMm)] as const;
  const cast = (axis: 0 | 1 | 2, shift: number, weight: number): void => {
    votes[axis].cast(shift, weight);
  };
  for (const a of reference)
    for (const b of submission) {
      const weight = Math.min(a.areaMm2, b.areaMm2) / Math.max(a.areaMm2, b.areaMm2, 1e-12);
      const share = Math.sqrt(a.areaMm2) * weight;
      if (a.surface.kind === 'plane' && b.surface.kind === 'plane') {
        for (const axis of [0, 1, 2] as const)
          if (Math.abs(a.surface.normal[axis]) > 0.999 && a.surface.normal[axis] * b.surface.normal[axis] > 0.999)
            cast(axis, a.surface.origin[axis] - b.surface.origin[axis], share);
      } else if (a.surface.kind === 'cylinder' && b.surface.kind === 'cylinder' && a.surface.side === b.surface.side) {
        if (Math.abs(a.surface.radiusMm - b.surface.radiusMm) > toleranceMm) continue;
        for (const axis of [0, 1, 2] as const)
          if (Math.abs(a.surface.direction[axis]) < 1e-3)
            cast(axis, a.surface.origin[axis] - b.surface.origin[axis], share);
      }
    }
  return [votes[0].best(), votes[1].best(), votes[2].best()];
}

/** Less likely stories need more agreement to win: a symmetric part is not called turned, nor a wrong size a unit slip. */
function reluctance(placement: Placement): number {
  const turned = rotationAngle(placement.rotation) > 1e-9;
  const moved = length(placement.translation) > 1e-9;
  return (placement.scale !== 1 ? 0.08 : 0) + (turned ? 0.04 : 0) + (moved ? 0.02 : 0);
}

function kindOf(placement: Placement): Frame['kind'] {
  if (placement.scale !== 1) return 'scaled';
  if (rotationAngle(placement.rotation) > 1e-9) return 'turned';
  return length(placement.translation) > 1e-9 ? 'moved' : 'as-modeled';
}

/**
 * Finds how the submission lies against the reference: as modeled, moved, turned about the axes, or in a wrong unit.
 * Every candidate is judged by the share of the reference surface that it covers.
 */
export function alignFrames(reference: Solid, submission: Solid): Frame {
  const toleranceMm = Math.max(1e-3, boxDiagonal(reference.bounds) * 1e-5);
  const sizeRatio = boxDiagonal(reference.bounds) / Math.max(boxDiagonal(submission.bounds), 1e-9);
  const placements: Placement[] = [AS_MODELED];
  for (const size of SCALES) {
    if (size !== 1 && (sizeRatio / size > 2 || sizeRatio / size < 0.5)) continue;
    for (const rotation of AXIS_ROTATIONS) {
      const turned: Placement = { rotation, scale: size, translation: [0, 0, 0] };
      const faces = submission.faces.map((face) => placeFace(turned, face));
      const bounds = placeBox(turned, submission.bounds);
      if (!comparable(boxSize(bounds), boxSize(reference.bounds))) continue;
      const voted = votedTranslation(reference.faces, faces, toleranceMm);
      const centered = subtract(boxCenter(reference.bounds), boxCenter(bounds));
      for (const translation of [[0, 0, 0] as Vec3, voted, centered]) placements.push({ ...turned, translation });
    }
  }
  let best: { frame: Frame; merit: number } | null = null;
  for (const placement of placements) {
    const faces = submission.faces.map((face) => placeFace(placement, face));
    const agreement = agreementOf(reference, faces, toleranceMm);
    const merit = agreement - reluctance(placement);
    if (best === null || merit > best.merit + 1e-9)
      best = { frame: { kind: kindOf(placement), placement, agreement }, merit };
  }
  return best?.frame ?? { kind: 'as-modeled', placement: AS_MODELED, agreement: 0 };
}

/** Boxes that differ by more than a factor of two in a direction are not the same part in that position. */
const comparable = (a: Vec3, b: Vec3): boolean =>
  ([0, 1, 2] as const).every((axis) => {
    const ratio = (a[axis] + 1e-3) / (b[axis] + 1e-3);
    return ratio < 2.2 && ratio > 1 / 2.2;
  });

/** A direction of the reference frame as the submission has it. */
export const directionInSubmission = (placement: Placement, direction: Vec3): Vec3 => {
  const [a, b, c] = placement.rotation;
  // The inverse of a rotation is its transpose.
  return [
    a[0] * direction[0] + b[0] * direction[1] + c[0] * direction[2],
    a[1] * direction[0] + b[1] * direction[1] + c[1] * direction[2],
    a[2] * direction[0] + b[2] * direction[1] + c[2] * direction[2],
  ];
};

/** Where the origin of the submission should have been, seen from its own origin, mm. */
export const originShift = (frame: Frame): Vec3 => scale(frame.placement.translation, -1);
