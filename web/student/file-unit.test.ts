import { describe, expect, it } from 'vitest';

import { writeStl } from '#core/mesh';

import { extentsOfFile, guessFileUnit, sizeText } from './file-unit.ts';

/** A tetrahedron with legs of 120, 64 and 10 along the axes. */
const wedge = {
  positions: Float64Array.from([0, 0, 0, 120, 0, 0, 0, 64, 0, 0, 0, 10]),
  indices: Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
};

describe('the unit of a file that states none', () => {
  it('is guessed from the size: that of the drawing where it makes a usual part', () => {
    expect(guessFileUnit([120, 64, 10], 'mm')).toBe('mm');
    expect(guessFileUnit([4.7, 2.5, 0.4], 'in')).toBe('in');
    expect(guessFileUnit([4.7, 2.5, 0.4], 'mm')).toBe('in');
    expect(guessFileUnit([0.12, 0.064, 0.01], 'mm')).toBe('m');
  });

  it('is shown as the size that the part would have', () => {
    const extents = extentsOfFile(writeStl(wedge), 'wedge.stl');
    expect(extents).toEqual([120, 64, 10]);
    expect(sizeText(extents!, 'mm', 'mm')).toBe('120.0 x 64.0 x 10.0 mm');
    expect(sizeText(extents!, 'mm', 'in')).toBe('4.72 x 2.52 x 0.39 in');
  });

  it('is not asked for formats that say it, nor for files that cannot be read', () => {
    expect(extentsOfFile(new TextEncoder().encode('ISO-10303-21;'), 'part.step')).toBeNull();
    expect(extentsOfFile(new TextEncoder().encode('solid x\nfacet normal 0 0 1'), 'part.stl')).toBeNull();
  });
});
