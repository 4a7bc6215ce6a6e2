import { zlibSync } from 'fflate';

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
  return { at: [left, low], size: [width * grain, height * grain], png: base64(grayPng(tone, width, height)) };
}

const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c;
});

const crc32 = (bytes: Uint8Array): number =>
  (bytes.reduce((crc, byte) => (CRC_TABLE[(crc ^ byte) & 0xff] ?? 0) ^ (crc >>> 8), 0xffffffff) ^ 0xffffffff) >>> 0;

/** A gray picture of 8 bits as PNG (its specification, 11.2 and annex D). */
function grayPng(pixels: Uint8Array, width: number, height: number): Uint8Array {
  const chunk = (kind: string, data: Uint8Array): Uint8Array => {
    const named = Uint8Array.from({ length: kind.length }, (_, i) => kind.charCodeAt(i));
    const body = new Uint8Array([...named, ...data]);
    const out = new Uint8Array(body.length + 8);
    new DataView(out.buffer).setUint32(0, data.length);
    out.set(body, 4);
    new DataView(out.buffer).setUint32(out.length - 4, crc32(body));
    return out;
  };
  const header = new Uint8Array(13);
  new DataView(header.buffer).setUint32(0, width);
  new DataView(header.buffer).setUint32(4, height);
  header.set([8, 0, 0, 0, 0], 8);
  // Every row begins with the number of its filter: none.
  const rows = new Uint8Array(height * (width + 1));
  for (let y = 0; y < height; y++) rows.set(pixels.subarray(y * width, (y + 1) * width), y * (width + 1) + 1);
  const parts = [
    Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', header),
    chunk('IDAT', zlibSync(rows, { level: 9 })),
    chunk('IEND', new Uint8Array()),
  ];
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  parts.reduce((at, part) => (out.set(part, at), at + part.length), 0);
  return out;
}

const DIGITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** As RFC 4648 has it; core has no help from a browser or from Node. */
function base64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 3) {
    const [a = 0, b = 0, c = 0] = bytes.subarray(i, i + 3);
    const digits = [a >> 2, ((a & 3) << 4) | (b >> 4), ((b & 15) << 2) | (c >> 6), c & 63];
    text += digits.map((digit, k) => (i + k > bytes.length ? '=' : (DIGITS[digit] ?? ''))).join('');
  }
  return text;
}
