import { zipSync, strToU8 } from 'fflate';
import { describe, expect, it } from 'vitest';

import { acceptedExtensions, detectFormat, formatNames, formatOf, formatOfName, writtenExtensions } from './formats.ts';

/** A binary STL of one triangle: 80 bytes, a count, then 50 bytes a triangle. */
function binaryStl(header = ''): Uint8Array {
  const bytes = new Uint8Array(84 + 50);
  bytes.set(strToU8(header));
  bytes[80] = 1;
  return bytes;
}
const OBJ = strToU8('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');
const ASCII_STL = strToU8('solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\n');

describe('the format of a model file', () => {
  it.each([
    ['STEP', strToU8('ISO-10303-21;\nHEADER;'), 'part.step', 'step'],
    ['STEP behind a mark of its encoding and blanks', strToU8('\uFEFF \n ISO-10303-21;'), 'part.stp', 'step'],
    ['text with triangles', ASCII_STL, 'part.stl', 'stl'],
    ['triangles in bytes', binaryStl(), 'part.stl', 'stl'],
    ['an archive', zipSync({ '3D/3dmodel.model': strToU8('<model/>') }), 'part.3mf', '3mf'],
    ['vertices and faces', OBJ, 'part.obj', 'obj'],
    ['a list of properties', strToU8('ply\nformat ascii 1.0\nelement vertex 0\nend_header\n'), 'part.ply', 'ply'],
  ] as const)('is told by what is in it: %s', (_, bytes, name, format) => {
    expect(detectFormat(bytes, name)).toBe(format);
    // A wrong ending changes nothing.
    expect(detectFormat(bytes, 'part.step')).toBe(format);
  });

  it('is what its name says where the content says nothing', () => {
    expect(detectFormat(strToU8('hello'), 'part.STEP')).toBe('step');
    expect(detectFormat(strToU8('hello'), 'part.txt')).toBeNull();
    expect(formatOfName('two.stl.obj')).toBe('obj');
  });

  it('decides whether a unit must be asked for', () => {
    expect(['step', 'stl', 'obj', '3mf'].map((format) => formatOf(format as 'step').statesUnit)).toEqual([
      true,
      false,
      false,
      true,
    ]);
  });

  it('is offered in pickers and named in sentences from the same table', () => {
    expect(acceptedExtensions()).toBe('.step,.stp,.stl,.obj,.3mf,.ply');
    expect(formatNames()).toBe('STEP (best), STL, OBJ, 3MF or PLY');
    expect(writtenExtensions()).toBe('.step, .stl or .3mf');
  });
});
