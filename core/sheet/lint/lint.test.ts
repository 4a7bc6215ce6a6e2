/** What the linter of drawings finds on pages with one fault each, on parts with round outlines, and on the demo sheets. */
import { beforeAll, describe, expect, it } from 'vitest';

import { lintExercise } from '#core/attempt';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { unwrap } from '#core/problem';
import { cleanView, lintSheet, openShareOf, projectSolid, type LintRule, type SheetEntity } from '#core/sheet';
import type { Vec2, Vec3 } from '#core/vector';
import { demoExercises } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { sampleOf } from '../../../demo/exercises/testing.ts';
import { blockStep, circleOutline, exerciseOf, holesStep, raisedStep, sizeCheck } from '../../exercise/testing.ts';
import { axesOf } from '../views.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const line = (from: Vec2, to: Vec2, checkId: string): SheetEntity => ({
  kind: 'line',
  layer: 'dimension',
  from,
  to,
  checkId,
  viewId: 'front',
});
const arrow = (tip: Vec2, checkId: string): SheetEntity => ({ kind: 'arrow', tip, angle: 0, checkId });
const text = (at: Vec2, checkId: string, words = '120.5'): SheetEntity => ({
  kind: 'text',
  text: words,
  at,
  heightMm: 3.5,
  anchor: 'start',
  checkId,
});
/** The outline of a view as a rectangle. */
const outline = ([left, low]: Vec2, [right, high]: Vec2): SheetEntity => ({
  kind: 'polyline',
  layer: 'visible',
  viewId: 'front',
  points: [
    [left, low],
    [right, low],
    [right, high],
    [left, high],
    [left, low],
  ],
});

/** The rules that a page breaks, and at which dimension. */
function brokenOn(entities: readonly SheetEntity[], straight: Readonly<Record<string, number>> = {}): string[] {
  const dimensions = Object.entries(straight).map(([id, angle]) => ({
    id,
    viewId: 'front',
    offset: [0, 0] as const,
    angle,
    acrossMm: 0,
  }));
  return lintSheet({ pages: [{ widthMm: 420, heightMm: 297, entities }], dimensions }).map(
    ({ rule, where }) => `${rule} ${where}`,
  );
}

describe('texts', () => {
  it('cover each other, or stand above one another', () => {
    expect(brokenOn([text([50, 50], 'a'), text([53, 51], 'b')])).toEqual(['texts-apart a']);
    expect(brokenOn([text([50, 50], 'a'), text([50, 60], 'b')])).toEqual([]);
  });

  it('are crossed by a line, which may run below them', () => {
    expect(brokenOn([text([50, 50], 'a'), line([40, 52], [80, 52], 'b')])).toEqual(['text-clear-of-lines a']);
    expect(brokenOn([text([50, 50], 'a'), line([40, 47], [80, 47], 'b')])).toEqual([]);
  });

  it('reach over the frame, 5 mm from the edge of the paper', () => {
    expect(brokenOn([text([410, 50], 'a')])).toEqual(['text-in-frame a']);
    expect(brokenOn([text([395, 50], 'a')])).toEqual([]);
  });

  it('stand on the part, but not in its notch, though that lies within its box', () => {
    // An L of 60 x 60 with arms of 20: (40, 40) lies in the notch, (10, 40) on the upright arm.
    const angle: SheetEntity = {
      kind: 'polyline',
      layer: 'visible',
      viewId: 'front',
      points: [
        [100, 100],
        [160, 100],
        [160, 120],
        [120, 120],
        [120, 160],
        [100, 160],
        [100, 100],
      ],
    };
    expect(brokenOn([angle, text([102, 140], 'a', '8')])).toEqual(['text-outside-part a']);
    expect(brokenOn([angle, text([135, 140], 'a', '8')])).toEqual([]);
    // An angle may be written between its legs.
    expect(brokenOn([angle, text([102, 140], 'a', '30°')])).toEqual([]);
  });

  it('are cut, or have a sign twice', () => {
    expect(brokenOn([text([50, 50], 'a', 'Length of t...')])).toEqual(['text-whole a']);
    expect(brokenOn([text([50, 50], 'a', '⌀ bolt circle ⌀44')])).toEqual(['sign-once a']);
    expect(brokenOn([text([50, 50], 'a', 'RR5')])).toEqual(['sign-once a']);
    expect(brokenOn([text([50, 50], 'a', '⌵ ⌀20 x 90°')])).toEqual([]);
  });

  it('count like rounds in two places', () => {
    const [four, two] = [text([50, 50], 'a', '4 x R2.4'), text([50, 90], 'b', '2 x R2.4')];
    expect(brokenOn([four, two])).toEqual(['one-count a']);
    expect(brokenOn([four, text([50, 90], 'b', '2 x R3')])).toEqual([]);
  });
});

describe('leaders', () => {
  // From (100, 100) up to the right, and from (100, 120) down to the right: they cross at (110, 110).
  const up = [line([100, 100], [120, 120], 'hole'), arrow([100, 100], 'hole')];
  const down = line([100, 120], [120, 100], 'slot');

  it('cross each other; a slanting extension line, which has no arrow at its end, may cross them', () => {
    expect(brokenOn([...up, down, arrow([120, 100], 'slot')])).toEqual(['leaders-apart hole']);
    expect(brokenOn([...up, down])).toEqual([]);
  });

  it('meet with their bends, as if they were one line; their tips may', () => {
    // From one point to (100, 100) up left and to (140, 100) up right: the bends are 0.5 apart, then 3.
    const to = (bend: Vec2, tip: Vec2, id: string): SheetEntity[] => [line(tip, bend, id), arrow(tip, id)];
    const left = to([120, 110], [100, 100], 'hole');
    expect(brokenOn([...left, ...to([120.5, 110], [140, 100], 'slot')])).toEqual(['leaders-apart hole']);
    expect(brokenOn([...left, ...to([123, 110], [140, 100], 'slot')])).toEqual([]);
    expect(brokenOn([...left, ...to([80, 110], [99.5, 100], 'slot')])).toEqual([]);
  });
});

describe('a straight dimension', () => {
  /** Level, `at` high above the part, with extension lines that begin `from` high. */
  const level = (id: string, [left, right]: Vec2, at: number, from = 121): SheetEntity[] => [
    line([left, at], [right, at], id),
    line([left, from], [left, at + 2], id),
    line([right, from], [right, at + 2], id),
  ];
  const part = outline([100, 100], [180, 120]);

  it('is crossed by the extension line of one outside it that begins between its ends', () => {
    const both = [part, ...level('a', [110, 150], 130), ...level('b', [130, 170], 137)];
    expect(brokenOn(both, { a: 0, b: 0 })).toEqual(['dimension-line-clear a']);
    // Side by side, or one inside the other, nothing crosses.
    expect(brokenOn([part, ...level('a', [110, 130], 130), ...level('b', [130, 170], 130)], { a: 0, b: 0 })).toEqual(
      [],
    );
    expect(brokenOn([part, ...level('a', [120, 150], 130), ...level('b', [110, 170], 137)], { a: 0, b: 0 })).toEqual(
      [],
    );
  });

  it('has extension lines all over the part though it could stand on the other side', () => {
    const tall = outline([100, 100], [180, 160]);
    // Both begin 5 mm above the lower side: 55 mm to the upper one, 5 mm to the lower one, each.
    expect(brokenOn([tall, ...level('a', [110, 150], 170, 105)], { a: 0 })).toEqual(['extension-line-short a']);
    expect(brokenOn([tall, ...level('a', [110, 150], 170, 130)], { a: 0 })).toEqual([]);
  });

  it('is measured to a hidden line', () => {
    const dimensions = [
      { id: 'depth', viewId: 'front', offset: [0, 0] as const, angle: 0, acrossMm: 0, hiddenEnds: 1 },
    ];
    const found = lintSheet({ pages: [], dimensions });
    expect(found.map(({ rule, where }) => `${rule} ${where}`)).toEqual(['ends-visible depth']);
  });
});

const VIEWS: Readonly<Record<string, { readonly toViewer: Vec3; readonly right: Vec3 }>> = {
  front: { toViewer: [0, -1, 0], right: [1, 0, 0] },
  top: { toViewer: [0, 0, 1], right: [1, 0, 0] },
  pictorial: { toViewer: [1, -1, 1], right: [1, 1, 0] },
};

/** How much of the shadow of a part each view does not enclose, of its first lines or of all. */
const openShares = (steps: readonly object[], leftOut = 0): readonly number[] =>
  withPart(kernel, exerciseOf({ steps, checks: [] }), {}, ({ solid }) =>
    Object.values(VIEWS).map((view) => {
      const lines = cleanView(projectSolid(solid, view));
      return openShareOf({
        lines: { ...lines, visible: lines.visible.slice(leftOut) },
        axes: axesOf(view),
        part: solid,
      });
    }),
  );

const DRUM = raisedStep('drum', circleOutline([0, 0], 80), 20, { base: 'XY' });
const rounded = (edges: readonly object[], radius: string): object => ({ id: 'soft', op: 'fillet', radius, edges });
const NECK = {
  id: 'neck',
  op: 'loft',
  mode: 'add',
  plane: { base: 'XY' },
  outline: { shape: 'rectangle', center: ['0', '0'], width: '40', height: '36' },
  distance: '30',
  to: circleOutline([0, 0], 27),
};

describe('the outline of each view encloses what the part covers', () => {
  it.each([
    ['a drum with rounded rims', [DRUM, rounded([{ every: 'convex' }], '3')]],
    ['a block with rounds on all edges', [blockStep([60, 40, 20]), rounded([{ every: 'convex' }], '5')]],
    ['a neck from a rectangle to a circle', [NECK]],
    [
      'a bush with a hole through its wall',
      [
        { ...DRUM, plane: { base: 'YZ' } },
        { ...holesStep('oil', [[0, 10]], 5), plane: { base: 'XY' }, depth: { kind: 'through' } },
      ],
    ],
  ])('%s', (_name, steps) => {
    for (const share of openShares(steps)) expect(share).toBeLessThan(0.002);
  });

  it('and not where a line of it is left out', () => {
    // Of a block's front view, its first line is a side of the rectangle: all of it is open then.
    const [front = 0] = openShares([blockStep([60, 40, 20])], 1);
    expect(front).toBeGreaterThan(0.9);
  });
});

describe('letters and views of a drawn sheet', () => {
  const plate = (checks: readonly object[], views: readonly object[]): Exercise =>
    exerciseOf(
      {
        parameters: [{ name: 'A', label: 'Length', value: '60' }],
        steps: [blockStep(['A', 40, 8])],
        checks,
      },
      { sheet: { paper: 'A4', views } },
    );
  const rulesOf = (exercise: Exercise): readonly LintRule[] =>
    unwrap(lintExercise(kernel, exercise)).map(({ rule }) => rule);
  const overall = (axis: string, nominal: string | number): object =>
    sizeCheck(`overall-${axis}`, 'overall-size', nominal, { axis });
  const [front, top, right] = ['front', 'top', 'right'].map((direction) => ({
    kind: 'plain',
    id: direction,
    direction,
  }));

  it('a letter that sizes the part and stands at no dimension is found', () => {
    expect(rulesOf(plate([overall('y', 40)], [top ?? {}]))).toContain('letter-at-size');
    expect(rulesOf(plate([overall('x', 'A')], [top ?? {}]))).not.toContain('letter-at-size');
  });

  it('a view that shows nothing but the thickness, which another has, adds nothing', () => {
    const sizes = [overall('x', 'A'), overall('y', 40), overall('z', 8)];
    expect(rulesOf(plate(sizes, [front ?? {}, top ?? {}, right ?? {}]))).toEqual(['view-adds']);
    expect(rulesOf(plate(sizes, [front ?? {}, top ?? {}]))).toEqual([]);
  });
});

/** What is left on the demo sheets, with the reason. */
const KNOWN: Readonly<Record<string, readonly LintRule[]>> = {
  // The bore leans with its tube and is cut by the screw hole: no view along the part shows it, and a section loses the screw.
  'Stanchion base': ['ends-visible'],
  // Six sizes across a width of 38 mm on paper: on either side one of them begins between the ends of another.
  'Cowl adaptor': ['dimension-line-clear'],
  'Mast step': ['dimension-line-clear'],
};

it('a bolt circle whose sign the author wrote has it once', () => {
  const drum = demoExercises.find(({ title }) => title === 'Winch drum');
  const found = drum === undefined ? null : unwrap(lintExercise(kernel, drum));
  expect(found?.map(({ words }) => words)).toEqual([]);
});

it.each(sampleOf(demoExercises, 5).map((exercise) => [exercise.title, exercise] as const))(
  'the sheet of the %s breaks no rule but those that are known',
  (title, exercise) => {
    const found = unwrap(lintExercise(kernel, exercise)).filter(({ rule }) => !(KNOWN[title] ?? []).includes(rule));
    expect(found).toEqual([]);
  },
);
