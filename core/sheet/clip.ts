import type { Vec2 } from '#core/vector';

import { bisect } from './bisect.ts';
import { pointsAlong, type SheetCurve } from './lines.ts';

const SAMPLES = 64;
const HALVINGS = 30;

function pointAt(curve: Exclude<SheetCurve, { kind: 'polyline' }>, share: number): Vec2 {
  if (curve.kind === 'line')
    return [
      curve.from[0] + (curve.to[0] - curve.from[0]) * share,
      curve.from[1] + (curve.to[1] - curve.from[1]) * share,
    ];
  const [point] = pointsAlong({ ...curve, start: curve.start + curve.sweep * share, sweep: 0 });
  return point ?? curve.center;
}

function pieceOf(curve: Exclude<SheetCurve, { kind: 'polyline' }>, from: number, to: number): SheetCurve {
  if (curve.kind === 'line') return { kind: 'line', from: pointAt(curve, from), to: pointAt(curve, to) };
  return { ...curve, start: curve.start + curve.sweep * from, sweep: curve.sweep * (to - from) };
}

/** The pieces of a curve that lie inside a circle; circles stay circles. */
export function clippedToCircle(curve: SheetCurve, center: Vec2, radius: number): readonly SheetCurve[] {
  const inside = (p: Vec2): boolean => Math.hypot(p[0] - center[0], p[1] - center[1]) <= radius;
  if (curve.kind === 'polyline') {
    const pieces: Vec2[][] = [];
    let run: Vec2[] = [];
    for (const point of curve.points)
      if (inside(point)) run.push(point);
      else if (run.length > 0) {
        pieces.push(run);
        run = [];
      }
    if (run.length > 0) pieces.push(run);
    return pieces.filter((points) => points.length > 1).map((points) => ({ kind: 'polyline', points }));
  }
  const isIn = (share: number): boolean => inside(pointAt(curve, share));
  const pieces: SheetCurve[] = [];
  let begun: number | null = isIn(0) ? 0 : null;
  for (let i = 1; i <= SAMPLES; i++) {
    const [before, now] = [(i - 1) / SAMPLES, i / SAMPLES];
    if (isIn(before) === isIn(now)) continue;
    const at = isIn(before) ? bisect(isIn, before, now, HALVINGS) : bisect(isIn, now, before, HALVINGS);
    if (begun === null) begun = at;
    else {
      pieces.push(pieceOf(curve, begun, at));
      begun = null;
    }
  }
  if (begun !== null) pieces.push(pieceOf(curve, begun, 1));
  return pieces;
}
