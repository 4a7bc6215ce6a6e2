import { describe, expect, it } from 'vitest';

import type { WorkPlane } from '#core/kernel';
import { prismCaps, prismWalls, turnedWalls, type Element, type Named, type Region } from '#core/outline';
import type { Surface } from '#core/solid';
import type { Vec2 } from '#core/vector';

/** Drawn on the plane of X and Z, seen from the front: u is X, v is Z, and the plane looks towards -Y. */
const FRONT: WorkPlane = { origin: [0, 0, 0], u: [1, 0, 0], v: [0, 0, 1], normal: [0, -1, 0] };
const TOP: WorkPlane = { origin: [0, 0, 0], u: [1, 0, 0], v: [0, 1, 0], normal: [0, 0, 1] };

const line = (role: string, from: Vec2, to: Vec2): Element => ({ kind: 'line', role, from, to });
const circle = (role: string, center: Vec2, radiusMm: number): Element => ({ kind: 'circle', role, center, radiusMm });
/** A path of lines from corner to corner, named in order. */
const path = (names: readonly string[], corners: readonly Vec2[]): Region['outer'] =>
  corners.map((from, i) => line(names[i] ?? '', from, corners[(i + 1) % corners.length] ?? from));
const only = (outer: Region['outer'], ...holes: Region['outer'][]): Region => ({ outer, holes });

function surfaceOf<K extends Surface['kind']>(walls: readonly Named[], role: string, kind: K) {
  const surface = walls.find(([name]) => name === role)?.[1];
  if (surface?.kind !== kind) throw new Error(`${role} is ${surface?.kind ?? 'not there'}`);
  return surface as Extract<Surface, { kind: K }>;
}

const SQUARE: readonly Vec2[] = [
  [0, 0],
  [20, 0],
  [20, 10],
  [0, 10],
];
const SIDES = ['lower', 'right', 'upper', 'left'];

describe('walls of a prism', () => {
  it.each([
    ['drawn counterclockwise', path(SIDES, SQUARE)],
    ['drawn clockwise', path(['left', 'upper', 'right', 'lower'], [SQUARE[0]!, SQUARE[3]!, SQUARE[2]!, SQUARE[1]!])],
  ])('look out of it, %s', (_way, loop) => {
    const walls = prismWalls(TOP, only(loop), 4);
    const normals = SIDES.map((side) => surfaceOf(walls, side, 'plane').normal.map((x) => x + 0));
    expect(normals).toEqual([
      [0, -1, 0],
      [1, 0, 0],
      [0, 1, 0],
      [-1, 0, 0],
    ]);
    // The origin lies in the middle of the side, at the height that was asked for.
    expect(surfaceOf(walls, 'right', 'plane').origin).toEqual([20, 5, 4]);
  });

  it('of a hole look into the hole, and its round wall is hollow', () => {
    const region = only(path(SIDES, SQUARE), [circle('bore', [10, 5], 3)]);
    const bore = surfaceOf(prismWalls(TOP, region, 0), 'bore', 'cylinder');
    expect(bore).toMatchObject({ origin: [10, 5, 0], direction: [0, 0, 1], radiusMm: 3, side: 'concave' });
    const pin = prismWalls(TOP, only([circle('pin', [10, 5], 3)]), 0);
    expect(surfaceOf(pin, 'pin', 'cylinder').side).toBe('convex');
  });

  it('bulge or are hollow by the side that the arc lies on', () => {
    // A bar of 20 x 10 whose right end bulges out, and whose left end is hollowed by the same radius of 5.
    const bar = only([
      line('lower', [0, 0], [20, 0]),
      { kind: 'arc', role: 'nose', from: [20, 0], through: [25, 5], to: [20, 10] },
      line('upper', [20, 10], [0, 10]),
      { kind: 'arc', role: 'notch', from: [0, 10], through: [5, 5], to: [0, 0] },
    ]);
    const walls = prismWalls(TOP, bar, 0);
    expect(surfaceOf(walls, 'nose', 'cylinder')).toMatchObject({ side: 'convex' });
    expect(surfaceOf(walls, 'notch', 'cylinder')).toMatchObject({ side: 'concave' });
    expect(surfaceOf(walls, 'nose', 'cylinder').radiusMm).toBeCloseTo(5, 12);
  });

  it('end in two flat faces that look away from each other, whichever way the prism grows', () => {
    for (const [from, to] of [
      [0, 12],
      [0, -12],
    ] as const) {
      const caps = prismCaps(TOP, from, to);
      const [start, end] = [surfaceOf(caps, 'start', 'plane'), surfaceOf(caps, 'end', 'plane')];
      expect([start.origin[2], end.origin[2]]).toEqual([from, to]);
      expect([start.normal[2], end.normal[2]]).toEqual([-Math.sign(to), Math.sign(to)]);
    }
  });
});

describe('surfaces of a turned outline', () => {
  const turned = (region: Region): readonly Named[] => turnedWalls(FRONT, region, [0, 0, 0], [0, 0, 1]);

  it('are cylinders along the axis, flat across it, and cones aslant', () => {
    // A sleeve: bore 4, outside 10, 20 long, with a chamfer of 3 along and 2 across at its upper end.
    const sleeve = path(
      ['foot', 'outside', 'chamfer', 'top', 'bore'],
      [
        [4, 0],
        [10, 0],
        [10, 17],
        [8, 20],
        [4, 20],
      ],
    );
    const walls = turned(only(sleeve));
    expect(surfaceOf(walls, 'outside', 'cylinder')).toMatchObject({ radiusMm: 10, side: 'convex' });
    expect(surfaceOf(walls, 'bore', 'cylinder')).toMatchObject({ radiusMm: 4, side: 'concave' });
    expect(surfaceOf(walls, 'foot', 'plane').normal[2]).toBe(-1);
    expect(surfaceOf(walls, 'top', 'plane').normal[2]).toBe(1);
    const chamfer = surfaceOf(walls, 'chamfer', 'cone');
    // It falls 2 in on 3 up: half angle atan(2/3), and 10 in on 15 up from its foot to the apex.
    expect(chamfer.halfAngleRad).toBeCloseTo(Math.atan(2 / 3), 12);
    expect(chamfer.apex[2]).toBeCloseTo(17 + 15, 12);
    expect(chamfer.side).toBe('convex');
    // It opens away from its apex: downwards.
    expect(chamfer.direction[2]).toBeCloseTo(-1, 12);
  });

  it('are rings from circles beside the axis, and a ball from one on it', () => {
    const ring = surfaceOf(turned(only([circle('ring', [12, 5], 3)])), 'ring', 'torus');
    expect(ring).toMatchObject({ center: [0, 0, 5], majorRadiusMm: 12, minorRadiusMm: 3, side: 'convex' });
    const half: Region = only([
      line('axis', [0, -6], [0, 6]),
      { kind: 'arc', role: 'dome', from: [0, 6], through: [6, 0], to: [0, -6] },
    ]);
    const walls = turned(half);
    const dome = surfaceOf(walls, 'dome', 'sphere');
    expect(dome.radiusMm).toBeCloseTo(6, 12);
    expect(dome.side).toBe('convex');
    // What lies on the axis sweeps nothing.
    expect(walls.map(([role]) => role)).toEqual(['dome']);
  });

  it('are hollow where a groove is cut into them', () => {
    // A roller of 12 with a half-round groove of 2 around its middle.
    const roller = only([
      line('foot', [0, 0], [12, 0]),
      line('low', [12, 0], [12, 8]),
      { kind: 'arc', role: 'groove', from: [12, 8], through: [10, 10], to: [12, 12] },
      line('high', [12, 12], [12, 20]),
      line('top', [12, 20], [0, 20]),
      line('axis', [0, 20], [0, 0]),
    ]);
    const groove = surfaceOf(turned(roller), 'groove', 'torus');
    expect(groove.side).toBe('concave');
    expect(groove.majorRadiusMm).toBeCloseTo(12, 9);
    expect(groove.minorRadiusMm).toBeCloseTo(2, 9);
  });
});
