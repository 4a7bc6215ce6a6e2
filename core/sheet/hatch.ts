import type { Vec2 } from '#core/vector';

import type { Stroke } from './overlap.ts';

const SPACING_MM = 2.6;

/** Lines at 45 degrees over triangles on paper, at one spacing whatever the scale. */
export function hatchLines(triangles: readonly (readonly [Vec2, Vec2, Vec2])[]): readonly Stroke[] {
  const rows = new Map<number, [number, number][]>();
  // Turned by 45 degrees, hatch lines are level: s runs along them, t across.
  const turn = ([x, y]: Vec2): Vec2 => [(x + y) * Math.SQRT1_2, (y - x) * Math.SQRT1_2];
  const back = (s: number, t: number): Vec2 => [(s - t) * Math.SQRT1_2, (s + t) * Math.SQRT1_2];
  for (const triangle of triangles) {
    const corners = triangle.map(turn);
    const heights = corners.map((p) => p[1]);
    const last = Math.floor(Math.max(...heights) / SPACING_MM);
    for (let row = Math.ceil(Math.min(...heights) / SPACING_MM); row <= last; row++) {
      const t = row * SPACING_MM;
      const crossings = corners.flatMap((a, i) => {
        const b = corners[(i + 1) % 3] ?? a;
        if (a[1] > t === b[1] > t) return [];
        return [a[0] + ((t - a[1]) / (b[1] - a[1])) * (b[0] - a[0])];
      });
      if (crossings.length < 2) continue;
      rows.set(row, [...(rows.get(row) ?? []), [Math.min(...crossings), Math.max(...crossings)]]);
    }
  }
  return [...rows].flatMap(([row, spans]) => {
    const merged: [number, number][] = [];
    for (const [from, to] of spans.sort((a, b) => a[0] - b[0])) {
      const before = merged.at(-1);
      if (before && from <= before[1] + 1e-3) before[1] = Math.max(before[1], to);
      else merged.push([from, to]);
    }
    return merged
      .filter(([from, to]) => to - from > 0.2)
      .map(([from, to]) => ({ from: back(from, row * SPACING_MM), to: back(to, row * SPACING_MM) }));
  });
}
