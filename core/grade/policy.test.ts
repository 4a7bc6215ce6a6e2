import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import type { Measurement, Reference } from '#core/check';
import { gradeMeasurement, SCORING_PRESETS, withPolicy, type ScoringPolicy } from '#core/grade';
import { unwrap } from '#core/problem';
import { cleatPlateExercise } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';

const POLICY: ScoringPolicy = { partialReach: 1, typedValueWeight: 0, notOneBodyCap: 40 };
const SHARES = { dimensions: 60, features: 10, properties: 20, 'model-quality': 10 };

let reference: Reference;
let thick: Measurement;
beforeAll(async () => {
  const kernel = await loadKernel();
  ({ reference } = unwrap(prepareExercise(kernel, cleatPlateExercise)));
  // 10.3 mm thick for 10.
  const handIn = unwrap(
    modelLikeStudent(kernel, cleatPlateExercise, { kind: 'size-wrong', parameter: 'C', value: '10.3' }),
  );
  ({ measurement: thick } = unwrap(
    gradeFile(kernel, reference, { bytes: handIn.step, policy: cleatPlateExercise.scoring }),
  ));
});

const scoreBy = (policy: Partial<ScoringPolicy>): number =>
  gradeMeasurement(reference, thick, { typed: [], policy: { ...POLICY, ...policy } }).score;
const verdict = (policy: Partial<ScoringPolicy>, checkId: string): string | undefined =>
  gradeMeasurement(reference, thick, { typed: [], policy: { ...POLICY, ...policy } }).lines.find(
    (line) => line.checkId === checkId,
  )?.verdict;

describe('a policy', () => {
  it('gives each group its share, whatever its checks weigh', () => {
    const { targets } = withPolicy(reference, { ...POLICY, shares: SHARES });
    const total = (group: string): number =>
      targets.filter((target) => target.group === group).reduce((sum, { weight }) => sum + weight, 0);
    for (const [group, share] of Object.entries(SHARES))
      if (targets.some((target) => target.group === group)) expect(total(group)).toBeCloseTo(share, 9);
  });

  it('weighs all checks of a group alike that have no weight of their own', () => {
    const light = { ...reference, targets: reference.targets.map((target) => ({ ...target, weight: 0 })) };
    const { targets } = withPolicy(light, { ...POLICY, shares: SHARES });
    const weights = targets.filter(({ group }) => group === 'dimensions').map(({ weight }) => weight);
    expect(new Set(weights.map((weight) => weight.toFixed(9))).size).toBe(1);
    expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(60, 9);
  });

  it('makes tolerances wider and narrower', () => {
    // A tolerance of 0.05 mm is passed by 0.3 mm; seven times as wide, it holds.
    expect(verdict({}, 'thickness')).toBe('wrong');
    expect(verdict({ toleranceFactor: 7 }, 'thickness')).toBe('right');
    expect(scoreBy({ toleranceFactor: 7 })).toBeGreaterThan(scoreBy({}));
  });

  it('of a key number alone gives all or nothing', () => {
    const key = { dimensions: 0, features: 0, properties: 100, 'model-quality': 0 };
    // Volume, mass and area are off by 3 %, so that nothing is left but the center of mass, 0.15 mm off.
    expect(scoreBy({ shares: key })).toBeLessThan(30);
    expect(scoreBy({ shares: { ...key, dimensions: 100, properties: 0 } })).toBeGreaterThan(80);
  });

  it('that changes nothing leaves the reference as it is', () => {
    expect(withPolicy(reference, POLICY)).toBe(reference);
  });
});

describe('the ways of scoring that are offered', () => {
  it('share out 100 points each', () => {
    for (const { shares } of SCORING_PRESETS)
      expect(Object.values(shares).reduce<number>((sum, share) => sum + share, 0)).toBe(100);
  });

  it('count by the key number nothing but mass properties, all or nothing', () => {
    const [key] = SCORING_PRESETS;
    expect(key).toMatchObject({ name: 'Key number', partialReach: 1 });
    expect(key.shares).toEqual({ dimensions: 0, features: 0, properties: 100, 'model-quality': 0 });
    const { targets } = withPolicy(reference, { ...POLICY, shares: key.shares });
    for (const { group, weight } of targets) if (group !== 'properties') expect(weight).toBe(0);
  });

  it('count per dimension no mass property', () => {
    const each = SCORING_PRESETS.find(({ name }) => name === 'Points per dimension');
    expect(each?.shares.properties).toBe(0);
    expect(each?.partialReach).toBe(5);
  });
});
