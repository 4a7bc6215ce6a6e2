import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { questionsOf, TOPICS, type Question, type ReadSheet, type Topic } from '#core/reading';
import { countOf, printedDimensions, uncounted } from '#core/selfcheck';
import { demoExercises } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, holesStep, sizeCheck } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function sheetOf(exercise: Exercise): ReadSheet {
  const { reference, sheet } = unwrap(prepareExercise(kernel, exercise));
  return { exercise, reference, sheet, dimensions: printedDimensions(sheet, reference) };
}

/** A block of 60 x 40 x 20 with four holes of 6 through, and one of 8 that is 12 deep. */
const BLOCK = exerciseOf(
  {
    steps: [
      blockStep([60, 40, 20]),
      holesStep(
        'corners',
        [
          [8, 8],
          [48, 8],
          [8, 32],
          [48, 32],
        ],
        6,
      ),
      holesStep('pocket', [[30, 20]], 8, { depth: { kind: 'blind', depth: '12', bottom: 'flat' } }),
    ],
    checks: [
      sizeCheck('length', 'overall-size', 60, { axis: 'x' }),
      sizeCheck('width', 'overall-size', 40, { axis: 'y' }),
      sizeCheck('height', 'overall-size', 20, { axis: 'z' }),
      sizeCheck('corner', 'diameter', 6, {
        of: ['corners.1.wall', 'corners.2.wall', 'corners.3.wall', 'corners.4.wall'],
        prefix: '4 x',
      }),
      sizeCheck('middle', 'diameter', 8, { of: ['pocket.wall'] }),
      sizeCheck('deep', 'hole-size', 12, { of: 'pocket.wall', size: 'depth' }),
      sizeCheck('left', 'hole-position', 8, { of: 'corners.1.wall', from: 'block.left' }),
      sizeCheck('front', 'hole-position', 8, { of: 'corners.1.wall', from: 'block.lower' }),
      sizeCheck('apart', 'center-distance', 40, { from: 'corners.1.wall', to: 'corners.2.wall' }),
      sizeCheck('across', 'center-distance', 24, { from: 'corners.1.wall', to: 'corners.3.wall' }),
    ],
  },
  { projection: 'first-angle' },
);

let block: ReadSheet;
const of = (sheet: ReadSheet, topic: Topic): readonly Question[] =>
  questionsOf(sheet).filter((question) => question.topic === topic);
const rightOf = ({ options, answer }: Question): string => options[answer] ?? '';

describe('what is asked of the sheet of a drilled block', () => {
  beforeAll(() => {
    block = sheetOf(BLOCK);
  });

  it('unit, projection and scale are those of its title block', () => {
    const answers = of(block, 'title-block').map(rightOf);
    expect(answers.slice(0, 2)).toEqual(['In millimeters', 'First angle']);
    // Paper to part: at 2:1 a line of 10 on paper is 5 on the part.
    expect(answers[2]).toBe(`${String(10 / block.sheet.scale)} mm`);
  });

  it('and why it is so names the same unit and the same projection', () => {
    const [unit, projection, scale] = of(block, 'title-block');
    expect(unit?.why).toContain('millimeters');
    expect(unit?.options).toContain('In inches');
    expect(projection?.why).toContain('that of first angle');
    expect(projection?.options).toContain('Third angle');
    expect(scale?.options.length).toBeGreaterThan(2);
    const inch = sheetOf(demoExercises.find(({ recipe }) => recipe.unit === 'in') ?? BLOCK);
    const [ofInch] = of(inch, 'title-block');
    expect([ofInch === undefined ? '' : rightOf(ofInch), ofInch?.options.includes('In millimeters')]).toEqual([
      'In inches',
      true,
    ]);
    expect(ofInch?.why).toContain('inch');
  });

  it('right answers do not stand at one place only', () => {
    const places = new Set(questionsOf(block).flatMap(({ options, answer }) => (options.length > 3 ? answer : [])));
    expect(places.size).toBeGreaterThan(2);
  });

  it('views are named in the order in which they are ringed', () => {
    for (const { options, rings } of of(block, 'views'))
      expect(options).toEqual(rings.map(({ label }) => `View ${label}`));
  });

  it('the four holes are counted, whichever of them the leader points at', () => {
    expect(of(block, 'counts').map((question) => [question.checkId, rightOf(question)])).toEqual([['corner', '4']]);
  });

  it('a chamfer of 2 x 45° is one of size 2, not two of something; three of them are three', () => {
    expect(countOf('2 x 45°')).toBeNull();
    expect(countOf('3 x 2 x 45°')).toBe(3);
    expect(countOf('4 x ⌀9 through')).toBe(4);
    expect(countOf('2 x 12')).toBe(2);
    expect(uncounted('3 x 2 x 45°')).toBe('2 x 45°');
    const chamfered = exerciseOf({
      steps: [
        blockStep([60, 40, 20]),
        { id: 'edge', op: 'chamfer', edges: [{ between: ['block.end', 'block.right'] }], size: '2' },
      ],
      checks: [
        sizeCheck('length', 'overall-size', 60, { axis: 'x' }),
        sizeCheck('bevel', 'chamfer-size', 2, { on: 'block.end', to: 'block.right' }),
      ],
    });
    const sheet = sheetOf(chamfered);
    expect(sheet.dimensions.map(({ printed }) => printed)).toContain('2 x 45°');
    expect(of(sheet, 'counts')).toEqual([]);
    expect(of(sheet, 'symbols').map(({ id }) => id)).not.toContain('symbols count');
  });

  it('a drawing that was made elsewhere is not asked about', () => {
    const picture = { kind: 'picture', sha256: 'a', at: [0, 0], widthMm: 100, heightMm: 80 } as const;
    const [page] = block.sheet.pages;
    const pages = page === undefined ? [] : [{ ...page, entities: [picture] }];
    expect(questionsOf({ ...block, sheet: { ...block.sheet, pages, views: [] } })).toEqual([]);
  });

  it('one hole goes through, the other ends inside', () => {
    const depths = new Map(of(block, 'depths').map((question) => [question.checkId, rightOf(question)]));
    expect(depths.get('corner')).toBe('It goes through until it comes out');
    expect(depths.get('deep')).toBe('It ends inside the part, at the depth that is written');
    expect(depths.has('length')).toBe(false);
  });

  it('each dimension is told from the others by what it measures', () => {
    const said = new Map(of(block, 'dimensions').map((question) => [question.checkId, rightOf(question)]));
    expect(said.get('length')).toBe('length');
    expect(said.get('apart')).toBe('apart');
  });

  it('from the right hole to the end is the length less the place of the first and their distance', () => {
    const sums = of(block, 'chains').map(rightOf);
    // 60 - 8 - 40 = 12, which the sheet does not write.
    expect(sums).toContain('60 - 40 - 8');
  });

  it('the way between two views is the one that they share', () => {
    const [question] = of(block, 'across-views');
    if (question === undefined) throw new Error('no question');
    const [asked, ...places] = question.rings;
    const right = rightOf(question).slice(-1);
    const found = places.find(({ label }) => label === right);
    const same = [0, 1].filter((k) => Math.abs((asked?.at.at[k] ?? 0) - (found?.at.at[k] ?? 0)) < 1e-6);
    expect(same).toHaveLength(1);
    // No other place is on the same line.
    for (const other of places.filter((place) => place !== found))
      expect(Math.abs((other.at.at[same[0] ?? 0] ?? 0) - (asked?.at.at[same[0] ?? 0] ?? 0))).toBeGreaterThan(5);
  });
});

describe('four pictured parts', () => {
  const wrong = (kind: 'feature-forgotten' | 'wrong-side', x: number) => ({
    kind,
    about: kind === 'wrong-side' ? 'Ear' : '',
    picture: [[x, 0, x, 10]],
  });
  const three = [wrong('feature-forgotten', 1), wrong('wrong-side', 2), wrong('feature-forgotten', 3)];
  const asked = (count: number) =>
    of({ ...block, lookalikes: { right: [[0, 0, 0, 10]], wrong: [...three, ...three].slice(0, count) } }, 'pictures');

  it('are asked for where there are three wrong ones, and once more with three others', () => {
    expect([0, 2, 3, 5, 6].map((count) => asked(count).length)).toEqual([0, 0, 1, 1, 2]);
    expect(of(block, 'pictures')).toEqual([]);
  });

  it('have the part of the sheet at the place of the right answer, and say what is wrong with the others', () => {
    for (const { options, pictures, answer, why } of asked(6)) {
      expect(options).toEqual(['Part a', 'Part b', 'Part c', 'Part d']);
      expect(pictures?.map((picture) => picture[0]?.[0] === 0)).toEqual(options.map((_, i) => i === answer));
      expect(why).toContain('extruded to the wrong side (Ear)');
      expect(why).not.toContain(`${options[answer] ?? ''}:`);
    }
  });
});

describe.each(demoExercises.slice(0, 6).map((exercise) => [exercise.title, exercise] as const))(
  'the questions of the %s',
  (_title, exercise) => {
    let sheet: ReadSheet;
    let questions: readonly Question[];
    beforeAll(() => {
      sheet = sheetOf(exercise);
      questions = questionsOf(sheet);
    });

    it('have one right answer each among different ones, the same every time, and are of most topics', () => {
      for (const { options, answer, id } of questions) {
        expect(new Set(options).size, id).toBe(options.length);
        expect(options.length, id).toBeGreaterThan(1);
        expect(answer, id).toBeGreaterThanOrEqual(0);
      }
      expect(new Set(questions.map(({ id }) => id)).size).toBe(questions.length);
      expect(questionsOf(sheet)).toEqual(questions);
      expect(new Set(questions.map(({ topic }) => topic)).size).toBeGreaterThan(TOPICS.length - 4);
    });

    it('say no size that the sheet does not print', () => {
      const printed = sheet.sheet.pages.flatMap(({ entities }) =>
        entities.flatMap((entity) => (entity.kind === 'text' ? entity.text : [])),
      );
      const numbers = (text: string): string[] => [...text.matchAll(/\d*\.?\d+/g)].map(([number]) => number);
      const known = new Set(printed.flatMap(numbers));
      for (const { options, id } of questions.filter(({ topic }) => topic === 'chains'))
        for (const number of options.flatMap(numbers))
          expect(known.has(number), `${id}: ${number} in ${options.join(' | ')}`).toBe(true);
    });

    it('ring a line of the kind that they ask for, with no other line in the ring', () => {
      for (const { id, rings } of questions.filter(({ topic }) => topic === 'lines')) {
        const [ring] = rings;
        const page = sheet.sheet.pages[(ring?.at.page ?? 1) - 1];
        const [x, y] = [ring?.at.at[0] ?? 0, (page?.heightMm ?? 0) - (ring?.at.at[1] ?? 0)];
        const near = (page?.entities ?? []).flatMap((entity) => {
          if (entity.kind !== 'line') return [];
          const [dx, dy] = [entity.to[0] - entity.from[0], entity.to[1] - entity.from[1]];
          const long = Math.hypot(dx, dy);
          const along = ((x - entity.from[0]) * dx + (y - entity.from[1]) * dy) / long;
          const off = Math.abs((x - entity.from[0]) * dy - (y - entity.from[1]) * dx) / long;
          return off < 1 && along > 0 && along < long ? [entity.layer] : [];
        });
        expect([...new Set(near)], id).toEqual([id.split(' ')[1]]);
      }
    });
  },
);
