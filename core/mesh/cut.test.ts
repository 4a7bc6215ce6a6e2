/** Parts as programs cut them into triangles: turned ones at random, and rounded ones by the mesher of the kernel. */
import { beforeAll, describe, expect, it } from 'vitest';

import type { Contour, Kernel, Shape } from '#core/kernel';
import { readStl, solidOfMesh, trianglesOf, writeStl, type Triangles } from '#core/mesh';
import type { Edge, Solid, Surface } from '#core/solid';
import { seeded } from '#demo/corpus';
import { loadKernel } from '#runtime';

import { sampleOf } from '../../demo/exercises/testing.ts';
import { XY } from '../kernel/testing.ts';

const { PI, abs, cos, hypot, sin } = Math;

/** A surface in a few words, its sizes to a tenth. */
function inWords(surface: Surface): string {
  switch (surface.kind) {
    case 'plane':
    case 'freeform':
      return surface.kind;
    case 'cone':
      return `${surface.side} cone`;
    case 'cylinder':
    case 'sphere':
      return `${surface.side} ${surface.kind} ${surface.radiusMm.toFixed(1)}`;
    case 'torus':
      return `${surface.side} torus ${surface.majorRadiusMm.toFixed(1)} / ${surface.minorRadiusMm.toFixed(1)}`;
  }
}

const partOf = (mesh: Triangles): Solid => solidOfMesh(readStl(writeStl(mesh)), 'mm');

/** How often each surface is there. */
function counted(surfaces: readonly string[]): Readonly<Record<string, number>> {
  const counts: Record<string, number> = {};
  for (const surface of [...surfaces].sort()) counts[surface] = (counts[surface] ?? 0) + 1;
  return counts;
}
const surfacesOf = (mesh: Triangles) => counted(partOf(mesh).faces.map(({ surface }) => inWords(surface)));

interface Turned {
  /** Radius and height along the outline, outside upward and back down the bore. */
  readonly outline: readonly (readonly [number, number])[];
  /** Whether a point of the outline is cut like the one before it, as rows of one ring are. */
  readonly goesOn: readonly boolean[];
  readonly surfaces: readonly string[];
}

/** A bush of shoulders, tapers and perhaps a round at its end. */
function turnedAtRandom(random: () => number): Turned {
  const between = (least: number, most: number): number => least + Math.round(2 * (most - least) * random()) / 2;
  const bore = between(2, 6);
  let [r, z] = [bore + between(6, 12), 0];
  const outline: [number, number][] = [
    [bore, 0],
    [r, 0],
  ];
  const goesOn = [false, false];
  const surfaces = ['plane', `concave cylinder ${bore.toFixed(1)}`];
  const to = (radius: number, height: number, surface: string, on = false): void => {
    outline.push([radius, height]);
    goesOn.push(on);
    if (surface !== '') surfaces.push(surface);
    [r, z] = [radius, height];
  };
  const shoulders = 1 + Math.floor(3 * random());
  for (let i = 0; i < shoulders; i++) {
    to(r, z + between(3, 15), `convex cylinder ${r.toFixed(1)}`);
    if (random() < 0.4) to(r - between(1, 2), z + between(3, 12), 'convex cone');
    else to(r >= bore + 5 && random() < 0.5 ? r - between(1, 2) : r + between(1, 3), z, 'plane');
  }
  to(r, z + between(3, 8), `convex cylinder ${r.toFixed(1)}`);
  if (random() < 0.5) {
    const round = between(1, Math.min(3, r - bore - 1));
    const rows = 4 + Math.floor(8 * random());
    const [middle, foot] = [r - round, z];
    for (let i = 1; i <= rows; i++) {
      const angle = (PI * i) / (2 * rows);
      const name = i === 1 ? `convex torus ${middle.toFixed(1)} / ${round.toFixed(1)}` : '';
      to(middle + round * cos(angle), foot + round * sin(angle), name, true);
    }
  }
  to(bore, z, 'plane');
  return { outline, goesOn, surfaces };
}

/** Cuts a turned part into `steps` around; where rims are cut at different places, facets lean. */
function cut({ outline, goesOn }: Turned, steps: number, shiftOf: () => number): Triangles {
  let shift = shiftOf();
  const positions = outline.flatMap(([r, z], row) => {
    if (goesOn[row] !== true) shift = shiftOf();
    return Array.from({ length: steps }, (_, i) => {
      const angle = (2 * PI * (i + shift)) / steps;
      return [r * cos(angle), r * sin(angle), z];
    }).flat();
  });
  const indices = outline.flatMap((_, row) => {
    const next = (row + 1) % outline.length;
    return Array.from({ length: steps }, (__, i) => {
      const [a, b] = [row * steps + i, row * steps + ((i + 1) % steps)];
      const [c, d] = [next * steps + i, next * steps + ((i + 1) % steps)];
      return [a, b, d, a, d, c];
    }).flat();
  });
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) };
}

/** Laid askew in space. */
function askew({ positions, indices }: Triangles, a: number, b: number): Triangles {
  const moved = positions.slice();
  for (let i = 0; i < moved.length; i += 3) {
    const [x = 0, y = 0, z = 0] = positions.subarray(i, i + 3);
    const [u, v] = [x * cos(a) - y * sin(a), x * sin(a) + y * cos(a)];
    moved.set([u + 12.3, v * cos(b) - z * sin(b), v * sin(b) + z * cos(b) - 4], i);
  }
  return { positions: moved, indices };
}

const WAYS = {
  'as it is': (mesh: Triangles) => mesh,
  'laid askew': (mesh: Triangles) => askew(mesh, 0.7, 1.9),
  'printed to four decimals': ({ positions, indices }: Triangles) => ({
    positions: positions.map((x) => Number(x.toFixed(4))),
    indices,
  }),
  'printed to six digits': ({ positions, indices }: Triangles) => ({
    positions: positions.map((x) => Number(x.toPrecision(6))),
    indices,
  }),
} as const;

const SEEDS = Array.from({ length: 25 }, (_, i) => i + 1);

describe.each(Object.entries(WAYS))('of bushes at random, %s,', (_name, way) => {
  const missed = (leans: boolean): string[] =>
    sampleOf(SEEDS, 10).flatMap((seed) => {
      const random = seeded(7919 * seed);
      const bush = turnedAtRandom(random);
      const steps = 20 + Math.floor(50 * random());
      const found = surfacesOf(way(cut(bush, steps, leans ? random : () => 0)));
      const wanted = counted(bush.surfaces);
      return JSON.stringify(found) === JSON.stringify(wanted)
        ? []
        : [`seed ${String(seed)}: ${JSON.stringify(found)} for ${JSON.stringify(wanted)}`];
    });

  it('all surfaces are found, and no other', () => {
    expect(missed(false)).toEqual([]);
  });

  it('all are found where every rim is cut at other places', () => {
    expect(missed(true)).toEqual([]);
  });
});

describe('rounded parts, cut by a mesher,', () => {
  let kernel: Kernel;
  beforeAll(async () => {
    kernel = await loadKernel();
  });
  const block = (w: number, d: number, h: number): Shape => {
    const [x, y] = [w / 2, d / 2];
    const corners = [
      [x, -y],
      [x, y],
      [-x, y],
      [-x, -y],
    ] as const;
    const outline: Contour = {
      kind: 'path',
      start: [-x, -y],
      segments: corners.map((to) => ({ kind: 'line', to })),
    };
    return kernel.extrude(XY, outline, 0, h);
  };
  const rod = (radiusMm: number, h: number, from = 0): Shape =>
    kernel.extrude(XY, { kind: 'circle', center: [0, 0], radiusMm }, from, h);
  const rounded = (body: Shape, radiusMm: number, which: (edge: Edge) => boolean): Shape =>
    kernel.fillet(
      body,
      kernel
        .tables(body)
        .edges.filter(which)
        .map(({ id }) => id),
      radiusMm,
    );
  const isUpright = ({ start, end }: Edge): boolean => hypot(start[0] - end[0], start[1] - end[1]) < 1e-6;
  const isAt =
    (z: number) =>
    ({ start, end }: Edge): boolean =>
      abs(start[2] - z) < 1e-6 && abs(end[2] - z) < 1e-6;
  const isRimAt =
    (z: number, radius: number) =>
    (edge: Edge): boolean =>
      isAt(z)(edge) && edge.curve === 'circle' && abs(hypot(edge.start[0], edge.start[1]) - radius) < 1e-6;

  const PARTS: Readonly<Record<string, { build: () => Shape; surfaces: Readonly<Record<string, number>> }>> = {
    // Every edge rounded: 12 quarters of a cylinder, and an eighth of a ball at each of the 8 corners.
    'a block with all edges rounded': {
      build: () => rounded(block(60, 40, 20), 3, () => true),
      surfaces: { 'convex cylinder 3.0': 12, 'convex sphere 3.0': 8, plane: 6 },
    },
    // Round corners of 8 with a round of 2 along the top: at the corners a ring of 8 - 2.
    'a plate with round corners and a rounded top': {
      build: () => rounded(rounded(block(70, 50, 12), 8, isUpright), 2, isAt(12)),
      surfaces: {
        'convex cylinder 2.0': 4,
        'convex cylinder 8.0': 4,
        'convex torus 6.0 / 2.0': 4,
        plane: 6,
      },
    },
    // A boss of 10: the round at its foot is a ring of 10 + 3, that at its rim one of 10 - 2.
    'a boss with rounds at foot and rim, bored': {
      build: () => {
        const boss = kernel.fuse(block(70, 50, 10), [rod(10, 30)]);
        const foot = rounded(boss, 3, isRimAt(10, 10));
        return kernel.cut(rounded(foot, 2, isRimAt(30, 10)), [rod(5, 40, -1)]);
      },
      surfaces: {
        'concave cylinder 5.0': 1,
        'concave torus 13.0 / 3.0': 1,
        'convex cylinder 10.0': 1,
        'convex torus 8.0 / 2.0': 1,
        plane: 7,
      },
    },
  };

  it.each(Object.keys(PARTS))('%s', (name) => {
    const { build, surfaces } = PARTS[name]!;
    const part = build();
    for (const [toleranceMm, angleRad] of [
      [0.01, 0.1],
      [0.05, 0.3],
      [0.1, 0.5],
    ] as const) {
      const mesh = trianglesOf(kernel.displayMesh(part, { toleranceMm, angleRad }));
      expect(surfacesOf(mesh), `to ${String(toleranceMm)} mm`).toEqual(surfaces);
    }
    part.free();
  });
});
