import { beforeAll, describe, expect, it } from 'vitest';

import type { Contour, Kernel, Shape } from '#core/kernel';
import { read3mf, readStl, solidOfMesh, trianglesOf, writeStl } from '#core/mesh';
import { overlayFile, summarize, type Overlayer, type OverlayPiece } from '#core/overlay';
import { unwrap } from '#core/problem';
import { RECIPE_SOURCE, type Solid } from '#core/solid';
import { AS_MODELED, cross, dot, IDENTITY, pointAt, type Vec3 } from '#core/vector';
import { loadKernel, loadOverlayer } from '#runtime';

import { circle, rectangle, XY } from '../kernel/testing.ts';

let kernel: Kernel;
let overlayer: Overlayer;
beforeAll(async () => {
  kernel = await loadKernel();
  overlayer = await loadOverlayer();
});

const block = (a: number, b: number, c: number): Shape => kernel.extrude(XY, rectangle(0, 0, a, b), 0, c);
const rod = (u: number, v: number, radius: number): Shape => kernel.extrude(XY, circle(u, v, radius), -1, 11);
const drilled = (...holes: readonly (readonly [number, number, number])[]): Shape =>
  holes.length === 0
    ? block(60, 40, 10)
    : kernel.cut(
        block(60, 40, 10),
        holes.map(([u, v, r]) => rod(u, v, r)),
      );
const analyze = (shape: Shape): Solid => unwrap(kernel.analyze(shape, RECIPE_SOURCE));
const asStl = (shape: Shape, toleranceMm: number, angleRad: number): Solid =>
  solidOfMesh(readStl(writeStl(trianglesOf(kernel.displayMesh(shape, { toleranceMm, angleRad })))), 'mm');

/** Volume that triangles enclose, mm³: a sixth of the sum of a · (b x c), negative where they are inside out. */
function signedVolumeOf({ positions, indices }: OverlayPiece): number {
  let sum = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => pointAt(positions, indices[i + k]!)) as [Vec3, Vec3, Vec3];
    sum += dot(a, cross(b, c)) / 6;
  }
  return sum;
}

describe('a right part has no overlay', () => {
  it.each([
    [0.01, 0.1],
    [0.05, 0.3],
    [0.3, 0.6],
  ])('at a tessellation of %d mm and %d rad', (toleranceMm, angleRad) => {
    const overlay = unwrap(
      overlayer.compare(analyze(drilled([15, 20, 6])), asStl(drilled([15, 20, 6]), toleranceMm, angleRad), AS_MODELED),
    );
    expect(overlay).toEqual({ missingMm3: 0, extraMm3: 0, pieces: [] });
  });

  it('when it was moved, once it is laid onto the reference', () => {
    const moved = analyze(kernel.moved(drilled([15, 20, 6]), IDENTITY, [5, 6, 7]));
    const back = { ...AS_MODELED, translation: [-5, -6, -7] as const };
    expect(unwrap(overlayer.compare(analyze(drilled([15, 20, 6])), moved, back))).toEqual({
      missingMm3: 0,
      extraMm3: 0,
      pieces: [],
    });
  });

  it('with walls that are no surface of a formula, whose triangles lie off them', () => {
    // From a square of 20 to a circle of 20 across, 15 up: its walls have no shape to measure distances from.
    const adapter = (): Shape => {
      const [half, corner] = [10, 10 * Math.SQRT1_2];
      const square: Contour = {
        kind: 'path',
        start: [half, half],
        segments: [
          { kind: 'line', to: [-half, half] },
          { kind: 'line', to: [-half, -half] },
          { kind: 'line', to: [half, -half] },
          { kind: 'line', to: [half, half] },
        ],
      };
      const round: Contour = {
        kind: 'path',
        start: [corner, corner],
        segments: [
          { kind: 'arc', through: [0, 10], to: [-corner, corner] },
          { kind: 'arc', through: [-10, 0], to: [-corner, -corner] },
          { kind: 'arc', through: [0, -10], to: [corner, -corner] },
          { kind: 'arc', through: [10, 0], to: [corner, corner] },
        ],
      };
      return kernel.loft({ plane: XY, contour: square }, { plane: { ...XY, origin: [0, 0, 15] }, contour: round });
    };
    expect(unwrap(overlayer.compare(analyze(adapter()), asStl(adapter(), 0.05, 0.2), AS_MODELED)).pieces).toEqual([]);
  });
});

describe('what differs is shown with its volume, its place and its faces', () => {
  it('a forgotten hole is extra material, as large as the hole', () => {
    const overlay = unwrap(overlayer.compare(analyze(drilled([15, 20, 6])), analyze(drilled()), AS_MODELED));
    expect(overlay.missingMm3).toBe(0);
    expect(overlay.pieces).toHaveLength(1);
    // Facets make the plug a little smaller than pi 6^2 10.
    expect(overlay.extraMm3 / (Math.PI * 360)).toBeCloseTo(1, 2);
    expect(overlay.pieces[0]!.centerMm[0]).toBeCloseTo(15, 2);
    expect(overlay.pieces[0]!.centerMm[2]).toBeCloseTo(5, 2);
    const wall = analyze(drilled([15, 20, 6])).faces.find(({ surface }) => surface.kind === 'cylinder')!.id;
    expect(overlay.pieces[0]!.referenceFaceIds).toContain(wall);
  });

  it('pieces come largest first, each within the box that it fills', () => {
    const overlay = unwrap(
      overlayer.compare(analyze(drilled([15, 20, 3], [40, 20, 6])), analyze(drilled()), AS_MODELED),
    );
    const [large, small] = overlay.pieces;
    // Plugs of radius 6 at (40, 20) and of radius 3 at (15, 20), as high as the plate; facets lie a little inside.
    expect(large!.volumeMm3 / (Math.PI * 360)).toBeCloseTo(1, 2);
    expect(small!.volumeMm3 / (Math.PI * 90)).toBeCloseTo(1, 1);
    const corners = [...large!.bounds.min, ...large!.bounds.max];
    [34, 14, 0, 46, 26, 10].forEach((wanted, i) => {
      expect(Math.abs(corners[i]! - wanted)).toBeLessThan(0.1);
    });
    expect([...small!.bounds.min, ...small!.bounds.max][0]).toBeCloseTo(12, 0);
    expect(overlay.extraMm3).toBeCloseTo(large!.volumeMm3 + small!.volumeMm3, 6);
  });

  it('no more than a dozen are told in words, though the sums are of all', () => {
    const places = Array.from({ length: 14 }, (_, i): readonly [number, number, number] => [
      5 + 8 * (i % 7),
      i < 7 ? 10 : 30,
      2,
    ]);
    const overlay = unwrap(overlayer.compare(analyze(drilled(...places)), analyze(drilled()), AS_MODELED));
    expect(overlay.pieces).toHaveLength(14);
    const told = summarize(overlay);
    expect(told.pieces).toHaveLength(12);
    expect(told.extraMm3).toBe(overlay.extraMm3);
    expect(told.pieces[0]).toEqual({
      kind: 'extra',
      volumeMm3: overlay.pieces[0]!.volumeMm3,
      centerMm: overlay.pieces[0]!.centerMm,
    });
  });

  it('what facets of the same round leave between them is nothing, what is thicker is something', () => {
    // Facets of 0.05 against fine ones: rings of up to 0.05 between them are no difference; a bore 0.2 larger is one.
    const rough = (radius: number): Solid => asStl(drilled([15, 20, radius]), 0.05, 1);
    const exact = analyze(drilled([15, 20, 6]));
    expect(unwrap(overlayer.compare(exact, rough(6), AS_MODELED)).pieces).toEqual([]);
    const larger = unwrap(overlayer.compare(exact, rough(6.2), AS_MODELED));
    expect(larger.pieces.map(({ kind }) => kind)).toContain('missing');
    expect(larger.missingMm3 / (Math.PI * (6.2 ** 2 - 36) * 10)).toBeGreaterThan(0.7);
  });

  it('a plate that is too thin misses a slab', () => {
    const overlay = unwrap(overlayer.compare(analyze(block(60, 40, 10)), analyze(block(60, 40, 9.5)), AS_MODELED));
    expect(overlay.missingMm3).toBeCloseTo(60 * 40 * 0.5, 3);
    expect(overlay.pieces.map(({ kind }) => kind)).toEqual(['missing']);
  });

  it('a hole in the wrong place is missing there and extra where it should be', () => {
    const overlay = unwrap(overlayer.compare(analyze(drilled([15, 20, 4])), analyze(drilled([45, 20, 4])), AS_MODELED));
    const x = (kind: string): number => overlay.pieces.find((piece) => piece.kind === kind)!.centerMm[0];
    expect(x('missing')).toBeCloseTo(45, 2);
    expect(x('extra')).toBeCloseTo(15, 2);
  });

  it('a hole a tenth of a millimeter too large is a thin ring', () => {
    const overlay = unwrap(
      overlayer.compare(analyze(drilled([15, 20, 6])), analyze(drilled([15, 20, 6.1])), AS_MODELED),
    );
    expect(overlay.missingMm3 / (Math.PI * (6.1 ** 2 - 36) * 10)).toBeCloseTo(1, 1);
    expect(overlay.extraMm3).toBe(0);
  });

  it('two bores that changed places, though every area and the volume stay what they were', () => {
    const overlay = unwrap(
      overlayer.compare(
        analyze(drilled([15, 20, 4], [45, 20, 6])),
        analyze(drilled([15, 20, 6], [45, 20, 4])),
        AS_MODELED,
      ),
    );
    // A ring of 6 - 4 mm is missing at x = 15 and extra at x = 45: pi (36 - 16) 10.
    expect(overlay.pieces.map(({ kind, centerMm }) => [kind, Math.round(centerMm[0])]).sort()).toEqual([
      ['extra', 45],
      ['missing', 15],
    ]);
    for (const { volumeMm3 } of overlay.pieces) expect(volumeMm3 / (Math.PI * 200)).toBeCloseTo(1, 1);
  });

  it('a square opening that was turned about its own middle differs at its eight corners', () => {
    const opening = (turnRad: number): Shape => {
      const corner = (k: number): readonly [number, number] => [
        30 + 10 * Math.cos(turnRad + (k * Math.PI) / 2),
        20 + 10 * Math.sin(turnRad + (k * Math.PI) / 2),
      ];
      const tool: Contour = {
        kind: 'path',
        start: corner(0),
        segments: [1, 2, 3, 4].map((k) => ({ kind: 'line', to: corner(k) })),
      };
      return kernel.cut(block(60, 40, 10), [kernel.extrude(XY, tool, -1, 11)]);
    };
    const overlay = unwrap(overlayer.compare(analyze(opening(0)), analyze(opening(Math.PI / 4)), AS_MODELED));
    // Two squares with half diagonals of 10 share a regular octagon with the apothem s = 10 / sqrt(2): 8 s^2 tan(pi / 8).
    const corners = (200 - 8 * 50 * Math.tan(Math.PI / 8)) * 10;
    expect(overlay.pieces).toHaveLength(8);
    expect(overlay.missingMm3).toBeCloseTo(corners, 2);
    expect(overlay.extraMm3).toBeCloseTo(corners, 2);
  });

  it('a hole half a hundredth too large, though its facets are farther off than that', () => {
    const overlay = unwrap(
      overlayer.compare(analyze(drilled([15, 20, 6])), analyze(drilled([15, 20, 6.005])), AS_MODELED),
    );
    // pi (6.005^2 - 6^2) 10, between facets of both.
    expect(overlay.missingMm3 / (Math.PI * (6.005 ** 2 - 36) * 10)).toBeCloseTo(1, 1);
    expect(overlay.extraMm3).toBe(0);
  });

  it('a body too many is extra as a whole', () => {
    const meshes = [block(10, 10, 10), kernel.moved(block(10, 10, 10), IDENTITY, [30, 0, 0])].map((shape) =>
      trianglesOf(kernel.displayMesh(shape)),
    );
    const two = solidOfMesh({ format: 'stl', declaredUnit: null, name: null, program: null, parts: meshes }, 'mm');
    const overlay = unwrap(overlayer.compare(analyze(block(10, 10, 10)), two, AS_MODELED));
    expect(overlay.pieces.map(({ kind }) => kind)).toEqual(['extra']);
    expect(overlay.extraMm3).toBeCloseTo(1000, 6);
    expect(overlay.pieces[0]!.centerMm[0]).toBeCloseTo(35, 6);
  });

  it('pieces know their faces, also where triangles of the model have no area', () => {
    const right = analyze(drilled([15, 20, 6]));
    const { positions, indices, groups } = right.mesh;
    // One more triangle at the very beginning, two of whose corners are one point.
    const [a = 0, b = 0] = indices;
    const flat = [a, a, b];
    const slivered: Solid = {
      ...right,
      mesh: {
        ...right.mesh,
        positions,
        indices: [...flat, ...indices],
        groups: groups.map((group, i) =>
          i === 0 ? { ...group, count: group.count + 3 } : { ...group, start: group.start + 3 },
        ),
      },
    };
    const bored = unwrap(overlayer.compare(analyze(block(60, 40, 10)), slivered, AS_MODELED));
    const wall = right.faces.find(({ surface }) => surface.kind === 'cylinder')!.id;
    const ends = right.faces.filter(({ surface }) => surface.kind === 'plane' && Math.abs(surface.normal[2]) > 0.9);
    expect(bored.pieces).toHaveLength(1);
    expect(bored.pieces[0]!.submissionFaceIds).toContain(wall);
    for (const id of bored.pieces[0]!.submissionFaceIds) expect([wall, ...ends.map((face) => face.id)]).toContain(id);
  });

  it('a part of the other hand is laid onto the reference: only what differs besides is left, right side out', () => {
    const mirror = [
      [1, 0, 0],
      [0, -1, 0],
      [0, 0, 1],
    ] as const;
    const other = analyze(kernel.moved(drilled([15, 12, 4], [45, 28, 5]), mirror, [0, 40, 0]));
    const back = { rotation: mirror, scale: 1, translation: [0, 40, 0] } as const;
    expect(unwrap(overlayer.compare(analyze(drilled([15, 12, 4], [45, 28, 5])), other, back)).pieces).toEqual([]);

    const overlay = unwrap(overlayer.compare(analyze(drilled([15, 12, 4])), other, back));
    expect(overlay.extraMm3).toBe(0);
    expect(overlay.missingMm3 / (Math.PI * 250)).toBeCloseTo(1, 1);
    // In the file that was handed in, the bore that should not be there is at y = 40 - 28.
    expect(overlay.pieces[0]!.centerMm[0]).toBeCloseTo(45, 2);
    expect(overlay.pieces[0]!.centerMm[1]).toBeCloseTo(12, 2);
    for (const piece of overlay.pieces) expect(signedVolumeOf(piece)).toBeCloseTo(piece.volumeMm3, 3);
  });

  it('every piece is closed and its triangles run counterclockwise seen from outside', () => {
    const overlay = unwrap(
      overlayer.compare(analyze(drilled([15, 20, 4])), analyze(drilled([45, 20, 4], [10, 10, 2])), AS_MODELED),
    );
    expect(overlay.pieces.map(({ kind }) => kind).sort()).toEqual(['extra', 'missing', 'missing']);
    for (const piece of overlay.pieces) {
      expect(signedVolumeOf(piece)).toBeCloseTo(piece.volumeMm3, 3);
      expect(piece.volumeMm3).toBeGreaterThan(0);
    }
  });

  it('and as a file that reads again', () => {
    const overlay = unwrap(overlayer.compare(analyze(block(60, 40, 10)), analyze(block(60, 40, 9.5)), AS_MODELED));
    const solid = solidOfMesh(read3mf(overlayFile(overlay, 'difference')), 'mm');
    expect(solid.massProperties.volumeMm3).toBeCloseTo(1200, 3);
  });
});

it('bodies that overlap share a volume, bodies apart none', () => {
  const stl = (...shapes: readonly Shape[]): Solid => {
    const meshes = shapes.map((shape) => trianglesOf(kernel.displayMesh(shape)));
    return solidOfMesh({ format: 'stl', declaredUnit: null, name: null, program: null, parts: meshes }, 'mm');
  };
  const beside = kernel.moved(block(10, 10, 10), IDENTITY, [30, 0, 0]);
  const across = kernel.moved(block(10, 10, 10), IDENTITY, [6, 5, 3]);
  expect(unwrap(overlayer.sharedVolume(stl(block(10, 10, 10), beside)))).toBeCloseTo(0, 6);
  expect(unwrap(overlayer.sharedVolume(stl(block(10, 10, 10), across)))).toBeCloseTo(4 * 5 * 7, 3);
});

it('a model that is not closed is refused with a sentence', () => {
  const open = analyze(block(10, 10, 10));
  const torn = { ...open, mesh: { ...open.mesh, groups: open.mesh.groups.slice(1) } };
  const refused = overlayer.compare(open, torn, AS_MODELED);
  expect(refused.ok ? '' : refused.problem.code).toBe('overlay-not-closed');
});

it('models with more triangles together than can be compared in good time are refused', () => {
  const small = analyze(block(10, 10, 10));
  /** The same part, said to have so many triangles. */
  const said = (triangles: number): Solid => {
    const indices = Array.from({ length: 3 * triangles }, (_, i) => small.mesh.indices[i] ?? 0);
    return { ...small, mesh: { ...small.mesh, indices } };
  };
  // A block has 12.
  expect(small.mesh.indices.length / 3).toBe(12);
  const codeOf = (triangles: number): string => {
    const compared = overlayer.compare(small, said(triangles), AS_MODELED);
    return compared.ok ? 'compared' : compared.problem.code;
  };
  expect(codeOf(60_000 - 12)).toBe('compared');
  expect(codeOf(60_000 - 11)).toBe('overlay-too-large');
});
