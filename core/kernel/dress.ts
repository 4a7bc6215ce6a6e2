import { ProblemError } from '#core/problem';

import { normalized } from './build.ts';
import { scoped } from './scope.ts';
import { guarded, type Oc, type Shape } from './shape.ts';
import { topologyOf } from './topology.ts';

/** Rounds the edges with the given ids (as `edgeTable` numbers them). */
export function fillet(oc: Oc, body: Shape, edgeIds: readonly number[], radiusMm: number): Shape {
  return guarded(oc, 'fillet', 'The edges could not be rounded; the radius may be too large.', () =>
    scoped((keep) => {
      const topology = topologyOf(oc, body.raw, keep);
      const operation = keep(new oc.BRepFilletAPI_MakeFillet(body.raw, 'ChFi3d_Rational'));
      for (const id of edgeIds) {
        const edge = topology.uses[id]?.[0]?.edge;
        if (edge !== undefined) operation.Add(radiusMm, edge);
      }
      operation.Build(keep(new oc.Message_ProgressRange()));
      return normalized(oc, operation.Shape());
    }),
  );
}

/** What a chamfer takes off the two faces at an edge. Without `onFaceId` both sizes are `sizeMm`. */
export interface ChamferedEdge {
  readonly edgeId: number;
  /** The face that `sizeMm` is measured on. */
  readonly onFaceId?: number;
  readonly sizeMm: number;
  /** On the other face. */
  readonly otherMm?: number;
}

/** Chamfers edges (ids as `edgeTable` numbers them), with one size or a size on each face. */
export function chamfer(oc: Oc, body: Shape, edges: readonly ChamferedEdge[]): Shape {
  return guarded(oc, 'chamfer', 'The edges could not be chamfered; the size may be too large.', () =>
    scoped((keep) => {
      const topology = topologyOf(oc, body.raw, keep);
      const operation = keep(new oc.BRepFilletAPI_MakeChamfer(body.raw));
      for (const { edgeId, onFaceId, sizeMm, otherMm } of edges) {
        const edge = topology.uses[edgeId]?.[0]?.edge;
        if (edge === undefined) continue;
        const face = onFaceId === undefined ? undefined : topology.faces[onFaceId];
        if (face === undefined) operation.Add(sizeMm, edge);
        else operation.Add(sizeMm, otherMm ?? sizeMm, edge, face);
      }
      operation.Build(keep(new oc.Message_ProgressRange()));
      if (!operation.IsDone())
        throw new ProblemError('chamfer', 'The edges could not be chamfered; the size may be too large.');
      return normalized(oc, operation.Shape());
    }),
  );
}
