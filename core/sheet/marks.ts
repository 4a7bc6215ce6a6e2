import type { Reference } from '#core/check';
import { circleCover } from '#core/feature';
import { facesOn, pitchOf, type Thread } from '#core/recipe';
import { BUILT_PARALLEL_SINE } from '#core/tolerance';
import { boxCorners, cross, dot, extremes, length, type Vec2 } from '#core/vector';

import type { Stroke } from './overlap.ts';
import { seen, type ViewAxes } from './views.ts';

const BEYOND_MM = 2.5;

/** Center marks and center lines of a view, on paper relative to its origin. */
export function centerLines({ solid }: Reference, axes: ViewAxes, scale: number): readonly Stroke[] {
  const taken = new Map<string, { readonly size: number; readonly strokes: readonly Stroke[] }>();
  const keep = (key: string, size: number, strokes: readonly Stroke[]): void => {
    const before = taken.get(key);
    if (before === undefined || before.size < size) taken.set(key, { size, strokes });
  };
  for (const face of solid.faces) {
    if (face.surface.kind !== 'cylinder' && face.surface.kind !== 'cone') continue;
    if (face.surface.kind === 'cylinder' && circleCover(solid, face) < 0.49) continue;
    const { direction, origin } = face.surface;
    const [x, y] = seen(axes, origin).map((value) => value * scale) as unknown as Vec2;
    if (length(cross(direction, axes.toViewer)) < BUILT_PARALLEL_SINE) {
      if (face.surface.kind === 'cone') continue;
      const reach = face.surface.radiusMm * scale + BEYOND_MM;
      keep(`mark ${x.toFixed(2)} ${y.toFixed(2)}`, reach, [
        { from: [x - reach, y], to: [x + reach, y] },
        { from: [x, y - reach], to: [x, y + reach] },
      ]);
      continue;
    }
    if (Math.abs(dot(direction, axes.toViewer)) > BUILT_PARALLEL_SINE) continue;
    const along = seen(axes, direction);
    const ends = boxCorners(face.bounds).map((p) => {
      const at = seen(axes, p);
      return (at[0] * scale - x) * along[0] + (at[1] * scale - y) * along[1];
    });
    const [first, last] = extremes(ends);
    const [low, high] = [first - BEYOND_MM, last + BEYOND_MM];
    const offset = x * along[1] - y * along[0];
    const flip = along[0] < -BUILT_PARALLEL_SINE || (Math.abs(along[0]) < BUILT_PARALLEL_SINE && along[1] < 0) ? -1 : 1;
    const key = `line ${(flip * offset).toFixed(2)} ${(flip * along[0]).toFixed(3)} ${(flip * along[1]).toFixed(3)}`;
    const stroke: Stroke = {
      from: [x + low * along[0], y + low * along[1]],
      to: [x + high * along[0], y + high * along[1]],
    };
    keep(`${key} ${((low + high) / 2).toFixed(0)}`, high - low, [stroke]);
  }
  return withoutCovered([...taken.values()].flatMap(({ strokes }) => strokes));
}

/** Of center lines that lie on each other, the longer ones. */
function withoutCovered(strokes: readonly Stroke[]): readonly Stroke[] {
  const size = ({ from, to }: Stroke): number => Math.hypot(to[0] - from[0], to[1] - from[1]);
  const sorted = [...strokes].sort((a, b) => size(b) - size(a));
  const kept: Stroke[] = [];
  for (const stroke of sorted) {
    const covered = kept.some((other) => {
      const long = size(other);
      if (long < 1e-9) return false;
      const u: Vec2 = [(other.to[0] - other.from[0]) / long, (other.to[1] - other.from[1]) / long];
      return [stroke.from, stroke.to].every((p) => {
        const d: Vec2 = [p[0] - other.from[0], p[1] - other.from[1]];
        const along = d[0] * u[0] + d[1] * u[1];
        return Math.abs(d[0] * u[1] - d[1] * u[0]) < 0.05 && along > -0.05 && along < long + 0.05;
      });
    });
    if (!covered) kept.push(stroke);
  }
  return kept;
}

/** The simplified picture of a thread: three quarters of a circle from its end, thin lines from its side; view mm. */
export interface ThreadPicture {
  readonly arcs: readonly { readonly center: Vec2; readonly radius: number }[];
  readonly lines: readonly Stroke[];
}

/** Depth of a thread over its pitch (ISO 68-1: 5/8 of the height of its triangle, 0.5413 P). */
const DEPTH_OF_PITCH = 0.5413;

/** Threads as they are drawn; those inside the part only from their end, or where the part is cut open. */
export function threadPicture(
  threads: readonly Thread[],
  { solid }: Reference,
  axes: ViewAxes,
  cut: boolean,
): ThreadPicture {
  const arcs: { center: Vec2; radius: number }[] = [];
  const lines: Stroke[] = [];
  for (const { surface, designation, external, lengthMm } of threads) {
    if (surface.kind !== 'cylinder') continue;
    const depth = DEPTH_OF_PITCH * (pitchOf(designation) ?? 0.2 * surface.radiusMm);
    const radius = surface.radiusMm + (external ? -depth : depth);
    const { direction, origin } = surface;
    if (length(cross(direction, axes.toViewer)) < BUILT_PARALLEL_SINE) {
      arcs.push({ center: seen(axes, origin), radius });
      continue;
    }
    if (Math.abs(dot(direction, axes.toViewer)) > BUILT_PARALLEL_SINE || (!external && !cut)) continue;
    const walls = facesOn(solid.faces, surface).flatMap((id) => solid.faces[id] ?? []);
    const ends = walls
      .flatMap(({ bounds }) => boxCorners(bounds))
      .map((p) => dot(p, direction) - dot(origin, direction));
    if (ends.length === 0) continue;
    const [low, high] = extremes(ends);
    const middle = dot(solid.massProperties.centroidMm, direction) - dot(origin, direction);
    const size = Math.min(lengthMm ?? Infinity, high - low);
    const [from, to] = Math.abs(high - middle) >= Math.abs(low - middle) ? [high - size, high] : [low, low + size];
    const center = seen(axes, origin);
    const along = seen(axes, direction);
    for (const side of [1, -1]) {
      const place = (t: number): Vec2 => [
        center[0] + along[0] * t - side * along[1] * radius,
        center[1] + along[1] * t + side * along[0] * radius,
      ];
      lines.push({ from: place(from), to: place(to) });
    }
  }
  return { arcs, lines };
}
