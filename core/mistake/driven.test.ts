import { beforeAll, describe, expect, it } from 'vitest';

import type { Check } from '#core/check';
import { blankExercise, type Exercise } from '#core/exercise';
import { buildRecipe, type Step } from '#core/recipe';
import type { Kernel } from '#core/kernel';
import { groundOf, mistakesOf, type Ground } from '#core/mistake';
import { unwrap } from '#core/problem';
import { loadKernel } from '#runtime';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const sized = { tolerance: '0.05', weight: 1 } as const;
const LENGTH: Check = { ...sized, id: 'length', kind: 'overall-size', label: 'Length', axis: 'x', nominal: '80' };

/** The ground of a plate 80 x 40 x 12 read from a file, with these checks. */
function groundWith(checks: readonly Check[], { corner = ['0', '0'], steps = [] as readonly Step[] } = {}): Ground {
  const exercise: Exercise = {
    ...blankExercise('1', 'Plate', 'mm'),
    model: { sha256: '0'.repeat(64), fileName: 'plate.step', unit: 'mm' },
    checks: [...checks],
  };
  const plate: Step = {
    id: 'plate',
    op: 'extrude',
    mode: 'add',
    plane: { base: 'XY' },
    outlines: [{ shape: 'corner-rectangle', corner: [corner[0] ?? '0', corner[1] ?? '0'], width: '80', height: '40' }],
    extent: { kind: 'depth', depth: '12' },
  };
  const { shape } = unwrap(buildRecipe(kernel, { ...exercise.recipe, steps: [plate, ...steps] }));
  const model = kernel.writeStep(shape, 'mm', 'Plate');
  shape.free();
  return groundOf(kernel, exercise, model);
}
const holes = (...points: readonly (readonly [string, string])[]): Step => ({
  id: 'bores',
  op: 'hole',
  plane: { surface: 'plate.end' },
  at: { kind: 'points', points },
  diameter: '8',
  depth: { kind: 'through' },
});
const wayOf = (ground: Ground, checkId: string, key: string) =>
  ground.sizes.find(({ check }) => check.id === checkId)?.ways.find((way) => way.key === key);

describe('a length of a part from a file', () => {
  it('grows about the middle of an even part, or to one of its ends', () => {
    const ground = groundWith([LENGTH]);
    const [size] = ground.sizes;
    expect(size?.valueMm).toBe(80);
    expect(size?.ways.map(({ key }) => key)).toEqual(['', '/high', '/low']);
    // In each half there is room from end to middle: 20 and 60, the latter moved on by the first stretch.
    expect(wayOf(ground, 'length', '')?.edits(10)).toEqual([
      { kind: 'stretch', axis: 0, atMm: 20, lowByMm: -0, highByMm: 5 },
      { kind: 'stretch', axis: 0, atMm: 65, lowByMm: 0, highByMm: 5 },
    ]);
    expect(wayOf(ground, 'length', '/high')?.edits(10)).toEqual([
      { kind: 'stretch', axis: 0, atMm: 60, lowByMm: -0, highByMm: 10 },
    ]);
    ground.free();
  });

  it('grows evenly about the origin, where the part is drawn about it', () => {
    const ground = groundWith([LENGTH], { corner: ['-40', '-20'] });
    expect(wayOf(ground, 'length', '/high')?.edits(10)).toEqual([
      { kind: 'stretch', axis: 0, atMm: 20, lowByMm: -5, highByMm: 5 },
    ]);
    ground.free();
  });

  it('grows behind the holes that are measured from the other end', () => {
    const place: Check = {
      ...sized,
      id: 'place',
      kind: 'hole-position',
      label: 'Place',
      of: 'hole-1.wall',
      from: 'part.left',
      nominal: '24',
    };
    const ground = groundWith([LENGTH, place], { steps: [holes(['24', '15'])] });
    expect(wayOf(ground, 'length', '')?.edits(10)).toEqual([
      { kind: 'stretch', axis: 0, atMm: 52, lowByMm: -0, highByMm: 10 },
    ]);
    // The place of the hole itself is a number of its step.
    expect(wayOf(ground, 'place', '')?.edits(-2)).toEqual([
      { kind: 'set', stepId: 'hole-1', path: ['at', 'points', 0, 0], value: '22' },
    ]);
    ground.free();
  });
});

describe('the distance of two rows of holes', () => {
  /** Between the rows at 15 and at 65, by the name of a hole in each. */
  function apart(): Check {
    const ground = groundWith([], { steps: [four] });
    const walls = [...(ground.start?.surfaces ?? [])].flatMap(([name, surface]) =>
      surface.kind === 'cylinder' ? [{ name, x: surface.origin[0] }] : [],
    );
    ground.free();
    const at = (x: number): string => walls.find((wall) => Math.abs(wall.x - x) < 1e-6)?.name ?? '';
    const [from, to] = [at(15), at(65)];
    return { ...sized, id: 'apart', kind: 'center-distance', label: 'Apart', from, to, along: 'x', nominal: '50' };
  }
  const four = holes(['15', '10'], ['15', '30'], ['65', '10'], ['65', '30']);

  it('moves both rows about the middle, or one of them', () => {
    const ground = groundWith([apart()], { steps: [four] });
    const values = (key: string): unknown =>
      wayOf(ground, 'apart', key)
        ?.edits(6)
        .map((edit) => (edit.kind === 'set' ? edit.value : null));
    expect(values('')).toEqual(['68', '68', '12', '12']);
    expect(values('/one')).toEqual(['71', '71']);
    expect(values('/other')).toEqual(['9', '9']);
    ground.free();
  });

  it('is mistaken in the words of its check', () => {
    const ground = groundWith([apart()], { steps: [four] });
    const found = mistakesOf(ground.exercise, {}, 1, ground.sizes).filter(({ expression }) => expression === '50');
    expect(found.map(({ id }) => id)).toContain('half-for-whole:apart=25');
    expect(found.find(({ id }) => id === 'half-for-whole:apart=25')?.message).toBe(
      'Apart: 25.0 mm where the sheet gives 50.0 mm. Was half of the size used for all of it?',
    );
    // Measured to the edge of a hole of 8 instead of its middle.
    expect(found.map(({ id }) => id)).toContain('wrong-edge:apart=46');
    ground.free();
  });
});

it('sizes that no sheet shows, and those of steps, drive nothing', () => {
  const hidden: Check = { ...LENGTH, onSheet: false };
  const bore: Check = { ...sized, id: 'bore', kind: 'diameter', label: 'Bore', of: ['hole-1.wall'], nominal: '8' };
  const ground = groundWith([hidden, bore], { steps: [holes(['40', '20'])] });
  expect(ground.sizes).toEqual([]);
  ground.free();
});
