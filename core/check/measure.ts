import { featuresOf, findFeatures, findHoles, isSymmetric, type Chamfer, type Feature, type Hole } from '#core/feature';
import type { Face, Solid } from '#core/solid';
import { AS_MODELED, boxSize, placePoint, type Vec3 } from '#core/vector';

import { foreignFaces } from './foreign.ts';
import { alignFrames, directionInSubmission, extentAlong, type Frame } from './frame.ts';
import type { Found, MeasureContext, Ruling } from './kind.ts';
import { kindOf, type Target } from './kinds/index.ts';
import { matchFaces, matchFeatures, sizeOf, type FacePartners, type FeaturePartners } from './match.ts';
import type { CheckMeasurement, Measurement, OddFeature } from './measurement.ts';
import type { Reference } from './reference.ts';
import { NO_PARTNER, uncertain } from './rulings.ts';

/** A face that is so like its partner lies where it does, and has its length: only its size may differ. */
const WITHOUT_DOUBT_COST = 0.1;

/** What the kinds of checks measure with: the submission, and the partners of what the reference has. */
class Measurer implements MeasureContext {
  readonly reference: Solid;
  readonly submission: Solid;
  readonly frame: Frame;
  readonly densityGPerCm3: number;
  private readonly partners: FacePartners;
  private readonly partnerOf: FeaturePartners['partnerOf'];

  constructor(reference: Reference, submission: Solid, frame: Frame, features: FeaturePartners) {
    this.submission = submission;
    this.frame = frame;
    this.densityGPerCm3 = reference.densityGPerCm3;
    this.reference = reference.solid;
    this.partners = matchFaces(reference.solid, submission, frame);
    this.partnerOf = features.partnerOf;
  }

  check(target: Target): CheckMeasurement {
    return { checkId: target.checkId, ...kindOf(target.kind).measure(target, this) };
  }

  readonly partner = (referenceFaceIds: readonly number[]): Face | null => {
    let best: { face: Face; cost: number } | null = null;
    for (const id of referenceFaceIds) {
      const candidate = this.partners.get(id);
      if (candidate && (best === null || candidate.cost < best.cost)) best = candidate;
    }
    return best === null ? null : best.face;
  };

  nearPartners(referenceFaceIds: readonly number[]): readonly Face[] {
    return referenceFaceIds.flatMap((id) => {
      const partner = this.partners.get(id);
      return partner !== undefined && partner.cost < WITHOUT_DOUBT_COST ? [partner.face] : [];
    });
  }

  partnerIds(referenceFaceIds: readonly number[]): readonly number[] {
    return referenceFaceIds.flatMap((id) => this.partners.get(id)?.face.id ?? []);
  }

  readonly directionInFile = (direction: Vec3): Vec3 => directionInSubmission(this.frame.placement, direction);
  readonly pointOnReference = (point: Vec3): Vec3 => placePoint(this.frame.placement, point);

  private featurePartners(kind: 'hole' | 'chamfer', referenceFaceIds: readonly number[]): (Feature | null)[] {
    return [...this.partnerOf].flatMap(([own, partner]) =>
      own.kind === kind && own.faceIds.some((id) => referenceFaceIds.includes(id)) ? [partner] : [],
    );
  }

  holePartner(referenceFaceIds: readonly number[]): Hole | null {
    const [partner] = this.featurePartners('hole', referenceFaceIds);
    return partner?.kind === 'hole' ? partner : null;
  }

  holePartners(referenceFaceIds: readonly number[]): readonly Hole[] {
    const partners = this.featurePartners('hole', referenceFaceIds).filter((partner) => partner?.kind === 'hole');
    return [...new Set(partners)];
  }

  chamferPartner(referenceFaceIds: readonly number[]): Chamfer | null {
    const [partner] = this.featurePartners('chamfer', referenceFaceIds);
    return partner?.kind === 'chamfer' ? partner : null;
  }

  unpairedHoles(): readonly Hole[] {
    const paired = new Set<unknown>(this.partnerOf.values());
    return findHoles(this.submission).filter((hole) => !paired.has(hole));
  }

  foreignFaces(): readonly Face[] {
    return foreignFaces(this.reference, this.submission, { partners: this.partners, frame: this.frame });
  }

  features(): readonly Feature[] {
    return findFeatures(this.submission);
  }

  isSymmetric(center: Vec3, normal: Vec3): boolean {
    return isSymmetric(this.submission, center, normal);
  }

  extentMm(direction: Vec3): number {
    return extentAlong(this.submission, direction);
  }

  uncertaintyMm(faceIds: readonly number[]): number {
    return faceIds.reduce((sum, id) => sum + (this.submission.faces[id]?.uncertaintyMm ?? 0), 0);
  }

  between(fromFaceIds: readonly number[], toFaceIds: readonly number[], rule: (from: Face, to: Face) => Ruling): Found {
    const [from, to] = [this.partner(fromFaceIds), this.partner(toFaceIds)];
    const ruling = from && to ? rule(from, to) : NO_PARTNER;
    return {
      measured: typeof ruling === 'number' ? ruling : null,
      ...(typeof ruling === 'number'
        ? uncertain((from?.uncertaintyMm ?? 0) + (to?.uncertaintyMm ?? 0))
        : { reason: ruling }),
      faceIds: [from, to].flatMap((face) => face?.id ?? []),
      referenceFaceIds: [...fromFaceIds, ...toFaceIds],
    };
  }
}

function countByKind(features: readonly Feature[]): Readonly<Record<string, number>> {
  const counts: Record<string, number> = {};
  for (const { kind } of features) counts[kind] = (counts[kind] ?? 0) + 1;
  return counts;
}

/** What speaks for or against the rules on how a part is built. */
const evidenceOf = (reference: Solid, submission: Solid, { partnerOf }: FeaturePartners): Measurement['evidence'] => ({
  blindHoles: [...partnerOf].filter(
    ([own, their]) => own.kind === 'hole' && their?.kind === 'hole' && own.through && !their.through,
  ).length,
  symmetryPlanes: {
    reference: featuresOf(reference, 'symmetry-plane').length,
    model: featuresOf(submission, 'symmetry-plane').length,
  },
  features: countByKind(findFeatures(submission)),
});

const odd = (feature: FeaturePartners['missing'][number]): OddFeature => ({
  kind: feature.kind,
  sizeMm: sizeOf(feature),
  faceIds: feature.faceIds,
});

/** Measures every check on a part that lies where the reference does, without looking for where it lies. */
export function measureInPlace(reference: Reference, part: Solid): readonly CheckMeasurement[] {
  const frame: Frame = { kind: 'as-modeled', placement: AS_MODELED, agreement: 1, certainty: 1 };
  const measurer = new Measurer(reference, part, frame, matchFeatures(reference.solid, part, frame));
  return reference.targets.map((target) => measurer.check(target));
}

/** Measures a submission against the reference: aligns it, finds the partner of every face and feature, measures every check. */
export function measureSubmission(reference: Reference, submission: Solid): Measurement {
  const frame = alignFrames(reference.solid, submission);
  const features = matchFeatures(reference.solid, submission, frame);
  const measurer = new Measurer(reference, submission, frame, features);
  return {
    frame,
    checks: reference.targets.map((target) => measurer.check(target)),
    bodies: submission.bodies,
    closed: submission.closed,
    valid: submission.valid,
    declaredUnit: submission.source.declaredUnit,
    format: submission.source.format,
    massProperties: submission.massProperties,
    estimate: submission.estimate,
    sizeMm: boxSize(submission.bounds),
    evidence: evidenceOf(reference.solid, submission, features),
    replay: null,
    missing: features.missing.map(odd),
    extra: features.extra.map(odd),
    warnings: submission.warnings,
  };
}
