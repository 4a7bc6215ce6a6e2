import type { DisplayMesh, Edge, Face } from '#core/solid';
import { add, cross, dot, extremes, perpendicular, scale, type Vec3 } from '#core/vector';

import type { Thread } from './context.ts';
import { facesOn } from './surfaces.ts';

const MM_PER_INCH = 25.4;
const POINTS_A_TURN = 20;
const MOST_TURNS = 60;

/** Pitch in mm from a designation such as "M8x1.25" or "3/8-16"; null when it does not say. */
export function pitchOf(designation: string): number | null {
  const metric = /^M\s*\d+(?:[.,]\d+)?\s*[x×]\s*(\d+(?:[.,]\d+)?)/i.exec(designation);
  if (metric?.[1] !== undefined) return Number(metric[1].replace(',', '.'));
  const perInch = /-\s*(\d+(?:\.\d+)?)\b/.exec(designation)?.[1];
  return perInch === undefined || Number(perInch) === 0 ? null : MM_PER_INCH / Number(perInch);
}

/**
 * Helices that show threads on a part, as edges of its display mesh: a thread begins at the end of its wall that is
 * farther from the middle of the part. A thread whose wall is gone shows nothing.
 */
export function threadLines(
  threads: readonly Thread[],
  faces: readonly Face[],
  edges: readonly Edge[],
  middle: Vec3,
): DisplayMesh['edges'] {
  return threads.flatMap(({ surface, designation, lengthMm }) => {
    if (surface.kind !== 'cylinder') return [];
    const { origin, direction, radiusMm } = surface;
    const ids = facesOn(faces, surface);
    const along = (point: Vec3): number => dot(point, direction) - dot(origin, direction);
    const ends = edges
      .filter(({ faceIds }) => faceIds.some((id) => ids.includes(id)))
      .flatMap(({ start, end }) => [along(start), along(end)]);
    if (ends.length === 0) return [];
    const [low, high] = extremes(ends);
    const length = Math.min(lengthMm ?? Infinity, high - low);
    const center = along(middle);
    const fromHigh = Math.abs(high - center) >= Math.abs(low - center);
    const pitch = Math.max(pitchOf(designation) ?? length / 8, length / MOST_TURNS);
    const u = perpendicular(direction);
    const v = cross(direction, u);
    const count = Math.max(2, Math.round((length / pitch) * POINTS_A_TURN));
    const points = Array.from({ length: count + 1 }, (_, i) => {
      const travel = (length * i) / count;
      const angle = (2 * Math.PI * travel) / pitch;
      const height = fromHigh ? high - travel : low + travel;
      const around = add(scale(u, radiusMm * Math.cos(angle)), scale(v, radiusMm * Math.sin(angle)));
      return add(add(origin, scale(direction, height)), around);
    });
    return [{ edgeId: -1, faceIds: [], points: points.flat() }];
  });
}
