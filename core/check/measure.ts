import * as v from 'valibot';

import { featuresOf, findFeatures, findHoles, isSymmetric, type Chamfer, type Feature, type Hole } from '#core/feature';
import { circleThrough } from '#core/fit';
import { massOf } from '#core/material';
import { LengthUnitSchema } from '#core/quantity';
import {
  EstimateSchema,
  MassPropertiesSchema,
  MODEL_FORMATS,
  Vec3Schema,
  WarningSchema,
  type Cylinder,
  type Face,
  type Plane,
  type Solid,
  type Surface,
} from '#core/solid';
import {
  angleBetween,
  boxSize,
  cross,
  distance,
  distanceBetweenLines,
  dot,
  length,
  negate,
  perpendicular,
  placePoint,
  subtract,
  type Vec3,
} from '#core/vector';

import { alignFrames, directionInSubmission, extentAlong, FrameSchema, type Frame } from './frame.ts';
import { matchFaces, matchFeatures, sizeOf, type FacePartners, type FeaturePartners } from './match.ts';
import { principalMoments, type Reference, type Target } from './target.ts';

const FaceIdsSchema = v.pipe(v.array(v.number()), v.readonly());

export const CheckMeasurementSchema = v.object({
  checkId: v.string(),
  /** In mm, mm2, mm3 or g, or a count; null when what the check is about is not on the submission. */
  measured: v.nullable(v.number()),
  /** For the center of mass. */
  point: v.optional(Vec3Schema),
  /** Each of the rounds that share a dimension, in the order of the check plan. */
  members: v.optional(v.pipe(v.array(v.nullable(v.number())), v.readonly())),
  /** Half width that covers the error of the measured value, in its unit; absent where it is exact. */
  uncertainty: v.optional(v.number()),
  /** Why nothing could be measured. */
  reason: v.optional(v.string()),
  /** Faces of the submission and of the reference that the check is about. */
  faceIds: FaceIdsSchema,
  referenceFaceIds: FaceIdsSchema,
});
export type CheckMeasurement = Readonly<v.InferOutput<typeof CheckMeasurementSchema>>;

/** A feature that one of the two parts has and the other has not. */
export const OddFeatureSchema = v.object({
  kind: v.string(),
  /** In mm: a diameter, width, radius, depth or thickness, as the kind is told by. */
  sizeMm: v.number(),
  /** Of the part that has it. */
  faceIds: FaceIdsSchema,
});
export type OddFeature = Readonly<v.InferOutput<typeof OddFeatureSchema>>;

/** How a recipe that was handed in behaves with other values of its letters. */
export const ReplaySchema = v.object({
  /** Whether it gives the part of the file that came with it. */
  sameAsFile: v.boolean(),
  trials: v.pipe(
    v.array(
      v.object({
        values: v.record(v.string(), v.string()),
        outcome: v.picklist(['holds', 'differs', 'fails']),
        message: v.string(),
      }),
    ),
    v.readonly(),
  ),
});
export type Replay = Readonly<v.InferOutput<typeof ReplaySchema>>;

/** Everything that was measured on a submission; scoring needs nothing else of it. */
export const MeasurementSchema = v.object({
  frame: FrameSchema,
  checks: v.pipe(v.array(CheckMeasurementSchema), v.readonly()),
  bodies: v.number(),
  closed: v.boolean(),
  valid: v.boolean(),
  declaredUnit: v.nullable(LengthUnitSchema),
  format: v.optional(v.picklist(MODEL_FORMATS), 'step'),
  massProperties: MassPropertiesSchema,
  estimate: EstimateSchema,
  sizeMm: Vec3Schema,
  /** What speaks for or against build rules; null for what was measured before rules were looked at. */
  evidence: v.optional(
    v.nullable(
      v.object({
        /** Holes that end inside the part and go through the reference. */
        blindHoles: v.number(),
        symmetryPlanes: v.object({ reference: v.number(), model: v.number() }),
        /** Features of the model by kind; null for what was measured before they were counted. */
        features: v.optional(v.nullable(v.record(v.string(), v.number())), null),
      }),
    ),
    null,
  ),
  /** Null where no recipe was handed in. */
  replay: v.optional(v.nullable(ReplaySchema), null),
  missing: v.optional(v.pipe(v.array(OddFeatureSchema), v.readonly()), []),
  extra: v.optional(v.pipe(v.array(OddFeatureSchema), v.readonly()), []),
  warnings: v.pipe(v.array(WarningSchema), v.readonly()),
});
export type Measurement = Readonly<v.InferOutput<typeof MeasurementSchema>>;

/** Planes and axes count as parallel up to half a degree. */
const PARALLEL_SINE = Math.sin((0.5 * Math.PI) / 180);
/** A hole belongs to a count when its diameter is right to this much, mm. */
const SAME_DIAMETER_MM = 0.02;

/** What a rule makes of two partners: a value, or why there is none. */
type Ruling = number | string;

class Measurer {
  private readonly reference: Reference;
  private readonly submission: Solid;
  private readonly frame: Frame;
  private readonly partners: FacePartners;
  private readonly features: FeaturePartners;
  constructor(reference: Reference, submission: Solid, frame: Frame, features: FeaturePartners) {
    this.reference = reference;
    this.submission = submission;
    this.frame = frame;
    this.partners = matchFaces(reference.solid, submission, frame);
    this.features = features;
  }

  measure(target: Target): CheckMeasurement {
    const { estimate } = this.submission;
    switch (target.kind) {
      case 'distance':
        return this.between(target, planeDistance);
      case 'thickness':
        return this.between(target, wallThickness);
      case 'flush':
        return this.between(target, planeDistance);
      case 'center-distance':
        return this.between(target, (a, b) => this.axisDistance(a, b, target.along));
      case 'concentric':
        return this.between(target, (a, b) => this.axisDistance(a, b));
      case 'angle':
        return { ...this.between(target, (a, b) => angleDegrees(a, b, target.nominal)), ...this.angleDoubt(target) };
      case 'hole-position':
        return this.pair(target.checkId, target.fromFaceIds, target.faceIds, planeToAxis);
      case 'diameter':
      case 'radius':
        return this.rounds(target);
      case 'bolt-circle':
        return this.boltCircle(target);
      case 'hole-size':
      case 'countersink-angle':
        return this.holeSize(target);
      case 'chamfer-size':
        return this.chamferSize(target);
      case 'overall-size':
        return this.overallSize(target);
      case 'hole-count': {
        // A partner of the wrong size is still that hole; one more of the right size is too many.
        const partners = new Set<unknown>(
          [...this.features.partnerOf].flatMap(([own, partner]) =>
            own.kind === 'hole' && own.faceIds.some((id) => target.faceIds.includes(id)) && partner ? [partner] : [],
          ),
        );
        const paired = new Set<unknown>(this.features.partnerOf.values());
        const alike = findHoles(this.submission).filter(
          (hole) =>
            partners.has(hole) ||
            (!paired.has(hole) &&
              Math.abs(hole.diameterMm - target.diameterMm) < SAME_DIAMETER_MM + this.doubtOf(hole.faceIds)),
        );
        return {
          checkId: target.checkId,
          measured: alike.length,
          faceIds: alike.flatMap((hole) => hole.faceIds),
          referenceFaceIds: target.faceIds,
        };
      }
      case 'feature-count': {
        const found = findFeatures(this.submission).filter((feature) => feature.kind === target.feature);
        return this.scalar(
          target,
          found.length,
          found.flatMap((feature) => feature.faceIds),
        );
      }
      case 'presence': {
        const faceIds = this.allPartners(target.faceIds);
        const there = faceIds.length > 0;
        return {
          checkId: target.checkId,
          measured: there ? 1 : null,
          ...(there ? {} : { reason: 'It is not on the model.' }),
          faceIds,
          referenceFaceIds: target.faceIds,
        };
      }
      case 'symmetric': {
        const normal = directionInSubmission(this.frame.placement, UNITS[target.axis]);
        const center = this.submission.massProperties.centroidMm;
        return this.scalar(target, isSymmetric(this.submission, center, normal) ? 1 : 0);
      }
      case 'principal-moments':
        return this.moments(target);
      case 'volume':
        return { ...this.scalar(target, estimate.volumeMm3), ...doubt(estimate.volumeUncertaintyMm3) };
      case 'area':
        return { ...this.scalar(target, estimate.areaMm2), ...doubt(estimate.areaUncertaintyMm2) };
      case 'mass': {
        const density = this.reference.densityGPerCm3;
        return {
          ...this.scalar(target, massOf(estimate.volumeMm3, density)),
          ...doubt(massOf(estimate.volumeUncertaintyMm3, density)),
        };
      }
      case 'center-of-mass': {
        const point = this.centerOfMass(target.frame);
        return {
          ...this.scalar(target, distance(point, target.nominalPoint)),
          ...doubt(estimate.centroidUncertaintyMm),
          point,
        };
      }
      case 'single-body':
        return this.scalar(target, this.submission.bodies);
      case 'no-needless-edges':
        return this.scalar(target, this.submission.warnings.filter(({ code }) => NEEDLESS.has(code)).length);
      case 'unit':
        return this.scalar(target, this.frame.kind === 'scaled' ? 0 : 1);
      case 'frame':
        return this.scalar(target, this.frame.kind === 'as-modeled' || this.frame.kind === 'scaled' ? 1 : 0);
      case 'material':
        // Told by the typed mass, which is not part of the model.
        return { checkId: target.checkId, measured: null, faceIds: [], referenceFaceIds: [] };
    }
  }

  private scalar(target: Target, measured: number, faceIds: readonly number[] = []): CheckMeasurement {
    return { checkId: target.checkId, measured, faceIds, referenceFaceIds: [] };
  }

  private allPartners(referenceIds: readonly number[]): number[] {
    return referenceIds.flatMap((id) => this.partners.get(id)?.face.id ?? []);
  }

  /** The best partner of any of the faces that carry one surface of the reference. */
  private partner(referenceIds: readonly number[]): Face | null {
    let best: { face: Face; cost: number } | null = null;
    for (const id of referenceIds) {
      const candidate = this.partners.get(id);
      if (candidate && (best === null || candidate.cost < best.cost)) best = candidate;
    }
    return best === null ? null : best.face;
  }

  private doubtOf(faceIds: readonly number[]): number {
    return faceIds.reduce((sum, id) => sum + (this.submission.faces[id]?.uncertaintyMm ?? 0), 0);
  }

  /** In the frame of the file, or of the part where only the shape is judged. A mirrored part has no frame of its own. */
  private centerOfMass(frame: 'file' | 'part' = 'file'): Vec3 {
    const own = this.submission.estimate.centroidMm;
    const { kind, placement } = this.frame;
    return frame === 'file' || kind === 'mirrored' || kind === 'scaled' ? own : placePoint(placement, own);
  }

  /** Measures every round that shares the dimension; the one that is missing, or farthest off, speaks for all. */
  private rounds(target: Extract<Target, { kind: 'diameter' | 'radius' }>): CheckMeasurement {
    const factor = target.kind === 'diameter' ? 2 : 1;
    const members = target.members.map((referenceFaceIds, index) => {
      const face = this.partner(referenceFaceIds);
      const measured = face?.surface.kind === 'cylinder' ? factor * face.surface.radiusMm : null;
      const off = measured === null ? Infinity : Math.abs(measured - target.nominal);
      const unsure = factor * (face?.uncertaintyMm ?? 0);
      return { index, measured, off, unsure, faceIds: this.allPartners(referenceFaceIds), referenceFaceIds };
    });
    const worst = members.reduce((a, b) => (b.off > a.off + 1e-9 ? b : a));
    const shown = members.filter((member) => member.off > target.tolerance);
    const about = shown.length > 0 ? shown : members;
    return {
      checkId: target.checkId,
      measured: worst.measured,
      ...doubt(worst.unsure),
      ...(worst.measured === null ? { reason: NO_PARTNER } : {}),
      faceIds: about.flatMap((member) => member.faceIds),
      referenceFaceIds: about.flatMap((member) => member.referenceFaceIds),
      ...(members.length > 1 ? { members: members.map((member) => member.measured) } : {}),
    };
  }

  private boltCircle(target: Extract<Target, { kind: 'bolt-circle' }>): CheckMeasurement {
    const walls = target.members.flatMap((ids) => this.partner(ids) ?? []);
    const axes = walls.flatMap(({ surface }) => (surface.kind === 'cylinder' ? [surface] : []));
    const [first] = axes;
    const base = {
      checkId: target.checkId,
      faceIds: walls.map(({ id }) => id),
      referenceFaceIds: target.members.flat(),
    };
    if (!first || axes.length < 3)
      return { ...base, measured: null, reason: 'Fewer than three of its holes are on the model.' };
    const u = perpendicular(first.direction);
    const w = cross(first.direction, u);
    const circle = circleThrough(axes.map(({ origin }) => [dot(origin, u), dot(origin, w)]));
    if (circle === null) return { ...base, measured: null, reason: 'Its holes lie on a line.' };
    // A hole beside the circle shows as the diameter that is farthest off.
    const diameters = axes.map(
      ({ origin }) => 2 * Math.hypot(dot(origin, u) - circle.center[0], dot(origin, w) - circle.center[1]),
    );
    const measured = diameters.reduce((a, b) => (Math.abs(b - target.nominal) > Math.abs(a - target.nominal) ? b : a));
    return { ...base, measured, ...doubt(2 * Math.max(...walls.map(({ uncertaintyMm }) => uncertaintyMm))) };
  }

  /** The feature of the submission that is the partner of the reference feature with one of these faces. */
  private featurePartner<K extends 'hole' | 'chamfer'>(
    kind: K,
    referenceIds: readonly number[],
  ): Extract<Hole | Chamfer, { kind: K }> | null {
    for (const [own, partner] of this.features.partnerOf)
      if (own.kind === kind && own.faceIds.some((id) => referenceIds.includes(id)))
        return partner as Extract<Hole | Chamfer, { kind: K }> | null;
    return null;
  }

  private holeSize(target: Extract<Target, { kind: 'hole-size' | 'countersink-angle' }>): CheckMeasurement {
    const hole = this.featurePartner('hole', target.faceIds);
    const base = { checkId: target.checkId, faceIds: hole?.faceIds ?? [], referenceFaceIds: target.faceIds };
    if (hole === null) return { ...base, measured: null, reason: 'The hole is not on the model.' };
    const value = sizeOfHole(hole, target.kind === 'hole-size' ? target.size : 'countersink-angle');
    if (typeof value === 'string') return { ...base, measured: null, reason: value };
    return { ...base, measured: value, ...doubt(this.doubtOf(hole.faceIds)) };
  }

  private chamferSize(target: Extract<Target, { kind: 'chamfer-size' }>): CheckMeasurement {
    const chamfer = this.featurePartner('chamfer', target.faceIds);
    const base = { checkId: target.checkId, faceIds: chamfer?.faceIds ?? [], referenceFaceIds: target.faceIds };
    if (chamfer === null) return { ...base, measured: null, reason: 'The chamfer is not on the model.' };
    const on = this.allPartners(target.onFaceIds);
    const [first, second] = chamfer.sizesMm;
    return {
      ...base,
      measured: on.includes(chamfer.onFaceIds[1]) && !on.includes(chamfer.onFaceIds[0]) ? second : first,
      ...doubt(2 * this.doubtOf(chamfer.faceIds)),
    };
  }

  private overallSize(target: Extract<Target, { kind: 'overall-size' }>): CheckMeasurement {
    const direction = directionInSubmission(this.frame.placement, UNITS[target.axis]);
    const faceIds = this.extremeFaces(direction);
    return {
      ...this.scalar(target, extentAlong(this.submission, direction), faceIds),
      ...doubt(this.doubtOf(faceIds)),
    };
  }

  /** Flat faces at the two ends of the part along a direction. */
  private extremeFaces(direction: Vec3): number[] {
    const flat = this.submission.faces.flatMap(({ id, surface }) =>
      surface.kind === 'plane' && length(cross(surface.normal, direction)) < 1e-4
        ? [{ id, at: dot(surface.origin, direction), outward: dot(surface.normal, direction) }]
        : [],
    );
    const top = Math.max(...flat.filter(({ outward }) => outward > 0).map(({ at }) => at));
    const bottom = Math.min(...flat.filter(({ outward }) => outward < 0).map(({ at }) => at));
    return flat.filter(({ at, outward }) => Math.abs(at - (outward > 0 ? top : bottom)) < 1e-3).map(({ id }) => id);
  }

  private moments(target: Extract<Target, { kind: 'principal-moments' }>): CheckMeasurement {
    const { massProperties, estimate } = this.submission;
    const own = principalMoments(massProperties.inertiaMm5);
    const percents = target.momentsMm5.map((nominal, i) => 100 * ((own[i] ?? 0) / nominal - 1));
    const measured = percents.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0);
    // The moments are those of the facets: they differ as the volumes do, times five thirds.
    const facets = Math.abs(estimate.volumeMm3 - massProperties.volumeMm3) + estimate.volumeUncertaintyMm3;
    return { ...this.scalar(target, measured), ...doubt((500 / 3) * (facets / Math.max(1e-9, estimate.volumeMm3))) };
  }

  private between(
    target: Extract<Target, { fromFaceIds: readonly number[]; toFaceIds: readonly number[] }>,
    rule: (a: Face, b: Face) => Ruling,
  ): CheckMeasurement {
    return this.pair(target.checkId, target.fromFaceIds, target.toFaceIds, rule);
  }

  private pair(
    checkId: string,
    fromIds: readonly number[],
    toIds: readonly number[],
    rule: (a: Face, b: Face) => Ruling,
  ): CheckMeasurement {
    const from = this.partner(fromIds);
    const to = this.partner(toIds);
    const ruling = from && to ? rule(from, to) : NO_PARTNER;
    return {
      checkId,
      measured: typeof ruling === 'number' ? ruling : null,
      ...(typeof ruling === 'number'
        ? doubt((from?.uncertaintyMm ?? 0) + (to?.uncertaintyMm ?? 0))
        : { reason: ruling }),
      faceIds: [from, to].flatMap((face) => face?.id ?? []),
      referenceFaceIds: [...fromIds, ...toIds],
    };
  }

  /** An offset in doubt over the width of a face is an angle in doubt, degrees. */
  private angleDoubt(target: Extract<Target, { kind: 'angle' }>): { uncertainty?: number } {
    const faces = [this.partner(target.fromFaceIds), this.partner(target.toFaceIds)];
    return doubt(
      faces.reduce(
        (sum, face) => sum + (face ? (2 * face.uncertaintyMm * 180) / (Math.PI * Math.sqrt(face.areaMm2 + 1e-9)) : 0),
        0,
      ),
    );
  }

  private axisDistance(a: Face, b: Face, along?: 0 | 1 | 2): Ruling {
    const [s, t] = [a.surface, b.surface];
    if (s.kind !== 'cylinder' || t.kind !== 'cylinder') return NOT_ROUND;
    if (!parallel(s.direction, t.direction)) return notParallel('axes', s.direction, t.direction);
    if (along === undefined) return distanceBetweenLines(s.origin, s.direction, t.origin, s.direction);
    const direction = directionInSubmission(this.frame.placement, UNITS[along]);
    return Math.abs(dot(subtract(t.origin, s.origin), direction));
  }
}

const NO_PARTNER = 'What it is measured on is not on the model.';
const NOT_ROUND = 'What it is measured on is not round on the model.';
const NEEDLESS = new Set(['split-faces', 'sliver-faces', 'tiny-edges']);
const UNITS: readonly [Vec3, Vec3, Vec3] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

const doubt = (uncertainty: number): { uncertainty?: number } => (uncertainty > 0 ? { uncertainty } : {});

const degreesBetween = (a: Vec3, b: Vec3): number => (angleBetween(a, b) * 180) / Math.PI;
const notParallel = (what: string, a: Vec3, b: Vec3): string => {
  const angle = degreesBetween(a, b);
  return `The two ${what} are not parallel on the model: ${Math.min(angle, 180 - angle).toFixed(2)} degrees apart.`;
};

function sizeOfHole(hole: Hole, size: 'countersink-angle' | Extract<Target, { kind: 'hole-size' }>['size']): Ruling {
  switch (size) {
    case 'depth':
      return hole.depthMm;
    case 'counterbore-diameter':
      return hole.counterbore?.diameterMm ?? 'The hole has no counterbore on the model.';
    case 'counterbore-depth':
      return hole.counterbore?.depthMm ?? 'The hole has no counterbore on the model.';
    case 'countersink-diameter':
      return hole.countersink?.diameterMm ?? 'The hole has no countersink on the model.';
    case 'countersink-angle':
      return hole.countersink
        ? (hole.countersink.angleRad * 180) / Math.PI
        : 'The hole has no countersink on the model.';
  }
}

function planeDistance(a: Face, b: Face): Ruling {
  const [s, t] = [a.surface, b.surface];
  if (s.kind !== 'plane' || t.kind !== 'plane') return 'What it is measured on is not flat on the model.';
  // Between the middles of faces that are a hair out of parallel, as a caliper would.
  if (!parallel(s.normal, t.normal)) return notParallel('faces', s.normal, t.normal);
  return offsetBetween(s, t.origin);
}

/** Positive where the two sides look away from each other with material between. */
function wallThickness(a: Face, b: Face): Ruling {
  const [s, t] = [a.surface, b.surface];
  const measured = planeDistance(a, b);
  if (typeof measured === 'string' || s.kind !== 'plane' || t.kind !== 'plane') return measured;
  const inward = dot(subtract(t.origin, s.origin), s.normal) < 0;
  return dot(s.normal, t.normal) < 0 && inward ? measured : 'The two faces do not bound a wall on the model.';
}

function planeToAxis(plane: Face, round: Face): Ruling {
  const [s, t] = [plane.surface, round.surface];
  if (s.kind !== 'plane' || t.kind !== 'cylinder') return NOT_ROUND;
  return Math.abs(dot(s.normal, t.direction)) > PARALLEL_SINE
    ? 'The axis is not parallel to the face on the model.'
    : axisOffset(s, t);
}

const lineOf = (surface: Surface): Vec3 | null =>
  surface.kind === 'plane'
    ? surface.normal
    : surface.kind === 'cylinder' || surface.kind === 'cone'
      ? surface.direction
      : null;

/**
 * Degrees between two surfaces as a drawing gives it. A plane and an axis make the complement of normal and axis; axes
 * have no sense, so of the angle and its supplement the one nearer to the nominal is taken.
 */
function angleDegrees(a: Face, b: Face, nominal: number): Ruling {
  const [s, t] = [lineOf(a.surface), lineOf(b.surface)];
  if (s === null || t === null) return 'What it is measured on has no direction on the model.';
  const mixed = (a.surface.kind === 'plane') !== (b.surface.kind === 'plane');
  const flat = a.surface.kind === 'plane' && b.surface.kind === 'plane';
  const between = degreesBetween(s, t);
  if (mixed) return Math.abs(90 - between);
  // Two flat faces enclose the supplement of the angle between their outward normals.
  if (flat) return 180 - between;
  const other = degreesBetween(s, negate(t));
  return Math.abs(between - nominal) <= Math.abs(other - nominal) ? between : other;
}

const parallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < PARALLEL_SINE;
const offsetBetween = (plane: Plane, point: Vec3): number => Math.abs(dot(subtract(point, plane.origin), plane.normal));
const axisOffset = (plane: Plane, round: Cylinder): number => offsetBetween(plane, round.origin);

function countByKind(features: readonly Feature[]): Readonly<Record<string, number>> {
  const counts: Record<string, number> = {};
  for (const { kind } of features) counts[kind] = (counts[kind] ?? 0) + 1;
  return counts;
}

/** Measures a submission against the reference: aligns it, finds the partner of every face and feature, measures every check. */
export function measureSubmission(reference: Reference, submission: Solid): Measurement {
  const frame = alignFrames(reference.solid, submission);
  const features = matchFeatures(reference.solid, submission, frame);
  const measurer = new Measurer(reference, submission, frame, features);
  const odd = (feature: (typeof features.missing)[number]): OddFeature => ({
    kind: feature.kind,
    sizeMm: sizeOf(feature),
    faceIds: feature.faceIds,
  });
  return {
    frame,
    checks: reference.targets.map((target) => measurer.measure(target)),
    bodies: submission.bodies,
    closed: submission.closed,
    valid: submission.valid,
    declaredUnit: submission.source.declaredUnit,
    format: submission.source.format,
    massProperties: submission.massProperties,
    estimate: submission.estimate,
    sizeMm: boxSize(submission.bounds),
    evidence: {
      blindHoles: [...features.partnerOf].filter(
        ([own, their]) => own.kind === 'hole' && their?.kind === 'hole' && own.through && !their.through,
      ).length,
      symmetryPlanes: {
        reference: featuresOf(reference.solid, 'symmetry-plane').length,
        model: featuresOf(submission, 'symmetry-plane').length,
      },
      features: countByKind(findFeatures(submission)),
    },
    replay: null,
    missing: features.missing.map(odd),
    extra: features.extra.map(odd),
    warnings: submission.warnings,
  };
}
