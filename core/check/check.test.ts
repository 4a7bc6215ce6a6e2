import { beforeAll, describe, expect, it } from 'vitest';

import { alignFrames, matchFaces } from '#core/check';
import { findHoles } from '#core/feature';
import type { Contour, Kernel, Shape } from '#core/kernel';
import type { Solid } from '#core/solid';
import { AXIS_ROTATIONS, IDENTITY, type Mat3, type Vec3 } from '#core/vector';
import { loadKernel } from '#runtime';

import { circle, XY } from '../kernel/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** An unsymmetric plate 80 x 50 x 12, scaled by `size`, with the given holes (u, v, radius, depth from the top). */
function plate(holes: readonly (readonly [number, number, number, number?])[], size = 1): Shape {
  const corner = (u: number, v: number) => ({ kind: 'line', to: [u * size, v * size] }) as const;
  const outline: Contour = {
    kind: 'path',
    start: [0, 0],
    segments: [corner(80, 0), corner(80, 30), corner(60, 50), corner(0, 50), corner(0, 0)],
  };
  const body = kernel.extrude(XY, outline, 0, 12 * size);
  if (holes.length === 0) return body;
  const tools = holes.map(([u, v, r, depth]) =>
    kernel.extrude(XY, circle(u * size, v * size, r * size), depth === undefined ? -1 : (12 - depth) * size, 13 * size),
  );
  const drilled = kernel.cut(body, tools);
  for (const shape of [body, ...tools]) shape.free();
  return drilled;
}

function analyzed(shape: Shape): Solid {
  const solid = kernel.analyze(shape, {
    format: 'step',
    declaredUnit: 'mm',
    productName: null,
    originatingSystem: null,
  });
  shape.free();
  if (!solid.ok) throw new Error(solid.problem.message);
  return solid.value;
}

const HOLES = [
  [12, 12, 4],
  [40, 12, 4],
  [12, 38, 4],
  [40, 38, 4],
] as const;

describe('how a submission lies', () => {
  it('as modeled, also when a hole is wrong', () => {
    const frame = alignFrames(analyzed(plate(HOLES)), analyzed(plate([...HOLES.slice(1), [12, 12, 2]])));
    expect(frame.kind).toBe('as-modeled');
  });

  it('moved: the shift is found exactly', () => {
    const reference = analyzed(plate(HOLES));
    const shape = plate(HOLES);
    const shifted = kernel.moved(shape, IDENTITY, [5, -7.25, 3]);
    shape.free();
    const frame = alignFrames(reference, analyzed(shifted));
    expect(frame.kind).toBe('moved');
    [-5, 7.25, -3].forEach((x, i) => {
      expect(frame.placement.translation[i]).toBeCloseTo(x, 6);
    });
    expect(frame.agreement).toBeCloseTo(1, 3);
  });

  it.each([1, 5, 9, 14, 20])('turned by axis rotation %i: found, with the shift', (index) => {
    const rotation = AXIS_ROTATIONS[index]!;
    const shape = plate(HOLES);
    const turned = kernel.moved(shape, rotation, [10, 20, -30]);
    shape.free();
    const frame = alignFrames(analyzed(plate(HOLES)), analyzed(turned));
    expect(frame.kind).toBe('turned');
    expect(frame.agreement).toBeCloseTo(1, 3);
  });

  it.each([25.4, 1 / 25.4, 10, 0.001])('made %d times the size: a wrong unit', (factor) => {
    const frame = alignFrames(analyzed(plate(HOLES)), analyzed(plate(HOLES, factor)));
    expect(frame.kind).toBe('scaled');
    expect(frame.placement.scale).toBeCloseTo(1 / factor, 9);
  });

  it('a part one size too long is not called moved or scaled', () => {
    const long = kernel.extrude(XY, circle(0, 0, 20), 0, 55);
    const right = kernel.extrude(XY, circle(0, 0, 20), 0, 50);
    expect(alignFrames(analyzed(right), analyzed(long)).kind).toBe('as-modeled');
  });
});

describe('partners of faces', () => {
  const wallsOf = (solid: Solid): ReadonlyMap<string, number> =>
    new Map(
      findHoles(solid).map((hole) => [
        hole.origin
          .slice(0, 2)
          .map((x) => x.toFixed(1))
          .join(),
        hole.faceIds[0] ?? -1,
      ]),
    );
  const partnerOf = (reference: Solid, submission: Solid, at: string): number | null => {
    const frame = alignFrames(reference, submission);
    return matchFaces(reference, submission, frame).get(wallsOf(reference).get(at) ?? -1)?.face.id ?? null;
  };

  it('a hole of the wrong size in the right place is still that hole', () => {
    const submission = analyzed(plate([...HOLES.slice(0, 3), [40, 38, 8]]));
    expect(partnerOf(analyzed(plate(HOLES)), submission, '40.0,38.0')).toBe(wallsOf(submission).get('40.0,38.0'));
  });

  it('a hole of the right size in the wrong place is still that hole', () => {
    const submission = analyzed(plate([...HOLES.slice(0, 3), [48, 30, 4]]));
    expect(partnerOf(analyzed(plate(HOLES)), submission, '40.0,38.0')).toBe(wallsOf(submission).get('48.0,30.0'));
  });

  it('of four equal holes, the one that was forgotten is the one without a partner', () => {
    const submission = analyzed(plate([HOLES[0], HOLES[1], HOLES[3]]));
    const reference = analyzed(plate(HOLES));
    expect(partnerOf(reference, submission, '12.0,38.0')).toBeNull();
    for (const at of ['12.0,12.0', '40.0,12.0', '40.0,38.0'])
      expect(partnerOf(reference, submission, at)).toBe(wallsOf(submission).get(at));
  });
});

describe('holes', () => {
  it('are told apart: through, blind, and the recess of a counterbore belongs to its hole', () => {
    const drilled = plate([
      [12, 12, 4],
      [40, 12, 3, 7],
      [30, 38, 4],
      [30, 38, 8, 5],
    ]);
    const found = findHoles(analyzed(drilled)).map(({ diameterMm, depthMm, through, counterbore }) => ({
      diameter: Math.round(diameterMm * 1e6) / 1e6,
      depth: Math.round(depthMm * 1e6) / 1e6,
      through,
      recess: counterbore && [counterbore.diameterMm, counterbore.depthMm].map((x) => Math.round(x * 1e6) / 1e6),
    }));
    expect(found).toHaveLength(3);
    expect(found).toContainEqual({ diameter: 8, depth: 12, through: true, recess: null });
    expect(found).toContainEqual({ diameter: 6, depth: 7, through: false, recess: null });
    expect(found).toContainEqual({ diameter: 8, depth: 12, through: true, recess: [16, 5] });
  });

  it('are not seen in the rounds of inner corners', () => {
    const pocket: Contour = {
      kind: 'path',
      start: [20, 10],
      segments: [
        { kind: 'line', to: [50, 10] },
        { kind: 'arc', through: [60, 20], to: [50, 30] },
        { kind: 'line', to: [20, 30] },
        { kind: 'arc', through: [10, 20], to: [20, 10] },
      ],
    };
    const body = plate([]);
    const tool = kernel.extrude(XY, pocket, -1, 13);
    const slotted = kernel.cut(body, [tool]);
    body.free();
    tool.free();
    expect(findHoles(analyzed(slotted))).toEqual([]);
  });

  it('turned by an odd angle keep their size and depth', () => {
    const angle = 0.7;
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const rotation: Mat3 = [
      [c, 0, s],
      [0, 1, 0],
      [-s, 0, c],
    ];
    const shape = plate([[30, 20, 5]]);
    const tilted = kernel.moved(shape, rotation, [1, 2, 3] satisfies Vec3);
    shape.free();
    const [hole] = findHoles(analyzed(tilted));
    expect(hole?.diameterMm).toBeCloseTo(10, 9);
    expect(hole?.depthMm).toBeCloseTo(12, 6);
    expect(hole?.through).toBe(true);
  });
});
