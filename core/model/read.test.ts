import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';

import { beforeAll, describe, expect, it } from 'vitest';

import { featuresOf } from '#core/feature';
import { readHeader, type Kernel, type WorkPlane } from '#core/kernel';
import { guessUnit, trianglesOf, write3mf, writeStl } from '#core/mesh';
import { detectFormat, readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import type { Solid } from '#core/solid';
import { cleatPlateExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

let kernel: Kernel;
let step: Uint8Array;
let stl: Uint8Array;
beforeAll(async () => {
  kernel = await loadKernel();
  const { shape } = unwrap(buildRecipe(kernel, cleatPlateExercise.recipe));
  step = kernel.writeStep(shape, 'mm', 'plate');
  stl = writeStl(trianglesOf(kernel.displayMesh(shape)));
  shape.free();
});

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const codes = ({ warnings }: Solid): string[] => warnings.map(({ code }) => code);
const foreign = (name: string): Uint8Array => {
  const root = path.dirname(createRequire(import.meta.url).resolve('occt-import-js/package.json'));
  return new Uint8Array(readFileSync(path.join(root, 'test/testfiles', name)));
};

describe('the format of a file', () => {
  it('is told by its content, not by its name', () => {
    expect(detectFormat(step, 'part.stl')).toBe('step');
    expect(detectFormat(stl, 'part.step')).toBe('stl');
    expect(detectFormat(write3mf([], 'x'), 'part.obj')).toBe('3mf');
    expect(detectFormat(bytesOf('v 0 0 0\nf 1 1 1'))).toBe('obj');
    expect(detectFormat(bytesOf('hello'), 'letter.txt')).toBeNull();
  });

  it('that is not that of the name is said', () => {
    expect(codes(unwrap(readModel(kernel, step, { fileName: 'part.obj' })))).toEqual(['wrong-extension']);
  });
});

describe('the unit of a mesh file', () => {
  it('is guessed by the size that is expected', () => {
    expect(guessUnit(140, { expectedSizeMm: 140 })).toBe('mm');
    expect(guessUnit(140 / 25.4, { expectedSizeMm: 140 })).toBe('in');
    expect(guessUnit(14, { expectedSizeMm: 140 })).toBe('cm');
    // Nothing near: millimeters, and the comparison will tell.
    expect(guessUnit(77, { expectedSizeMm: 140000 })).toBe('mm');
  });

  it('is said to be a guess, until the student has confirmed it', () => {
    expect(codes(unwrap(readModel(kernel, stl)))).toEqual(['unit-guessed']);
    expect(codes(unwrap(readModel(kernel, stl, { unit: 'mm' })))).toEqual([]);
  });

  it('counts: an inch is 25.4 mm', () => {
    const size = (unit: 'mm' | 'in'): number => unwrap(readModel(kernel, stl, { unit })).bounds.max[0];
    expect(size('in') / size('mm')).toBeCloseTo(25.4, 6);
  });

  it('that fits another size better is suspicious', () => {
    const solid = unwrap(readModel(kernel, stl, { unit: 'in', expectedSizeMm: 136.4 }));
    expect(codes(solid)).toEqual(['unit-suspicious']);
  });
});

describe('what STEP files hold besides the part', () => {
  it('names are read in any script', () => {
    const text = (name: string): string =>
      `ISO-10303-21;HEADER;FILE_NAME('a','b',('c'),('d'),'e','f','g');ENDSEC;DATA;#1=PRODUCT('x','${name}','',(#2));ENDSEC;END-ISO-10303-21;`;
    expect(readHeader(text('\\X2\\041F043B04380442\\X0\\ 1')).productName).toBe('Плит 1');
    expect(readHeader(text('K\\X\\F6rper')).productName).toBe('Körper');
    expect(readHeader(text("boss''s part")).productName).toBe("boss's part");
    const latin = Array.from(bytesOf(text('Plåt')), (byte) => String.fromCharCode(byte)).join('');
    expect(readHeader(latin).productName).toBe('Plåt');
  });

  it('an edge that cuts one flat face in two is needless; joined faces are measured as one', () => {
    const { shape } = unwrap(buildRecipe(kernel, cleatPlateExercise.recipe));
    const middle: WorkPlane = { origin: [0, 0, 5], u: [0, 1, 0], v: [0, 0, 1], normal: [1, 0, 0] };
    const split = unwrap(readModel(kernel, kernel.writeStep(kernel.withSeam(shape, middle), 'mm', 'plate')));
    shape.free();
    expect(codes(split)).toEqual(['split-faces']);
    expect(split.faces).toHaveLength(unwrap(readModel(kernel, step)).faces.length);
  });

  it('spline faces that are really plain ones are recognized as such', () => {
    const solid = unwrap(readModel(kernel, foreign('cax-if/io1-tu-203.stp')));
    const free = solid.faces.filter(({ surface }) => surface.kind === 'freeform').length;
    expect(free).toBeLessThan(0.2 * solid.faces.length);
    expect(featuresOf(solid, 'hole').length).toBeGreaterThan(0);
  });

  it.each(['conical-surface/conical-surface.step', 'rounded-cube/rounded-cube.step', 'cube-10x10mm/Cube 10x10.stp'])(
    '%s is one closed body without warnings',
    (name) => {
      const solid = unwrap(readModel(kernel, foreign(name)));
      expect(solid).toMatchObject({ bodies: 1, closed: true, valid: true });
      expect(codes(solid)).toEqual([]);
    },
  );
});
