import { zipSync, strToU8 } from 'fflate';
import { describe, expect, it } from 'vitest';

import {
  polyhedronProperties,
  read3mf,
  readObj,
  readStl,
  solidOfMesh,
  write3mf,
  writeStl,
  type MeshFile,
  type Triangles,
} from '#core/mesh';
import { ProblemError } from '#core/problem';
import type { Solid, Surface } from '#core/solid';

const { PI, cos, sin } = Math;

/** A box with corners at the origin and at (a, b, c). */
function box(a: number, b: number, c: number, [x, y, z] = [0, 0, 0]): Triangles {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [
    x + (i & 1 ? a : 0),
    y + (i & 2 ? b : 0),
    z + (i & 4 ? c : 0),
  ]);
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  return {
    positions: Float64Array.from(corners),
    indices: Uint32Array.from(quads.flatMap(([p, q, r, s]) => [p!, q!, r!, p!, r!, s!])),
  };
}

/** Several meshes in one, without joining them. */
function together(...parts: readonly Triangles[]): Triangles {
  let offset = 0;
  const indices = parts.flatMap((part) => {
    const moved = [...part.indices].map((index) => index + offset);
    offset += part.positions.length / 3;
    return moved;
  });
  return {
    positions: Float64Array.from(parts.flatMap((part) => [...part.positions])),
    indices: Uint32Array.from(indices),
  };
}

const insideOut = ({ positions, indices }: Triangles): Triangles => ({ positions, indices: indices.slice().reverse() });

/** A body turned about Z from a profile of (radius, height) points with `n` steps around; a radius of 0 is on the axis. */
function turned(profile: readonly (readonly [number, number])[], n: number): Triangles {
  const positions = profile.flatMap(([r, z]) =>
    Array.from({ length: n }, (_, i) => [r * cos((2 * PI * i) / n), r * sin((2 * PI * i) / n), z]).flat(),
  );
  const indices: number[] = [];
  profile.forEach((_, row) => {
    const next = (row + 1) % profile.length;
    for (let i = 0; i < n; i++) {
      const [a, b] = [row * n + i, row * n + ((i + 1) % n)];
      const [c, d] = [next * n + i, next * n + ((i + 1) % n)];
      indices.push(a, b, d, a, d, c);
    }
  });
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) };
}

const fileOf = (...parts: readonly Triangles[]): MeshFile => ({
  format: 'stl',
  declaredUnit: null,
  name: null,
  program: null,
  parts,
});
const solid = (...parts: readonly Triangles[]): Solid => solidOfMesh(readStl(writeStl(together(...parts))), 'mm');
const codes = ({ warnings }: Solid): string[] => warnings.map(({ code }) => code);
const kinds = ({ faces }: Solid): Record<string, number> => {
  const counts: Record<string, number> = {};
  for (const { surface } of faces) counts[surface.kind] = (counts[surface.kind] ?? 0) + 1;
  return counts;
};
const surfaces = <K extends Surface['kind']>(of: Solid, kind: K): Extract<Surface, { kind: K }>[] =>
  of.faces.flatMap(({ surface }) => (surface.kind === kind ? [surface as Extract<Surface, { kind: K }>] : []));

const codeOf = (work: () => unknown): string => {
  try {
    work();
    return 'none';
  } catch (error) {
    return error instanceof ProblemError ? error.problem.code : String(error);
  }
};

const packed = (model: string): Uint8Array => zipSync({ '3D/3dmodel.model': strToU8(model) });

/** A package whose last file has a wrong checksum, or says that it is encrypted, in the directory of the archive. */
function withByte(archive: Uint8Array, what: 'checksum' | 'password'): Uint8Array {
  const copy = archive.slice();
  const view = new DataView(copy.buffer);
  const isDirectory = (at: number): boolean => view.getUint32(at, true) === 0x02014b50;
  const last = Array.from({ length: copy.length - 4 }, (_, at) => at).findLast(isDirectory) ?? 0;
  const at = last + (what === 'checksum' ? 16 : 8);
  view.setUint8(at, view.getUint8(at) ^ 1);
  return copy;
}

describe('mass properties of a polyhedron', () => {
  // Box a x b x c of unit density: V = abc, A = 2(ab + bc + ca), Ixx = V (b^2 + c^2) / 12 about its middle.
  it('of a box far from the origin are those of the formula', () => {
    const { volumeMm3, areaMm2, centroidMm, inertiaMm5 } = polyhedronProperties(box(30, 20, 10, [700, -300, 105]));
    expect(volumeMm3).toBeCloseTo(6000, 8);
    expect(areaMm2).toBeCloseTo(2200, 8);
    expect(centroidMm[0]).toBeCloseTo(715, 9);
    expect(inertiaMm5[0][0] / ((6000 * 500) / 12)).toBeCloseTo(1, 9);
    expect(inertiaMm5[1][1] / ((6000 * 1000) / 12)).toBeCloseTo(1, 9);
    expect(Math.abs(inertiaMm5[0][1])).toBeLessThan(1e-6);
  });

  it('of a part with a void leave the void out', () => {
    const part = solid(box(20, 20, 20), insideOut(box(4, 4, 4, [8, 8, 8])));
    expect(part.massProperties.volumeMm3).toBeCloseTo(8000 - 64, 6);
    expect(part.bodies).toBe(1);
    expect(codes(part)).toEqual([]);
  });
});

describe('what is odd about a mesh is said', () => {
  it('a missing triangle leaves it open', () => {
    const cube = box(10, 10, 10);
    const part = solid({ ...cube, indices: cube.indices.slice(3) });
    expect(part.closed).toBe(false);
    expect(part.bodies).toBe(0);
    expect(codes(part)).toEqual(['not-closed']);
  });

  it('triangles that face the wrong way are turned, and the volume is right', () => {
    const cube = box(10, 10, 10);
    const indices = cube.indices.slice();
    [indices[1], indices[2]] = [indices[2]!, indices[1]!];
    const part = solid({ ...cube, indices });
    expect(codes(part)).toEqual(['turned-triangles']);
    expect(part.massProperties.volumeMm3).toBeCloseTo(1000, 9);
  });

  it('a body inside out is turned', () => {
    const part = solid(insideOut(box(10, 10, 10)));
    expect(codes(part)).toEqual(['inverted']);
    expect(part.massProperties.volumeMm3).toBeCloseTo(1000, 9);
  });

  it('two bodies are counted', () => {
    const part = solid(box(10, 10, 10), box(5, 5, 5, [30, 0, 0]));
    expect(part.bodies).toBe(2);
    expect(codes(part)).toEqual(['several-bodies']);
    expect(part.massProperties.volumeMm3).toBeCloseTo(1125, 9);
  });

  it('two bodies that touch along an edge touch themselves', () => {
    expect(codes(solid(box(10, 10, 10), box(10, 10, 10, [10, 10, 0])))).toContain('self-contact');
  });

  it('corners that miss each other by a hair are joined', () => {
    const cube = box(10, 10, 10);
    const loose = [...cube.indices].flatMap((index, i) => [
      cube.positions[3 * index]! + (i % 3) * 2e-6,
      cube.positions[3 * index + 1]!,
      cube.positions[3 * index + 2]!,
    ]);
    const indices = Uint32Array.from({ length: loose.length / 3 }, (_, i) => i);
    const part = solidOfMesh(fileOf({ positions: Float64Array.from(loose), indices }), 'mm');
    expect(part.closed).toBe(true);
    expect(part.faces).toHaveLength(6);
  });
});

describe('surfaces behind the facets', () => {
  it('a box has six flat faces and twelve straight convex edges', () => {
    const part = solid(box(30, 20, 10));
    expect(kinds(part)).toEqual({ plane: 6 });
    expect(part.edges.map(({ convexity, curve }) => `${convexity} ${curve}`)).toEqual(Array(12).fill('convex line'));
  });

  // Ring of bore 6, outside 20, height 12: the true volume is pi (10^2 - 3^2) 12, that of n facets is smaller by
  // sin(2 pi / n) / (2 pi / n) in each round.
  it.each([16, 24, 48, 96])(
    'a ring of %i facets has two cylinders, and its true volume within the uncertainty',
    (n) => {
      const part = solid(
        turned(
          [
            [3, 0],
            [10, 0],
            [10, 12],
            [3, 12],
          ],
          n,
        ),
      );
      expect(kinds(part)).toEqual({ plane: 2, cylinder: 2 });
      const radii = surfaces(part, 'cylinder').map(({ radiusMm, side }) => [side, radiusMm] as const);
      for (const [side, radius] of radii) expect(radius).toBeCloseTo(side === 'convex' ? 10 : 3, 4);
      const truth = PI * (100 - 9) * 12;
      const { volumeMm3, volumeUncertaintyMm3, areaMm2, areaUncertaintyMm2 } = part.estimate;
      expect(part.massProperties.volumeMm3 / truth).toBeCloseTo(sin((2 * PI) / n) / ((2 * PI) / n), 6);
      expect(Math.abs(volumeMm3 - truth)).toBeLessThan(volumeUncertaintyMm3);
      expect(Math.abs(volumeMm3 / truth - 1)).toBeLessThan(2e-3);
      expect(Math.abs(areaMm2 - (2 * PI * 13 * 12 + 2 * PI * 91))).toBeLessThan(areaUncertaintyMm2);
    },
  );

  it('a chamfer at the rim of a shaft is a cone of 45 degrees', () => {
    const part = solid(
      turned(
        [
          [0, 0],
          [10, 0],
          [10, 18],
          [8, 20],
          [0, 20],
        ],
        40,
      ),
    );
    expect(kinds(part)).toEqual({ plane: 2, cylinder: 1, cone: 1 });
    expect((surfaces(part, 'cone')[0]!.halfAngleRad * 180) / PI).toBeCloseTo(45, 3);
  });

  it('a rounded rim is a quarter of a torus, not a stack of cones', () => {
    const round = Array.from(
      { length: 9 },
      (_, i) => [7 + 3 * cos((PI / 16) * i), 17 + 3 * sin((PI / 16) * i)] as const,
    );
    const part = solid(turned([[0, 0], [10, 0], ...round, [0, 20]], 48));
    expect(kinds(part)).toEqual({ plane: 2, cylinder: 1, torus: 1 });
    const [torus] = surfaces(part, 'torus');
    expect(torus!.minorRadiusMm).toBeCloseTo(3, 4);
    expect(torus!.majorRadiusMm).toBeCloseTo(7, 4);
  });

  it('a ball is one sphere', () => {
    const half = Array.from({ length: 25 }, (_, i) => [10 * sin((PI * i) / 24), -10 * cos((PI * i) / 24)] as const);
    const part = solid(turned(half, 48));
    expect(kinds(part)).toEqual({ sphere: 1 });
    expect(surfaces(part, 'sphere')[0]!.radiusMm).toBeCloseTo(10, 4);
  });

  it('a prism of eight sides is no cylinder', () => {
    expect(
      kinds(
        solid(
          turned(
            [
              [0, 0],
              [10, 0],
              [10, 5],
              [0, 5],
            ],
            8,
          ),
        ),
      ),
    ).toEqual({ plane: 10 });
  });

  it('coordinates rounded to three decimals are taken with that much uncertainty, which covers the radius', () => {
    const ring = turned(
      [
        [3, 0],
        [10, 0],
        [10, 12],
        [3, 12],
      ],
      48,
    );
    const rounded = { ...ring, positions: ring.positions.map((x) => Math.round(x * 1000) / 1000) };
    const part = solidOfMesh(fileOf(rounded), 'mm');
    expect(kinds(part)).toEqual({ plane: 2, cylinder: 2 });
    for (const { surface, uncertaintyMm } of part.faces)
      if (surface.kind === 'cylinder')
        expect(Math.abs(surface.radiusMm - (surface.side === 'convex' ? 10 : 3))).toBeLessThan(uncertaintyMm);
  });
});

describe('surfaces that are easily taken for others', () => {
  it('the flat end of a steep chamfer is not part of the chamfer, though its rim is', () => {
    // Half angle 60 degrees: the end looks 30 degrees away from the chamfer, as its neighbors in a coarse round do.
    const crown = [
      [0, 0],
      [11, 0],
      [11, 5],
      [11 - 1.5, 5 + 1.5 / Math.sqrt(3)],
      [0, 5 + 1.5 / Math.sqrt(3)],
    ] as const;
    const part = solid(turned(crown, 40));
    expect(kinds(part)).toEqual({ plane: 2, cylinder: 1, cone: 1 });
    const end = part.faces.find(({ surface }) => surface.kind === 'plane' && surface.normal[2] > 0.9);
    // A polygon of 40 corners on a circle of 9.5: area n r^2 sin(2 pi / n) / 2.
    expect(end!.areaMm2).toBeCloseTo(20 * 9.5 ** 2 * sin(PI / 20), 3);
  });

  // Corners of the flat lie on the circle, at +-acos(h / r): 2 acos(0.8) = 74 degrees wide, where the facets are 18 or 5.
  it.each([16, 60])('a flat on a shaft of %i strips is flat, and not one of the strips', (strips) => {
    const [r, h, long] = [10, 8, 30];
    const half = Math.acos(h / r);
    const ring = Array.from({ length: strips + 1 }, (_, i) => half + ((2 * PI - 2 * half) * i) / strips);
    const n = ring.length;
    const at = (z: number): number[] => ring.flatMap((angle) => [r * cos(angle), r * sin(angle), z]);
    const indices = ring.flatMap((_, i) => {
      const j = (i + 1) % n;
      return [i, j, n + j, i, n + j, n + i, 2 * n, j, i, 2 * n + 1, n + i, n + j];
    });
    const shaft = solid({
      positions: Float64Array.from([...at(0), ...at(long), 0, 0, 0, 0, 0, long]),
      indices: Uint32Array.from(indices),
    });
    expect(kinds(shaft)).toEqual({ cylinder: 1, plane: 3 });
    const flat = shaft.faces.find(({ surface }) => surface.kind === 'plane' && Math.abs(surface.normal[0]) > 0.99);
    expect(flat?.areaMm2).toBeCloseTo(2 * Math.sqrt(r * r - h * h) * long, 6);
    // The circle less a segment: r^2 (pi - half) + h sqrt(r^2 - h^2), to what the strips leave unsure.
    const volume = (r * r * (PI - half) + h * Math.sqrt(r * r - h * h)) * long;
    expect(Math.abs(shaft.estimate.volumeMm3 - volume)).toBeLessThan(shaft.estimate.volumeUncertaintyMm3);
  });

  it('a cylinder whose rims are cut at different places is one, though no facet runs along it', () => {
    // Half a step between the corners of both rims: every facet is a triangle that leans a little.
    const n = 24;
    const rim = (z: number, shift: number): number[][] =>
      Array.from({ length: n }, (_, i) => {
        const angle = (2 * PI * (i + shift)) / n;
        return [6 * cos(angle), 6 * sin(angle), z];
      });
    const corners = [...rim(0, 0), ...rim(40, 0.5), [0, 0, 0], [0, 0, 40]];
    const indices = Array.from({ length: n }, (_, i) => {
      const [a, b, c, d] = [i, (i + 1) % n, n + i, n + ((i + 1) % n)];
      return [a, b, c, b, d, c, b, a, 2 * n, c, d, 2 * n + 1];
    }).flat();
    const part = solid({ positions: Float64Array.from(corners.flat()), indices: Uint32Array.from(indices) });
    expect(kinds(part)).toEqual({ plane: 2, cylinder: 1 });
    expect(surfaces(part, 'cylinder')[0]!.radiusMm).toBeCloseTo(6, 4);
  });

  it('a small hole is found beside cones of hundreds of strips, and is no ball on the two circles of its rims', () => {
    const funnel = turned(
      [
        [20, 0],
        [30, 0],
        [22, 60],
        [12, 60],
      ],
      400,
    );
    const bush = turned(
      [
        [2.5, 70],
        [5, 70],
        [5, 76],
        [2.5, 76],
      ],
      60,
    );
    const part = solid(funnel, bush);
    expect(kinds(part)).toEqual({ plane: 4, cone: 2, cylinder: 2 });
    expect(
      surfaces(part, 'cylinder')
        .map(({ radiusMm }) => radiusMm)
        .sort((a, b) => a - b),
    ).toEqual([expect.closeTo(2.5, 4), expect.closeTo(5, 4)]);
  });

  it('a bore that goes on in a slender cone is a bore, also where its corners are rounded', () => {
    // The cone narrows by 10 degrees, less than two facets of a round differ.
    const throat = turned(
      [
        [20, 0],
        [26, 0],
        [26, 40],
        [25, 40],
        [20, 14],
      ],
      22,
    );
    const rounded = { ...throat, positions: throat.positions.map((x) => Math.round(x * 1000) / 1000) };
    const part = solidOfMesh(fileOf(rounded), 'mm');
    expect(kinds(part)).toEqual({ plane: 2, cylinder: 2, cone: 1 });
  });

  it('coordinates of six digits are as coarse as their largest numbers are', () => {
    // Small numbers keep five decimals, those above 10 only four: a radius found from both is sure to four.
    const eye = turned(
      [
        [9.525, 0],
        [15.875, 0],
        [15.875, 33.02],
        [9.525, 33.02],
      ],
      13,
    );
    const file = { ...eye, positions: eye.positions.map((x) => Number((x + 44.45).toPrecision(6))) };
    const part = solidOfMesh(fileOf(file), 'mm');
    expect(kinds(part)).toEqual({ plane: 2, cylinder: 2 });
    for (const { uncertaintyMm } of part.faces) expect(uncertaintyMm).toBeGreaterThan(2e-5);
  });
});

describe('formats', () => {
  const text = (mesh: Triangles): string => {
    const at = (t: number, k: number): string =>
      [0, 1, 2].map((j) => mesh.positions[3 * mesh.indices[t + k]! + j]!.toString()).join(' ');
    const facets = Array.from({ length: mesh.indices.length / 3 }, (_, t) =>
      [
        'facet normal 0 0 0',
        'outer loop',
        ...[0, 1, 2].map((k) => `vertex ${at(3 * t, k)}`),
        'endloop',
        'endfacet',
      ].join('\n'),
    );
    return `solid crate\n${facets.join('\n')}\nendsolid crate\n`;
  };

  it('ASCII STL is read like binary, with its name', () => {
    const file = readStl(strToU8(text(box(30, 20, 10))));
    expect(file.name).toBe('crate');
    expect(solidOfMesh(file, 'in').massProperties.volumeMm3).toBeCloseTo(6000 * 25.4 ** 3, 3);
  });

  it('OBJ faces of any number of corners are read, also concave ones and with indices from the end', () => {
    // A U-shaped prism: 6 x 4 less 2 x 3, 5 high; V = (24 - 6) 5.
    const outline = [
      [0, 0],
      [6, 0],
      [6, 4],
      [4, 4],
      [4, 1],
      [2, 1],
      [2, 4],
      [0, 4],
    ];
    const lines = [0, 5].flatMap((z) => outline.map(([x, y]) => `v ${x!} ${y!} ${z}`));
    const bottom = `f ${[8, 7, 6, 5, 4, 3, 2, 1].join(' ')}`;
    const top = `f ${[-8, -7, -6, -5, -4, -3, -2, -1].join(' ')}`;
    const sides = outline.map((_, i) => `f ${i + 1}//1 ${((i + 1) % 8) + 1}//1 ${((i + 1) % 8) + 9}//1 ${i + 9}//1`);
    const part = solidOfMesh(readObj([...lines, bottom, top, ...sides].join('\n')), 'mm');
    expect(part.massProperties.volumeMm3).toBeCloseTo(90, 9);
    expect(part.closed).toBe(true);
    expect(part.faces).toHaveLength(10);
  });

  it('3MF keeps its unit, its objects and their placements', () => {
    const file = read3mf(write3mf([box(10, 10, 10), box(2, 2, 2, [20, 0, 0])], 'pair'));
    expect(file.declaredUnit).toBe('mm');
    expect(file.name).toBe('pair');
    expect(solidOfMesh(file, 'mm').massProperties.volumeMm3).toBeCloseTo(1008, 9);
  });

  it('3MF components are placed, also mirrored, and their unit counts', () => {
    const { positions, indices } = box(1, 1, 1);
    const vertices = Array.from(
      { length: 8 },
      (_, i) => `<vertex x="${positions[3 * i]!}" y="${positions[3 * i + 1]!}" z="${positions[3 * i + 2]!}"/>`,
    );
    const triangles = Array.from(
      { length: 12 },
      (_, t) => `<triangle v1="${indices[3 * t]!}" v2="${indices[3 * t + 1]!}" v3="${indices[3 * t + 2]!}"/>`,
    );
    const model = `<?xml version="1.0"?><model unit="inch"><resources><object id="1"><mesh><vertices>${vertices.join('')}</vertices><triangles>${triangles.join('')}</triangles></mesh></object><object id="2"><components><component objectid="1" transform="-1 0 0 0 1 0 0 0 1 5 0 0"/></components></object></resources><build><item objectid="2"/><item objectid="1"/></build></model>`;
    const part = solidOfMesh(read3mf(zipSync({ '3D/3dmodel.model': strToU8(model) })), 'in');
    expect(part.bodies).toBe(2);
    expect(part.massProperties.volumeMm3).toBeCloseTo(2 * 25.4 ** 3, 6);
    expect(part.bounds.max[0]).toBeCloseTo(5 * 25.4, 9);
  });

  it.each([
    ['binary STL cut short', 'truncated-stl', () => readStl(writeStl(box(1, 1, 1)).slice(0, 300))],
    ['ASCII STL cut short', 'truncated-stl', () => readStl(strToU8(text(box(1, 1, 1)).slice(0, 300)))],
    [
      'STL with a decimal comma',
      'decimal-comma',
      () => readStl(strToU8(text(box(1, 1, 1)).replace('vertex 0 0 0', 'vertex 0,5 0 0'))),
    ],
    [
      'STL with a number that is none',
      'mesh-bad-number',
      () => readStl(strToU8(text(box(1, 1, 1)).replace('vertex 0 0 0', 'vertex nan 0 0'))),
    ],
    ['OBJ that names a vertex it has not', 'bad-index', () => readObj('v 0 0 0\nf 1 2 3')],
    ['OBJ without faces', 'empty-mesh', () => readObj('v 0 0 0')],
    ['3MF that is no package', 'damaged-3mf', () => read3mf(strToU8('PK\u0003\u0004 nothing'))],
    [
      '3MF with entities of its own',
      'damaged-3mf',
      () => read3mf(zipSync({ '3D/3dmodel.model': strToU8('<!DOCTYPE a [<!ENTITY b "c">]><model/>') })),
    ],
    [
      '3MF whose components contain each other',
      'damaged-3mf',
      () =>
        read3mf(
          zipSync({
            '3D/3dmodel.model': strToU8(
              '<model><resources><object id="1"><components><component objectid="1"/></components></object></resources><build><item objectid="1"/></build></model>',
            ),
          }),
        ),
    ],
    [
      '3MF that builds an object twice defined',
      'damaged-3mf',
      () => read3mf(packed('<model><resources><object id="1"/><object id="1"/></resources></model>')),
    ],
    [
      '3MF that needs an extension that is not read',
      'unknown-extension',
      () => read3mf(packed('<model requiredextensions="q" xmlns:q="urn:lattices"/>')),
    ],
    [
      '3MF whose model is said to lie outside',
      'damaged-3mf',
      () =>
        read3mf(
          zipSync({
            '_rels/.rels': strToU8(
              '<Relationships><Relationship Target="../../other.model" Type="a/3dmodel"/></Relationships>',
            ),
            '3D/3dmodel.model': strToU8('<model/>'),
          }),
        ),
    ],
    ['3MF with a wrong checksum', 'damaged-3mf', () => read3mf(withByte(write3mf([box(1, 1, 1)], 'p'), 'checksum'))],
    ['3MF behind a password', 'locked-3mf', () => read3mf(withByte(write3mf([box(1, 1, 1)], 'p'), 'password'))],
    ['3MF with elements nested without end', 'damaged-3mf', () => read3mf(packed('<a>'.repeat(5000)))],
    ['3MF full of nothing', 'damaged-3mf', () => read3mf(packed(`<model>${' '.repeat(40_000_000)}</model>`))],
    ['3MF full of elements that are none', 'damaged-3mf', () => read3mf(packed(`<model>${'<a/>'.repeat(60_000)}`))],
    [
      '3MF with too many triangles',
      'too-many-triangles',
      () => read3mf(packed(`<model><triangles>${'<triangle v1="0" v2="1" v3="2"/>'.repeat(400_001)}`)),
    ],
    ['a package of something else', 'not-3mf', () => read3mf(zipSync({ 'word/document.xml': strToU8('<a/>') }))],
  ])('%s is refused as %s', (_what, code, work) => {
    expect(codeOf(work)).toBe(code);
  });
});
