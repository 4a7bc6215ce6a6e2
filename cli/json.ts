import type { Report } from '#core/grade';
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
export function gradeJson(report: Report) {
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
    causes: report.causes.map(({ id, certainty, message }) => ({ id, certainty, message })),
    frame: report.frame,
    warnings: report.warnings,
  };
}
