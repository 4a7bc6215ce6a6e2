import { cross, dot, normalize, type Vec2, type Vec3 } from '#core/vector';

import { displayMeshOf } from './analyze.ts';
import { cut, extrude } from './build.ts';
import { projectShape, type Projection, type ViewDirection } from './project.ts';
import { scoped } from './scope.ts';
import type { Oc, Shape } from './shape.ts';
import { boundsOf, facesOf, topologyOf } from './topology.ts';

/** What is taken away in front of a plane, between two places across the view; mm along its axes. */
export interface CutAway {
  readonly from: number;
  readonly to: number;
  /** Where the plane lies along the direction to the viewer. */
  readonly at: number;
}

/** A part cut open: its edges, and the cut faces as triangles in view coordinates. */
export interface CutView {
  readonly projection: Projection;
  readonly cutTriangles: readonly (readonly [Vec2, Vec2, Vec2])[];
}

const SAME_MM = 1e-4;

/** Takes away what lies between the viewer and the planes, and projects the rest. A plane that misses cuts nothing. */
export function cutAndProject(oc: Oc, shape: Shape, view: ViewDirection, cuts: readonly CutAway[]): CutView {
  const toViewer = normalize(view.toViewer);
  const right = normalize(view.right);
  const up = cross(toViewer, right);
  const { min, max } = boundsOf(oc, shape.raw);
  const far = 4 * Math.max(...[...min, ...max].map(Math.abs), 1) + 1;
  const tools = cuts.map(({ from, to, at }) => {
    const [left, end] = [Math.max(from, -far), Math.min(to, far)];
    const corners: readonly Vec2[] = [
      [end, -far],
      [end, far],
      [left, far],
      [left, -far],
    ];
    const plane = {
      origin: [at * toViewer[0], at * toViewer[1], at * toViewer[2]] as const,
      u: right,
      v: up,
      normal: toViewer,
    };
    const segments = corners.map((corner) => ({ kind: 'line', to: corner }) as const);
    return extrude(oc, plane, { kind: 'path', start: [left, -far], segments }, 0, 2 * far);
  });
  const rest = cut(oc, shape, tools);
  try {
    return scoped((keep) => {
      const topology = topologyOf(oc, rest.raw, keep);
      const faces = facesOf(oc, topology);
      const seen = (p: Vec3): Vec2 => [dot(p, right), dot(p, up)];
      const isCut = faces.map(({ surface, centroid }) => {
        if (surface.kind !== 'plane' || dot(surface.normal, toViewer) < 1 - 1e-9) return false;
        const depth = dot(centroid, toViewer);
        const across = dot(centroid, right);
        return cuts.some(({ from, to, at }) => Math.abs(depth - at) < SAME_MM && across > from && across < to);
      });
      const mesh = displayMeshOf(oc, rest.raw, topology, faces, Math.hypot(...max.map((v, i) => v - (min[i] ?? 0))));
      const point = (i: number): Vec2 => {
        const at = 3 * (mesh.indices[i] ?? 0);
        return seen([mesh.positions[at] ?? 0, mesh.positions[at + 1] ?? 0, mesh.positions[at + 2] ?? 0]);
      };
      const cutTriangles = mesh.groups
        .filter(({ faceId }) => isCut[faceId])
        .flatMap(({ start, count }) =>
          Array.from({ length: count / 3 }, (_, t) => {
            const first = start + 3 * t;
            return [point(first), point(first + 1), point(first + 2)] as const;
          }),
        );
      return { projection: projectShape(oc, rest, view), cutTriangles };
    });
  } finally {
    rest.free();
    for (const tool of tools) tool.free();
  }
}
