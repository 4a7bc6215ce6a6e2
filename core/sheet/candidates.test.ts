import { describe, expect, it } from 'vitest';

import type { Vec2 } from '#core/vector';

import type { SheetEntity } from './model.ts';
import { boxesOverlap, strokeInBox } from './overlap.ts';
import { placeDimensions, type ViewOnPaper } from './place/index.ts';
import type { ViewDimension } from './view-dimension.ts';

/** A plate of 100 x 40 on paper, drawn at a scale. */
function paperAt(scale: number): ViewOnPaper {
  const [width, height] = [100 * scale, 40 * scale];
  const corners: readonly Vec2[] = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ];
  return {
    strokes: corners.map((from, i) => ({ from, to: corners[(i + 1) % 4] ?? from })),
    marks: [],
    outline: { min: [0, 0], max: [width, height] },
    taken: [],
    scale,
  };
}
const PLATE = paperAt(1);
const common = { viewId: 'top', hiddenEnds: 0 } as const;
const hole = (id: string, x: number, y: number, radius = 5, at: number | null = null): ViewDimension => ({
  ...common,
  kind: 'leader',
  id,
  rows: [[{ text: `⌀${String(2 * radius)}`, checkId: id }]],
  targets: [{ center: [x, y], radius, at }],
  circle: null,
});
const ordinate = (id: string, at: number, isDatum = false): ViewDimension => ({
  ...common,
  kind: 'ordinate',
  id,
  text: String(at),
  angle: 0,
  to: { at, low: 0, high: 0 },
  isDatum,
});
const one = (dimension: ViewDimension, wanted?: Vec2, paper = PLATE) => {
  const [placed] = placeDimensions(paper, [dimension], new Map(wanted === undefined ? [] : [[dimension.id, wanted]]));
  if (placed === undefined) throw new Error('not placed');
  return placed;
};
type Of<K extends SheetEntity['kind']> = Extract<SheetEntity, { kind: K }>;
const of = <K extends SheetEntity['kind']>(entities: readonly SheetEntity[], kind: K): readonly Of<K>[] =>
  entities.filter((entity): entity is Of<K> => entity.kind === kind);

describe('a leader', () => {
  it('touches the circle with its arrow, which points at the middle of it', () => {
    const { entities } = one(hole('bore', 50, 20));
    const [arrow] = of(entities, 'arrow');
    const [x, y] = arrow?.tip ?? [0, 0];
    expect(Math.hypot(x - 50, y - 20)).toBeCloseTo(5, 9);
    const inwards = Math.atan2(20 - y, 50 - x);
    expect(Math.cos((arrow?.angle ?? 0) - inwards)).toBeCloseTo(1, 9);
  });

  it('ends in a level landing of 3 mm, on the far side of which the text stands', () => {
    const { entities } = one(hole('bore', 50, 20), [30, 40]);
    const [slanting, landing] = of(entities, 'line');
    expect(slanting?.to).toEqual([80, 60]);
    expect([landing?.from, landing?.to]).toEqual([
      [80, 60],
      [83, 60],
    ]);
    expect(of(entities, 'text')[0]?.at[0]).toBeGreaterThan(83);
    const left = one(hole('bore', 50, 20), [-30, 40]);
    expect(of(left.entities, 'line')[1]?.to).toEqual([17, 60]);
    expect(left.texts[0]?.max[0]).toBeLessThan(17);
  });

  it('can be asked to its place again', () => {
    const { offset, entities } = one(hole('bore', 50, 20));
    const again = one(hole('bore', 50, 20), offset).entities;
    expect(of(again, 'arrow')).toEqual(of(entities, 'arrow'));
    expect(of(again, 'line')[0]).toEqual(of(entities, 'line')[0]);
  });

  it('to an arc touches it where it is, and to a point ends in the point', () => {
    const corner = one(hole('corner', 90, 30, 10, Math.PI / 4), [30, 30]);
    const [arrow] = of(corner.entities, 'arrow');
    expect(arrow?.tip).toEqual([expect.closeTo(90 + 10 * Math.SQRT1_2, 9), expect.closeTo(30 + 10 * Math.SQRT1_2, 9)]);
    const point = one(hole('wall', 70, 10, 0), [10, -30]);
    expect(of(point.entities, 'arrow')[0]?.tip).toEqual([70, 10]);
  });

  it('follows the scale of the view with its tip, not with its text', () => {
    const half = one(hole('bore', 50, 20), undefined, paperAt(0.5));
    const [x, y] = of(half.entities, 'arrow')[0]?.tip ?? [0, 0];
    expect(Math.hypot(x - 25, y - 10)).toBeCloseTo(2.5, 9);
    expect(of(half.entities, 'text')[0]?.heightMm).toBe(3.5);
  });

  it('keeps its text off the part and off the text of another', () => {
    const placed = placeDimensions(PLATE, [hole('a', 20, 20), hole('b', 26, 20), hole('c', 32, 20), hole('d', 38, 20)]);
    const boxes = placed.flatMap(({ texts }) => texts);
    expect(boxes).toHaveLength(4);
    boxes.forEach((box, i) => {
      for (const line of PLATE.strokes) expect(strokeInBox(line, box)).toBe(false);
      for (const other of boxes.slice(i + 1)) expect(boxesOverlap(box, other)).toBe(false);
    });
  });

  it('bends at no place where another does', () => {
    // Two holes side by side, whose leaders would meet halfway between them.
    const placed = placeDimensions(PLATE, [hole('a', 45, 12), hole('b', 57, 12)]);
    const bends = placed.map(({ entities }) => of(entities, 'line')[0]!.to);
    expect(Math.hypot(bends[1]![0] - bends[0]![0], bends[1]![1] - bends[0]![1])).toBeGreaterThan(1.5);
  });

  it('does not lie level or upright, where it would be taken for a dimension line', () => {
    for (const x of [10, 30, 50, 70, 90]) {
      const [line] = of(one(hole('bore', x, 20)).entities, 'line');
      const [dx, dy] = [line!.to[0] - line!.from[0], line!.to[1] - line!.from[1]];
      expect(Math.abs(dy / dx)).toBeGreaterThan(0.09);
      expect(Math.abs(dy / dx)).toBeLessThan(11);
    }
  });

  it('with a circle through axes of holes draws it as a center line, at scale', () => {
    const circle = { center: [50, 20], radius: 15, at: null } as const;
    const bolts: ViewDimension = {
      ...hole('bolts', 50, 20),
      kind: 'leader',
      targets: [circle],
      circle,
    } as ViewDimension;
    const [ring] = of(one(bolts, undefined, paperAt(2)).entities, 'arc');
    expect(ring).toMatchObject({ layer: 'center', center: [100, 40], radius: 30, sweep: 2 * Math.PI });
  });

  it('with several rows writes them under each other, each run for its own check', () => {
    const rows = [
      [
        { text: '⌀8', checkId: 'diameter' },
        { text: ' ↧12', checkId: 'depth' },
      ],
      [{ text: 'M6', checkId: null }],
    ];
    const { entities, texts } = one({ ...hole('bore', 50, 20), kind: 'leader', rows } as ViewDimension, [30, 40]);
    const words = of(entities, 'text');
    expect(words.map(({ text, checkId }) => [text, checkId])).toEqual([
      ['⌀8', 'diameter'],
      ['↧12', 'depth'],
      ['M6', 'bore'],
    ]);
    expect(words[1]?.at[0]).toBeGreaterThan(words[0]?.at[0] ?? 0);
    expect([words[0]?.at[1], words[1]?.at[1]]).toEqual([58.25, 58.25]);
    // Rows are 1.55 text heights apart.
    expect(words[2]?.at[1]).toBeCloseTo(58.25 - 1.55 * 3.5, 9);
    expect(texts).toHaveLength(2);
  });
});

describe('ordinates', () => {
  it('stand above the view, in one row, at the places that they count', () => {
    const placed = placeDimensions(PLATE, [ordinate('zero', 0, true), ordinate('a', 30), ordinate('b', 80)]);
    for (const [id, at] of [
      ['zero', 0],
      ['a', 30],
      ['b', 80],
    ] as const) {
      const own = placed.find((entry) => entry.id === id);
      const [line, ...more] = of(own?.entities ?? [], 'line');
      expect(more).toEqual([]);
      expect([line?.from[0], line?.to[0]]).toEqual([at, at]);
      // From 1.2 above the line of the part to 9 above the view, which is 40 high.
      expect([line?.from[1], line?.to[1]]).toEqual([1.2, 49]);
      expect(own?.offset).toEqual([0, 9]);
    }
  });

  it('have their text beyond the end of the line, read from the right and in the middle of it', () => {
    const { entities } = one(ordinate('a', 30));
    const [text] = of(entities, 'text');
    // 3.5 high capitals turned upwards stand left of their base line: half of them on either side of 30; 1 above 49.
    expect(text?.angle).toBeCloseTo(Math.PI / 2, 12);
    expect(text?.at).toEqual([31.75, 50]);
  });

  it('that count upwards have their text level beside the end of the line', () => {
    const upright: ViewDimension = { ...common, ...ordinate('a', 10), angle: Math.PI / 2 } as ViewDimension;
    const { entities } = one(upright, [0, -12]);
    const [text] = of(entities, 'text');
    const [line] = of(entities, 'line');
    expect(text?.angle ?? 0).toBe(0);
    expect(text?.at[1]).toBeCloseTo(line!.to[1] - 1.75, 9);
    // On the side away from the part.
    const outwards = Math.sign(line!.to[0] - 50);
    expect(Math.sign((text?.at[0] ?? 0) - line!.to[0])).toBe(outwards);
  });

  it('close to each other bend aside, so that no text lies on another', () => {
    const placed = placeDimensions(PLATE, [ordinate('a', 30), ordinate('b', 32), ordinate('c', 34)]);
    const boxes = placed.flatMap(({ texts }) => texts);
    boxes.forEach((box, i) => {
      for (const other of boxes.slice(i + 1)) expect(boxesOverlap(box, other)).toBe(false);
    });
    expect(placed.some(({ offset }) => offset[0] !== 0)).toBe(true);
  });

  it('belong to their check, except the zero that they count from', () => {
    const checkOf = (dimension: ViewDimension) => of(one(dimension).entities, 'text')[0]?.checkId;
    expect(checkOf(ordinate('a', 30))).toBe('a');
    expect(checkOf(ordinate('zero', 0, true))).toBeUndefined();
  });

  it('go below where a hand put them', () => {
    const { entities, offset } = one(ordinate('a', 30), [6, -12]);
    expect(offset).toEqual([6, -12]);
    const lines = of(entities, 'line');
    expect(lines.at(-1)?.to).toEqual([36, -12]);
  });
});

describe('an angle', () => {
  const angle = (from: number, to: number): ViewDimension => ({
    ...common,
    kind: 'angular',
    id: 'angle',
    text: '30°',
    apex: [20, 10],
    legs: [
      { angle: from, low: 4, high: 10 },
      { angle: to, low: 4, high: 10 },
    ],
  });
  const DEGREE = Math.PI / 180;

  it.each([
    ['counterclockwise', 0, 30, 0],
    ['clockwise', 30, 0, 0],
    ['over the direction to the left', 170, -160, 170],
  ])('has its arc on the short way between its legs: %s', (_what, from, to, start) => {
    const [arc] = of(one(angle(from * DEGREE, to * DEGREE), [0, 40]).entities, 'arc');
    expect(arc).toMatchObject({ center: [20, 10], radius: 40 });
    expect(arc?.start).toBeCloseTo(start * DEGREE, 9);
    expect(arc?.sweep).toBeCloseTo(30 * DEGREE, 9);
  });

  it('draws its legs on to the arc, from where they end on the part', () => {
    const lines = of(one(angle(0, 30 * DEGREE), [0, 40]).entities, 'line');
    expect(lines).toHaveLength(2);
    const [level] = lines;
    // The leg reaches 10, then a gap of 1.2; the line ends 1.8 beyond the arc.
    expect([level?.from, level?.to]).toEqual([
      [31.2, 10],
      [61.8, 10],
    ]);
    expect(of(one(angle(0, 30 * DEGREE), [0, 8]).entities, 'line')).toHaveLength(0);
  });

  it('that is narrow has its arrows outside, and the arc with them', () => {
    // Two degrees at 40 are 1.4 mm: less than two arrows of 2.8 and the room between them.
    const { entities } = one(angle(0, 2 * DEGREE), [0, 40]);
    const [arc] = of(entities, 'arc');
    expect(arc?.start).toBeCloseTo(-6 / 40, 9);
    expect(arc?.sweep).toBeCloseTo(2 * DEGREE + 12 / 40, 9);
    const [first] = of(entities, 'arrow');
    // Upwards along the arc, into the angle.
    expect(Math.sin(first?.angle ?? 0)).toBeCloseTo(1, 9);
  });
});

describe('paper that is covered', () => {
  it('is left free', () => {
    const taken = { min: [-60, -30], max: [160, -1] } as const;
    const below: ViewDimension = {
      ...common,
      kind: 'linear',
      id: 'a',
      text: '100',
      angle: 0,
      from: { at: 0, low: 0, high: 0 },
      to: { at: 100, low: 0, high: 0 },
    };
    expect(one(below).offset[1]).toBe(-9);
    const [moved] = placeDimensions({ ...PLATE, taken: [taken] }, [below]);
    for (const box of moved?.texts ?? []) expect(boxesOverlap(box, taken)).toBe(false);
  });
});
