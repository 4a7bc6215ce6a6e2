import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel, Shape, WorkPlane } from '#core/kernel';
import { unwrap } from '#core/problem';
import { RECIPE_SOURCE } from '#core/solid';
import { cleanView, projectSolid, type ViewLines } from '#core/sheet';
import type { Vec2, Vec3 } from '#core/vector';
import { loadKernel } from '#runtime';

const FLOOR: WorkPlane = { origin: [0, 0, 0], u: [1, 0, 0], v: [0, 1, 0], normal: [0, 0, 1] };
const UPRIGHT: WorkPlane = { origin: [0, 0, 0], u: [1, 0, 0], v: [0, 0, 1], normal: [0, -1, 0] };
const FRONT = { toViewer: [0, -1, 0], right: [1, 0, 0] } as const;
const TOP = { toViewer: [0, 0, 1], right: [1, 0, 0] } as const;

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const disc = (radiusMm: number) => ({ kind: 'circle', center: [0, 0], radiusMm }) as const;
const path = (...corners: Vec2[]) =>
  ({
    kind: 'path',
    start: corners.at(-1) ?? [0, 0],
    segments: corners.map((to) => ({ kind: 'line', to }) as const),
  }) as const;
const box = (width: number, depth: number, height: number) =>
  kernel.extrude(FLOOR, path([width, 0], [width, depth], [0, depth], [0, 0]), 0, height);

function viewOf(shape: Shape, view: { toViewer: Vec3; right: Vec3 }): ViewLines {
  const solid = unwrap(kernel.analyze(shape, RECIPE_SOURCE));
  shape.free();
  return cleanView(projectSolid(solid, view));
}
/** Lines as "x0 y0 x1 y1", lower left end first. */
const linesOf = (curves: ViewLines['visible']): string[] =>
  curves
    .flatMap((curve) => {
      if (curve.kind !== 'line') return [];
      const ends = [curve.from, curve.to].map((p) => p.map((value) => Number((value + 0).toFixed(2)) + 0));
      return [
        ends
          .sort((a, b) => (a[0] ?? 0) - (b[0] ?? 0) || (a[1] ?? 0) - (b[1] ?? 0))
          .flat()
          .join(' '),
      ];
    })
    .sort();

describe('what is seen of a part', () => {
  it('of a box is a rectangle, with nothing hidden that is not behind it', () => {
    const { visible, hidden } = viewOf(box(40, 30, 20), FRONT);
    expect(linesOf(visible)).toEqual(['0 0 0 20', '0 0 40 0', '0 20 40 20', '40 0 40 20']);
    expect(hidden).toEqual([]);
  });

  it('of a cylinder from the side are its two outlines, exactly a diameter apart, and its ends', () => {
    const { visible } = viewOf(kernel.extrude(FLOOR, disc(12), 0, 30), FRONT);
    expect(linesOf(visible)).toEqual(['-12 0 -12 30', '-12 0 12 0', '-12 30 12 30', '12 0 12 30']);
  });

  it('of a cylinder from above is one circle', () => {
    const { visible } = viewOf(kernel.extrude(FLOOR, disc(12), 0, 30), TOP);
    expect(visible).toHaveLength(1);
    expect(visible[0]).toMatchObject({ kind: 'arc' });
    expect(visible[0]?.kind === 'arc' && visible[0].radius).toBeCloseTo(12, 6);
  });

  it('of a hole across a box are two hidden lines, and its circle where one looks through', () => {
    const drilled = () => {
      const body = box(40, 30, 20);
      const tool = kernel.extrude({ ...FLOOR, origin: [20, 15, 0] }, disc(5), -1, 21);
      const cut = kernel.cut(body, [tool]);
      body.free();
      tool.free();
      return cut;
    };
    expect(linesOf(viewOf(drilled(), FRONT).hidden)).toEqual(['15 0 15 20', '25 0 25 20']);
    const above = viewOf(drilled(), TOP);
    expect(above.visible.filter(({ kind }) => kind === 'arc')).toHaveLength(1);
    expect(above.hidden).toEqual([]);
  });

  it('of a cone are the two generators that bound it', () => {
    // Radius 20 at the foot, 8 at the height 30: the outlines run from one to the other.
    const turned = kernel.revolve(UPRIGHT, path([20, 0], [8, 30], [0, 30], [0, 0]), {
      origin: [0, 0],
      direction: [0, 1],
    });
    expect(linesOf(viewOf(turned, FRONT).visible)).toEqual(['-20 0 -8 30', '-20 0 20 0', '-8 30 8 30', '8 30 20 0']);
  });

  it('in front of something else hides it, to where it ends', () => {
    // A post 10 wide stands before a wall 60 wide and 30 high; the wall's upper edge is seen on both sides and above.
    const wall = kernel.extrude({ ...FLOOR, origin: [0, 40, 0] }, path([60, 0], [60, 5], [0, 5], [0, 0]), 0, 30);
    const post = kernel.extrude({ ...FLOOR, origin: [25, 0, 0] }, path([10, 0], [10, 45], [0, 45], [0, 0]), 0, 30);
    const { visible } = viewOf(kernel.fuse(wall, [post]), FRONT);
    expect(linesOf(visible)).toContain('0 30 60 30');
    expect(linesOf(visible)).toContain('25 0 25 30');
    wall.free();
    post.free();
  });

  it.each([7, 14 * Math.sin(Math.PI / 4), 5])(
    'of a bored boss of radius 14 hides the bore of radius %d, also where it lies behind a seam of the display triangles',
    (radius) => {
      // Triangles of the boss meet along lines at even angles: the outline of a bore of half its size lies behind one.
      const boss = kernel.extrude(FLOOR, disc(14), 0, 20);
      const bore = kernel.extrude(FLOOR, disc(radius), -1, 21);
      const { visible, hidden } = viewOf(kernel.cut(boss, [bore]), FRONT);
      const across = String(Number(radius.toFixed(2)));
      expect(linesOf(visible)).toEqual(['-14 0 -14 20', '-14 0 14 0', '-14 20 14 20', '14 0 14 20']);
      expect(linesOf(hidden)).toEqual([`-${across} 0 -${across} 20`, `${across} 0 ${across} 20`]);
      boss.free();
      bore.free();
    },
  );

  it('from aslant shows circles as ellipses', () => {
    const { visible } = viewOf(kernel.extrude(FLOOR, disc(10), 0, 5), { toViewer: [1, -1, 1], right: [1, 1, 0] });
    const ellipses = visible.flatMap((curve) => (curve.kind === 'ellipse' ? [curve] : []));
    expect(ellipses.length).toBeGreaterThanOrEqual(2);
    // The long half axis is the radius; the short one is shortened by the sine of 35.26 degrees, 1 / sqrt(3).
    for (const { radii } of ellipses) {
      expect(Math.max(...radii)).toBeCloseTo(10, 3);
      expect(Math.min(...radii)).toBeCloseTo(10 / Math.sqrt(3), 3);
    }
  });
});
