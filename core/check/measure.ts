import * as v from 'valibot';

import { findHoles } from '#core/feature';
import { massOf } from '#core/material';
import { LengthUnitSchema } from '#core/quantity';
import {
  MassPropertiesSchema,
  Vec3Schema,
  WarningSchema,
  type Cylinder,
  type Face,
  type Plane,
  type Solid,
} from '#core/solid';
import { boxSize, cross, distance, distanceBetweenLines, dot, length, subtract, type Vec3 } from '#core/vector';

import { alignFrames, directionInSubmission, FrameSchema, type Frame } from './frame.ts';
import { matchFaces, type FacePartners } from './match.ts';
import type { Reference, Target } from './target.ts';

const FaceIdsSchema = v.pipe(v.array(v.number()), v.readonly());

export const CheckMeasurementSchema = v.object({
  checkId: v.string(),
  /** In mm, mm2, mm3 or g, or a count; null when what the check is about is not on the submission. */
  measured: v.nullable(v.number()),
  /** For the center of mass. */
  point: v.optional(Vec3Schema),
  /** Each of the rounds that share a dimension, in the order of the check plan. */
  members: v.optional(v.pipe(v.array(v.nullable(v.number())), v.readonly())),
  /** Faces of the submission and of the reference that the check is about. */
  faceIds: FaceIdsSchema,
  referenceFaceIds: FaceIdsSchema,
});
export type CheckMeasurement = Readonly<v.InferOutput<typeof CheckMeasurementSchema>>;

/** Everything that was measured on a submission; scoring needs nothing else of it. */
export const MeasurementSchema = v.object({
  frame: FrameSchema,
  checks: v.pipe(v.array(CheckMeasurementSchema), v.readonly()),
  bodies: v.number(),
  closed: v.boolean(),
  valid: v.boolean(),
  declaredUnit: v.nullable(LengthUnitSchema),
  massProperties: MassPropertiesSchema,
  sizeMm: Vec3Schema,
  warnings: v.pipe(v.array(WarningSchema), v.readonly()),
});
export type Measurement = Readonly<v.InferOutput<typeof MeasurementSchema>>;

/** Planes and axes count as parallel up to half a degree. */
const PARALLEL_SINE = Math.sin((0.5 * Math.PI) / 180);
/** A hole belongs to a count when its diameter is right to this much, mm. */
const SAME_DIAMETER_MM = 0.02;

class Measurer {
  private readonly reference: Reference;
  private readonly submission: Solid;
  private readonly frame: Frame;
  private readonly partners: FacePartners;
  constructor(reference: Reference, submission: Solid, frame: Frame, partners: FacePartners) {
    this.reference = reference;
    this.submission = submission;
    this.frame = frame;
    this.partners = partners;
  }

  measure(target: Target): CheckMeasurement {
    const { massProperties } = this.submission;
    switch (target.kind) {
      case 'distance':
        return this.between(target, (a, b) => this.planeDistance(a, b));
      case 'center-distance':
        return this.between(target, (a, b) => this.axisDistance(a, b));
      case 'hole-position':
        return this.pair(target.checkId, target.fromFaceIds, target.faceIds, (a, b) => this.planeToAxis(a, b));
      case 'diameter':
      case 'radius':
        return this.rounds(target);
      case 'overall-size':
        return this.scalar(target, this.extent(target.axis), this.extremeFaces(target.axis));
      case 'hole-count': {
        const alike = findHoles(this.submission).filter(
          (hole) => Math.abs(hole.diameterMm - target.diameterMm) < SAME_DIAMETER_MM,
        );
        return {
          checkId: target.checkId,
          measured: alike.length,
          faceIds: alike.flatMap((hole) => hole.faceIds),
          referenceFaceIds: target.faceIds,
        };
      }
      case 'volume':
        return this.scalar(target, massProperties.volumeMm3);
      case 'area':
        return this.scalar(target, massProperties.areaMm2);
      case 'mass':
        return this.scalar(target, massOf(massProperties.volumeMm3, this.reference.densityGPerCm3));
      case 'center-of-mass':
        return {
          ...this.scalar(target, distance(massProperties.centroidMm, target.nominalPoint)),
          point: massProperties.centroidMm,
        };
      case 'single-body':
        return this.scalar(target, this.submission.bodies);
    }
  }

  private scalar(target: Target, measured: number, faceIds: readonly number[] = []): CheckMeasurement {
    return { checkId: target.checkId, measured, faceIds, referenceFaceIds: [] };
  }

  private allPartners(referenceIds: readonly number[]): number[] {
    return referenceIds.flatMap((id) => this.partners.get(id)?.faceId ?? []);
  }

  /** The best partner of any of the faces that carry one surface of the reference. */
  private partner(referenceIds: readonly number[]): Face | null {
    let best: { faceId: number; cost: number } | null = null;
    for (const id of referenceIds) {
      const candidate = this.partners.get(id);
      if (candidate && (best === null || candidate.cost < best.cost)) best = candidate;
    }
    return best === null ? null : (this.submission.faces[best.faceId] ?? null);
  }

  /** Measures every round that shares the dimension; the one that is missing, or farthest off, speaks for all. */
  private rounds(target: Extract<Target, { kind: 'diameter' | 'radius' }>): CheckMeasurement {
    const factor = target.kind === 'diameter' ? 2 : 1;
    const members = target.members.map((referenceFaceIds, index) => {
      const surface = this.partner(referenceFaceIds)?.surface;
      const measured = surface?.kind === 'cylinder' ? factor * surface.radiusMm : null;
      const off = measured === null ? Infinity : Math.abs(measured - target.nominal);
      return { index, measured, off, faceIds: this.allPartners(referenceFaceIds), referenceFaceIds };
    });
    const worst = members.reduce((a, b) => (b.off > a.off + 1e-9 ? b : a));
    const shown = members.filter((member) => member.off > target.tolerance);
    const about = shown.length > 0 ? shown : members;
    return {
      checkId: target.checkId,
      measured: worst.measured,
      faceIds: about.flatMap((member) => member.faceIds),
      referenceFaceIds: about.flatMap((member) => member.referenceFaceIds),
      ...(members.length > 1 ? { members: members.map((member) => member.measured) } : {}),
    };
  }

  private between(
    target: Extract<Target, { kind: 'distance' | 'center-distance' }>,
    rule: (a: Face, b: Face) => number | null,
  ): CheckMeasurement {
    return this.pair(target.checkId, target.fromFaceIds, target.toFaceIds, rule);
  }

  private pair(
    checkId: string,
    fromIds: readonly number[],
    toIds: readonly number[],
    rule: (a: Face, b: Face) => number | null,
  ): CheckMeasurement {
    const from = this.partner(fromIds);
    const to = this.partner(toIds);
    return {
      checkId,
      measured: from && to ? rule(from, to) : null,
      faceIds: [from, to].flatMap((face) => face?.id ?? []),
      referenceFaceIds: [...fromIds, ...toIds],
    };
  }

  private planeDistance(a: Face, b: Face): number | null {
    const [s, t] = [a.surface, b.surface];
    if (s.kind !== 'plane' || t.kind !== 'plane' || !parallel(s.normal, t.normal)) return null;
    return offsetBetween(s, t.origin);
  }

  private axisDistance(a: Face, b: Face): number | null {
    const [s, t] = [a.surface, b.surface];
    if (s.kind !== 'cylinder' || t.kind !== 'cylinder' || !parallel(s.direction, t.direction)) return null;
    return distanceBetweenLines(s.origin, s.direction, t.origin, s.direction);
  }

  private planeToAxis(plane: Face, round: Face): number | null {
    const [s, t] = [plane.surface, round.surface];
    if (s.kind !== 'plane' || t.kind !== 'cylinder') return null;
    return Math.abs(dot(s.normal, t.direction)) > PARALLEL_SINE ? null : axisOffset(s, t);
  }

  /** Extent along an axis of the reference, carried into the frame of the submission. */
  private extent(axis: 0 | 1 | 2): number {
    const size = boxSize(this.submission.bounds);
    return size[this.ownAxis(axis)];
  }

  private ownAxis(axis: 0 | 1 | 2): 0 | 1 | 2 {
    const unit: Vec3 = [axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0];
    const own = directionInSubmission(this.frame.placement, unit).map(Math.abs);
    return ([0, 1, 2] as const).reduce<0 | 1 | 2>((best, i) => ((own[i] ?? 0) > (own[best] ?? 0) ? i : best), 0);
  }

  private extremeFaces(axis: 0 | 1 | 2): number[] {
    const own = this.ownAxis(axis);
    const { min, max } = this.submission.bounds;
    return this.submission.faces
      .filter(
        ({ bounds }) =>
          bounds.max[own] - bounds.min[own] < 1e-4 &&
          (Math.abs(bounds.min[own] - min[own]) < 1e-4 || Math.abs(bounds.max[own] - max[own]) < 1e-4),
      )
      .map((face) => face.id);
  }
}

const parallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < PARALLEL_SINE;
const offsetBetween = (plane: Plane, point: Vec3): number => Math.abs(dot(subtract(point, plane.origin), plane.normal));
const axisOffset = (plane: Plane, round: Cylinder): number => offsetBetween(plane, round.origin);

/** Measures a submission against the reference: aligns it, finds the partner of every face, measures every check. */
export function measureSubmission(reference: Reference, submission: Solid): Measurement {
  const frame = alignFrames(reference.solid, submission);
  const measurer = new Measurer(reference, submission, frame, matchFaces(reference.solid, submission, frame));
  return {
    frame,
    checks: reference.targets.map((target) => measurer.measure(target)),
    bodies: submission.bodies,
    closed: submission.closed,
    valid: submission.valid,
    declaredUnit: submission.source.declaredUnit,
    massProperties: submission.massProperties,
    sizeMm: boxSize(submission.bounds),
    warnings: submission.warnings,
  };
}
