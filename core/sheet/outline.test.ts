/** Outlines of rounded parts are whole, sections are chosen where the inside has sizes, and numbers are printed as they are meant. */
import { beforeAll, describe, expect, it } from 'vitest';

import { prepareReference } from '#core/check';
import type { Exercise } from '#core/exercise';
import { findHoles } from '#core/feature';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { unwrap } from '#core/problem';
import { cleanView, dimensionText, drawSheet, projectSolid, suggestViews, type ViewLines } from '#core/sheet';
import type { Vec3 } from '#core/vector';
import { loadKernel } from '#runtime';

import { blockStep, circleOutline, exerciseOf, holesStep, raisedStep, sizeCheck } from '../exercise/testing.ts';
import { expressionText } from './text.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const TOP = { toViewer: [0, 0, 1], right: [1, 0, 0] } as const;
const FRONT = { toViewer: [0, -1, 0], right: [1, 0, 0] } as const;

function viewOf(steps: readonly object[], view: { readonly toViewer: Vec3; readonly right: Vec3 }): ViewLines {
  const exercise = exerciseOf({ steps, checks: [] });
  return withPart(kernel, exercise, {}, ({ solid }) => cleanView(projectSolid(solid, view)));
}

/** How far round the visible arcs of a radius about the origin go, rad. */
const sweepAt = ({ visible }: ViewLines, radius: number): number =>
  visible.reduce(
    (sum, curve) =>
      curve.kind === 'arc' && Math.abs(curve.radius - radius) < 0.01 ? sum + Math.abs(curve.sweep) : sum,
    0,
  );
/** How much of a level line at a height is visible, mm. */
const levelAt = ({ visible }: ViewLines, height: number): number =>
  visible.reduce(
    (sum, curve) =>
      curve.kind === 'line' && Math.abs(curve.from[1] - height) < 0.01 && Math.abs(curve.to[1] - height) < 0.01
        ? sum + Math.abs(curve.to[0] - curve.from[0])
        : sum,
    0,
  );

const DRUM = raisedStep('drum', circleOutline([0, 0], 80), 20, { base: 'XY' });
const soften = (radius: number): object => ({
  id: 'soft',
  op: 'fillet',
  radius: String(radius),
  edges: [{ between: ['drum.start', 'drum.wall'] }, { between: ['drum.end', 'drum.wall'] }],
});

describe('the outline of a drum with rounded rims', () => {
  const part = [DRUM, soften(3)];

  it('is a whole circle from above: where the rounds meet the wall nothing turns, and yet it ends there', () => {
    expect(sweepAt(viewOf(part, TOP), 40)).toBeCloseTo(2 * Math.PI, 2);
  });

  it('is closed from the side: upper and lower line between the rounds, which are arcs', () => {
    const view = viewOf(part, FRONT);
    // 80 less a round of 3 at both ends.
    expect(levelAt(view, 20)).toBeCloseTo(74, 1);
    expect(levelAt(view, 0)).toBeCloseTo(74, 1);
  });
});

describe('a hollow with a floor', () => {
  const hollow = {
    id: 'hollow',
    op: 'extrude',
    mode: 'cut',
    plane: { surface: 'drum.end' },
    outlines: [circleOutline([0, 0], 60)],
    extent: { kind: 'depth', depth: '14' },
  };
  const boss = raisedStep('boss', circleOutline([0, 0], 16), 6, { surface: 'hollow.end' });
  const vents = { ...holesStep('vents', [[20, 0]], 4), plane: { surface: 'hollow.end' } };
  const part = [DRUM, hollow, boss, vents];

  it('does not go through because a boss stands in it and a hole goes through its floor', () => {
    const exercise = exerciseOf({ steps: part, checks: [] });
    const holes = withPart(kernel, exercise, {}, ({ solid }) => findHoles(solid));
    const sizes = holes.map(({ diameterMm, through }) => [diameterMm, through]);
    expect(sizes).toEqual(
      expect.arrayContaining([
        [expect.closeTo(60, 6), false],
        [expect.closeTo(4, 6), true],
      ]),
    );
  });

  it('has its floor dimensioned in a section that is chosen by itself', () => {
    const checks = [sizeCheck('floor', 'distance', 6, { from: 'drum.start', to: 'hollow.end' })];
    const [views, sheet] = sheetOf(exerciseOf({ steps: part, checks }));
    expect(views.find(({ kind }) => kind === 'section')).toMatchObject({ at: '0' });
    expect(sheet.dimensions.find(({ id }) => id === 'floor')?.viewId).toBe('section-a');
  });

  it('that is none needs no section: a block with a hole through it', () => {
    const steps = [blockStep([60, 40, 20]), holesStep('bore', [[30, 20]], 8)];
    const checks = [sizeCheck('bore', 'diameter', 8, { of: ['bore.wall'] })];
    const [views] = sheetOf(exerciseOf({ steps, checks }));
    expect(views.some(({ kind }) => kind === 'section')).toBe(false);
  });

  function sheetOf(exercise: Exercise) {
    return withPart(kernel, exercise, {}, (source) => {
      const { solid, surfaces, scope } = source;
      const reference = unwrap(prepareReference(exercise, solid, surfaces, scope));
      const views = suggestViews({ ...source, exercise, reference });
      const drawn = { ...exercise, sheet: { paper: 'A3', views } } as const;
      return [views, drawSheet({ ...source, exercise: drawn, reference })] as const;
    });
  }
});

describe('numbers on a sheet', () => {
  it.each([
    [0.1875, '.1875'],
    [0.0625, '.0625'],
    [3.5, '3.500'],
    [0.3333333, '.333'],
  ])('%d in is printed %s: what is printed is what is graded', (inches, text) => {
    expect(dimensionText(inches * 25.4, { unit: 'in', decimals: 3 })).toBe(text);
  });

  it.each([
    ['90 - C', true, '90° - C'],
    ['A-28', false, 'A - 28'],
    ['2*B', false, '2 x B'],
    ['C/2', true, 'C/2'],
  ])('the expression %s is written as a drawing does', (expression, angular, text) => {
    expect(expressionText(expression, angular)).toBe(text);
  });
});
