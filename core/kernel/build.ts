import type { TopoDS_Face, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs';

import { ProblemError } from '#core/problem';
import { add, boxCenter, boxDiagonal, dot, scale, subtract, type Mat3, type Vec2, type Vec3 } from '#core/vector';

import { scoped, type Keep } from './scope.ts';
import { countSolids, guarded, Shape, subShapes, type Oc } from './shape.ts';
import { boundsOf, topologyOf } from './topology.ts';

/** A plane to draw on: right-handed, u x v = normal, all unit vectors. */
export interface WorkPlane {
  readonly origin: Vec3;
  readonly u: Vec3;
  readonly v: Vec3;
  readonly normal: Vec3;
}

export type Segment =
  { readonly kind: 'line'; readonly to: Vec2 } | { readonly kind: 'arc'; readonly through: Vec2; readonly to: Vec2 };

/** A closed outline in the coordinates of its work plane, mm. */
export type Contour =
  | { readonly kind: 'circle'; readonly center: Vec2; readonly radiusMm: number }
  | { readonly kind: 'path'; readonly start: Vec2; readonly segments: readonly Segment[] };

export const pointOn = (plane: WorkPlane, [u, v]: Vec2): Vec3 =>
  add(plane.origin, add(scale(plane.u, u), scale(plane.v, v)));

export const offsetPlane = (plane: WorkPlane, offsetMm: number): WorkPlane => ({
  ...plane,
  origin: add(plane.origin, scale(plane.normal, offsetMm)),
});

function wireOf(oc: Oc, plane: WorkPlane, contour: Contour, keep: Keep): TopoDS_Wire {
  const point = (at: Vec2) => keep(new oc.gp_Pnt(...pointOn(plane, at)));
  const wire = keep(new oc.BRepBuilderAPI_MakeWire());
  if (contour.kind === 'circle') {
    const axes = keep(
      new oc.gp_Ax2(point(contour.center), keep(new oc.gp_Dir(...plane.normal)), keep(new oc.gp_Dir(...plane.u))),
    );
    const circle = keep(new oc.gp_Circ(axes, contour.radiusMm));
    wire.Add(keep(keep(new oc.BRepBuilderAPI_MakeEdge(circle)).Edge()));
  } else {
    let from = contour.start;
    for (const segment of contour.segments) {
      if (segment.kind === 'line') {
        wire.Add(keep(keep(new oc.BRepBuilderAPI_MakeEdge(point(from), point(segment.to))).Edge()));
      } else {
        const arc = keep(new oc.GC_MakeArcOfCircle(point(from), point(segment.through), point(segment.to)));
        wire.Add(keep(keep(new oc.BRepBuilderAPI_MakeEdge(keep(arc.Value()))).Edge()));
      }
      from = segment.to;
    }
  }
  if (!wire.IsDone()) throw new ProblemError('outline-open', 'The outline is not closed.');
  return keep(wire.Wire());
}

function faceOf(oc: Oc, plane: WorkPlane, contour: Contour, keep: Keep): TopoDS_Face {
  const carrier = keep(new oc.gp_Pln(keep(new oc.gp_Pnt(...plane.origin)), keep(new oc.gp_Dir(...plane.normal))));
  const face = keep(new oc.BRepBuilderAPI_MakeFace(carrier, wireOf(oc, plane, contour, keep), true));
  if (!face.IsDone()) throw new ProblemError('outline-face', 'The outline does not bound a face.');
  return keep(face.Face());
}

/** Prism over a contour between two offsets along the normal of its plane. */
export function extrude(oc: Oc, plane: WorkPlane, contour: Contour, fromMm: number, toMm: number): Shape {
  return guarded(oc, 'extrude', 'The outline could not be extruded.', () =>
    scoped((keep) => {
      const face = faceOf(oc, offsetPlane(plane, fromMm), contour, keep);
      const path = keep(new oc.gp_Vec(...scale(plane.normal, toMm - fromMm)));
      return new Shape(keep(new oc.BRepPrimAPI_MakePrism(face, path, false, true)).Shape());
    }),
  );
}

/** Full turn of a contour about a line of its plane. */
export function revolve(oc: Oc, plane: WorkPlane, contour: Contour, axis: { origin: Vec2; direction: Vec2 }): Shape {
  return guarded(oc, 'revolve', 'The outline could not be turned about its axis.', () =>
    scoped((keep) => {
      const face = faceOf(oc, plane, contour, keep);
      const direction = subtract(pointOn(plane, axis.direction), plane.origin);
      const line = keep(
        new oc.gp_Ax1(keep(new oc.gp_Pnt(...pointOn(plane, axis.origin))), keep(new oc.gp_Dir(...direction))),
      );
      return new Shape(keep(new oc.BRepPrimAPI_MakeRevol(face, line, false)).Shape());
    }),
  );
}

/** Operations return compounds; a compound of one solid becomes that solid. */
function normalized(oc: Oc, raw: TopoDS_Shape): Shape {
  return scoped((keep) => {
    const solids = subShapes(oc, raw, 'TopAbs_SOLID', keep);
    const [solid] = solids;
    if (solids.length !== 1 || solid === undefined) return new Shape(raw);
    keep(raw);
    return new Shape(oc.TopoDS.Solid(solid));
  });
}

function combine(
  oc: Oc,
  kind: 'add' | 'cut',
  body: Shape,
  tools: readonly Shape[],
  seams: 'merge' | 'keep' = 'merge',
): Shape {
  return guarded(oc, 'boolean', 'The bodies could not be combined.', () =>
    scoped((keep) => {
      const operation = keep(kind === 'add' ? new oc.BRepAlgoAPI_Fuse() : new oc.BRepAlgoAPI_Cut());
      const listOf = (shapes: readonly TopoDS_Shape[]) => {
        const list = keep(new oc.NCollection_List_TopoDS_Shape());
        for (const shape of shapes) list.Append(shape);
        return list;
      };
      operation.SetArguments(listOf([body.raw]));
      operation.SetTools(listOf(tools.map((tool) => tool.raw)));
      operation.Build(keep(new oc.Message_ProgressRange()));
      if (!operation.IsDone() || operation.HasErrors())
        throw new ProblemError('boolean', 'The bodies could not be combined.');
      if (seams === 'merge') operation.SimplifyResult(true, true, 1e-3);
      return normalized(oc, operation.Shape());
    }),
  );
}

/** Union of a body with tools. */
export const fuse = (oc: Oc, body: Shape, tools: readonly Shape[]): Shape => combine(oc, 'add', body, tools);
/**
 * The body cut in two by a plane and put together again with the seam left in: every face that the plane crosses is in
 * two pieces, as careless modeling leaves it.
 */
export function withSeam(oc: Oc, body: Shape, plane: WorkPlane): Shape {
  const { fromMm, toMm } = reach(oc, body, plane);
  const size = boxDiagonal(boundsOf(oc, body.raw)) * 2;
  const square: Contour = {
    kind: 'path',
    start: [-size, -size],
    segments: [
      { kind: 'line', to: [size, -size] },
      { kind: 'line', to: [size, size] },
      { kind: 'line', to: [-size, size] },
      { kind: 'line', to: [-size, -size] },
    ],
  };
  const half = extrude(oc, plane, square, 0, toMm + size);
  const other = extrude(oc, plane, square, fromMm - size, 0);
  const [below, above] = [combine(oc, 'cut', body, [half]), combine(oc, 'cut', body, [other])];
  try {
    return combine(oc, 'add', below, [above], 'keep');
  } finally {
    for (const shape of [half, other, below, above]) shape.free();
  }
}

/** A body less the tools; all tools in one operation, which is many times faster than one by one. */
export const cut = (oc: Oc, body: Shape, tools: readonly Shape[]): Shape => combine(oc, 'cut', body, tools);

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

/** Bevels the edges with the given ids by the same size on both faces. */
export function chamfer(oc: Oc, body: Shape, edgeIds: readonly number[], sizeMm: number): Shape {
  return guarded(oc, 'chamfer', 'The edges could not be chamfered; the size may be too large.', () =>
    scoped((keep) => {
      const topology = topologyOf(oc, body.raw, keep);
      const operation = keep(new oc.BRepFilletAPI_MakeChamfer(body.raw));
      for (const id of edgeIds) {
        const edge = topology.uses[id]?.[0]?.edge;
        if (edge !== undefined) operation.Add(sizeMm, edge);
      }
      operation.Build(keep(new oc.Message_ProgressRange()));
      return normalized(oc, operation.Shape());
    }),
  );
}

/** A copy moved and turned: p' = rotation p + translation. */
export function moved(oc: Oc, body: Shape, rotation: Mat3, translation: Vec3): Shape {
  return guarded(oc, 'move', 'The body could not be moved.', () =>
    scoped((keep) => {
      const motion = keep(new oc.gp_Trsf());
      const [a, b, c] = rotation;
      motion.SetValues(...a, translation[0], ...b, translation[1], ...c, translation[2]);
      return new Shape(keep(new oc.BRepBuilderAPI_Transform(body.raw, motion, true, false)).Shape());
    }),
  );
}

/** How far a body reaches along the normal of a plane, measured from the plane, with some room on both ends. */
export function reach(oc: Oc, body: Shape, plane: WorkPlane): { readonly fromMm: number; readonly toMm: number } {
  const box = boundsOf(oc, body.raw);
  const middle = dot(subtract(boxCenter(box), plane.origin), plane.normal);
  const room = boxDiagonal(box) / 2 + 1;
  return { fromMm: middle - room, toMm: middle + room };
}

/** Number of solid bodies in a shape. */
export const bodyCount = (oc: Oc, shape: Shape): number => countSolids(oc, shape.raw);
