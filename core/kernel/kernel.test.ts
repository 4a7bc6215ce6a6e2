import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';

import { beforeAll, describe, expect, it } from 'vitest';

import { declaredUnit, readHeader, screenStep, type Kernel } from '#core/kernel';
import { readModel } from '#core/model';
import { RECIPE_SOURCE } from '#core/solid';
import { loadKernel } from '#runtime';

import { rectangle, XY } from './testing.ts';

/** STEP files that the npm package occt-import-js ships as its test data. */
const testFile = (name: string): Uint8Array => {
  const root = path.dirname(createRequire(import.meta.url).resolve('occt-import-js/package.json'));
  return readFileSync(path.join(root, 'test/testfiles', name));
};

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

describe('reading STEP files of other programs', () => {
  // Each of the three cubes has edges of one meter, written in its own unit: 1000^3 mm3.
  it.each([
    ['cube-units/cube-mm.step', 'mm'],
    ['cube-units/cube-in.step', 'in'],
    ['cube-units/cube-m.step', 'm'],
  ])('%s declares %s and has the volume of a cubic meter', (name, unit) => {
    const solid = readModel(kernel, testFile(name));
    expect(solid.ok).toBe(true);
    if (!solid.ok) return;
    expect(solid.value.source.declaredUnit).toBe(unit);
    expect(solid.value.massProperties.volumeMm3 / 1e9).toBeCloseTo(1, 9);
    expect(solid.value.massProperties.areaMm2 / 6e6).toBeCloseTo(1, 9);
    expect(solid.value).toMatchObject({ bodies: 1, valid: true, closed: true });
    expect(solid.value.faces).toHaveLength(6);
    expect(solid.value.edges).toHaveLength(12);
  });

  it('counts the bodies of an assembly and warns', () => {
    const solid = readModel(kernel, testFile('cax-if/as1_pe_203.stp'));
    expect(solid.ok && solid.value.bodies).toBe(18);
    expect(solid.ok && solid.value.warnings.map((warning) => warning.code)).toContain('several-bodies');
  });

  it('says that a file whose parts live elsewhere names them as the reason', () => {
    const solid = readModel(kernel, testFile('cax-if/s1_pe_214/s1_pe_214.stp'));
    expect(solid.ok ? '' : solid.problem.code).toBe('parts-elsewhere');
  });

  it('reads files whose exponents have leading zeros', () => {
    const solid = readModel(kernel, testFile('simple-basic-cube/cube.stp'));
    expect(solid.ok && solid.value.closed).toBe(true);
  });
});

describe('bad files', () => {
  const cube = new TextDecoder('latin1').decode(testFile('cube-units/cube-mm.step'));
  const codeOf = (text: string): string => {
    const result = readModel(kernel, new TextEncoder().encode(text));
    return result.ok ? 'read' : result.problem.code;
  };
  it('what stands in comments and strings is neither number nor structure', () => {
    const noise = "/* isn't (NAN, 1.E+400) #1=X; */ #99997=DESCRIPTION('((( /* no comment 1.E+999 #1=Y;');";
    expect(codeOf(cube.replace('DATA;', `DATA;\n${noise}`))).toBe('read');
  });

  it.each([
    ['an empty file', 'empty-file', ''],
    ['a picture', 'unknown-format', 'GIF89a...'],
    ['a file cut short', 'truncated-step', cube.slice(0, 3000)],
    ['a coordinate that is not a number', 'step-bad-number', cube.replace('(1.E+03,', '(NAN,')],
    ['an absurd exponent', 'step-bad-number', cube.replace('(1.E+03,', '(1.E+400,')],
    [
      'one number for two entities',
      'step-number-twice',
      cube.replace('DATA;', 'DATA;\n#99998=PERSON();\n#99998=PERSON();'),
    ],
    ['deep nesting', 'step-nesting', cube.replace('DATA;', `DATA;\n#99999=X(${'('.repeat(5000)}${')'.repeat(5000)});`)],
    ['no entities', 'no-geometry', 'ISO-10303-21;HEADER;ENDSEC;DATA;ENDSEC;END-ISO-10303-21;'],
  ])('%s ends as %s, and the kernel goes on', (_name, code, text) => {
    expect(text).not.toBe(cube);
    expect(codeOf(text)).toBe(code);
    expect(codeOf(cube)).toBe('read');
  });

  it('a text made of quotes does not keep the reader busy', () => {
    const quotes = `ISO-10303-21;HEADER;FILE_NAME(${"'".repeat(40_001)};DATA;#1=${"','".repeat(20_001)}`;
    expect(readHeader(quotes).declaredUnit).toBeNull();
    expect(codeOf(quotes)).toBe('truncated-step');
  });

  it('recognizes decimal commas', () => {
    const text = cube.replace(/CARTESIAN_POINT\('',\(0\.,0\.,0\.\)\)/, "CARTESIAN_POINT('',(0,0,0,0,0,0))");
    expect(text).not.toBe(cube);
    expect(codeOf(text)).toBe('step-decimal-comma');
  });

  it('does not take what stands in a quoted name for structure', () => {
    const text = cube.replace(/PRODUCT\('[^']*'/, `PRODUCT('${'('.repeat(500)} NAN'`);
    expect(screenStep(new TextEncoder().encode(text)).ok).toBe(true);
  });

  it('reads an open shell as surfaces without a body', () => {
    const open = readModel(kernel, openBox());
    expect(open.ok && open.value).toMatchObject({ bodies: 0, closed: false });
    expect(open.ok && open.value.warnings.map((warning) => warning.code)).toContain('no-solid');
  });

  /** The cube with its shell no longer called a solid: a surface model. */
  function openBox(): Uint8Array {
    const faces = /CLOSED_SHELL\('',\(((?:#\d+,?)+)\)/.exec(cube)?.[1] ?? '';
    const text = cube
      .replace(/CLOSED_SHELL\('',\([^)]*\)/, `OPEN_SHELL('',(${faces.split(',').slice(1).join(',')})`)
      .replace(/MANIFOLD_SOLID_BREP\('([^']*)',(#\d+)\)/, "SHELL_BASED_SURFACE_MODEL('$1',($2))")
      .replace(/ADVANCED_BREP_SHAPE_REPRESENTATION/, 'MANIFOLD_SURFACE_SHAPE_REPRESENTATION');
    return new TextEncoder().encode(text);
  }
});

describe('the header', () => {
  it('gives unit, product and program', () => {
    const text = `ISO-10303-21;HEADER;
      FILE_NAME('a.step','2026-01-01',('x'),('y'),'pre','Tide''s modeler 4','z');ENDSEC;DATA;
      #1=PRODUCT('p-1','Cleat plate','',(#2));
      #10=(CONVERSION_BASED_UNIT('INCH',#11) LENGTH_UNIT() NAMED_UNIT(#12));
      #11=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#13);
      #13=(LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.));
      #20=(GEOMETRIC_REPRESENTATION_CONTEXT(3) GLOBAL_UNIT_ASSIGNED_CONTEXT((#10,#14)));
      ENDSEC;END-ISO-10303-21;`;
    expect(readHeader(text)).toEqual({
      declaredUnit: 'in',
      productName: 'Cleat plate',
      originatingSystem: "Tide's modeler 4",
    });
  });

  it('says null where no unit is declared', () => {
    expect(declaredUnit('ISO-10303-21; DATA; ENDSEC;')).toBeNull();
  });
});

describe('mass properties of a block 40 x 30 x 20 with one corner at the origin', () => {
  // V = 24000; A = 2 (40*30 + 40*20 + 30*20) = 5200; Ixx = V (30^2 + 20^2) / 12 = 2.6e6, and so on.
  it('agree with the formulas', () => {
    const shape = kernel.extrude(XY, rectangle(0, 0, 40, 30), 0, 20);
    const { volumeMm3, areaMm2, centroidMm, inertiaMm5 } = kernel.massProperties(shape);
    shape.free();
    expect(volumeMm3).toBeCloseTo(24000, 6);
    expect(areaMm2).toBeCloseTo(5200, 6);
    [20, 15, 10].forEach((x, i) => {
      expect(centroidMm[i]).toBeCloseTo(x, 9);
    });
    [2.6e6, 4e6, 5e6].forEach((moment, i) => {
      expect((inertiaMm5[i]?.[i] ?? 0) / moment).toBeCloseTo(1, 9);
    });
    expect(Math.abs(inertiaMm5[0][1])).toBeLessThan(1e-3);
  });

  it('have the true products of inertia on an L-shaped prism', () => {
    // 40 x 10 and 10 x 30 above its left end, 5 thick. Areas 400 and 300 with centers (20, 5) and (5, 25).
    const ell = {
      kind: 'path',
      start: [0, 0],
      segments: [
        [40, 0],
        [40, 10],
        [10, 10],
        [10, 40],
        [0, 40],
        [0, 0],
      ].map((to) => ({ kind: 'line' as const, to: [to[0] ?? 0, to[1] ?? 0] as const })),
    } as const;
    const shape = kernel.extrude(XY, ell, 0, 5);
    const { inertiaMm5, centroidMm } = kernel.massProperties(shape);
    shape.free();
    const [cx, cy] = [(400 * 20 + 300 * 5) / 700, (400 * 5 + 300 * 25) / 700];
    expect(centroidMm[0]).toBeCloseTo(cx, 9);
    // Integral of (x - cx)(y - cy) over both rectangles, whose own products vanish by symmetry; the tensor entry is minus that.
    const product = 5 * (400 * (20 - cx) * (5 - cy) + 300 * (5 - cx) * (25 - cy));
    expect(inertiaMm5[0][1] / -product).toBeCloseTo(1, 9);
  });
});

describe('faces and edges', () => {
  it('know surface kinds, sides and how edges meet', () => {
    const block = kernel.extrude(XY, rectangle(-20, -15, 20, 15), 0, 10);
    const tool = kernel.extrude(XY, { kind: 'circle', center: [3, 4], radiusMm: 5 }, -1, 11);
    const drilled = kernel.cut(block, [tool]);
    const solid = kernel.analyze(drilled, RECIPE_SOURCE);
    for (const shape of [block, tool, drilled]) shape.free();
    if (!solid.ok) throw new Error(solid.problem.message);
    const walls = solid.value.faces.filter((face) => face.surface.kind === 'cylinder');
    expect(walls).toHaveLength(1);
    expect(walls[0]?.surface).toMatchObject({ radiusMm: 5, side: 'concave' });
    const convexities = solid.value.edges.map((edge) => edge.convexity).sort();
    // 12 edges of the block and 2 rims of the hole are convex; the hole has one seam.
    expect(convexities.filter((convexity) => convexity === 'convex')).toHaveLength(14);
    expect(convexities.filter((convexity) => convexity === 'seam')).toHaveLength(1);
    expect(solid.value.bounds).toEqual({ min: [-20, -15, 0], max: [20, 15, 10] });
    const meshed = new Set(solid.value.mesh.groups.map((group) => group.faceId));
    expect(meshed.size).toBe(solid.value.faces.length);
    // Edge polylines run from end to end: the longest straight one is as long as the block.
    const spans = solid.value.mesh.edges.map(({ points }) => Math.abs((points[0] ?? 0) - (points.at(-3) ?? 0)));
    expect(Math.max(...spans)).toBeCloseTo(40, 3);
  });

  it('does not count a seam between two halves as two faces', () => {
    const half = (u0: number, u1: number) => kernel.extrude(XY, rectangle(u0, 0, u1, 10), 0, 10);
    const [a, b] = [half(0, 10), half(10, 25)];
    const joined = kernel.fuse(a, [b]);
    expect(kernel.tables(joined).faces).toHaveLength(6);
    for (const shape of [a, b, joined]) shape.free();
  });

  it('tells a kernel failure in words', () => {
    const block = kernel.extrude(XY, rectangle(0, 0, 10, 10), 0, 10);
    expect(() => kernel.fillet(block, [0], 50)).toThrow(/radius may be too large/);
    block.free();
  });
});

it('keeps its memory when the same part is built again and again', () => {
  const once = (): void => {
    const block = kernel.extrude(XY, rectangle(0, 0, 50, 40), 0, 12);
    const tool = kernel.extrude(XY, { kind: 'circle', center: [20, 20], radiusMm: 8 }, -1, 13);
    const drilled = kernel.cut(block, [tool]);
    kernel.analyze(drilled, RECIPE_SOURCE);
    for (const shape of [block, tool, drilled]) shape.free();
  };
  for (let i = 0; i < 5; i++) once();
  const before = kernel.heapBytes();
  for (let i = 0; i < 40; i++) once();
  expect(kernel.heapBytes() - before).toBeLessThan(32 * 1024 * 1024);
});

it('writes what it reads, in the unit it is asked for', () => {
  const block = kernel.extrude(XY, rectangle(0, 0, 25.4, 25.4), 0, 25.4);
  const inch = readModel(kernel, kernel.writeStep(block, 'in', 'One inch'));
  const mm = readModel(kernel, kernel.writeStep(block, 'mm', 'One inch'));
  block.free();
  expect(inch.ok && inch.value.source.declaredUnit).toBe('in');
  expect(mm.ok && mm.value.source.declaredUnit).toBe('mm');
  for (const solid of [inch, mm]) expect(solid.ok && solid.value.massProperties.volumeMm3).toBeCloseTo(25.4 ** 3, 6);
});

describe('faces that move', () => {
  it('sweep over a prism of their area, and nothing where there is no such face', () => {
    const block = kernel.extrude(XY, rectangle(0, 0, 30, 20), 0, 10);
    const top = kernel.tables(block).faces.find(({ surface }) => surface.kind === 'plane' && surface.normal[2] > 0.5);
    const [prism, ...more] = kernel.sweep(block, [top?.id ?? -1], [0, 0, 7]);
    expect(more).toEqual([]);
    expect(prism && kernel.massProperties(prism).volumeMm3).toBeCloseTo(30 * 20 * 7, 9);
    expect(prism && kernel.massProperties(prism).centroidMm[2]).toBeCloseTo(13.5, 9);
    expect(kernel.sweep(block, [99], [0, 0, 7])).toEqual([]);
    prism?.free();
    block.free();
  });
});
