import { beforeAll, describe, expect, it } from 'vitest';

import { featuresOf, type FeatureKind, type FeatureOf } from '#core/feature';
import type { Contour, Kernel, Shape, WorkPlane } from '#core/kernel';
import { readStl, solidOfMesh, trianglesOf, writeStl } from '#core/mesh';
import { unwrap } from '#core/problem';
import { RECIPE_SOURCE, type Solid } from '#core/solid';
import type { Vec3 } from '#core/vector';
import { loadKernel } from '#runtime';

import { circle, polygon, rectangle, XY } from '../kernel/testing.ts';

const XZ: WorkPlane = { origin: [0, 0, 0], u: [1, 0, 0], v: [0, 0, 1], normal: [0, -1, 0] };

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const at = (z: number): WorkPlane => ({ ...XY, origin: [0, 0, z] });
const plate = (): Shape => kernel.extrude(XY, rectangle(0, 0, 60, 40), 0, 10);
const rod = (u: number, v: number, radius: number, from: number, to: number): Shape =>
  kernel.extrude(XY, circle(u, v, radius), from, to);
const turn = (contour: Contour): Shape => kernel.revolve(XZ, contour, { origin: [0, 0], direction: [0, 1] });
const analyze = (shape: Shape): Solid => unwrap(kernel.analyze(shape, RECIPE_SOURCE));

/** Features of a kind on the exact solid and on its triangles, which must agree. */
function both<K extends FeatureKind>(shape: Shape, kind: K): readonly FeatureOf<K>[] {
  const exact = analyze(shape);
  const facets = solidOfMesh(readStl(writeStl(trianglesOf(exact.mesh))), 'mm');
  const [found, again] = [featuresOf(exact, kind), featuresOf(facets, kind)];
  expect(again.length, 'as many on the triangles').toBe(found.length);
  return found;
}

describe('sizes of cones', () => {
  it('are exact, however coarse the polylines of their rims are', () => {
    // A shaft of 20 whose end is chamfered by 1.5 x 30 degrees.
    const axial = 1.5 * Math.tan(Math.PI / 6);
    const shaft = turn(polygon([0, 0], [8.5, 0], [10, axial], [10, 40], [0, 40]));
    const [chamfer] = featuresOf(analyze(shaft), 'chamfer');
    expect(chamfer?.sizesMm[0]).toBeCloseTo(1.5, 9);
    expect(chamfer?.sizesMm[1]).toBeCloseTo(axial, 9);
    const sunk = kernel.cut(plate(), [
      rod(30, 20, 2.5, -1, 11),
      kernel.revolve({ ...XZ, origin: [30, 20, 0] }, polygon([0, 10.001], [5.501, 10.001], [0, 4.5]), {
        origin: [0, 0],
        direction: [0, 1],
      }),
    ]);
    const [hole] = featuresOf(analyze(sunk), 'hole');
    // Where the cone of 90 degrees meets the top it is 11 wide.
    expect(hole?.countersink?.diameterMm).toBeCloseTo(11, 9);
  });
});

describe('holes', () => {
  it('through and blind are told apart, with depth and bottom', () => {
    const holes = both(kernel.cut(plate(), [rod(10, 10, 3, -1, 11), rod(30, 20, 4, 4, 11)]), 'hole');
    expect(holes.map(({ diameterMm, through, bottom }) => [diameterMm, through, bottom])).toEqual(
      expect.arrayContaining([
        [expect.closeTo(6, 6), true, 'open'],
        [expect.closeTo(8, 6), false, 'flat'],
      ]),
    );
    const blind = holes.find(({ through }) => !through)!;
    expect(blind.depthMm).toBeCloseTo(6, 6);
    expect(blind.direction[2]).toBeCloseTo(-1, 9);
    expect(blind.origin[2]).toBeCloseTo(10, 6);
  });

  it('a drill point closes a blind hole and is not counted into its depth', () => {
    const drill = turn(polygon([0, 1], [3, 4], [3, 12], [0, 12]));
    const [hole] = both(
      kernel.cut(
        kernel.moved(
          plate(),
          [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 1],
          ],
          [-30, -20, 0],
        ),
        [drill],
      ),
      'hole',
    );
    expect(hole).toMatchObject({ through: false, bottom: 'drill-point' });
    expect(hole!.depthMm).toBeCloseTo(6, 5);
  });

  it('a drill point that breaks into a cross hole is one all the same, and no countersink', () => {
    const centered = kernel.moved(
      plate(),
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ],
      [-30, -20, 0],
    );
    // Along X, from end to end, a little above the tip.
    const across = kernel.moved(
      rod(0, 0, 0.7, -40, 40),
      [
        [0, 0, 1],
        [0, 1, 0],
        [-1, 0, 0],
      ],
      [0, 0, 2],
    );
    const holes = featuresOf(
      analyze(kernel.cut(centered, [turn(polygon([0, 1], [3, 4], [3, 12], [0, 12])), across])),
      'hole',
    );
    const drilled = holes.find(({ diameterMm }) => Math.abs(diameterMm - 6) < 1e-6);
    expect(drilled).toMatchObject({ through: false, bottom: 'drill-point', countersink: null });
    expect(drilled?.depthMm).toBeCloseTo(6, 5);
  });

  it('counterbore and countersink are sizes of the hole', () => {
    const sunk = turn(polygon([0, -1], [3, -1], [3, 7], [6, 10], [6, 11], [0, 11]));
    const centered = (): Shape =>
      kernel.moved(
        plate(),
        [
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 1],
        ],
        [-30, -20, 0],
      );
    const [hole] = featuresOf(analyze(kernel.cut(centered(), [sunk])), 'hole');
    expect(hole!.countersink!.diameterMm).toBeCloseTo(12, 5);
    expect((hole!.countersink!.angleRad * 180) / Math.PI).toBeCloseTo(90, 6);
    const [bored] = both(kernel.cut(plate(), [rod(30, 20, 3, -1, 11), rod(30, 20, 6, 6, 11)]), 'hole');
    expect(bored!.counterbore).toEqual({ diameterMm: expect.closeTo(12, 6), depthMm: expect.closeTo(4, 6) });
  });

  it('cut open by an edge is still a hole, and says so', () => {
    const [hole] = both(kernel.cut(plate(), [rod(2, 20, 5, -1, 11)]), 'hole');
    expect(hole).toMatchObject({ broken: true, through: true });
    expect(hole!.diameterMm).toBeCloseTo(10, 5);
  });

  it('a cross hole that ends in another says so', () => {
    const side: WorkPlane = { origin: [30, 0, 5], u: [1, 0, 0], v: [0, 0, 1], normal: [0, 1, 0] };
    const shape = kernel.cut(plate(), [rod(30, 20, 4, -1, 11), kernel.extrude(side, circle(0, 0, 2), -1, 20)]);
    const holes = both(shape, 'hole');
    expect(holes).toHaveLength(2);
    expect(holes.find(({ diameterMm }) => Math.abs(diameterMm - 4) < 1e-4)).toMatchObject({ cross: true });
  });
});

it('a slotted hole has length over its round ends, width and depth', () => {
  const tool = kernel.fuse(kernel.extrude(XY, rectangle(20, 16, 40, 24), -1, 11), [
    rod(20, 20, 4, -1, 11),
    rod(40, 20, 4, -1, 11),
  ]);
  const [slot, ...more] = both(kernel.cut(plate(), [tool]), 'slotted-hole');
  expect(more).toEqual([]);
  expect(slot).toMatchObject({ lengthMm: expect.closeTo(28, 5), widthMm: expect.closeTo(8, 5), through: true });
});

it('boss, pocket, slot and step are told by how their walls stand', () => {
  const raised = kernel.fuse(plate(), [rod(15, 20, 6, 10, 18)]);
  const cut = kernel.cut(raised, [
    kernel.extrude(at(0), rectangle(30, 5, 40, 15), 7, 11),
    kernel.extrude(at(0), rectangle(44, -1, 48, 41), 5, 11),
    kernel.extrude(at(0), rectangle(55, -1, 61, 41), 4, 11),
  ]);
  const [boss] = both(cut, 'boss');
  expect(boss).toMatchObject({ diameterMm: expect.closeTo(12, 5), heightMm: expect.closeTo(8, 5) });
  const [pocket] = both(cut, 'pocket');
  expect(pocket).toMatchObject({ depthMm: expect.closeTo(3, 5), through: false });
  const [slot] = both(cut, 'slot');
  expect(slot).toMatchObject({ widthMm: expect.closeTo(4, 5), depthMm: expect.closeTo(5, 5) });
  expect(both(cut, 'step').map(({ depthMm }) => depthMm)).toEqual(expect.arrayContaining([expect.closeTo(6, 5)]));
});

it('a window without a floor is a through pocket', () => {
  const [pocket] = both(kernel.cut(plate(), [kernel.extrude(XY, rectangle(20, 10, 40, 30), -1, 11)]), 'pocket');
  expect(pocket).toMatchObject({ through: true, depthMm: expect.closeTo(10, 5) });
});

it('grooves in a shaft have the diameter of their floor, width and depth; the body is turned', () => {
  const shaft = turn(polygon([0, 0], [10, 0], [10, 12], [8, 12], [8, 15], [10, 15], [10, 30], [0, 30]));
  const [groove] = both(shaft, 'groove');
  expect(groove).toMatchObject({
    diameterMm: expect.closeTo(16, 5),
    widthMm: expect.closeTo(3, 5),
    depthMm: expect.closeTo(2, 5),
  });
  const [body] = both(shaft, 'turned-body');
  expect(Math.abs(body!.direction[2])).toBeCloseTo(1, 6);
});

it('rounds are fillets in chains, by side and radius', () => {
  const shape = kernel.fuse(plate(), [kernel.extrude(XY, rectangle(0, 0, 10, 40), 0, 30)]);
  const { edges } = kernel.tables(shape);
  const inner = edges.filter(({ convexity }) => convexity === 'concave').map(({ id }) => id);
  const [fillet, ...more] = both(kernel.fillet(shape, inner, 4), 'fillet');
  expect(more).toEqual([]);
  expect(fillet).toMatchObject({ side: 'concave', radiusMm: expect.closeTo(4, 5) });
  const block = plate();
  const all = kernel.tables(block).edges.map(({ id }) => id);
  const rounds = both(kernel.fillet(block, all, 2), 'fillet');
  expect(rounds).toHaveLength(1);
  expect(rounds[0]!.faceIds).toHaveLength(20);
});

it('an end that is round from side to side is a full round', () => {
  const rounded: Contour = {
    kind: 'path',
    start: [0, 0],
    segments: [
      { kind: 'line', to: [40, 0] },
      { kind: 'arc', through: [50, 10], to: [40, 20] },
      { kind: 'line', to: [0, 20] },
      { kind: 'line', to: [0, 0] },
    ],
  };
  const shape = kernel.extrude(XY, rounded, 0, 6);
  const [end, ...more] = both(shape, 'full-round');
  expect(more).toEqual([]);
  expect(end).toMatchObject({ side: 'convex', radiusMm: expect.closeTo(10, 4) });
  expect(both(shape, 'fillet')).toEqual([]);
});

it('a modeled thread is a zone with major diameter, pitch and length, not a heap of faces', () => {
  // Triangles of a V thread, root 8.5 and crest 10 in diameter, pitch 1.5, six turns: on the helix z = 1.5 a / 2 pi the
  // root runs, and the crest half a pitch above it.
  const [around, turns, pitch] = [48, 6, 1.5];
  const steps = around * turns;
  const helix = (radius: number, lift: number, count: number): number[] =>
    Array.from({ length: count }, (_, i) => {
      const angle = (2 * Math.PI * i) / around;
      return [radius * Math.cos(angle), radius * Math.sin(angle), (pitch * angle) / (2 * Math.PI) + lift];
    }).flat();
  const roots = helix(4.25, 0, steps + around);
  const crests = helix(5, pitch / 2, steps);
  const crest = (i: number): number => steps + around + i;
  const indices = Array.from({ length: steps - 1 }, (_, i) => [
    ...[i, i + 1, crest(i + 1), i, crest(i + 1), crest(i)],
    ...[crest(i), crest(i + 1), i + 1 + around, crest(i), i + 1 + around, i + around],
  ]).flat();
  const zone = { positions: Float64Array.from([...roots, ...crests]), indices: Uint32Array.from(indices) };
  // Below it the plain shank, which gives the axis.
  const shank = trianglesOf(kernel.displayMesh(rod(0, 0, 5, -20, -3)));
  const bolt = { format: 'stl', declaredUnit: null, name: null, program: null, parts: [zone, shank] } as const;
  const [thread, ...more] = featuresOf(solidOfMesh(bolt, 'mm'), 'thread');
  expect(more).toEqual([]);
  expect(thread!.majorDiameterMm).toBeCloseTo(10, 3);
  expect(thread!.pitchMm).toBeCloseTo(1.5, 3);
  expect(thread!.lengthMm).toBeCloseTo(pitch * (turns + 1), 0);
});

it('a chamfer says what it takes off each of its faces', () => {
  const chamfered = kernel.extrude(XZ, polygon([0, 0], [40, 0], [40, 16], [37, 20], [0, 20]), 0, 30);
  const [chamfer] = both(chamfered, 'chamfer');
  expect([...chamfer!.sizesMm].sort((a, b) => a - b)).toEqual([expect.closeTo(3, 4), expect.closeTo(4, 4)]);
  const rim = turn(polygon([0, 0], [10, 0], [10, 18], [9, 20], [0, 20]));
  const [onRim] = both(rim, 'chamfer');
  expect(onRim!.sizesMm[0]).toBeCloseTo(1, 3);
  expect(onRim!.sizesMm[1]).toBeCloseTo(2, 3);
});

it('a thin wall between two others is a rib', () => {
  const corner = kernel.fuse(plate(), [kernel.extrude(XY, rectangle(0, 0, 8, 40), 0, 40)]);
  const gusset: WorkPlane = { origin: [0, 18, 0], u: [1, 0, 0], v: [0, 0, 1], normal: [0, -1, 0] };
  const [rib] = both(kernel.fuse(corner, [kernel.extrude(gusset, polygon([8, 10], [40, 10], [8, 36]), 0, -4)]), 'rib');
  expect(rib!.thicknessMm).toBeCloseTo(4, 5);
});

describe('patterns', () => {
  const drilled = (places: readonly Vec3[]): Shape =>
    kernel.cut(
      kernel.extrude(XY, circle(0, 0, 40), 0, 8),
      places.map(([x, y, r]) => rod(x, y, r, -1, 9)),
    );
  const onCircle = (count: number, radius: number, skip: readonly number[] = []): Vec3[] =>
    Array.from({ length: count }, (_, i): Vec3 => {
      const angle = (2 * Math.PI * i) / count + 0.2;
      return [radius * Math.cos(angle), radius * Math.sin(angle), 3];
    }).filter((_, i) => !skip.includes(i));

  it('a bolt circle has diameter and count, and misses what is left out', () => {
    const [full] = both(drilled(onCircle(6, 28)), 'bolt-circle');
    expect(full).toMatchObject({ count: 6, positions: 6, missing: 0, diameterMm: expect.closeTo(56, 4) });
    const [gap] = both(drilled(onCircle(8, 28, [3])), 'bolt-circle');
    expect(gap).toMatchObject({ count: 7, positions: 8, missing: 1 });
  });

  it('a row has pitch and count', () => {
    const [row] = both(
      kernel.cut(
        plate(),
        [0, 1, 2, 3].map((i) => rod(9 + 12 * i, 14, 2, -1, 11)),
      ),
      'row',
    );
    expect(row).toMatchObject({ count: 4, pitchMm: expect.closeTo(12, 4) });
  });

  it('two holes on both sides of a plane of symmetry are twins', () => {
    expect(both(kernel.cut(plate(), [rod(12, 20, 3, -1, 11), rod(48, 20, 3, -1, 11)]), 'mirrored-twins')).toHaveLength(
      1,
    );
  });

  it('a hole off the middle leaves one plane of symmetry in the plan', () => {
    const planes = featuresOf(analyze(kernel.cut(plate(), [rod(12, 20, 3, -1, 11)])), 'symmetry-plane');
    expect(planes.map(({ normal }) => normal.map(Math.abs))).toEqual(
      [
        [0, 1, 0],
        [0, 0, 1],
      ].map((n) => n.map((x) => expect.closeTo(x, 9))),
    );
  });
});

it.each([11.8, 12, 12.2])(
  'a chamfer at a corner whose end slopes is one still, where %d of 20 are left of its edge there',
  (left) => {
    // In plan 60 x 40 with a corner of 6 x 6 taken off; the end slopes from (0, left) to (4, 20).
    const body = kernel.extrude(XY, polygon([6, 0], [60, 0], [60, 40], [0, 40], [0, 6]), 0, 20);
    const slope = kernel.extrude(
      { ...XZ, origin: [0, -1, 0] },
      polygon([-1, left - 2], [0, left], [4, 20], [4, 21], [-1, 21]),
      -42,
      0,
    );
    const chamfers = featuresOf(analyze(kernel.cut(body, [slope])), 'chamfer');
    expect(chamfers.map(({ sizesMm }) => sizesMm.map((size) => Number(size.toFixed(6))))).toContainEqual([6, 6]);
  },
);
