import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise, type GradedFile } from '#core/attempt';
import type { Reference } from '#core/check';
import { coverageOf, explainNumbers, type Atlas } from '#core/mistake';
import { unwrap } from '#core/problem';
import { gudgeonBracketExercise } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';

import { coverageJson, determinacyJson, explainJson, gradeJson, inspectJson } from './json.ts';
import { coverageText, determinacyText, explainText, gradeText, inspectText } from './text.ts';

let graded: GradedFile;
let reference: Reference;
beforeAll(async () => {
  const kernel = await loadKernel();
  ({ reference } = unwrap(prepareExercise(kernel, gudgeonBracketExercise)));
  const handIn = unwrap(modelLikeStudent(kernel, gudgeonBracketExercise, { kind: 'radius-for-diameter', step: 'pin' }));
  graded = unwrap(
    gradeFile(kernel, reference, { bytes: handIn.step, typed: handIn.typed, policy: gudgeonBracketExercise.scoring }),
  );
});

describe('inspect', () => {
  it('lists the holes with depth, direction and counterbore', () => {
    const { features } = inspectJson(graded.solid);
    const bolts = features.filter(
      (feature) => feature['kind'] === 'hole' && Math.abs(Number(feature['diameter_mm']) - 9) < 1e-6,
    );
    expect(bolts).toHaveLength(2);
    for (const bolt of bolts) {
      expect(bolt).toMatchObject({ through: true, bottom: 'open', broken: false });
      expect(bolt['depth_mm']).toBeCloseTo(8, 6);
      const recess = bolt['counterbore'] as Record<string, number>;
      expect(recess['diameter_mm']).toBeCloseTo(15, 6);
      expect(recess['depth_mm']).toBeCloseTo(3, 6);
      // From the top face with its counterbores down.
      expect((bolt['direction'] as number[])[2]).toBeCloseTo(-1, 9);
    }
  });

  it('gives a tight box and one body', () => {
    const json = inspectJson(graded.solid);
    expect(json).toMatchObject({ format: 'step', declared_unit: 'mm', bodies: 1, closed: true, warnings: [] });
    [80, 25, 70].forEach((x, i) => {
      expect(json.bbox_mm.max[i]).toBeCloseTo(x, 4);
    });
  });

  it('says the same in words', () => {
    const text = inspectText('part.step', graded.solid);
    expect(text).toContain('hole diameter 9, through, counterbore 15 x 3');
    expect(text).toContain('bodies           1 (closed, valid)');
  });
});

describe('grade', () => {
  it('has a line for each check with verdict and deviation, and the cause', () => {
    const json = gradeJson(graded.report);
    expect(json.checks).toHaveLength(gudgeonBracketExercise.checks.length);
    expect(json.checks.find((check) => check.id === 'pin-diameter')).toMatchObject({
      nominal: 16,
      verdict: 'wrong',
    });
    expect(json.causes[0]?.id).toBe('radius-for-diameter');
    expect(json.typed.map((line) => line.name)).toEqual(['mass', 'volume', 'x', 'y', 'z']);
  });

  it('gives the center of mass as a point, not as a distance', () => {
    const center = gradeJson(graded.report).checks.find((check) => check.id === 'center-of-mass');
    expect(center?.nominal).toHaveLength(3);
    expect(center?.measured).toHaveLength(3);
  });

  it('says score, failed checks and causes in words', () => {
    const text = gradeText(graded.report);
    expect(text).toMatch(/^Score \d/);
    expect(text).toMatch(/wrong +Pin hole +nominal 16\.0000 measured 8\.0000/);
    expect(text).toContain('Probable causes');
  });
});

describe('explain and coverage', () => {
  /** An atlas of one mistake: a pin bore of half the diameter, which leaves 3 pi/4 x 16^2/4 x 8 of it standing. */
  const atlasWith = (): Atlas => {
    const { volumeMm3 } = reference.solid.massProperties;
    const more = Math.PI * (8 ** 2 - 4 ** 2) * 8;
    const print = (volume: number) => [volume, 1000, 0, 0, 0, 1, 1, 1, 0, 0, 0];
    return {
      version: 1,
      reference: { fingerprint: print(volumeMm3), sizeMm: [80, 50, 70] },
      entries: [
        {
          mistake: {
            id: 'radius-for-diameter:pin',
            kind: 'radius-for-diameter',
            prior: 9,
            edits: [{ kind: 'set', stepId: 'pin', path: ['diameter'], value: '8' }],
            expression: '16',
            stepIds: ['pin'],
            message: 'Pin hole: the diameter is 8.0 mm where the sheet gives 16.0 mm.',
            summary: 'radius typed for a diameter: Pin hole',
          },
          fingerprint: print(volumeMm3 + more),
          sizeMm: [80, 50, 70],
          bodies: 1,
          checks: [],
          failing: ['volume'],
          roots: ['volume'],
          same: [],
        },
      ],
      unchanged: [],
      unbuilt: ['x'],
    };
  };

  it('name the mistake whose volume was typed', () => {
    const atlas = atlasWith();
    const [volume = 0] = atlas.entries[0]?.fingerprint ?? [];
    const answer = explainNumbers(reference, atlas, { volumeMm3: { value: volume, resolution: 0.05 } });
    expect(explainJson(answer)).toMatchObject({ right: false, causes: [{ kind: 'radius-for-diameter' }] });
    expect(explainText(answer)).toContain('Pin hole: the diameter is 8.0 mm');
    const odd = explainNumbers(reference, atlas, { volumeMm3: { value: 1, resolution: 0.05 } });
    expect(explainText(odd)).toContain('No mistake that is known');
  });

  it('do not praise a plan that was tested with no mistake', () => {
    const untested = coverageOf(gudgeonBracketExercise, { ...atlasWith(), entries: [] });
    expect(coverageText(untested)).toContain('is not known');
    expect(coverageText(untested)).not.toContain('%');
  });

  it('say how much of a plan catches what', () => {
    const coverage = coverageOf(gudgeonBracketExercise, atlasWith());
    // The volume catches it, and nothing says where it is.
    expect(coverageJson(coverage)).toMatchObject({
      score: 1,
      located: 0,
      blind: [],
      counts: { entries: 1, unbuilt: 1 },
    });
    expect(coverageText(coverage)).toContain(
      '100 % of the likely mistakes are caught; 0 % by a check that says where.',
    );
  });
});

describe('what sheet and plan leave open', () => {
  const proposal = { id: 'bolt', label: 'Bolt from Foot lower', weight: 1, kind: 'hole-position' } as const;
  const check = { ...proposal, nominal: '10', tolerance: '0.05', of: 'bolt.wall', from: 'foot.lower' };
  const place = { what: 'the place of Bolt along Y (front to back)', faceIds: [3], proposal: check };
  const count = { what: 'the number of Bolts', faceIds: [], proposal: null };
  const twice = { kind: 'repeated', message: '"Length" is said twice.', checkIds: ['length'], faceIds: [] } as const;
  const open = { undetermined: [place], unchecked: [place, count], redundant: [twice], needed: [] };

  it('is told to programs with the check that would say it', () => {
    expect(determinacyJson(open)).toEqual({
      undetermined: [{ what: place.what, message: `Nothing on the sheet says ${place.what}.`, proposal: check }],
      redundant: [{ check: 'length', message: '"Length" is said twice.' }],
      unchecked: [
        { what: place.what, message: `No check decides ${place.what}.`, proposal: check },
        { what: count.what, message: `No check decides ${count.what}.`, proposal: null },
      ],
    });
  });

  it('is told to people a line each, of what they asked about', () => {
    expect(determinacyText(open, ['undetermined', 'redundant'])).toEqual([
      'Nothing on the sheet says the place of Bolt along Y (front to back). "Bolt from Foot lower" would say it.',
      '"Length" is said twice.',
    ]);
    expect(determinacyText(open, ['unchecked'])).toEqual([
      'No check decides the place of Bolt along Y (front to back).',
      'No check decides the number of Bolts.',
    ]);
  });

  it('is not known of a part from a file', () => {
    expect(determinacyJson(null)).toEqual({ undetermined: null, redundant: null, unchecked: null });
    expect(determinacyText(null, ['undetermined'])).toEqual([expect.stringContaining('no numbers to vary')]);
  });
});
