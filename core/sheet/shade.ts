import { fromByteArray } from 'base64-js';
import { encode } from 'fast-png';

import { trianglesOf } from '#core/solid';
import { cross, dot, extremes, normalize, subtract, type Vec2, type Vec3 } from '#core/vector';

import type { Drawable } from './project.ts';
import { seen, type ViewAxes } from './views.ts';

/** A toned picture of a view: where its lower left corner lies and how large it is, in view coordinates, mm. */
export interface Shade {
  readonly at: Vec2;
  readonly size: Vec2;
  /** A PNG file as base64. */
  readonly png: string;
}

/** Pixels on the longer side: three to a millimeter for a view of a good size. */
const PIXELS = 420;
/** From the upper left and the viewer. */
const LIGHT: Vec3 = normalize([-0.35, 0.75, 0.85]);
const DARKEST = 150;
const LIGHTEST = 244;
const PAPER = 255;

/** Tones every face of a part by how it lies to the light, the nearest at each point. */
export function shadedView({ mesh }: Pick<Drawable, 'mesh'>, axes: ViewAxes): Shade | null {
  const place = (p: Vec3): Vec3 => [...seen(axes, p), dot(p, axes.toViewer)];
  const triangles = mesh.groups.flatMap((group) => trianglesOf(mesh, group).map((corners) => corners.map(place)));
  const corners = triangles.flat();
  if (corners.length === 0) return null;
  const [left, right] = extremes(corners.map(([x]) => x));
  const [low, high] = extremes(corners.map(([, y]) => y));
  const grain = Math.max(right - left, high - low) / PIXELS;
  const [width, height] = [Math.ceil((right - left) / grain) + 1, Math.ceil((high - low) / grain) + 1];
  const depth = new Float64Array(width * height).fill(-Infinity);
  const tone = new Uint8Array(width * height).fill(PAPER);
  for (const [a, b, c] of triangles) {
    if (!a || !b || !c) continue;
    const normal = cross(subtract(b, a), subtract(c, a));
    // What looks away is behind something that looks this way.
    if (normal[2] <= 0) continue;
    const lit = Math.max(0, dot(normalize(normal), LIGHT));
    const own = Math.round(DARKEST + (LIGHTEST - DARKEST) * lit);
    const [x0, x1] = extremes([a[0], b[0], c[0]]);
    const [y0, y1] = extremes([a[1], b[1], c[1]]);
    const first = Math.max(0, Math.floor((y0 - low) / grain - 0.5));
    for (let row = first; row < height && low + row * grain <= y1 + grain; row++) {
      const y = low + (row + 0.5) * grain;
      for (let column = Math.max(0, Math.floor((x0 - left) / grain - 0.5)); column < width; column++) {
        const x = left + (column + 0.5) * grain;
        if (x > x1 + grain) break;
        const v = ((x - a[0]) * (c[1] - a[1]) - (y - a[1]) * (c[0] - a[0])) / normal[2];
        const w = ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / normal[2];
        if (v < -1e-9 || w < -1e-9 || v + w > 1 + 1e-9) continue;
        const z = a[2] + v * (b[2] - a[2]) + w * (c[2] - a[2]);
        const pixel = (height - 1 - row) * width + column;
        if (z <= (depth[pixel] ?? 0)) continue;
        depth[pixel] = z;
        tone[pixel] = own;
      }
    }
  }
  return {
    at: [left, low],
    size: [width * grain, height * grain],
    png: fromByteArray(encode({ width, height, data: tone, channels: 1 })),
  };
}
