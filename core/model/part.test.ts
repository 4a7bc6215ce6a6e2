import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import { blankExercise, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { trianglesOf, writeStl } from '#core/mesh';
import { readModel, withPart } from '#core/model';
import { evaluatePlan, suggestPlan } from '#core/plan';
import { attempt, unwrap } from '#core/problem';
import { buildRecipe, RecipeBuilder } from '#core/recipe';
import { cleanView, projectSolid } from '#core/sheet';
import { answerKey } from '#core/variant';
import { loadKernel } from '#runtime';

let kernel: Kernel;
/** A plate 60 x 40 x 10 with four through holes of 8, 10 from the edges, as other programs hand it on. */
let step: Uint8Array;
let stl: Uint8Array;

function plateWith(diameter: string) {
  const { recipe } = blankExercise('1', 'Plate', 'mm');
  return unwrap(
    buildRecipe(kernel, {
      ...recipe,
      steps: [
        {
          id: 'plate',
          op: 'extrude',
          mode: 'add',
          plane: { base: 'XY' },
          outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width: '60', height: '40' }],
          extent: { kind: 'depth', depth: '10' },
        },
        {
          id: 'bolts',
          op: 'hole',
          plane: { surface: 'plate.end' },
          at: {
            kind: 'points',
            points: [
              ['10', '10'],
              ['50', '10'],
              ['10', '30'],
              ['50', '30'],
            ],
          },
          diameter,
          depth: { kind: 'through' },
        },
      ],
    }),
  ).shape;
}
beforeAll(async () => {
  kernel = await loadKernel();
  const shape = plateWith('8');
  step = kernel.writeStep(shape, 'mm', 'plate');
  stl = writeStl(trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.01, angleRad: 0.1 })));
  shape.free();
});

const withFile = (fileName: string): Exercise => ({
  ...blankExercise('SB-1', 'Plate', 'mm'),
  model: { sha256: '0'.repeat(64), fileName, unit: 'mm' },
});

/** 60 x 40 x 10 less four holes: 24000 - 4 pi 16 10. */
const VOLUME = 24_000 - 4 * Math.PI * 16 * 10;

describe('a STEP file as the reference', () => {
  it('has surfaces named by its outer sides and its features; like holes share a name', () => {
    const names = withPart(kernel, withFile('plate.step'), { model: step }, ({ surfaces }) => [...surfaces.keys()]);
    expect(names.sort()).toEqual(
      [
        'part.left',
        'part.right',
        'part.front',
        'part.back',
        'part.bottom',
        'part.top',
        ...[1, 2, 3, 4].map((n) => `hole-1.${String(n)}.wall`),
      ].sort(),
    );
  });

  it('gets a plan by its features, which it passes; its own file scores 100, a plate with a smaller hole does not', () => {
    const exercise = withFile('plate.step');
    const checks = withPart(kernel, exercise, { model: step }, ({ solid, surfaces, scope }) => {
      const plan = suggestPlan({ exercise, solid, surfaces, scope });
      const states = evaluatePlan({ exercise: { ...exercise, checks: plan }, solid, surfaces, scope });
      expect(states.filter((state) => state.kind !== 'measured' || !state.passes)).toEqual([]);
      return plan;
    });
    expect(checks).toContainEqual(
      expect.objectContaining({ kind: 'diameter', nominal: '8', prefix: '4 x', label: 'Hole 1 hole diameter' }),
    );
    const prepared = unwrap(prepareExercise(kernel, { ...exercise, checks, typedValues: [] }, { model: step }));
    expect(prepared.failing).toEqual([]);
    expect(prepared.file).toBe(step);
    const texts = prepared.sheet.pages[0]?.entities.flatMap((entity) => (entity.kind === 'text' ? entity.text : []));
    expect(texts).toContain('4 x ⌀8');
    const score = (bytes: Uint8Array) =>
      unwrap(gradeFile(kernel, prepared.reference, { bytes, policy: exercise.scoring })).report.score;
    expect(score(step)).toBe(100);
    expect(score(stl)).toBe(100);
    const small = plateWith('7');
    expect(score(kernel.writeStep(small, 'mm', 'small'))).toBeLessThan(95);
    small.free();
  });

  it('has a key like any other part', () => {
    const builder = new RecipeBuilder(kernel);
    const [entry] = answerKey(kernel, builder, withFile('plate.step'), step);
    expect(entry?.properties?.volumeMm3).toBeCloseTo(VOLUME, 4);
    expect(entry?.massG).toBeCloseTo((VOLUME / 1000) * 2.7, 4);
    expect(answerKey(kernel, builder, withFile('plate.step'))[0]?.problem).toContain('not at hand');
    builder.free();
  });

  it('is refused with the reason when it is missing, or not one closed body', () => {
    const open = (model?: Uint8Array) => attempt(() => withPart(kernel, withFile('plate.step'), { model }, () => true));
    expect(open()).toMatchObject({ problem: { code: 'no-model' } });
    const half = stl.slice(0, 84 + 50 * 4);
    new DataView(half.buffer).setUint32(80, 4, true);
    expect(open(half)).toMatchObject({ problem: { code: 'not-one-body' } });
  });
});

describe('triangles as the reference', () => {
  it('are named, planned and drawn like exact surfaces', () => {
    const exercise = withFile('plate.stl');
    withPart(kernel, exercise, { model: stl }, ({ solid, surfaces, scope }) => {
      expect([...surfaces.keys()]).toContain('hole-1.4.wall');
      const checks = suggestPlan({ exercise, solid, surfaces, scope });
      const prepared = unwrap(prepareExercise(kernel, { ...exercise, checks, typedValues: [] }, { model: stl }));
      expect(prepared.failing).toEqual([]);
      // The exact part is right by a reference of triangles.
      expect(
        unwrap(gradeFile(kernel, prepared.reference, { bytes: step, policy: exercise.scoring })).report.score,
      ).toBe(100);
    });
  });

  it('are seen from the front as an outline, with the holes hidden behind it', () => {
    const solid = unwrap(readModel(kernel, stl, { unit: 'mm' }));
    const { visible, hidden } = cleanView(projectSolid(solid, { toViewer: [0, -1, 0], right: [1, 0, 0] }));
    const ends = (curves: typeof visible, i: 0 | 1) =>
      curves.flatMap((curve) => (curve.kind === 'line' ? [curve.from[i], curve.to[i]] : []));
    const reach = (curves: typeof visible, i: 0 | 1) =>
      [Math.min(...ends(curves, i)), Math.max(...ends(curves, i))].map((value) => Math.round(value * 100) / 100);
    expect([reach(visible, 0), reach(visible, 1)]).toEqual([
      [0, 60],
      [0, 10],
    ]);
    // Walls of the holes begin 6 from the left and end 6 from the right.
    expect(reach(hidden, 0)[0]).toBeCloseTo(6, 1);
    expect(reach(hidden, 0)[1]).toBeCloseTo(54, 1);
  });
});
