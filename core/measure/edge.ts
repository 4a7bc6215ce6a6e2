import type { Edge, Face } from '#core/solid';
import { add, cross, distance, dot, length, normalize, scale, subtract, type Vec3 } from '#core/vector';

import type { FaceDescription } from './face.ts';
import { lengthOf, type Reading } from './reading.ts';

/** An edge that was picked, with what is drawn of it. */
export interface PickedEdge {
  readonly edge: Edge;
  /** Points along it, x y z after each other, mm; only an arc is measured by them. */
  readonly points: readonly number[];
  /** Of the faces beside it. */
  readonly uncertaintyMm: number;
}

interface Circle {
  readonly center: Vec3;
  readonly normal: Vec3;
  readonly radiusMm: number;
}

const pointAt = (points: readonly number[], i: number): Vec3 => [
  points[3 * i] ?? 0,
  points[3 * i + 1] ?? 0,
  points[3 * i + 2] ?? 0,
];

/** The circle through three points that lie apart on a drawn arc; null where they are on one line. */
export function circleOf({ points }: Pick<PickedEdge, 'points'>): Circle | null {
  const count = Math.floor(points.length / 3);
  if (count < 3) return null;
  // A whole circle ends where it begins: thirds of it are apart.
  const [a, b, c] = [0, Math.floor(count / 3), Math.floor((2 * count) / 3)].map((i) => pointAt(points, i)) as [
    Vec3,
    Vec3,
    Vec3,
  ];
  const [ab, ac] = [subtract(b, a), subtract(c, a)];
  const normal = cross(ab, ac);
  const square = dot(normal, normal);
  if (square < 1e-12 * dot(ab, ab) * dot(ac, ac) || square === 0) return null;
  // The center of the circumscribed circle, from a.
  const offset = scale(
    add(scale(cross(normal, ab), dot(ac, ac)), scale(cross(ac, normal), dot(ab, ab))),
    1 / (2 * square),
  );
  return { center: add(a, offset), normal: normalize(normal), radiusMm: length(offset) };
}

/** What an edge is, and what can be read off it alone. */
export function describeEdge(picked: PickedEdge): FaceDescription {
  const { edge, uncertaintyMm } = picked;
  const along = (label: string): Reading => lengthOf(label, edge.lengthMm, uncertaintyMm);
  switch (edge.curve) {
    case 'line':
      return { what: 'straight edge', readings: [along('Length')] };
    case 'circle': {
      const circle = circleOf(picked);
      if (circle === null) return { what: 'round edge', readings: [along('Length along it')] };
      const isWhole = distance(edge.start, edge.end) < 1e-6 * circle.radiusMm;
      return {
        what: isWhole ? 'round edge, a whole circle' : 'round edge, an arc',
        readings: [
          lengthOf('Diameter', 2 * circle.radiusMm, 2 * uncertaintyMm),
          lengthOf('Radius, half of it', circle.radiusMm, uncertaintyMm),
          along('Length along it'),
        ],
      };
    }
    case 'ellipse':
      return { what: 'edge along an ellipse', readings: [along('Length along it')] };
    case 'other':
      return { what: 'free-form edge', readings: [along('Length along it')] };
  }
}

/** The line that an edge lies on, or the axis of an arc; null for other curves. */
export function lineOf(picked: PickedEdge): { readonly origin: Vec3; readonly direction: Vec3 } | null {
  const { edge } = picked;
  if (edge.curve === 'line') {
    const along = subtract(edge.end, edge.start);
    return length(along) === 0 ? null : { origin: edge.start, direction: normalize(along) };
  }
  const circle = edge.curve === 'circle' ? circleOf(picked) : null;
  return circle === null ? null : { origin: circle.center, direction: circle.normal };
}

/** An edge with the doubt of the faces beside it. */
export const pickedEdge = (edge: Edge, points: readonly number[], faces: readonly Face[]): PickedEdge => ({
  edge,
  points,
  uncertaintyMm: Math.max(0, ...edge.faceIds.map((id) => faces.find((face) => face.id === id)?.uncertaintyMm ?? 0)),
});
