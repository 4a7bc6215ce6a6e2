import { describe, expect, it } from 'vitest';

import {
  axisOf,
  farthest,
  fingerprintOf,
  fingerprintOfPoints,
  minus,
  placeSurface,
  plus,
  SAME_SHARE,
  scalesOf,
  type Fingerprint,
  type MassProperties,
  type Surface,
} from '#core/solid';
import { AS_MODELED, type Mat3, type Placement, type Vec3 } from '#core/vector';

/** A block a x b x c with its lower corner at a point: V = abc, J = V (b^2 + c^2) / 12 and so on about its middle. */
function block([a, b, c]: Vec3, [x, y, z]: Vec3 = [0, 0, 0]): MassProperties {
  const volumeMm3 = a * b * c;
  const moment = (p: number, q: number): number => (volumeMm3 * (p * p + q * q)) / 12;
  return {
    volumeMm3,
    areaMm2: 2 * (a * b + b * c + c * a),
    centroidMm: [x + a / 2, y + b / 2, z + c / 2],
    inertiaMm5: [
      [moment(b, c), 0, 0],
      [0, moment(a, c), 0],
      [0, 0, moment(a, b)],
    ],
  };
}

const near = (found: Fingerprint, wanted: Fingerprint): void => {
  expect(found).toHaveLength(wanted.length);
  found.forEach((value, i) => {
    expect(value).toBeCloseTo(wanted[i] ?? 0, 6);
  });
};

/** A quarter turn about Z: X becomes Y. */
const QUARTER: Mat3 = [
  [0, -1, 0],
  [1, 0, 0],
  [0, 0, 1],
];

describe('the fingerprint of a part', () => {
  it('of a block at the origin has the moments of its formula', () => {
    // Of 6 x 4 x 2: V = 48, A = 88, first moments V a / 2, second V a^2 / 3, mixed V a b / 4.
    near(fingerprintOf(block([6, 4, 2])), [48, 88, 144, 96, 48, 576, 256, 64, 288, 96, 144]);
  });

  it('adds up where blocks are put together, but for the area', () => {
    const [left, right] = [fingerprintOf(block([6, 4, 2])), fingerprintOf(block([4, 4, 2], [6, 0, 0]))];
    const whole = fingerprintOf(block([10, 4, 2]));
    const sum = plus(left, right);
    // Each has the face of 4 x 2 where they meet.
    near(sum, [sum[0]!, whole[1]! + 16, ...whole.slice(2)]);
    near(minus(sum, right), left);
  });

  it('is that of the points its volume is gathered in, taken where Gauss would', () => {
    // Two points an axis at half the length over the square root of 3 from the middle are exact for second moments.
    const [a, b, c] = [6, 4, 2];
    const at = (size: number, sign: number): number => (size / 2) * (1 + sign / Math.sqrt(3));
    const points = [-1, 1].flatMap((i) =>
      [-1, 1].flatMap((j) =>
        [-1, 1].map((k) => ({ volumeMm3: (a * b * c) / 8, centerMm: [at(a, i), at(b, j), at(c, k)] as const })),
      ),
    );
    const whole = fingerprintOf(block([a, b, c]));
    near(fingerprintOfPoints(points), [whole[0]!, 0, ...whole.slice(2)]);
    const missing = points.map((point) => ({ ...point, volumeMm3: -point.volumeMm3 }));
    near(
      fingerprintOfPoints([...points, ...missing]),
      Array.from({ length: 11 }, () => 0),
    );
  });

  it('follows the part where it is moved, turned and scaled', () => {
    const moved: Placement = { ...AS_MODELED, translation: [3, -5, 7] };
    near(fingerprintOf(block([6, 4, 2]), moved), fingerprintOf(block([6, 4, 2], [3, -5, 7])));
    // Turned, its length of 6 lies along Y, and its width reaches to -4 along X.
    const turned: Placement = { ...AS_MODELED, rotation: QUARTER };
    near(fingerprintOf(block([6, 4, 2]), turned), fingerprintOf(block([4, 6, 2], [-4, 0, 0])));
    const inches: Placement = { ...AS_MODELED, scale: 25.4 };
    const large = fingerprintOf(block([6 * 25.4, 4 * 25.4, 2 * 25.4]));
    fingerprintOf(block([6, 4, 2]), inches).forEach((value, i) => {
      expect(value / large[i]!).toBeCloseTo(1, 12);
    });
  });

  it('tells parts apart by shares of their own size, wherever they lie', () => {
    const own = fingerprintOf(block([60, 40, 20], [500, 0, 0]));
    const scales = scalesOf(own);
    expect(farthest(own, own, scales)).toBe(0);
    // A hundredth longer: the volume by a hundredth, moments about the origin by more, as the origin is far off.
    const longer = farthest(fingerprintOf(block([60.6, 40, 20], [500, 0, 0])), own, scales);
    expect(longer).toBeGreaterThan(0.01);
    const hair = farthest(fingerprintOf(block([60 * (1 + 1e-11), 40, 20], [500, 0, 0])), own, scales);
    expect(hair).toBeLessThan(SAME_SHARE);
  });
});

describe('a surface that is placed', () => {
  const mirror: Placement = {
    rotation: [
      [-1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ],
    scale: 2,
    translation: [100, 0, 0],
  };
  const surfaces: readonly Surface[] = [
    { kind: 'plane', origin: [1, 2, 3], normal: [1, 0, 0] },
    { kind: 'cylinder', origin: [1, 2, 3], direction: [0, 0, 1], radiusMm: 4, side: 'concave' },
    {
      kind: 'cone',
      origin: [1, 2, 3],
      direction: [1, 0, 0],
      radiusMm: 4,
      halfAngleRad: 0.5,
      apex: [-3, 2, 3],
      side: 'convex',
    },
    { kind: 'sphere', center: [1, 2, 3], radiusMm: 4, side: 'convex' },
    { kind: 'torus', center: [1, 2, 3], direction: [0, 1, 0], majorRadiusMm: 9, minorRadiusMm: 2, side: 'concave' },
    { kind: 'freeform' },
  ];

  it('goes along with every point and direction; lengths are scaled, angles and sides stay', () => {
    expect(surfaces.map((surface) => placeSurface(mirror, surface))).toEqual([
      { kind: 'plane', origin: [98, 4, 6], normal: [-1, 0, 0] },
      { kind: 'cylinder', origin: [98, 4, 6], direction: [0, 0, 1], radiusMm: 8, side: 'concave' },
      {
        kind: 'cone',
        origin: [98, 4, 6],
        direction: [-1, 0, 0],
        radiusMm: 8,
        halfAngleRad: 0.5,
        apex: [106, 4, 6],
        side: 'convex',
      },
      { kind: 'sphere', center: [98, 4, 6], radiusMm: 8, side: 'convex' },
      {
        kind: 'torus',
        center: [98, 4, 6],
        direction: [0, 1, 0],
        majorRadiusMm: 18,
        minorRadiusMm: 4,
        side: 'concave',
      },
      { kind: 'freeform' },
    ]);
    for (const surface of surfaces) expect(placeSurface(AS_MODELED, surface)).toEqual(surface);
  });

  it('has an axis where it turns about one', () => {
    expect(surfaces.map((surface) => axisOf(surface)?.direction ?? null)).toEqual([
      null,
      [0, 0, 1],
      [1, 0, 0],
      null,
      [0, 1, 0],
      null,
    ]);
  });
});
