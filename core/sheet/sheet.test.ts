import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import { isDimension } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import {
  cleanView,
  dimensionText,
  lintSheet,
  recognizeCurve,
  renderSvg,
  type Sheet,
  type SheetEntity,
  type SheetText,
} from '#core/sheet';
import { demoExercises, firstExercises, gudgeonBracketExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { sampleOf } from '../../demo/exercises/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** Sheets that were drawn: several tests read the same one. */
const drawn = new Map<Exercise, Sheet>();
function sheetOf(exercise: Exercise): Sheet {
  const known = drawn.get(exercise) ?? unwrap(prepareExercise(kernel, exercise)).sheet;
  drawn.set(exercise, known);
  return known;
}

const entitiesOf = ({ pages }: Sheet): readonly SheetEntity[] => pages.flatMap(({ entities }) => entities);
const textsOf = (sheet: Sheet): SheetText[] =>
  entitiesOf(sheet).filter((entity): entity is SheetText => entity.kind === 'text');

/** What is wrong with the texts and leaders of a sheet, in words. */
const aboutTexts = (sheet: Sheet): readonly string[] =>
  lintSheet(sheet).flatMap(({ rule, words }) => (/^text|^leaders/.test(rule) ? [words] : []));

describe.each(firstExercises.map((exercise) => [exercise.title, exercise] as const))(
  'the sheet of the %s',
  (_title, exercise) => {
    it('writes every dimension of the check plan that belongs on it, once', () => {
      const sheet = sheetOf(exercise);
      const wanted = exercise.checks.filter(
        (check) => (isDimension(check) && check.onSheet !== false) || check.kind === 'angle',
      );
      const written = textsOf(sheet).flatMap((text) => text.checkId ?? []);
      expect([...new Set(written)].sort()).toEqual(wanted.map((check) => check.id).sort());
    });

    it('lets no text overlap another, or a line, and keeps everything inside the frame', () => {
      expect(aboutTexts(sheetOf(exercise))).toEqual([]);
    });

    it('names number, material, unit and what it is for', () => {
      const svg = renderSvg(sheetOf(exercise));
      for (const words of [exercise.number, exercise.title, 'g/cm³', 'For training only, not for manufacture'])
        expect(svg).toContain(words);
    });
  },
);

it.each(
  sampleOf(
    demoExercises.flatMap((exercise) =>
      exercise.variants.slice(0, 2).map(({ name, values }) => [exercise.title, name, exercise, values] as const),
    ),
    4,
  ),
)('the sheet of the %s is placed as cleanly for variant %s', (_title, _name, exercise, values) => {
  const { sheet } = unwrap(prepareExercise(kernel, exercise, { values }));
  expect(aboutTexts(sheet)).toEqual([]);
});

it('puts the views where the projection method wants them', () => {
  const centerOf = (projection: Exercise['projection'], checkId: string) => {
    const text = textsOf(sheetOf({ ...gudgeonBracketExercise, projection })).find(
      (entity) => entity.checkId === checkId,
    );
    return text?.at ?? [0, 0];
  };
  // The bolt pitch is written in the top view, the length in the front view.
  expect(centerOf('third-angle', 'bolt-pitch')[1]).toBeGreaterThan(centerOf('third-angle', 'length')[1]);
  expect(centerOf('first-angle', 'bolt-pitch')[1]).toBeLessThan(centerOf('first-angle', 'length')[1]);
});

it('draws circles as circles, true to scale', () => {
  const sheet = sheetOf(gudgeonBracketExercise);
  const circles = entitiesOf(sheet).filter(
    (entity) => entity.kind === 'arc' && entity.layer === 'visible' && entity.sweep > 6.28,
  );
  const radii = circles.map((entity) =>
    entity.kind === 'arc' ? Math.round((entity.radius / sheet.scale) * 1e6) / 1e6 : 0,
  );
  expect([...radii].sort((a, b) => a - b)).toEqual([4.5, 4.5, 7.5, 7.5, 8]);
});

describe('numbers on a sheet', () => {
  it.each([
    [9, { unit: 'mm', decimals: 1 }, '9'],
    [7.25, { unit: 'mm', decimals: 1 }, '7.25'],
    [19.05, { unit: 'in', decimals: 3 }, '.750'],
    [82.55, { unit: 'in', decimals: 3 }, '3.250'],
  ] as const)('%d mm in %o is %s', (value, format, text) => {
    expect(dimensionText(value, format)).toBe(text);
  });
});

describe('lines of a view', () => {
  const line = (...points: [number, number][]) => ({ points });
  const arc = (from: number, to: number) => ({
    points: Array.from({ length: 25 }, (_, i): [number, number] => {
      const angle = from + ((to - from) * i) / 24;
      return [5 * Math.cos(angle), 5 * Math.sin(angle)];
    }),
  });

  it('a circle seen edge-on is one line over its whole width', () => {
    const curve = recognizeCurve(line([0, 0], [3, 0], [5, 0], [2, 0], [-1, 0]));
    expect(curve?.kind).toBe('line');
    if (curve?.kind === 'line') expect(Math.abs(curve.from[0] - curve.to[0])).toBe(6);
  });

  it('two halves of a circle become one circle', () => {
    const { visible } = cleanView({ visible: [arc(0, Math.PI), arc(Math.PI, 2 * Math.PI)], hidden: [] });
    expect(visible).toHaveLength(1);
    expect(visible[0]?.kind === 'arc' && visible[0].sweep).toBeCloseTo(2 * Math.PI, 6);
  });

  it('a line drawn twice is drawn once, and a hidden line behind a visible one is not drawn', () => {
    const cleaned = cleanView({
      visible: [line([0, 0], [10, 0]), line([10, 0], [4, 0])],
      hidden: [line([8, 0], [14, 0]), line([2, 0], [3, 0])],
    });
    expect(cleaned.visible).toEqual([{ kind: 'line', from: [0, 0], to: [10, 0] }]);
    expect(cleaned.hidden).toEqual([{ kind: 'line', from: [10, 0], to: [14, 0] }]);
  });

  it('curves of no length vanish', () => {
    expect(recognizeCurve(line([1, 1], [1, 1]))).toBeNull();
  });
});

it('escapes what stands in names', () => {
  const svg = renderSvg(sheetOf({ ...gudgeonBracketExercise, title: '<script>"&' }));
  expect(svg).not.toContain('<script>');
});
