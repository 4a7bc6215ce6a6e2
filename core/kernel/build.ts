import type { TopoDS_Shape } from 'replicad-opencascadejs';

import { ProblemError } from '#core/problem';
import { boxCenter, boxDiagonal, dot, scale, subtract, type Box, type Mat3, type Vec2, type Vec3 } from '#core/vector';

import { faceOf, offsetPlane, pointOn, wireOf, type Contour, type Profile, type WorkPlane } from './profile.ts';
import { scoped } from './scope.ts';
import { countSolids, guarded, Shape, subShapes, type Oc } from './shape.ts';
import { boundsOf, topologyOf } from './topology.ts';

/** Prism over an outline between two offsets along the normal of its plane. */
export function extrude(
  oc: Oc,
  plane: WorkPlane,
  outline: Contour | Profile,
  { fromMm, toMm }: { readonly fromMm: number; readonly toMm: number },
): Shape {
  return guarded(oc, 'extrude', 'The outline could not be extruded.', () =>
    scoped((keep) => {
      const face = faceOf(oc, offsetPlane(plane, fromMm), outline, keep);
      const path = keep(new oc.gp_Vec(...scale(plane.normal, toMm - fromMm)));
      return new Shape(keep(new oc.BRepPrimAPI_MakePrism(face, path, false, true)).Shape());
    }),
  );
}

/** An outline turned about a line of its plane, all the way round or by an angle. */
export function revolve(
  oc: Oc,
  plane: WorkPlane,
  outline: Contour | Profile,
  {
    axis,
    angleRad = 2 * Math.PI,
  }: { readonly axis: { readonly origin: Vec2; readonly direction: Vec2 }; readonly angleRad?: number | undefined },
): Shape {
  return guarded(oc, 'revolve', 'The outline could not be turned about its axis.', () =>
    scoped((keep) => {
      const face = faceOf(oc, plane, outline, keep);
      const direction = subtract(pointOn(plane, axis.direction), plane.origin);
      const line = keep(
        new oc.gp_Ax1(keep(new oc.gp_Pnt(...pointOn(plane, axis.origin))), keep(new oc.gp_Dir(...direction))),
      );
      const whole = Math.abs(angleRad - 2 * Math.PI) < 1e-9;
      const turned = whole
        ? new oc.BRepPrimAPI_MakeRevol(face, line, false)
        : new oc.BRepPrimAPI_MakeRevol(face, line, angleRad, false);
      return new Shape(keep(turned).Shape());
    }),
  );
}

/** The solid with straight lines between two outlines on two planes. */
export function loft(
  oc: Oc,
  first: { readonly plane: WorkPlane; readonly contour: Contour },
  second: { readonly plane: WorkPlane; readonly contour: Contour },
): Shape {
  return guarded(oc, 'loft', 'The two outlines could not be joined.', () =>
    scoped((keep) => {
      const sections = keep(new oc.BRepOffsetAPI_ThruSections(true, true, 1e-6));
      for (const { plane, contour } of [first, second]) sections.AddWire(wireOf(oc, plane, contour, keep));
      sections.CheckCompatibility(true);
      sections.Build(keep(new oc.Message_ProgressRange()));
      return new Shape(sections.Shape());
    }),
  );
}

/** Operations return compounds; a compound of one solid becomes that solid. */
export function normalized(oc: Oc, raw: TopoDS_Shape): Shape {
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
  kind: 'add' | 'cut' | 'common',
  {
    body,
    tools,
    seams = 'merge',
  }: { readonly body: Shape; readonly tools: readonly Shape[]; readonly seams?: 'merge' | 'keep' },
): Shape {
  return guarded(oc, 'boolean', 'The bodies could not be combined.', () =>
    scoped((keep) => {
      const operation = keep(
        kind === 'add'
          ? new oc.BRepAlgoAPI_Fuse()
          : kind === 'cut'
            ? new oc.BRepAlgoAPI_Cut()
            : new oc.BRepAlgoAPI_Common(),
      );
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
      const result = operation.Shape();
      // Without this its working data is never freed.
      operation.Clear();
      return normalized(oc, result);
    }),
  );
}

/** Union of a body with tools. */
export const fuse = (oc: Oc, body: Shape, tools: readonly Shape[]): Shape => combine(oc, 'add', { body, tools });
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
  const half = extrude(oc, plane, square, { fromMm: 0, toMm: toMm + size });
  const other = extrude(oc, plane, square, { fromMm: fromMm - size, toMm: 0 });
  const [below, above] = [combine(oc, 'cut', { body, tools: [half] }), combine(oc, 'cut', { body, tools: [other] })];
  try {
    return combine(oc, 'add', { body: below, tools: [above], seams: 'keep' });
  } finally {
    for (const shape of [half, other, below, above]) shape.free();
  }
}

/** A body less the tools; all tools in one operation, which is many times faster than one by one. */
export const cut = (oc: Oc, body: Shape, tools: readonly Shape[]): Shape => combine(oc, 'cut', { body, tools });

/** What a body shares with the tools. */
export const common = (oc: Oc, body: Shape, tools: readonly Shape[]): Shape => combine(oc, 'common', { body, tools });

/** The solids of a shape, each by itself. */
export const pieces = (oc: Oc, shape: Shape): Shape[] =>
  scoped((keep) => subShapes(oc, shape.raw, 'TopAbs_SOLID', keep).map((solid) => new Shape(oc.TopoDS.Solid(solid))));

/** The pieces into which the faces of a body, given by id, cut a tool. */
export function splitBy(oc: Oc, tool: Shape, body: Shape, faceIds: readonly number[]): Shape[] {
  return guarded(oc, 'split', 'The body could not be cut at that surface.', () =>
    scoped((keep) => {
      const { faces } = topologyOf(oc, body.raw, keep);
      const operation = keep(new oc.BRepAlgoAPI_Splitter());
      const [cut, by] = [keep(new oc.NCollection_List_TopoDS_Shape()), keep(new oc.NCollection_List_TopoDS_Shape())];
      cut.Append(tool.raw);
      for (const id of faceIds) {
        const face = faces[id];
        if (face !== undefined) by.Append(face);
      }
      operation.SetArguments(cut);
      operation.SetTools(by);
      operation.Build(keep(new oc.Message_ProgressRange()));
      if (!operation.IsDone() || operation.HasErrors())
        throw new ProblemError('split', 'The body could not be cut at that surface.');
      const whole = new Shape(operation.Shape());
      operation.Clear();
      try {
        return pieces(oc, whole);
      } finally {
        whole.free();
      }
    }),
  );
}

/** A second handle of the same body, freed on its own. */
export const handle = (shape: Shape): Shape => new Shape(shape.raw.Oriented(shape.raw.Orientation()));

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

/** The tight box of a body in the axes of a plane: u, v and normal, from its origin. */
export function boxOn(oc: Oc, body: Shape, plane: WorkPlane): Box {
  const rotation: Mat3 = [plane.u, plane.v, plane.normal];
  const turned = moved(oc, body, rotation, [
    -dot(plane.u, plane.origin),
    -dot(plane.v, plane.origin),
    -dot(plane.normal, plane.origin),
  ]);
  try {
    return boundsOf(oc, turned.raw);
  } finally {
    turned.free();
  }
}

/** Number of solid bodies in a shape. */
export const bodyCount = (oc: Oc, shape: Shape): number => countSolids(oc, shape.raw);

/** What flat faces of a body, given by id, sweep over when they move. */
export function sweep(oc: Oc, body: Shape, faceIds: readonly number[], by: Vec3): Shape[] {
  return guarded(oc, 'sweep', 'The faces could not be moved.', () =>
    scoped((keep) => {
      const { faces } = topologyOf(oc, body.raw, keep);
      const path = keep(new oc.gp_Vec(...by));
      return faceIds.flatMap((id) => {
        const face = faces[id];
        return face === undefined ? [] : new Shape(keep(new oc.BRepPrimAPI_MakePrism(face, path, true, true)).Shape());
      });
    }),
  );
}
