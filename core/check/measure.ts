import { featuresOf, findFeatures, findHoles, isSymmetric, type Chamfer, type Feature, type Hole } from '#core/feature';
import { axisOf, roundingMm, type Axis, type Face, type Solid } from '#core/solid';
import { AS_MODELED, boxSize, distanceToLine, placePoint, type Vec3 } from '#core/vector';

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

/** A round is the same where its size is to this share. */
const SAME_SHARE = 0.01;

/** The round faces among those of a feature, which carry its size; all of them where none is round. */
function carriers({ faces }: Solid, faceIds: readonly number[]): readonly Face[] {
  const own = faceIds.flatMap((id) => faces[id] ?? []);
  const round = own.filter(({ surface }) => roundingMm(surface) !== null);
  return round.length > 0 ? round : own;
}

/** About how many axes a part has round faces that are as round, as large and as hollow as a face. */
function axesLike({ faces }: Solid, { surface, uncertaintyMm }: Face): number {
  const size = roundingMm(surface);
  if (size === null) return 0;
  const axes: Axis[] = [];
  for (const other of faces) {
    const their = other.surface.kind === surface.kind ? roundingMm(other.surface) : null;
    const isSameSide = 'side' in surface && 'side' in other.surface && surface.side === other.surface.side;
    const axis = axisOf(other.surface);
    if (their === null || axis === null || !isSameSide || Math.abs(their - size) > SAME_SHARE * size + uncertaintyMm)
      continue;
    const isOn = ({ origin, direction }: Axis): boolean =>
      distanceToLine(axis.origin, origin, direction) < SAME_SHARE * size + uncertaintyMm;
    if (!axes.some(isOn)) axes.push(axis);
  }
  return axes.length;
}

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

  /** Whether faces of the reference have partners of their own kind and size, wherever these lie. */
  isThere(referenceFaceIds: readonly number[]): boolean {
    return carriers(this.reference, referenceFaceIds).every(({ id, surface }) => {
      const partner = this.partners.get(id)?.face;
      if (partner === undefined || partner.surface.kind !== surface.kind) return false;
      const [own, their] = [roundingMm(surface), roundingMm(partner.surface)];
      return own === null || their === null || Math.abs(own - their) < SAME_SHARE * own + partner.uncertaintyMm;
    });
  }

  /** Whether the submission has no more faces of the kinds and sizes of some than the reference, wherever they lie. */
  isKnown(faceIds: readonly number[]): boolean {
    const paired = new Set([...this.partners.values()].map(({ face }) => face.id));
    return carriers(this.submission, faceIds).every(
      (face) =>
        paired.has(face.id) ||
        (roundingMm(face.surface) !== null && axesLike(this.submission, face) <= axesLike(this.reference, face)),
    );
  }

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

/** What is too much, of the kind and size of what no partner was found for, is that. */
function withoutMoved(
  missing: readonly OddFeature[],
  extra: readonly OddFeature[],
  unmatched: readonly OddFeature[],
): Pick<Measurement, 'missing' | 'extra'> {
  const like = (a: OddFeature, b: OddFeature): boolean =>
    a.kind === b.kind && Math.abs(a.sizeMm - b.sizeMm) < SAME_SHARE * b.sizeMm;
  return {
    missing: missing.filter((one) => !extra.some((other) => like(other, one))),
    extra: extra.filter((one) => !unmatched.some((other) => like(other, one))),
  };
}

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
    // What has moved, or leans, is neither missing nor extra: its faces are there.
    ...withoutMoved(
      features.missing.filter(({ faceIds }) => !measurer.isThere(faceIds)).map(odd),
      features.extra.filter(({ faceIds }) => !measurer.isKnown(faceIds)).map(odd),
      features.missing.map(odd),
    ),
    warnings: submission.warnings,
  };
}
