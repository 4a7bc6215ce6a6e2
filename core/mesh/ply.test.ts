import { strToU8 } from 'fflate';
import { describe, expect, it } from 'vitest';

import { readPly, readStl, solidOfMesh, writeStl, type Triangles } from '#core/mesh';
import { ProblemError } from '#core/problem';

/** A block of 6 x 4 x 2 with faces of four corners: volume 48, area 2 (24 + 12 + 8) = 88. */
const CORNERS = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [i & 1 ? 6 : 0, i & 2 ? 4 : 0, i & 4 ? 2 : 0]);
const FACES = [
  [0, 2, 3, 1],
  [4, 5, 7, 6],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 4, 6, 2],
  [1, 3, 7, 5],
];
const header = (format: string, number: string): string =>
  [
    'ply',
    `format ${format} 1.0`,
    'comment made by hand',
    'element vertex 8',
    `property ${number} x`,
    `property ${number} y`,
    `property ${number} z`,
    'property uchar red',
    'element face 6',
    'property list uchar int vertex_indices',
    'element edge 1',
    'property int vertex1',
    'end_header',
    '',
  ].join('\n');

const asciiFile = (): Uint8Array =>
  strToU8(
    header('ascii', 'float') +
      [
        ...CORNERS.map((corner) => `${corner.join(' ')} 255`),
        ...FACES.map((face) => `4 ${face.join(' ')}`),
        '3',
        '',
      ].join('\n'),
  );

function binaryFile(isLittle: boolean): Uint8Array {
  const head = strToU8(header(isLittle ? 'binary_little_endian' : 'binary_big_endian', 'double'));
  const body = new DataView(new ArrayBuffer(8 * 25 + 6 * 17 + 4));
  let at = 0;
  for (const corner of CORNERS) {
    for (const value of corner) {
      body.setFloat64(at, value, isLittle);
      at += 8;
    }
    body.setUint8(at++, 255);
  }
  for (const face of FACES) {
    body.setUint8(at++, 4);
    for (const index of face) {
      body.setInt32(at, index, isLittle);
      at += 4;
    }
  }
  return Uint8Array.from([...head, ...new Uint8Array(body.buffer)]);
}

const codeOf = (work: () => unknown): string => {
  try {
    work();
    return 'none';
  } catch (error) {
    return error instanceof ProblemError ? error.problem.code : String(error);
  }
};

describe('a PLY file', () => {
  it.each([
    ['as text', asciiFile()],
    ['in bytes, the lowest first', binaryFile(true)],
    ['in bytes, the highest first', binaryFile(false)],
  ])('is read %s; colors and edges in it are passed over', (_how, bytes) => {
    const solid = solidOfMesh(readPly(bytes), 'mm');
    expect([solid.closed, solid.bodies, solid.faces.length]).toEqual([true, 1, 6]);
    expect(solid.massProperties.volumeMm3).toBeCloseTo(48, 9);
    expect(solid.massProperties.areaMm2).toBeCloseTo(88, 9);
  });

  const text = new TextDecoder().decode(asciiFile());
  it.each([
    ['cut short as text', 'damaged-ply', strToU8(text.slice(0, -40))],
    ['cut short in bytes', 'damaged-ply', binaryFile(true).slice(0, -30)],
    ['whose header has no end', 'damaged-ply', strToU8('ply\nformat ascii 1.0\n')],
    ['of a format that is not known', 'damaged-ply', strToU8(text.replace('ascii', 'utf9'))],
    ['with a kind of number that is not known', 'damaged-ply', strToU8(text.replace('float', 'half'))],
    ['with words for numbers', 'mesh-bad-number', strToU8(text.replace('6 4 2', 'six 4 2'))],
    ['with a corner that is not there', 'bad-index', strToU8(text.replace('4 0 2 3 1', '4 0 2 3 9'))],
    ['with a list of absurd length', 'damaged-ply', strToU8(text.replace('4 0 2 3 1', '4e9 0 2 3 1'))],
    [
      'that states more than it may',
      'too-many-triangles',
      strToU8(text.replace('element vertex 8', 'element vertex 99999999')),
    ],
    ['without faces', 'empty-mesh', strToU8('ply\nformat ascii 1.0\nelement vertex 0\nproperty float x\nend_header\n')],
  ])('%s is refused as %s', (_what, code, bytes) => {
    expect(codeOf(() => readPly(bytes))).toBe(code);
  });
});

it('an STL file as text is read in capitals and with the line ends of other systems', () => {
  const mesh: Triangles = {
    positions: Float64Array.from([0, 0, 0, 4, 0, 0, 0, 4, 0, 0, 0, 3]),
    indices: Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
  };
  const binary = readStl(writeStl(mesh)).parts[0]?.positions ?? new Float64Array();
  const lines = ['SOLID WEDGE'];
  for (let t = 0; t < binary.length; t += 9) {
    lines.push('FACET NORMAL 0 0 0', 'OUTER LOOP');
    for (let k = 0; k < 9; k += 3) lines.push(`VERTEX ${[0, 1, 2].map((j) => String(binary[t + k + j])).join(' ')}`);
    lines.push('ENDLOOP', 'ENDFACET');
  }
  const read = readStl(strToU8([...lines, 'ENDSOLID WEDGE', ''].join('\r\n')));
  expect(read.name).toBe('WEDGE');
  // A corner of a box of 4 x 4 x 3: a sixth of its volume.
  expect(solidOfMesh(read, 'mm').massProperties.volumeMm3).toBeCloseTo(8, 9);
});
