/** Broken and hostile model files of every format, made from sound ones; the same in every run. */
import { strToU8, zipSync } from 'fflate';

import { write3mf, writeStl, type Triangles } from '#core/mesh';
import { seeded } from '#demo/corpus';

export interface BrokenFile {
  readonly name: string;
  readonly fileName: string;
  readonly bytes: Uint8Array;
}

const CUTS = 12;
const FLIPS = 32;

/** Hand-made faults and, for each sound file, pieces of it and copies with flipped bytes. At least 300 files. */
export function brokenFiles(step: Uint8Array, mesh: Triangles, seed = 7): BrokenFile[] {
  const random = seeded(seed);
  const ascii = asciiStl(mesh);
  const sound: readonly (readonly [string, Uint8Array])[] = [
    ['part.step', step],
    ['part.stl', writeStl(mesh)],
    ['ascii.stl', ascii],
    ['part.obj', obj(mesh)],
    ['part.3mf', write3mf([mesh], 'part')],
    ['part.ply', ply(mesh)],
  ];
  const files: BrokenFile[] = [];
  const add = (name: string, fileName: string, bytes: Uint8Array | string): void => {
    files.push({ name, fileName, bytes: typeof bytes === 'string' ? strToU8(bytes) : bytes });
  };
  for (const [fileName, bytes] of sound) {
    for (let i = 0; i < CUTS; i++)
      add(
        `${fileName} cut at ${String(i)}/${String(CUTS)}`,
        fileName,
        bytes.slice(0, Math.floor((bytes.length * i) / CUTS)),
      );
    for (let i = 0; i < FLIPS; i++) {
      const copy = bytes.slice();
      const flips = 1 + Math.floor(random() * (i < FLIPS / 2 ? 3 : 60));
      for (let k = 0; k < flips; k++) copy[Math.floor(random() * copy.length)] = Math.floor(random() * 256);
      add(`${fileName} with ${String(flips)} bytes changed (${String(i)})`, fileName, copy);
    }
    for (let i = 0; i < 6; i++) {
      const from = Math.floor(random() * bytes.length * 0.9);
      const size = Math.floor(random() * bytes.length * 0.1);
      add(`${fileName} with a hole in it (${String(i)})`, fileName, without(bytes, from, size));
    }
    for (const other of ['part.step', 'part.stl', 'part.obj', 'part.3mf', 'part.txt'])
      if (other !== fileName) add(`${fileName} named ${other}`, other, bytes);
  }
  handMade(add, step, mesh, ascii);
  return files;
}

function without(bytes: Uint8Array, from: number, size: number): Uint8Array {
  const kept = new Uint8Array(bytes.length - size);
  kept.set(bytes.subarray(0, from));
  kept.set(bytes.subarray(from + size), from);
  return kept;
}

function handMade(
  add: (name: string, fileName: string, bytes: Uint8Array | string) => void,
  step: Uint8Array,
  mesh: Triangles,
  ascii: Uint8Array,
): void {
  const text = new TextDecoder('latin1').decode(step);
  add('nothing', 'part.step', '');
  add('zeros', 'part.stl', new Uint8Array(5000));
  add('a picture', 'part.step', 'GIF89a');
  add('STEP without data', 'part.step', 'ISO-10303-21;HEADER;ENDSEC;DATA;ENDSEC;END-ISO-10303-21;');
  add(
    'STEP nested too deeply',
    'part.step',
    text.replace('DATA;', `DATA;#999999=X(${'('.repeat(50_000)}${')'.repeat(50_000)});`),
  );
  add(
    'STEP that refers to itself',
    'part.step',
    text.replace('DATA;', "DATA;#999998=SHAPE_REPRESENTATION('',(#999998),#999998);"),
  );
  for (const number of ['NAN', '1.E+400', '-INF', '1.E+99999', '0x10', '1.0.0'])
    add(`STEP with the number ${number}`, 'part.step', text.replace(/(CARTESIAN_POINT\s*\('',\()[^,]+/, `$1${number}`));
  add('STEP with absurd sizes', 'part.step', text.replaceAll(/(CARTESIAN_POINT\s*\('',\()([-\d.E+]+)/g, '$11.E+50'));
  add(
    'STEP with a radius of zero',
    'part.step',
    text.replaceAll(/(CYLINDRICAL_SURFACE\s*\('',#\d+,)[-\d.E+]+/g, '$10.'),
  );
  add('STEP with negative radii', 'part.step', text.replaceAll(/(CYLINDRICAL_SURFACE\s*\('',#\d+,)/g, '$1-'));
  add('STEP with decimal commas', 'part.step', text.replaceAll(/(\d)\.(\d)/g, '$1,$2'));
  add('STEP with unknown references', 'part.step', text.replaceAll(/,#(\d+)\)/g, ',#9$1)'));
  const stl = writeStl(mesh);
  for (const count of [0, 1, 0x7fffffff, 0xffffffff]) {
    const copy = stl.slice();
    new DataView(copy.buffer).setUint32(80, count, true);
    add(`STL that states ${String(count)} triangles`, 'part.stl', copy);
  }
  for (const value of [NaN, Infinity, 1e30, -1e30, 1e-40]) {
    const copy = stl.slice();
    new DataView(copy.buffer).setFloat32(84 + 12, value, true);
    add(`STL with the number ${String(value)}`, 'part.stl', copy);
  }
  const flat = { ...mesh, positions: mesh.positions.map((value, i) => (i % 3 === 2 ? 0 : value)) };
  add('STL without thickness', 'part.stl', writeStl(flat));
  add('STL in one point', 'part.stl', writeStl({ ...mesh, positions: mesh.positions.map(() => 1) }));
  add(
    'STL of every second triangle',
    'part.stl',
    writeStl({ ...mesh, indices: mesh.indices.filter((_, i) => i % 6 < 3) }),
  );
  add(
    'STL of every triangle twice',
    'part.stl',
    writeStl({ ...mesh, indices: Uint32Array.from([...mesh.indices, ...mesh.indices]) }),
  );
  add('STL turned inside out', 'part.stl', writeStl({ ...mesh, indices: mesh.indices.slice().reverse() }));
  add('STL in hostile text', 'ascii.stl', new TextDecoder().decode(ascii).replaceAll('vertex', 'vertex vertex'));
  const corners = Array.from({ length: 60 }, (_, i) => `v ${String(i)} ${String(i * i)} 0`).join('\n');
  add('OBJ with huge indices', 'part.obj', `${corners}\nf 1 2 99999999999\n`);
  add('OBJ with negative indices too far back', 'part.obj', `${corners}\nf -1 -2 -61\n`);
  add(
    'OBJ with a face of all corners',
    'part.obj',
    `${corners}\nf ${Array.from({ length: 60 }, (_, i) => i + 1).join(' ')}\n`,
  );
  add('OBJ with a face of too many corners', 'part.obj', `${corners}\nf ${'1 2 3 '.repeat(5000)}\n`);
  add('OBJ without faces', 'part.obj', corners);
  add('OBJ with words for numbers', 'part.obj', 'v one two three\nf 1 1 1\n');
  const model = (inner: string): Uint8Array => zipSync({ '3D/3dmodel.model': strToU8(inner) });
  add(
    '3MF that unpacks to 200 MB',
    'part.3mf',
    zipSync({ '3D/3dmodel.model': new Uint8Array(200 * 1024 * 1024) }, { level: 9 }),
  );
  add(
    '3MF with an entity bomb',
    'part.3mf',
    model(
      '<!DOCTYPE m [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><model unit="millimeter"><metadata name="Title">&b;</metadata></model>',
    ),
  );
  add(
    '3MF that contains itself',
    'part.3mf',
    model(
      '<model><resources><object id="1"><components><component objectid="1"/></components></object></resources><build><item objectid="1"/></build></model>',
    ),
  );
  add(
    '3MF that multiplies itself',
    'part.3mf',
    model(
      `<model><resources>${Array.from({ length: 10 }, (_, i) => `<object id="${String(i)}"><components>${`<component objectid="${String(i + 1)}"/>`.repeat(10)}</components></object>`).join('')}</resources><build><item objectid="0"/></build></model>`,
    ),
  );
  add('3MF nested too deeply', 'part.3mf', model(`<model>${'<a>'.repeat(20_000)}${'</a>'.repeat(20_000)}</model>`));
  add(
    '3MF with an index beyond its corners',
    'part.3mf',
    model(
      '<model><resources><object id="1"><mesh><vertices><vertex x="0" y="0" z="0"/></vertices><triangles><triangle v1="0" v2="1" v3="2"/></triangles></mesh></object></resources><build><item objectid="1"/></build></model>',
    ),
  );
  add(
    '3MF with a transform of words',
    'part.3mf',
    model(
      '<model><resources><object id="1"/></resources><build><item objectid="1" transform="a b c"/></build></model>',
    ),
  );
  add('3MF without a model', 'part.3mf', zipSync({ 'readme.txt': strToU8('hello') }));
  add('3MF that is not XML', 'part.3mf', model('not xml <<<'));
}

function asciiStl({ positions, indices }: Triangles): Uint8Array {
  const lines = ['solid part'];
  for (let t = 0; t < indices.length; t += 3) {
    lines.push('facet normal 0 0 0', 'outer loop');
    for (let k = 0; k < 3; k++) {
      const at = 3 * (indices[t + k] ?? 0);
      lines.push(`vertex ${[0, 1, 2].map((j) => String(positions[at + j] ?? 0)).join(' ')}`);
    }
    lines.push('endloop', 'endfacet');
  }
  return strToU8([...lines, 'endsolid part', ''].join('\n'));
}

function ply({ positions, indices }: Triangles): Uint8Array {
  const rows = (values: Float64Array | Uint32Array, front: string): string[] =>
    Array.from(
      { length: values.length / 3 },
      (_, i) => `${front}${[0, 1, 2].map((k) => String(values[3 * i + k] ?? 0)).join(' ')}`,
    );
  const head = `ply\nformat ascii 1.0\nelement vertex ${String(positions.length / 3)}\nproperty double x\nproperty double y\nproperty double z\nelement face ${String(indices.length / 3)}\nproperty list uchar int vertex_indices\nend_header`;
  return strToU8([head, ...rows(positions, ''), ...rows(indices, '3 '), ''].join('\n'));
}

function obj({ positions, indices }: Triangles): Uint8Array {
  const lines: string[] = [];
  for (let i = 0; i < positions.length; i += 3)
    lines.push(`v ${[0, 1, 2].map((k) => String(positions[i + k] ?? 0)).join(' ')}`);
  for (let t = 0; t < indices.length; t += 3)
    lines.push(`f ${[0, 1, 2].map((k) => String((indices[t + k] ?? 0) + 1)).join(' ')}`);
  return strToU8(lines.join('\n'));
}
