import { readdirSync, readFileSync } from 'node:fs';

import * as v from 'valibot';
import { describe, expect, it } from 'vitest';

import {
  CHECK_KINDS,
  CheckSchema,
  checkFromSurfaces,
  checkValueText,
  draftingOf,
  facesOfTarget,
  groupOf,
  isDimension,
  kindOf,
  pickingOf,
  saysWhere,
  spanOf,
  subjectOf,
  type Check,
  type CheckKind,
  type Target,
} from '#core/check';
import { SCORING_PRESETS } from '#core/grade';

/** Sources of the program outside of the folder of kinds. */
const sources = ['core', 'api', 'server', 'web', 'cli', 'print']
  .flatMap((folder) => readdirSync(folder, { recursive: true, encoding: 'utf8' }).map((name) => `${folder}/${name}`))
  .filter((file) => /\.tsx?$/.test(file) && !file.startsWith('core/check/kinds/') && !file.includes('.test.'));

/** Kinds whose names mean nothing else in the program: a list of these can only be one of checks. */
const PLAIN = CHECK_KINDS.filter((kind) => kind.includes('-') && kind !== 'bolt-circle');

describe('the kinds of checks', () => {
  it('stand in one table: no other place decides by a list of them', () => {
    const lists = sources.flatMap((file) => {
      const text = readFileSync(file, 'utf8');
      const decided = PLAIN.filter((kind) =>
        new RegExp(`case '${kind}'|(kind|Kind)\\)? [!=]== '${kind}'|'${kind}':|\\['${kind}'|, '${kind}'`).test(text),
      );
      return decided.length > 1 ? [`${file}: ${decided.join(', ')}`] : [];
    });
    expect(lists).toEqual([]);
    expect(sources.length).toBeGreaterThan(300);
  });

  it.each(CHECK_KINDS.map((kind) => [kind]))('"%s" is accepted by the schema under its own name only', (kind) => {
    const issues = v.safeParse(CheckSchema, { id: 'a', label: 'A', weight: 1, kind }).issues ?? [];
    expect(issues.some(({ path }) => path?.[0]?.key === 'kind')).toBe(false);
  });

  it('a check that says where is a dimension or a feature', () => {
    const saying = CHECK_KINDS.filter((kind) => saysWhere({ kind }));
    expect(saying).toContain('distance');
    expect(saying).toContain('hole-count');
    expect(saying).not.toContain('volume');
    expect(saying).not.toContain('unit');
  });

  it('are weighed in the group that the check plan names, else in that of their kind', () => {
    expect(groupOf({ kind: 'volume' })).toBe('properties');
    expect(groupOf({ kind: 'volume', group: 'features' })).toBe('features');
    for (const { shares } of SCORING_PRESETS)
      for (const kind of CHECK_KINDS) expect(Object.keys(shares)).toContain(groupOf({ kind }));
  });
});

const size = { label: 'Size', weight: 1, nominal: '10', tolerance: '0.1' } as const;

describe('two checks measure the same', () => {
  it('when they are called otherwise, weigh more or have another nominal', () => {
    const one: Check = { ...size, id: 'a', kind: 'distance', from: 'base.left', to: 'base.right' };
    expect(subjectOf({ ...one, id: 'b', label: 'Width', weight: 9, nominal: '12' })).toBe(subjectOf(one));
  });

  it('but not when they hang on another surface, run along another axis, or are of another kind', () => {
    const along: Check = { ...size, id: 'a', kind: 'center-distance', from: 'a.wall', to: 'b.wall', along: 'x' };
    const subjects = [
      along,
      { ...along, along: 'y' as const },
      { ...along, to: 'c.wall' },
      { ...size, id: 'a', kind: 'concentric' as const, from: 'a.wall', to: 'b.wall' },
    ].map(subjectOf);
    expect(new Set(subjects).size).toBe(subjects.length);
  });
});

const target = { checkId: 'c', label: 'Check', group: 'dimensions', weight: 1, nominal: 1, tolerance: 0.1 } as const;
const sized = { ...target, expression: '1' };

describe('choosing a check marks the faces it is about', () => {
  it.each([
    ['both sides of a distance', { ...sized, kind: 'distance', fromFaceIds: [1], toFaceIds: [4, 5] }, [1, 4, 5]],
    ['both sides of a wall', { ...sized, kind: 'thickness', fromFaceIds: [1], toFaceIds: [2] }, [1, 2]],
    ['both legs of an angle', { ...sized, kind: 'angle', fromFaceIds: [1], toFaceIds: [2] }, [1, 2]],
    ['every cylinder that shares a diameter', { ...sized, kind: 'diameter', members: [[2], [3], [7]] }, [2, 3, 7]],
    ['hole and edge of a position', { ...sized, kind: 'hole-position', faceIds: [2], fromFaceIds: [0] }, [2, 0]],
    ['the wall of a hole', { ...sized, kind: 'hole-size', size: 'depth', faceIds: [6] }, [6]],
    ['a chamfer and what it is measured on', { ...sized, kind: 'chamfer-size', faceIds: [3], onFaceIds: [1] }, [3, 1]],
    ['the holes of a circle', { ...sized, kind: 'bolt-circle', members: [[2], [3], [4]] }, [2, 3, 4]],
    ['two axes that should be one', { ...target, kind: 'concentric', fromFaceIds: [1], toFaceIds: [2] }, [1, 2]],
    ['two faces in one plane', { ...target, kind: 'flush', fromFaceIds: [1], toFaceIds: [2] }, [1, 2]],
    ['all holes of a count', { ...target, kind: 'hole-count', diameterMm: 9, faceIds: [2, 3] }, [2, 3]],
    [
      'what must be there',
      { checkId: 'c', label: 'C', group: 'features', weight: 1, kind: 'presence', faceIds: [8] },
      [8],
    ],
    ['nothing for the volume', { ...target, kind: 'volume' }, []],
  ] as [string, Target, number[]][])('%s', (_name, one, faces) => {
    expect(facesOfTarget(one)).toEqual(faces);
  });
});

describe('a dimension', () => {
  it('from a face to an axis is drawn as a linear dimension from the face to the axis', () => {
    const position: Target = { ...sized, kind: 'hole-position', faceIds: [2], fromFaceIds: [0] };
    const span = { kind: 'between', from: { on: 'face', at: [0] }, to: { on: 'axis', at: [2] } };
    expect(spanOf(position)).toEqual(span);
    expect(draftingOf(position)).toEqual({ form: 'linear', span });
  });

  it('of a cylinder has the sign of what is given', () => {
    const members = [[2], [3]];
    expect(draftingOf({ ...sized, kind: 'diameter', members })).toEqual({ form: 'circular', sign: '⌀', members });
    expect(draftingOf({ ...sized, kind: 'radius', members })).toEqual({ form: 'circular', sign: 'R', members });
  });

  it('is told from what no sheet writes', () => {
    expect(isDimension({ ...size, id: 'a', kind: 'distance', from: 'a.b', to: 'a.c' })).toBe(true);
    expect(isDimension({ ...size, id: 'a', kind: 'angle', from: 'a.b', to: 'a.c' })).toBe(false);
    expect(isDimension({ id: 'a', label: 'A', weight: 1, kind: 'volume', tolerancePercent: 1 })).toBe(false);
    expect(draftingOf({ ...target, kind: 'volume' })).toBeNull();
  });
});

describe('a check made by picking', () => {
  it('is a sound check that holds the surfaces in the order of picking', () => {
    const names = ['base.left', 'base.right', 'base.end'];
    const made = { id: 'new', label: 'New', weight: 5, tolerance: '0.05' };
    for (const kind of CHECK_KINDS) {
      const picking = pickingOf(kind);
      if (picking === null) continue;
      const check = checkFromSurfaces(kind, names, made);
      expect(v.safeParse(CheckSchema, check).issues ?? []).toEqual([]);
      const held = picking.fills.flatMap(
        ({ field }) => (check as unknown as Record<string, string | string[]>)[field] ?? [],
      );
      expect(held).toEqual(names.slice(0, picking.fills.length));
    }
    expect(checkFromSurfaces('hole-position', names, made)).toMatchObject({ of: 'base.left', from: 'base.right' });
    expect(checkFromSurfaces('angle', names, made)).toMatchObject({ nominal: '90', tolerance: '0.5' });
  });
});

describe('a value of a check plan is written', () => {
  const inMm = { recipe: { unit: 'mm' }, decimals: 1 } as const;
  const inInches = { recipe: { unit: 'in' }, decimals: 3 } as const;
  it.each([
    ['distance', 25.4, inMm, '25.4 mm'],
    ['distance', 25.4, inInches, '1.000 in'],
    ['angle', 30, inMm, '30.00°'],
    ['hole-count', 4, inMm, '4'],
    ['presence', 1, inMm, 'yes'],
    ['symmetric', 0, inMm, 'no'],
    ['principal-moments', 0.5, inMm, '0.50 %'],
    ['material', 2.7, inMm, '2.70 g/cm³'],
    // One cubic inch is 25.4 cubed = 16387.064 mm3.
    ['volume', 16387.064, inInches, '1.0000 in³'],
  ] as [CheckKind, number, typeof inMm, string][])('%s %s', (kind, value, drawn, text) => {
    expect(checkValueText(kind, value, drawn)).toBe(text);
  });

  it('or in words where it is no number', () => {
    expect(kindOf('single-body').nominalWords).toBe('1 body');
    expect(kindOf('no-needless-edges').nominalWords).toBe('none');
  });
});
