import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { renderSvg, type Sheet, type SheetEntity } from '#core/sheet';
import { cleatPlateExercise, firstExercises, winchDrumExercise } from '#demo/exercises';
import type { Vec2 } from '#core/vector';
import { loadKernel } from '#runtime';

import { placeDimensions } from './place/index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const sheetOf = (exercise: Exercise, values: Record<string, string> = {}): Sheet =>
  unwrap(prepareExercise(kernel, exercise, { values })).sheet;
const svgOf = (exercise: Exercise, values: Record<string, string> = {}): string => renderSvg(sheetOf(exercise, values));

/** Words of the sheet, those of one check together; y runs upwards. */
function wordsOf({ pages }: Sheet): { text: string; check: string | null; x: number; y: number }[] {
  const words: { text: string; check: string | null; x: number; y: number }[] = [];
  for (const entity of pages.flatMap(({ entities }) => entities)) {
    if (entity.kind !== 'text') continue;
    const check = entity.checkId ?? null;
    const known = check === null ? undefined : words.find((word) => word.check === check);
    if (known) known.text += ` ${entity.text}`;
    else words.push({ text: entity.text, check, x: entity.at[0], y: entity.at[1] });
  }
  return words;
}

/** Arrowheads in the order in which they are drawn: at the smaller end first. */
const arrowsOf = (entities: readonly SheetEntity[]) =>
  entities.flatMap((entity) => (entity.kind === 'arrow' ? [entity] : []));

describe('letters in place of numbers', () => {
  it('stand at the dimension; their values stand in the table and change with the variant', () => {
    for (const [values, length] of [
      [{}, '120'],
      [{ A: '150' }, '150'],
    ] as const) {
      const words = wordsOf(sheetOf(cleatPlateExercise, values));
      expect(words.find((word) => word.check === 'length')?.text).toBe('A');
      expect(words.some((word) => word.check === null && word.text === length)).toBe(true);
    }
  });

  it('a size worked out from letters is written as its value', () => {
    const pitch = (values: Record<string, string>) =>
      wordsOf(sheetOf(cleatPlateExercise, values)).find((word) => word.check === 'bolt-pitch-x')?.text;
    expect(pitch({})).toBe('92');
    expect(pitch({ A: '150' })).toBe('122');
  });
});

describe('rows of dimensions', () => {
  /** A plate of 100 x 40 on paper, with dimensions along its lower edge. */
  const outline = { min: [0, 0], max: [100, 40] } as const;
  const corners: readonly Vec2[] = [
    [0, 0],
    [100, 0],
    [100, 40],
    [0, 40],
  ];
  const strokes = corners.map((from, i) => ({ from, to: corners[(i + 1) % 4] ?? from }));
  const paper = { strokes, marks: [], outline, taken: [], scale: 1 };
  const along = (id: string, from: number, to: number) =>
    ({
      kind: 'linear',
      id,
      viewId: 'front',
      hiddenEnds: 0,
      text: String(to - from),
      angle: 0,
      from: { at: from, low: 0, high: 0 },
      to: { at: to, low: 0, high: 0 },
    }) as const;

  it('shorter ones lie inside longer ones, at one spacing', () => {
    const placed = placeDimensions(paper, [along('long', 0, 100), along('middle', 0, 70), along('short', 0, 30)]);
    const row = (id: string): number => placed.find((one) => one.id === id)?.offset[1] ?? Number.NaN;
    expect([row('short'), row('middle'), row('long')]).toEqual([-9, -16, -23]);
  });

  it('those that follow on each other share a row', () => {
    const placed = placeDimensions(paper, [along('a', 0, 40), along('b', 40, 100)]);
    expect(placed.map(({ offset }) => offset[1])).toEqual([-9, -9]);
  });

  it('of two holes near an edge stands on that side, and a short one beside it is written away from it', () => {
    // Holes 6 above the lower edge at 11 and 75: their pitch belongs below, where 11 stands too.
    const pitch = {
      ...along('pitch', 11, 86),
      from: { at: 11, low: 4, high: 8 },
      to: { at: 86, low: 4, high: 8 },
    };
    const placed = placeDimensions(paper, [along('edge', 0, 11), pitch]);
    const of = (id: string) => placed.find((one) => one.id === id);
    expect(of('pitch')?.offset[1]).toBeLessThan(0);
    // The text of 11 stands left of it, so that no extension line of the pitch crosses its dimension line.
    const text = of('edge')?.entities.find((entity) => entity.kind === 'text');
    expect(text?.at[0]).toBeLessThan(0);
    // With nothing beside it, it is written behind its end.
    const [alone] = placeDimensions(paper, [along('edge', 0, 11)]);
    expect(alone?.entities.find((entity) => entity.kind === 'text')?.at[0]).toBeGreaterThan(11);
  });

  it('stand where a hand put them', () => {
    const [placed] = placeDimensions(paper, [along('a', 0, 40)], new Map([['a', [5, 33]]]));
    expect(placed?.offset).toEqual([5, 33]);
  });

  it('that a hand drags below the view are counted from its lower side, above it from the upper', () => {
    // The view reaches from 0 to 40: 33 above it is 73, 20 below it is -20.
    for (const [offset, level] of [
      [33, 73],
      [-20, -20],
    ] as const) {
      const [placed] = placeDimensions(paper, [along('a', 0, 40)], new Map([['a', [0, offset]]]));
      expect(arrowsOf(placed!.entities).map(({ tip }) => tip[1])).toEqual([level, level]);
      expect(placed?.offset[1]).toBe(offset);
    }
  });

  it('touch their extension lines with the tips of arrows that point outwards', () => {
    const [wide] = placeDimensions(paper, [along('wide', 20, 90)]);
    const [left, right] = arrowsOf(wide!.entities);
    expect([left?.tip, right?.tip]).toEqual([
      [20, -9],
      [90, -9],
    ]);
    // Lines of the part run from below: the arrow at the left points to the left, the one at the right to the right.
    expect([Math.cos(left!.angle), Math.cos(right!.angle)]).toEqual([-1, 1]);
    const lines = wide!.entities.flatMap((entity) => (entity.kind === 'line' ? [entity] : []));
    for (const x of [20, 90])
      expect(lines.some(({ from, to }) => from[0] === x && to[0] === x && to[1] < -9)).toBe(true);
  });

  it('too narrow for arrows between their extension lines have them outside, pointing inwards', () => {
    const [narrow] = placeDimensions(paper, [along('narrow', 20, 24)]);
    const [left, right] = arrowsOf(narrow!.entities);
    expect([left?.tip[0], right?.tip[0]]).toEqual([20, 24]);
    expect([Math.cos(left!.angle), Math.cos(right!.angle)]).toEqual([1, -1]);
  });

  it('an upright one has its arrows at its lower and upper end', () => {
    const upright = { ...along('height', 0, 40), angle: Math.PI / 2 };
    const [placed] = placeDimensions(paper, [upright]);
    const [low, high] = arrowsOf(placed!.entities);
    expect([low!.tip[1], high!.tip[1]]).toEqual([expect.closeTo(0, 9), expect.closeTo(40, 9)]);
    expect([Math.sin(low!.angle), Math.sin(high!.angle)]).toEqual([expect.closeTo(-1, 9), expect.closeTo(1, 9)]);
    // It stands beside the plate, not on it.
    expect(low!.tip[0] < 0 || low!.tip[0] > 100).toBe(true);
  });

  it('an angle has its arrows at both legs, along the arc', () => {
    const right = {
      kind: 'angular',
      id: 'angle',
      viewId: 'front',
      hiddenEnds: 0,
      text: '90',
      apex: [0, 0],
      legs: [
        { angle: 0, low: 30, high: 2 * 30 },
        { angle: Math.PI / 2, low: 30, high: 2 * 30 },
      ],
    } as const;
    const [placed] = placeDimensions(paper, [right], new Map([['angle', [0, 50]]]));
    const [first, second] = arrowsOf(placed!.entities);
    expect(first!.tip).toEqual([50, 0]);
    expect(second!.tip).toEqual([expect.closeTo(0, 9), expect.closeTo(50, 9)]);
    // Along the arc at (50, 0) is down, away from the arc; at (0, 50) it is to the left.
    expect([Math.cos(first!.angle), Math.sin(first!.angle)]).toEqual([expect.closeTo(0, 9), expect.closeTo(-1, 9)]);
    expect([Math.cos(second!.angle), Math.sin(second!.angle)]).toEqual([expect.closeTo(-1, 9), expect.closeTo(0, 9)]);
  });

  it('a dimension that the plan keeps off the sheet is not on it', () => {
    expect(svgOf(cleatPlateExercise)).not.toContain('data-check="bolt-3-x"');
  });

  it('turned diameters are written across the side view, holes with a leader in the view along their axis', () => {
    const words = wordsOf(sheetOf(winchDrumExercise));
    expect(words.find((word) => word.check === 'lower-flange')?.text).toBe('⌀B');
    expect(words.find((word) => word.check === 'bolt-diameter')?.text).toBe('6 x ⌀.28125 through');
  });
});

describe('scale', () => {
  it.each([
    [{ A: '120', B: '64' }, '1:1'],
    [{ A: '300', B: '160' }, '1:2'],
    // At 1:5 the top view and the isometric view beside it would need 160 + 170 and their dimensions: more than 386.
    [{ A: '800', B: '400' }, '1:10'],
  ])('of a plate with %j is %s, the largest of the standard series that fits', (values, scale) => {
    expect(wordsOf(sheetOf(cleatPlateExercise, values)).map((word) => word.text)).toContain(scale);
  });
});

describe('the picture', () => {
  it.each(firstExercises.map((exercise) => [exercise.title, exercise] as const))(
    'of the %s is A3 in millimeters, and every line is a number',
    (_title, exercise) => {
      const svg = svgOf(exercise);
      expect(svg).toContain('viewBox="0 0 420 297" width="420mm" height="297mm"');
      expect(svg).not.toMatch(/NaN|Infinity|undefined/);
    },
  );

  it('hides nothing of the answers in itself: no volume, no mass, no tolerance of a property', () => {
    for (const exercise of firstExercises) {
      const { reference, sheet } = unwrap(prepareExercise(kernel, exercise));
      const sheetSvg = renderSvg(sheet);
      const volume = Math.round(reference.solid.massProperties.volumeMm3);
      expect(sheetSvg).not.toContain(String(volume));
      expect(sheetSvg).not.toMatch(/data-check="(volume|mass|center-of-mass)"/);
    }
  });
});
