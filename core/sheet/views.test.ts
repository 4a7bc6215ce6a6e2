import DxfParser from 'dxf-parser';
import { PNG } from 'pngjs';
import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import type { Check } from '#core/check';
import { blankExercise, DEFAULT_VIEWS, type Exercise, type SheetView } from '#core/exercise';
import type { Step } from '#core/recipe';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { lintSheet, renderDxf, renderSvg, type LintRule, type Sheet, type SheetEntity } from '#core/sheet';
import { loadKernel } from '#runtime';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** What of some rules a sheet breaks, in words. */
const broken = (sheet: Sheet, rules: readonly LintRule[]): readonly string[] =>
  lintSheet(sheet).flatMap(({ rule, words }) => (rules.includes(rule) ? [words] : []));

/** A block with a blind hole in its top. Sizes in mm. */
function blockWith(
  changes: Partial<Exercise>,
  [x, y, z]: readonly [string, string, string] = ['60', '40', '30'],
  hole: { readonly diameter: string; readonly depth: string } | null = { diameter: '12', depth: '20' },
): Exercise {
  const blank = blankExercise('SB-1', 'Block', 'mm');
  const steps: Step[] = [
    {
      id: 'block',
      op: 'extrude',
      mode: 'add',
      plane: { base: 'XY' },
      outlines: [{ shape: 'rectangle', center: ['0', '0'], width: x, height: y }],
      extent: { kind: 'depth', depth: z },
    },
  ];
  if (hole !== null)
    steps.push({
      id: 'well',
      op: 'hole',
      plane: { surface: 'block.end' },
      at: { kind: 'points', points: [['0', '0']] },
      diameter: hole.diameter,
      depth: { kind: 'blind', depth: hole.depth },
    });
  const size = (axis: 'x' | 'y' | 'z', nominal: string): Check => ({
    kind: 'overall-size',
    id: `size-${axis}`,
    label: `Size along ${axis}`,
    axis,
    nominal,
    tolerance: '0.05',
    weight: 1,
  });
  return {
    ...blank,
    recipe: { ...blank.recipe, steps },
    checks: [size('x', x), size('y', y), size('z', z)],
    typedValues: [],
    ...changes,
  };
}

const sheetOf = (exercise: Exercise): Sheet => unwrap(prepareExercise(kernel, exercise)).sheet;
const entitiesOf = (sheet: Sheet, viewId?: string): readonly SheetEntity[] =>
  sheet.pages.flatMap(({ entities }) => entities).filter((one) => viewId === undefined || one.viewId === viewId);
const layersOf = (entities: readonly SheetEntity[]) =>
  new Set(entities.flatMap((entity) => ('layer' in entity ? entity.layer : [])));
const wordsOf = (sheet: Sheet) => entitiesOf(sheet).flatMap((entity) => (entity.kind === 'text' ? entity.text : []));
const views = (...more: SheetView[]) => ({ paper: 'A3', views: [...DEFAULT_VIEWS.slice(0, 2), ...more] }) as const;
const section = (changes: Partial<Extract<SheetView, { kind: 'section' }>> = {}): SheetView => ({
  kind: 'section',
  id: 'cut',
  direction: 'right',
  letter: 'A',
  at: '0',
  ...changes,
});

describe('a section', () => {
  it('hatches the cut, shows the hole by visible lines, and is marked in another view', () => {
    const sheet = sheetOf(blockWith({ sheet: views(section()) }));
    const cut = entitiesOf(sheet, 'cut');
    expect(layersOf(cut)).toContain('hatch');
    expect(layersOf(cut)).not.toContain('hidden');
    const letters = entitiesOf(sheet).filter((one) => one.kind === 'text' && one.bold === true && one.text === 'A');
    expect(letters).toHaveLength(2);
    expect(wordsOf(sheet)).toContain('A-A');
    expect(layersOf([...entitiesOf(sheet, 'front'), ...entitiesOf(sheet, 'top')])).toContain('cutting');
    // Hatch lines run at 45 degrees and stay clear of the hole: none crosses its middle above the floor.
    for (const line of cut) {
      if (line.kind !== 'line' || line.layer !== 'hatch') continue;
      expect(Math.abs(line.to[1] - line.from[1])).toBeCloseTo(Math.abs(line.to[0] - line.from[0]), 6);
    }
    expect(broken(sheet, ['texts-apart', 'text-clear-of-lines'])).toEqual([]);
  });

  it('of half of the part is hatched on one side of the middle only', () => {
    const sheet = sheetOf(blockWith({ sheet: views(section({ half: true })) }));
    const placed = sheet.views.find(({ viewId }) => viewId === 'cut');
    const outline = entitiesOf(sheet, 'cut').flatMap((one) =>
      one.kind === 'line' && one.layer === 'visible' ? [one.from[0], one.to[0]] : [],
    );
    const middle = (Math.min(...outline) + Math.max(...outline)) / 2;
    const hatch = entitiesOf(sheet, 'cut').flatMap((one) =>
      one.kind === 'line' && one.layer === 'hatch' ? [one.from[0], one.to[0]] : [],
    );
    expect(placed?.page).toBe(1);
    expect(hatch.length).toBeGreaterThan(4);
    expect(Math.min(...hatch)).toBeGreaterThan(middle - 1e-3);
  });

  it('along a stepped plane shows no line where the plane steps', () => {
    const stepped = section({ steps: [{ beyond: '5', at: '10' }] });
    const sheet = sheetOf(blockWith({ sheet: views(stepped) }));
    const plain = sheetOf(blockWith({ sheet: views(section()) }));
    const uprights = (drawn: Sheet) =>
      entitiesOf(drawn, 'cut').filter(
        (one) => one.kind === 'line' && one.layer === 'visible' && Math.abs(one.from[0] - one.to[0]) < 1e-6,
      ).length;
    // The step leaves out the hole's right wall at 6, and adds no line at 5.
    expect(uprights(sheet)).toBeLessThanOrEqual(uprights(plain));
    const marks = [...entitiesOf(sheet, 'top'), ...entitiesOf(sheet, 'front')].filter(
      (one) => one.kind === 'polyline' && one.layer === 'cutting',
    );
    expect(marks[0]?.kind === 'polyline' && marks[0].points.length).toBe(6);
  });

  it('that misses the part is drawn all the same, and says so', () => {
    const sheet = sheetOf(blockWith({ sheet: views(section({ at: '500' })) }));
    expect(sheet.warnings.join()).toContain('does not meet the part');
    expect(entitiesOf(sheet, 'cut').length).toBeGreaterThan(3);
  });
});

describe('a detail', () => {
  const detail = (center: readonly [string, string]): SheetView => ({
    kind: 'detail',
    id: 'closer',
    of: 'top',
    letter: 'B',
    center,
    radius: '9',
    factor: 2,
  });
  it('is a round piece drawn larger; its circles stay circles', () => {
    const sheet = sheetOf(blockWith({ sheet: views(detail(['0', '0'])) }));
    const arcs = entitiesOf(sheet, 'closer').filter((one) => one.kind === 'arc' && one.layer === 'visible');
    expect(arcs).toHaveLength(1);
    expect(arcs[0]?.kind === 'arc' && arcs[0].radius).toBeCloseTo(2 * 6 * sheet.scale, 4);
    expect(wordsOf(sheet).some((word) => word.startsWith('B ('))).toBe(true);
    expect(wordsOf(sheet)).toContain('B');
  });
  it('of nothing is left out, with a word', () => {
    const sheet = sheetOf(blockWith({ sheet: views(detail(['900', '0'])) }));
    expect(sheet.warnings.join()).toContain('shows nothing of the part');
    expect(entitiesOf(sheet, 'closer')).toEqual([]);
  });
});

describe('parts that are hard to draw', () => {
  it.each([
    ['a needle', ['400', '2', '2'], null],
    ['a sheet of foil', ['200', '100', '0.1'], null],
    ['a crumb', ['0.4', '0.3', '0.2'], null],
    ['a barge', ['40000', '8000', '3000'], null],
  ] as const)('%s fits on the paper at a standard scale', (_name, size, hole) => {
    const sheet = sheetOf(blockWith({}, size, hole));
    expect([1, 2, 5]).toContain(Number((sheet.scale >= 1 ? sheet.scale : 1 / sheet.scale).toExponential(0)[0]));
    for (const entity of entitiesOf(sheet))
      if (entity.kind === 'line') expect([...entity.from, ...entity.to].every(Number.isFinite)).toBe(true);
    expect(broken(sheet, ['texts-apart', 'text-in-frame'])).toEqual([]);
    expect(renderSvg(sheet)).not.toMatch(/NaN|Infinity/);
  });

  it('a note of 2000 characters goes on to a page of its own', () => {
    const note = 'Break all edges before the part leaves the bench. '.repeat(40);
    const sheet = sheetOf(blockWith({ notes: [note] }));
    expect(sheet.pages).toHaveLength(2);
    expect(wordsOf(sheet)).toContain('2 of 2');
    expect(broken(sheet, ['texts-apart', 'text-in-frame'])).toEqual([]);
  });

  it('a sheet without views has the usual four', () => {
    const sheet = sheetOf(blockWith({ sheet: { paper: 'A4', views: [] } }));
    expect(sheet.views.map(({ viewId }) => viewId).sort()).toEqual(['front', 'isometric', 'right', 'top']);
  });

  it('more than the paper holds is drawn on larger paper, with a word', () => {
    const sheet = sheetOf(blockWith({ sheet: { paper: 'A4', views: [...DEFAULT_VIEWS], scale: 2 } }));
    expect(sheet.pages[0]?.widthMm).toBeGreaterThan(297);
    expect(sheet.warnings.join()).toContain('do not fit on A4');
  });
});

describe('a sheet as DXF', () => {
  it('opens in an independent reader with its lines, circles and texts on named layers, true to scale', () => {
    const sheet = sheetOf(blockWith({}));
    const read = new DxfParser().parseSync(renderDxf(sheet));
    const entities = read?.entities ?? [];
    const own = entitiesOf(sheet);
    const count = (type: string) => entities.filter((one) => one.type === type).length;
    expect(count('LINE')).toBe(own.filter(({ kind }) => kind === 'line').length);
    expect(count('CIRCLE')).toBe(own.filter((one) => one.kind === 'arc' && one.sweep > 6.28).length);
    expect(count('ELLIPSE')).toBe(own.filter(({ kind }) => kind === 'ellipse').length);
    expect([...new Set(entities.map(({ layer }) => layer))].sort()).toEqual(
      expect.arrayContaining(['center', 'dimension', 'frame', 'hidden', 'text', 'visible']),
    );
    // The part is 60 long and drawn at the scale of the sheet: its lower front edge is a line of that length.
    const lengths = entities.flatMap((one) => {
      if (one.type !== 'LINE' || one.layer !== 'visible' || !('vertices' in one)) return [];
      const [a, b] = one.vertices as { x: number; y: number }[];
      return a && b ? [Math.hypot(a.x - b.x, a.y - b.y)] : [];
    });
    expect(lengths.some((length) => Math.abs(length - 60 * sheet.scale) < 1e-6)).toBe(true);
  });
});

describe('views by hand', () => {
  it('that are moved take those that are aligned with them along', () => {
    const place = (sheet: Sheet, viewId: string) => sheet.views.find((view) => view.viewId === viewId)?.min ?? [0, 0];
    const before = sheetOf(blockWith({}));
    const after = sheetOf(blockWith({ sheet: { paper: 'A3', views: [...DEFAULT_VIEWS], moved: { front: [10, 4] } } }));
    const shift = (viewId: string) => {
      const [a, b] = [place(before, viewId), place(after, viewId)];
      return [Math.round(b[0] - a[0]), Math.round(b[1] - a[1])];
    };
    expect(shift('front')).toEqual([10, 4]);
    expect(shift('top')).toEqual([10, 0]);
    expect(shift('right')).toEqual([0, 4]);
  });

  it('keep a dimension in the view and row where it was put, with other values too', () => {
    const placed = { 'size-x': { view: 'top', offset: [0, 25] as const } };
    const sheet = (length: string) =>
      sheetOf(blockWith({ sheet: { paper: 'A3', views: [...DEFAULT_VIEWS], placed } }, [length, '40', '30']));
    for (const length of ['60', '75'])
      expect(sheet(length).dimensions.find(({ id }) => id === 'size-x')).toMatchObject({
        viewId: 'top',
        offset: [0, 25],
      });
  });
});

describe('sizes that are counted from one face', () => {
  const step = (at: string): Step => ({
    id: `slot-${at}`,
    op: 'extrude',
    mode: 'cut',
    plane: { surface: 'block.end' },
    outlines: [{ shape: 'corner-rectangle', corner: [`${at} - 30`, '-20'], width: '4', height: '40' }],
    extent: { kind: 'depth', depth: '5' },
  });
  const slotted = (ordinate: boolean): Exercise => {
    const base = blockWith({}, undefined, null);
    const from = (at: string): Check => ({
      kind: 'distance',
      id: `slot-at-${at}`,
      label: `Slot at ${at}`,
      from: 'block.left',
      to: `slot-${at}.left`,
      nominal: at,
      tolerance: '0.05',
      weight: 1,
    });
    return {
      ...base,
      recipe: { ...base.recipe, steps: [...base.recipe.steps, step('10'), step('24'), step('40')] },
      checks: [...base.checks, from('10'), from('24'), from('40')],
      sheet: {
        paper: 'A3',
        views: [{ kind: 'plain', id: 'front', direction: 'front', ordinate }],
      },
    };
  };

  it('stand at the ends of their extension lines, in one row that begins with 0', () => {
    const sheet = sheetOf(slotted(true));
    const texts = entitiesOf(sheet, 'front').filter((one) => one.kind === 'text');
    const across = texts.filter(({ text }) => ['0', '10', '24', '40', '60'].includes(text));
    expect(across.map(({ text }) => text).sort()).toEqual(['0', '10', '24', '40', '60']);
    expect(new Set(across.map(({ at }) => at[1].toFixed(2))).size).toBe(1);
    // They stand as far apart as on the part, at the scale of the sheet.
    const place = (text: string): number => across.find((one) => one.text === text)?.at[0] ?? Number.NaN;
    expect(place('24') - place('0')).toBeCloseTo(24 * sheet.scale, 3);
    const arrows = entitiesOf(sheet, 'front').filter(
      ({ kind, checkId }) => kind === 'arrow' && checkId === 'slot-at-24',
    );
    expect(arrows).toEqual([]);
    expect(broken(sheet, ['texts-apart', 'text-clear-of-lines', 'text-outside-part'])).toEqual([]);
  });

  it('are lines with arrows otherwise', () => {
    const arrows = entitiesOf(sheetOf(slotted(false))).filter(
      ({ kind, checkId }) => kind === 'arrow' && checkId === 'slot-at-24',
    );
    expect(arrows).toHaveLength(2);
  });
});

describe('a pictorial view', () => {
  const rounded = (view: Partial<Extract<SheetView, { kind: 'isometric' }>>): Exercise => {
    const base = blockWith({}, undefined, null);
    const edges: Step = { id: 'round', op: 'fillet', radius: '8', edges: [{ between: ['block.right', 'block.end'] }] };
    return {
      ...base,
      recipe: { ...base.recipe, steps: [...base.recipe.steps, edges] },
      sheet: { paper: 'A3', views: [{ kind: 'isometric', id: 'isometric', ...view }] },
    };
  };

  it('shows where faces run on smoothly by thin lines, when they are wanted', () => {
    const thin = (exercise: Exercise) =>
      entitiesOf(sheetOf(exercise), 'isometric').filter((one) => 'layer' in one && one.layer === 'thin');
    expect(thin(rounded({}))).toEqual([]);
    // Along both sides of the round, as long as the block is deep: 40 mm, seen at sqrt(1/2 + 1/6) of it.
    const lengths = thin(rounded({ tangent: true })).map((one) =>
      one.kind === 'line' ? Math.hypot(one.to[0] - one.from[0], one.to[1] - one.from[1]) : 0,
    );
    const { scale } = sheetOf(rounded({ tangent: true }));
    expect(lengths).toHaveLength(2);
    for (const length of lengths) expect(length / scale).toBeCloseTo(40 * Math.sqrt(2 / 3), 2);
  });

  it('is toned where wanted: a picture as large as the view, with three tones for three sides of a block', () => {
    const exercise = { ...rounded({ shaded: true }), recipe: blockWith({}, undefined, null).recipe };
    const [shade] = entitiesOf(sheetOf(exercise)).flatMap((one) => (one.kind === 'shade' ? one : []));
    const png = PNG.sync.read(Buffer.from(shade?.png ?? '', 'base64'));
    const counts = new Map<number, number>();
    for (let i = 0; i < png.data.length; i += 4) {
      const tone = png.data[i] ?? 0;
      counts.set(tone, (counts.get(tone) ?? 0) + 1);
    }
    const tones = [...counts].filter(([tone, count]) => tone < 255 && count > 50).map(([tone]) => tone);
    expect(tones).toHaveLength(3);
    // A block of 60 x 40 x 30 seen isometrically: its three sides have (60*40 + 40*30 + 30*60) / sqrt(3) of area.
    const seen = png.data.filter((tone, i) => i % 4 === 0 && tone < 255).length;
    const { scale } = sheetOf(exercise);
    const mmPerPixel = (shade?.widthMm ?? 0) / scale / png.width;
    expect((seen * mmPerPixel ** 2) / (5400 / Math.sqrt(3))).toBeCloseTo(1, 2);
  });
});

describe('a drawing made elsewhere', () => {
  it('keeps its size, and says below it whose it is and what the letters stand for', () => {
    const base = blockWith({}, ['A', '40', '30']);
    const sheet = sheetOf({
      ...base,
      recipe: { ...base.recipe, parameters: [{ name: 'A', value: '60', label: 'Length' }] },
      sheet: {
        paper: 'A3',
        views: [],
        drawing: {
          sha256: 'a'.repeat(64),
          fileName: 'x.pdf',
          pages: [{ sha256: 'b'.repeat(64), widthMm: 297, heightMm: 210 }],
        },
      },
    });
    const [page] = sheet.pages;
    const picture = page?.entities.find(({ kind }) => kind === 'picture');
    expect(picture).toMatchObject({ widthMm: 297, heightMm: 210, sha256: 'b'.repeat(64) });
    expect(page?.heightMm).toBeGreaterThan(210);
    expect(wordsOf(sheet).join(' ')).toMatch(/A = 60.*For training only/);
    expect(renderSvg(sheet, 1, { student: 'Fia' }, (sha256) => `/files/${sha256}`)).toMatch(
      /href="\/files\/b+"[\s\S]*Fia/,
    );
    expect(sheet.warnings).toEqual([]);
  });
});

it('says which letters a printed sheet lacks', () => {
  const [warning] = sheetOf(blockWith({ notes: ['板の厚さ'] })).warnings.filter((words) => words.includes('Printed'));
  expect(warning).toContain('板の厚さ');
  expect(sheetOf(blockWith({ notes: ['Größe Ω Ширина'] })).warnings.join(' ')).not.toContain('Printed');
});
