import type { FaceGraph } from '#core/feature';
import { circleCenter, contourArea, type Contour, type WorkPlane } from '#core/kernel';
import type { DrawingUnit } from '#core/quantity';
import type { StepOf } from '#core/recipe';
import type { Edge, Face } from '#core/solid';
import { ARITHMETIC_MM, JOINED_MM } from '#core/tolerance';
import { distance, type Vec3 } from '#core/vector';

import { lengthIn, onPlane, pointIn } from './candidate.ts';

type Outline = StepOf<'extrude'>['outlines'][number];

/** The outer rim of a flat face, in the coordinates of its plane; null where it is not all lines and arcs. */
export function rimOf(graph: FaceGraph, face: Face, plane: WorkPlane): Contour | null {
  const loops = loopsOf(graph, face).flatMap((loop) => contourOf(graph, loop, plane) ?? []);
  return loops.sort((a, b) => Math.abs(contourArea(b)) - Math.abs(contourArea(a)))[0] ?? null;
}

interface Directed {
  readonly edge: Edge;
  readonly from: Vec3;
  readonly to: Vec3;
}

/** The edges of a face in the order in which they run around it, loop by loop. */
function loopsOf(graph: FaceGraph, face: Face): readonly (readonly Directed[])[] {
  const left = graph.edgesOf(face).filter(({ convexity }) => convexity !== 'seam' && convexity !== 'degenerate');
  const loops: Directed[][] = [];
  while (left.length > 0) {
    const first = left.shift();
    if (first === undefined) break;
    const loop: Directed[] = [{ edge: first, from: first.start, to: first.end }];
    for (;;) {
      const end = loop.at(-1)?.to ?? first.end;
      if (distance(end, first.start) < JOINED_MM) break;
      const next = left.findIndex(({ start, end: other }) => [start, other].some((p) => distance(p, end) < JOINED_MM));
      const [edge] = next < 0 ? [] : left.splice(next, 1);
      if (edge === undefined) break;
      const forward = distance(edge.start, end) < JOINED_MM;
      loop.push({ edge, from: forward ? edge.start : edge.end, to: forward ? edge.end : edge.start });
    }
    loops.push(loop);
  }
  return loops;
}

function contourOf(graph: FaceGraph, loop: readonly Directed[], plane: WorkPlane): Contour | null {
  const [first] = loop;
  const last = loop.at(-1);
  if (first === undefined || last === undefined || distance(last.to, first.from) > JOINED_MM) return null;
  if (loop.some(({ edge }) => edge.curve !== 'line' && edge.curve !== 'circle')) return null;
  if (loop.length === 1) {
    const points = graph.pointsOfEdge(first.edge).map((point) => onPlane(plane, point));
    const third = Math.floor(points.length / 3);
    const [a, b, c] = [points[0], points[third], points[2 * third]];
    const center = a && b && c ? circleCenter(a, b, c) : null;
    return center === null ? null : { kind: 'circle', center, radiusMm: first.edge.lengthMm / (2 * Math.PI) };
  }
  return {
    kind: 'path',
    start: onPlane(plane, first.from),
    segments: loop.map(({ edge, to }) => {
      const end = onPlane(plane, to);
      if (edge.curve === 'line') return { kind: 'line', to: end };
      const points = graph.pointsOfEdge(edge);
      return { kind: 'arc', through: onPlane(plane, points[Math.floor(points.length / 2)] ?? to), to: end };
    }),
  };
}

/** A contour as an outline of a step: a circle, an upright rectangle, or a path. */
export function outlineFrom(contour: Contour, unit: DrawingUnit): Outline {
  if (contour.kind === 'circle')
    return {
      shape: 'circle',
      center: pointIn(unit, contour.center),
      diameter: lengthIn(unit, 2 * contour.radiusMm),
    };
  const { start, segments } = contour;
  const corners = segments.map(({ to }) => to);
  const isUpright =
    segments.length === 4 &&
    segments.every(({ kind }) => kind === 'line') &&
    corners.every(([u, v], i) => {
      const [pu, pv] = i === 0 ? start : (corners[i - 1] ?? start);
      return Math.abs(u - pu) < ARITHMETIC_MM || Math.abs(v - pv) < ARITHMETIC_MM;
    });
  if (isUpright) {
    const [us, vs] = [corners.map(([u]) => u), corners.map(([, v]) => v)];
    const [left, right, low, high] = [Math.min(...us), Math.max(...us), Math.min(...vs), Math.max(...vs)];
    return {
      shape: 'rectangle',
      center: pointIn(unit, [(left + right) / 2, (low + high) / 2]),
      width: lengthIn(unit, right - left),
      height: lengthIn(unit, high - low),
    };
  }
  return {
    shape: 'path',
    start: pointIn(unit, start),
    segments: segments.map((segment) =>
      segment.kind === 'line'
        ? { move: 'line', to: pointIn(unit, segment.to) }
        : { move: 'arc', through: pointIn(unit, segment.through), to: pointIn(unit, segment.to) },
    ),
  };
}
