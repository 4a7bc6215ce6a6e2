import type { BuildLog } from '#core/buildlog';
import type { ChainFinding } from '#core/chain';
import type { OpenSize, OpenSizes } from '#core/determinacy';
import type { Report } from '#core/grade';
import type { Coverage, NumbersAnswer } from '#core/mistake';
import { findFeatures } from '#core/feature';
import type { Solid } from '#core/solid';

import { featureJson } from './features.ts';

/** The machine-readable face of `zorvet inspect --json`. Lengths in mm. */
export function inspectJson(solid: Solid) {
  const { volumeMm3, areaMm2, centroidMm, inertiaMm5 } = solid.massProperties;
  return {
    format: solid.source.format,
    declared_unit: solid.source.declaredUnit,
    product: solid.source.productName,
    bodies: solid.bodies,
    valid: solid.valid,
    closed: solid.closed,
    volume_mm3: volumeMm3,
    area_mm2: areaMm2,
    centroid_mm: centroidMm,
    inertia_mm5: inertiaMm5,
    bbox_mm: solid.bounds,
    faces: solid.faces.length,
    features: findFeatures(solid).map(featureJson),
    /** Half widths that cover the error where facets stand for round surfaces. */
    uncertainty: {
      volume_mm3: solid.estimate.volumeUncertaintyMm3,
      area_mm2: solid.estimate.areaUncertaintyMm2,
      centroid_mm: solid.estimate.centroidUncertaintyMm,
      length_mm: Math.max(0, ...solid.faces.map((face) => face.uncertaintyMm)),
    },
    estimate: {
      volume_mm3: solid.estimate.volumeMm3,
      area_mm2: solid.estimate.areaMm2,
      centroid_mm: solid.estimate.centroidMm,
    },
    warnings: solid.warnings,
  };
}

/** The machine-readable face of `zorvet grade --json`. Lengths in mm, masses in g. */
export function gradeJson(report: Report, unread: BuildLog['unread'] = []) {
  return {
    score: report.score,
    checks: report.lines.map((line) => ({
      id: line.checkId,
      kind: line.kind,
      nominal: line.nominalPoint ?? line.nominal,
      measured: line.measuredPoint ?? line.measured,
      deviation: line.deviation,
      tolerance: line.tolerance,
      verdict: line.verdict,
      follows: line.followOn,
    })),
    typed: report.typed
      .filter((line) => line.value !== null)
      .map((line) => ({
        name: line.name,
        value: line.value,
        reference: line.reference,
        file: line.file,
        matches_reference: line.matchesReference,
        of_file: line.ofFile,
      })),
    causes: report.causes.map(({ id, certainty, message, explains, instead }) => ({
      id,
      certainty,
      message,
      explains,
      instead,
    })),
    rules: report.rules.map(({ text, verdict, evidence }) => ({ text, verdict, evidence })),
    questions: report.questions,
    steps_not_understood: unread,
    frame: report.frame,
    warnings: report.warnings,
  };
}

/** The machine-readable face of `zorvet explain --json`. */
export const explainJson = ({ right, causes }: NumbersAnswer) => ({
  right,
  causes: causes.map(({ id, certainty, message, mistake }) => ({
    id,
    kind: mistake?.kind ?? null,
    certainty,
    message,
  })),
});

/** What is known of whether sheet and plan determine a part. */
export type Determined = OpenSizes & { readonly redundant: readonly ChainFinding[] };

/** The machine-readable face of `zorvet coverage --json`. */
export const coverageJson = (coverage: Coverage) => ({
  score: coverage.score,
  located: coverage.located,
  mistakes: coverage.rows.map(({ mistake, caughtBy }) => ({
    id: mistake.id,
    kind: mistake.kind,
    weight: mistake.prior,
    message: mistake.message,
    caught_by: caughtBy,
  })),
  blind: coverage.blind.map(({ mistake }) => mistake.id),
  idle_checks: coverage.idle,
  alike: coverage.alike,
  keep_volume: coverage.keepVolume,
  counts: coverage.counts,
});

/**
 * What sheet and plan leave open: sizes that nothing on the sheet says (`undetermined`), dimensions that follow from
 * others (`redundant`), and sizes that no check which says where decides (`unchecked`), each with words and, where a kind
 * of check measures it, the check that would cure it. Null for a part from a file, which has no numbers to vary.
 */
export const determinacyJson = (open: Determined | null) => ({
  undetermined: open?.undetermined.map((size) => openJson('Nothing on the sheet says', size)) ?? null,
  redundant: open?.redundant.map(({ message, checkIds: [check] }) => ({ check: check ?? null, message })) ?? null,
  unchecked: open?.unchecked.map((size) => openJson('No check decides', size)) ?? null,
});

const openJson = (start: string, { what, proposal }: OpenSize) => ({ what, message: `${start} ${what}.`, proposal });
