/** Outlines on the plane of X and Y, for tests that build parts without a recipe; in mm. */
import type { Vec2 } from '#core/vector';

import type { Contour, WorkPlane } from './profile.ts';

export const XY: WorkPlane = { origin: [0, 0, 0], u: [1, 0, 0], v: [0, 1, 0], normal: [0, 0, 1] };

export const circle = (u: number, v: number, radiusMm: number): Contour => ({
  kind: 'circle',
  center: [u, v],
  radiusMm,
});

/** Straight from corner to corner, and back to the first. */
export const polygon = (start: Vec2, ...corners: readonly Vec2[]): Contour => ({
  kind: 'path',
  start,
  segments: [...corners, start].map((to) => ({ kind: 'line', to })),
});

export const rectangle = (u0: number, v0: number, u1: number, v1: number): Contour =>
  polygon([u0, v0], [u1, v0], [u1, v1], [u0, v1]);
