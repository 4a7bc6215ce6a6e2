/** A reference and a measurement by hand, for tests of scoring: a block of 20 x 10 x 5 mm. */
import type { CheckMeasurement, Measurement, Reference, Target } from '#core/check';
import { exactEstimate, RECIPE_SOURCE } from '#core/solid';
import { AS_MODELED } from '#core/vector';

export const POLICY = { partialReach: 5, typedValueWeight: 0, notOneBodyCap: 50 };

export const properties = {
  volumeMm3: 10_000,
  areaMm2: 3_000,
  centroidMm: [10, 5, 2.5],
  inertiaMm5: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
} as const;

export const target = (checkId: string, nominal: number, extra: object = {}): Target => ({
  kind: 'distance',
  checkId,
  label: checkId,
  group: 'dimensions',
  weight: 1,
  nominal,
  tolerance: 0.05,
  expression: String(nominal),
  fromFaceIds: [],
  toFaceIds: [],
  ...extra,
});

export const VOLUME = {
  kind: 'volume',
  checkId: 'volume',
  label: 'Volume',
  group: 'properties',
  weight: 1,
  nominal: 10_000,
  tolerance: 10,
} as const;

export const reference = (targets: readonly Target[], typedValues: Reference['typedValues'] = []): Reference => ({
  solid: {
    source: RECIPE_SOURCE,
    bodies: 1,
    valid: true,
    closed: true,
    massProperties: properties,
    estimate: exactEstimate(properties),
    bounds: { min: [0, 0, 0], max: [20, 10, 5] },
    faces: [],
    edges: [],
    mesh: { positions: [], indices: [], groups: [], edges: [] },
    warnings: [],
  },
  targets,
  unit: 'mm',
  scope: { A: 20 },
  decimals: 1,
  materialId: 'aluminum',
  densityGPerCm3: 2.7,
  rules: [],
  typedValues,
});

export const measurement = (values: Record<string, number | null>, extra: Partial<Measurement> = {}): Measurement => ({
  frame: { kind: 'as-modeled', placement: AS_MODELED, agreement: 1, certainty: 1 },
  checks: Object.entries(values).map(([checkId, measured]): CheckMeasurement => ({
    checkId,
    measured,
    faceIds: [],
    referenceFaceIds: [],
  })),
  bodies: 1,
  closed: true,
  valid: true,
  declaredUnit: 'mm',
  format: 'step',
  massProperties: properties,
  estimate: exactEstimate(extra.massProperties ?? properties),
  missing: [],
  extra: [],
  sizeMm: [20, 10, 5],
  evidence: null,
  replay: null,
  warnings: [],
  ...extra,
});
