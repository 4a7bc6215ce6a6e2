import type { Solid } from '#core/solid';
import { SAME_DIRECTION_COSINE, SAME_SIZE_MM } from '#core/tolerance';
import { boxDiagonal, cross, dot, normalize, type Vec2, type Vec3 } from '#core/vector';

import { displayMeshOf } from './analyze.ts';
import { cut, extrude } from './build.ts';
import { scoped } from './scope.ts';
import type { Oc, Shape } from './shape.ts';
import { boundsOf, edgesOf, facesOf, topologyOf } from './topology.ts';

/** `toViewer` points from the part to the eye, `right` to the right on the sheet. */
export interface ViewDirection {
  readonly toViewer: Vec3;
  readonly right: Vec3;
}

/** What is taken away in front of a plane, between two places across the view; mm along its axes. */
export interface CutAway {
  readonly from: number;
  readonly to: number;
  /** Where the plane lies along the direction to the viewer. */
  readonly at: number;
}

/** A part cut open, as it is drawn, and the ids of its cut faces. */
export interface CutView {
  readonly part: Pick<Solid, 'faces' | 'edges' | 'mesh' | 'bounds'>;
  readonly cutFaceIds: readonly number[];
}

/** Takes away what lies between the viewer and the planes. A plane that misses the part cuts nothing. */
export function cutAway(oc: Oc, shape: Shape, view: ViewDirection, cuts: readonly CutAway[]): CutView {
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
    return extrude(oc, plane, { kind: 'path', start: [left, -far], segments }, { fromMm: 0, toMm: 2 * far });
  });
  const rest = cut(oc, shape, tools);
  try {
    return scoped((keep) => {
      const topology = topologyOf(oc, rest.raw, keep);
      const faces = facesOf(oc, topology);
      const edges = edgesOf(oc, topology);
      const bounds = boundsOf(oc, rest.raw);
      const cutFaces = faces.filter(({ surface, centroid }) => {
        if (surface.kind !== 'plane' || dot(surface.normal, toViewer) < SAME_DIRECTION_COSINE) return false;
        const depth = dot(centroid, toViewer);
        const across = dot(centroid, right);
        return cuts.some(({ from, to, at }) => Math.abs(depth - at) < SAME_SIZE_MM && across > from && across < to);
      });
      const mesh = displayMeshOf(oc, rest.raw, { topology, faces, diagonalMm: boxDiagonal(bounds) });
      return { part: { faces, edges, mesh, bounds }, cutFaceIds: cutFaces.map(({ id }) => id) };
    });
  } finally {
    rest.free();
    for (const tool of tools) tool.free();
  }
}
