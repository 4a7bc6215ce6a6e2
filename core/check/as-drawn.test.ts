/** What a sheet says by its lines alone: what is square, what is there and nothing besides, where holes of a circle begin. */
import { beforeAll, describe, expect, it } from 'vitest';

import { measureSubmission, prepareReference, type CheckMeasurement } from '#core/check';
import type { Kernel } from '#core/kernel';
import { trianglesOf, writeStl } from '#core/mesh';
import { readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { RECIPE_SOURCE, type Solid } from '#core/solid';
import { loadKernel } from '#runtime';

import {
  blockStep,
  circleOutline,
  exerciseOf,
  holesStep,
  pocketStep,
  raisedStep,
  rectangleOutline,
  sizeCheck,
} from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function built(steps: readonly object[], checks: readonly object[] = []) {
  const exercise = exerciseOf({ steps, checks });
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, exercise.recipe));
  const solid = unwrap(kernel.analyze(shape, RECIPE_SOURCE));
  const stl = writeStl(trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.05, angleRad: 0.3 })));
  shape.free();
  return { solid, stl, reference: () => unwrap(prepareReference(exercise, solid, surfaces, scope)) };
}

/** One check, measured on a part that was modeled with other steps. */
function measured(check: object, right: readonly object[], handedIn: Solid): CheckMeasurement {
  const [found] = measureSubmission(built(right, [check]).reference(), handedIn).checks;
  if (found === undefined) throw new Error('not measured');
  return found;
}

const BLOCK = blockStep([60, 40, 20]);
const BORE = holesStep('bore', [[15, 12]], 8);
const RIGHT = [BLOCK, BORE, pocketStep('step', [40, 0], [20, 40, 8])];

describe('nothing that the sheet does not show', () => {
  const check = { id: 'else', label: 'Nothing else', weight: 1, kind: 'nothing-else' };
  const extra = (steps: readonly object[]): CheckMeasurement => measured(check, RIGHT, built(steps).solid);

  it('is on a right part, on a part with a wrong size, and on triangles', () => {
    expect(extra(RIGHT).measured).toBe(0);
    const deeper = [BLOCK, BORE, pocketStep('step', [42, 0], [18, 40, 9])];
    expect(extra(deeper).measured).toBe(0);
    const triangles = unwrap(readModel(kernel, built(RIGHT).stl, { unit: 'mm' }));
    expect(measured(check, RIGHT, triangles).measured).toBe(0);
  });

  it('a hole too many is told by its wall', () => {
    const found = extra([...RIGHT, holesStep('other', [[28, 30]], 5)]);
    expect(found.measured).toBe(1);
    expect(found.faceIds).toHaveLength(1);
  });

  it('the wall that a step leaves where it is not as wide as the part is told', () => {
    // The step ends 1.5 before the far side: the wall there has an inner face and its upper side is that of the block.
    const found = extra([BLOCK, BORE, pocketStep('step', [40, 0], [20, 38.5, 8])]);
    expect(found.measured).toBe(1);
  });

  it('a face that was only cut in two is none', () => {
    // A groove across the lower side parts it into two faces of one plane.
    const groove = { ...pocketStep('groove', [0, 18], [60, 4, 3]), plane: { surface: 'block.start' } };
    const { solid } = built([...RIGHT, groove]);
    const withGroove = measured(check, [...RIGHT, groove], solid);
    expect(withGroove.measured).toBe(0);
  });
});

describe('square and parallel as drawn', () => {
  const check = { id: 'square', label: 'Square', weight: 1, kind: 'square' };
  const wedge = (rise: number): readonly object[] => [
    {
      id: 'bar',
      op: 'extrude',
      mode: 'add',
      plane: { base: 'XY' },
      outlines: [
        {
          shape: 'path',
          start: ['0', '0'],
          segments: [
            { move: 'line', to: ['60', '0'] },
            { move: 'line', to: ['60', String(30 + rise)] },
            { move: 'line', to: ['0', '30'] },
            { move: 'close' },
          ],
        },
      ],
      extent: { kind: 'depth', depth: '10' },
    },
  ];

  it('is measured as the most that a face leans', () => {
    expect(measured(check, wedge(0), built(wedge(0)).solid).measured).toBeCloseTo(0, 6);
    // A side of 60 that rises by 2 leans by atan(2/60) = 1.909 degrees.
    expect(measured(check, wedge(0), built(wedge(2)).solid).measured).toBeCloseTo(1.9092, 3);
  });

  it('says nothing of a face that is drawn slanting', () => {
    // 10 up on 60 against 11 up on 60: the slope is what an angle or its legs say.
    expect(measured(check, wedge(10), built(wedge(11)).solid).measured).toBeCloseTo(0, 6);
  });
});

describe('the round edge of two surfaces', () => {
  const neck = (top: number): readonly object[] => [
    BLOCK,
    {
      id: 'neck',
      op: 'loft',
      mode: 'add',
      plane: { surface: 'block.end' },
      outline: circleOutline([30, 20], 24),
      distance: '15',
      to: circleOutline([30, 20], top),
    },
  ];
  const rim = (of: string, on: string, nominal: number): object => ({
    ...sizeCheck('rim', 'edge-diameter', nominal, { of, on }),
    kind: 'edge-diameter',
  });

  it('has the diameter of the model at each end of a cone', () => {
    expect(measured(rim('neck.wall', 'neck.end', 16), neck(16), built(neck(17)).solid).measured).toBeCloseTo(17, 6);
    expect(measured(rim('neck.wall', 'block.end', 24), neck(16), built(neck(17)).solid).measured).toBeCloseTo(24, 6);
  });

  it('has it on triangles too, within its doubt', () => {
    const triangles = unwrap(readModel(kernel, built(neck(17)).stl, { unit: 'mm' }));
    const found = measured(rim('neck.wall', 'neck.end', 16), neck(16), triangles);
    expect(Math.abs((found.measured ?? 0) - 17)).toBeLessThan(0.02 + (found.uncertainty ?? 0));
  });

  it('is refused where two surfaces meet in none', () => {
    expect(() => measured(rim('block.end', 'block.right', 5), RIGHT, built(RIGHT).solid)).toThrow('circle');
  });
});

describe('the angle of a hole about a center', () => {
  const check = { id: 'turn', label: 'Turn', weight: 1, kind: 'angle-about', nominal: '30', tolerance: '0.5' };
  const from = { ...check, of: 'hole.wall', about: 'bore.wall', from: 'block.lower' };
  const turnedBy = (degrees: number): readonly object[] => {
    const angle = (degrees * Math.PI) / 180;
    const place = [30 + 12 * Math.cos(angle), 20 + 12 * Math.sin(angle)] as const;
    return [BLOCK, holesStep('bore', [[30, 20]], 8), holesStep('hole', [place], 4)];
  };

  it('is that of the line to the hole with the face', () => {
    expect(measured(from, turnedBy(30), built(turnedBy(35)).solid).measured).toBeCloseTo(35, 6);
    // 150 degrees from the one end of the face are 30 from the other.
    expect(measured(from, turnedBy(30), built(turnedBy(150)).solid).measured).toBeCloseTo(30, 6);
  });

  it('cannot be told of a hole in the center', () => {
    const inCenter = { ...from, about: 'hole.wall' };
    expect(() => measured(inCenter, turnedBy(30), built(turnedBy(30)).solid)).toThrow('one on the model');
  });
});

describe('a cross hole', () => {
  const check = { id: 'middle', label: 'Middle', weight: 1, kind: 'axes-meet', tolerance: '0.05' };
  const through = { ...check, from: 'bore.wall', to: 'cross.wall' };
  /** A bore of 8 at (30, 20) from above, and a hole from the side that passes it at `x`. */
  const crossedAt = (x: number): readonly object[] => [
    BLOCK,
    holesStep('bore', [[30, 20]], 8),
    { ...holesStep('cross', [[x, 10]], 4), plane: { surface: 'block.lower' } },
  ];

  it('passes the axis by so much', () => {
    expect(measured(through, crossedAt(30), built(crossedAt(30)).solid).measured).toBeCloseTo(0, 6);
    expect(measured(through, crossedAt(30), built(crossedAt(31.5)).solid).measured).toBeCloseTo(1.5, 6);
  });
});

describe('grooves of one diameter', () => {
  const check = sizeCheck('core', 'diameter', 20, { of: ['grooves.1.left'] });
  /** A shaft of 24 with two grooves; the first has the core diameter that is named. */
  const shaft = (first: number): readonly object[] => [
    raisedStep('shaft', circleOutline([0, 0], 24), 60, { base: 'XY' }),
    {
      id: 'grooves',
      op: 'revolve',
      mode: 'cut',
      plane: { base: 'XZ' },
      axis: 'v',
      outlines: [
        { shape: 'corner-rectangle', corner: [String(first / 2), '20'], width: '10', height: '4' },
        { shape: 'corner-rectangle', corner: ['10', '40'], width: '10', height: '4' },
      ],
    },
  ];

  it('are all measured where one dimension gives them: the wrong one speaks', () => {
    expect(measured(check, shaft(20), built(shaft(20)).solid).measured).toBeCloseTo(20, 6);
    expect(measured(check, shaft(20), built(shaft(19)).solid).measured).toBeCloseTo(19, 6);
  });
});

describe('the whole size of a shaft with a flat', () => {
  // A shaft of 40 along Y, cut off 19.5 above its axis: 20 + 19.5 high, and the crest of the round is gone there.
  const shaft = [
    raisedStep('shaft', circleOutline([0, 0], 40), 60, { base: 'XZ' }),
    {
      id: 'flat',
      op: 'extrude',
      mode: 'cut',
      plane: { surface: 'shaft.end' },
      outlines: [{ shape: 'corner-rectangle', corner: ['-25', '19.5'], width: '50', height: '10' }],
      extent: { kind: 'through' },
    },
  ];
  const height = sizeCheck('height', 'overall-size', 39.5, { axis: 'z' });

  it('ends at the flat, on triangles and however the part lies', () => {
    expect(measured(height, shaft, built(shaft).solid).measured).toBeCloseTo(39.5, 6);
    const triangles = unwrap(readModel(kernel, built(shaft).stl, { unit: 'mm' }));
    const found = measured(height, shaft, triangles);
    expect(Math.abs((found.measured ?? 0) - 39.5)).toBeLessThan(0.02 + (found.uncertainty ?? 0));
    const { shape } = unwrap(buildRecipe(kernel, exerciseOf({ steps: shaft, checks: [] }).recipe));
    const [c, s] = [Math.cos(0.6), Math.sin(0.6)];
    const turned = kernel.moved(
      shape,
      [
        [c, -s, 0],
        [s, c, 0],
        [0, 0, 1],
      ],
      [7, -3, 11],
    );
    const askew = unwrap(kernel.analyze(turned, RECIPE_SOURCE));
    shape.free();
    turned.free();
    expect(measured(height, shaft, askew).measured).toBeCloseTo(39.5, 3);
  });
});

describe('equal spacing about a center', () => {
  /** Holes on a circle of 24 about the middle of the block, at angles in degrees. */
  const holesAt = (...angles: readonly number[]): readonly object[] => [
    BLOCK,
    holesStep('bore', [[30, 20]], 8),
    holesStep(
      'holes',
      angles.map((angle) => {
        const rad = (angle * Math.PI) / 180;
        return [30 + 12 * Math.cos(rad), 20 + 12 * Math.sin(rad)] as const;
      }),
      3,
    ),
  ];
  const of = (count: number): readonly string[] =>
    Array.from({ length: count }, (_, i) => `holes.${String(i + 1)}.wall`);
  const check = { id: 'even', label: 'Even', weight: 1, kind: 'spacing', tolerance: '0.5' };

  /** What the check measures where the holes lie at some angles, and should at others. */
  const spacingOf = (plan: object, right: readonly number[], handedIn: readonly number[] = right): number =>
    measured(plan, holesAt(...right), built(holesAt(...handedIn)).solid).measured ?? 0;

  it('is the angle that is farthest off', () => {
    const four = { ...check, nominal: '90', of: of(4), about: 'bore.wall' };
    expect(spacingOf(four, [0, 90, 180, 270])).toBeCloseTo(90, 6);
    // Turned as a whole, the angles between neighbors are what they were.
    expect(spacingOf(four, [0, 90, 180, 270], [7, 97, 187, 277])).toBeCloseTo(90, 6);
    // The second is 4 degrees too far: 94 from the first, 86 to the third.
    expect(Math.abs(spacingOf(four, [0, 90, 180, 270], [0, 94, 180, 270]) - 90)).toBeCloseTo(4, 6);
  });

  it('is a half of the angle over a place that is left out', () => {
    const three = { ...check, nominal: '40', of: of(3), about: 'bore.wall' };
    expect(spacingOf(three, [0, 40, 120])).toBeCloseTo(40, 6);
    // 86 degrees over two spacings are 43 each.
    expect(spacingOf(three, [0, 40, 120], [0, 40, 126])).toBeCloseTo(43, 6);
  });

  it('is about the middle of the circle where no face has that center', () => {
    const five = { ...check, nominal: '72', of: of(5) };
    expect(spacingOf(five, [10, 82, 154, 226, 298])).toBeCloseTo(72, 6);
  });

  it('is refused of holes that do not lie so', () => {
    const four = { ...check, nominal: '90', of: of(4), about: 'bore.wall' };
    expect(() => spacingOf(four, [0, 80, 180, 270])).toThrow(/whole spacings apart/);
  });
});

describe('a face that two steps make together', () => {
  const FOOT = blockStep([60, 40, 8], 'foot');
  const wall = (width: number): object =>
    raisedStep('upright', rectangleOutline([0, 0], 8, width), 30, { surface: 'foot.end' });
  const check = {
    id: 'even',
    label: 'Even',
    weight: 1,
    kind: 'flush',
    tolerance: '0.02',
    from: 'foot.upper',
    to: 'upright.upper',
  };
  const stepOf = (handedIn: readonly object[]): number | null =>
    measured(check, [FOOT, wall(40)], built(handedIn).solid).measured;

  it('has no step on a right part', () => {
    expect(stepOf([FOOT, wall(40)])).toBe(0);
  });

  it('has one where either of them ends earlier, however little', () => {
    expect(stepOf([FOOT, wall(39.95)])).toBeCloseTo(0.05, 6);
    expect(stepOf([blockStep([60, 38, 8], 'foot'), wall(40)])).toBeCloseTo(2, 6);
  });

  it('and none for a rib in the middle, whose side looks the same way', () => {
    const rib = raisedStep('rib', rectangleOutline([8, 17], 30, 6), 20, { surface: 'foot.end' });
    const part = [FOOT, wall(40), rib];
    expect(measured(check, part, built(part).solid).measured).toBe(0);
  });
});
