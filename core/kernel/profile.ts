import type { TopoDS_Edge, TopoDS_Face, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs';

import { ProblemError } from '#core/problem';
import { JOINED_MM } from '#core/tolerance';
import { add, scale, type Vec2, type Vec3 } from '#core/vector';

import { scoped, type Keep } from './scope.ts';
import { guarded, subShapes, take, type Oc } from './shape.ts';

/** A plane to draw on: right-handed, u x v = normal, all unit vectors. */
export interface WorkPlane {
  readonly origin: Vec3;
  readonly u: Vec3;
  readonly v: Vec3;
  readonly normal: Vec3;
}

export type Segment =
  | { readonly kind: 'line'; readonly to: Vec2 }
  | { readonly kind: 'arc'; readonly through: Vec2; readonly to: Vec2 };

/** A closed outline in the coordinates of its work plane, mm. */
export type Contour =
  | { readonly kind: 'circle'; readonly center: Vec2; readonly radiusMm: number }
  | { readonly kind: 'path'; readonly start: Vec2; readonly segments: readonly Segment[] };

/** An outline with the holes in it. */
export interface Profile {
  readonly outer: Contour;
  readonly holes: readonly Contour[];
}

const asProfile = (outline: Contour | Profile): Profile =>
  'outer' in outline ? outline : { outer: outline, holes: [] };

/** Area inside a contour, mm2: positive when it runs counterclockwise, as a circle does. */
export function contourArea(contour: Contour): number {
  if (contour.kind === 'circle') return Math.PI * contour.radiusMm ** 2;
  let twice = 0;
  let from = contour.start;
  for (const segment of contour.segments) {
    const { to } = segment;
    twice += from[0] * to[1] - to[0] * from[1];
    if (segment.kind === 'arc') {
      const arc = arcThrough(from, segment.through, to);
      if (arc !== null) twice += arc.radiusMm ** 2 * (arc.sweepRad - Math.sin(arc.sweepRad));
    }
    from = to;
  }
  return twice / 2;
}

/** Center of the circle through three points, or null when they lie on a line. */
export function circleCenter(a: Vec2, b: Vec2, c: Vec2): Vec2 | null {
  const d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]));
  if (Math.abs(d) < 1e-12) return null;
  const square = (p: Vec2) => p[0] * p[0] + p[1] * p[1];
  return [
    (square(a) * (b[1] - c[1]) + square(b) * (c[1] - a[1]) + square(c) * (a[1] - b[1])) / d,
    (square(a) * (c[0] - b[0]) + square(b) * (a[0] - c[0]) + square(c) * (b[0] - a[0])) / d,
  ];
}

/** An arc by its circle; the sweep is positive counterclockwise. */
export interface Arc {
  readonly center: Vec2;
  readonly radiusMm: number;
  readonly startRad: number;
  readonly sweepRad: number;
}

/** The arc from one point through another to a third, or null when they lie on a line. */
export function arcThrough(from: Vec2, through: Vec2, to: Vec2): Arc | null {
  const center = circleCenter(from, through, to);
  if (center === null) return null;
  const angle = (p: Vec2) => Math.atan2(p[1] - center[1], p[0] - center[0]);
  const turn = (rad: number) => ((rad % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const start = angle(from);
  const [via, end] = [turn(angle(through) - start), turn(angle(to) - start)];
  return {
    center,
    radiusMm: apart(center, from),
    startRad: start,
    sweepRad: via < end ? end : end - 2 * Math.PI,
  };
}

/** A point of a work plane in space; coordinates along its axes, mm. */
export const pointOn = (plane: WorkPlane, [u, v]: Vec2): Vec3 =>
  add(plane.origin, add(scale(plane.u, u), scale(plane.v, v)));

/** The parallel work plane at a distance along the normal, mm; negative is behind. */
export const offsetPlane = (plane: WorkPlane, offsetMm: number): WorkPlane => ({
  ...plane,
  origin: add(plane.origin, scale(plane.normal, offsetMm)),
});

/** The closed wire of a contour in its place. */
export function wireOf(oc: Oc, plane: WorkPlane, contour: Contour, keep: Keep): TopoDS_Wire {
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

/** The flat face that an outline bounds. */
export function faceOf(oc: Oc, plane: WorkPlane, outline: Contour | Profile, keep: Keep): TopoDS_Face {
  const { outer, holes } = asProfile(outline);
  const carrier = keep(new oc.gp_Pln(keep(new oc.gp_Pnt(...plane.origin)), keep(new oc.gp_Dir(...plane.normal))));
  const face = keep(new oc.BRepBuilderAPI_MakeFace(carrier, wireOf(oc, plane, outer, keep), true));
  if (!face.IsDone()) throw new ProblemError('outline-face', 'The outline does not bound a face.');
  // A hole must run against the outer contour, or its area would be added.
  for (const hole of holes) {
    const wire = wireOf(oc, plane, hole, keep);
    const same = contourArea(hole) > 0 === contourArea(outer) > 0;
    face.Add(same ? keep(oc.TopoDS.Wire(keep(wire.Reversed()))) : wire);
  }
  return keep(face.Face());
}

/** Flat work plane of the whole part, for outlines that have no place in space yet. */
const FLAT: WorkPlane = { origin: [0, 0, 0], u: [1, 0, 0], v: [0, 1, 0], normal: [0, 0, 1] };

/** Union, difference or intersection of outlines; the result may be empty or fall into several pieces. */
export function combineProfiles(
  oc: Oc,
  kind: 'add' | 'subtract' | 'intersect',
  first: readonly Profile[],
  second: readonly Profile[],
): Profile[] {
  return guarded(oc, 'outline-combine', 'The outlines could not be combined.', () =>
    scoped((keep) => {
      const operation = keep(
        kind === 'add'
          ? new oc.BRepAlgoAPI_Fuse()
          : kind === 'subtract'
            ? new oc.BRepAlgoAPI_Cut()
            : new oc.BRepAlgoAPI_Common(),
      );
      const listOf = (profiles: readonly Profile[]) => {
        const list = keep(new oc.NCollection_List_TopoDS_Shape());
        for (const profile of profiles) list.Append(faceOf(oc, FLAT, profile, keep));
        return list;
      };
      operation.SetArguments(listOf(first));
      operation.SetTools(listOf(second));
      operation.Build(keep(new oc.Message_ProgressRange()));
      if (!operation.IsDone() || operation.HasErrors())
        throw new ProblemError('outline-combine', 'The outlines could not be combined.');
      operation.SimplifyResult(true, true, 1e-3);
      const result = keep(operation.Shape());
      operation.Clear();
      return profilesOf(oc, result, keep);
    }),
  );
}

/** An outline moved outward (or inward, for a negative distance), with sharp corners; empty when nothing is left. */
export function offsetProfile(oc: Oc, profile: Profile, distanceMm: number): Profile[] {
  return guarded(oc, 'outline-offset', 'The outline could not be offset by this distance.', () =>
    scoped((keep) => {
      const face = faceOf(oc, FLAT, profile, keep);
      const operation = keep(new oc.BRepOffsetAPI_MakeOffset(face, 'GeomAbs_Intersection', false));
      operation.Perform(distanceMm, 0);
      if (!operation.IsDone()) throw new ProblemError('outline-offset', 'The outline could not be offset so far.');
      const contours = contoursOf(oc, keep(operation.Shape()), keep);
      const [outer, ...holes] = contours.sort((a, b) => Math.abs(contourArea(b)) - Math.abs(contourArea(a)));
      return outer === undefined ? [] : [{ outer, holes }];
    }),
  );
}

function profilesOf(oc: Oc, shape: TopoDS_Shape, keep: Keep): Profile[] {
  return subShapes(oc, shape, 'TopAbs_FACE', keep).map((face) => {
    const contours = contoursOf(oc, face, keep).sort((a, b) => Math.abs(contourArea(b)) - Math.abs(contourArea(a)));
    const [outer, ...holes] = contours;
    if (outer === undefined) throw new ProblemError('outline-combine', 'The outlines could not be combined.');
    return { outer, holes };
  });
}

const contoursOf = (oc: Oc, shape: TopoDS_Shape, keep: Keep): Contour[] =>
  subShapes(oc, shape, 'TopAbs_WIRE', keep).map((wire) =>
    chained(subShapes(oc, wire, 'TopAbs_EDGE', keep).map((edge) => pieceOf(oc, keep(oc.TopoDS.Edge(edge))))),
  );

interface Piece {
  readonly from: Vec2;
  readonly through: Vec2;
  readonly to: Vec2;
  readonly kind: 'line' | 'arc';
}

function pieceOf(oc: Oc, edge: TopoDS_Edge): Piece {
  return scoped((keep) => {
    const curve = keep(new oc.BRepAdaptor_Curve(edge));
    const [first, last] = [curve.FirstParameter(), curve.LastParameter()];
    const at = (parameter: number): Vec2 => {
      const [x, y] = take(curve.EvalD0(parameter));
      return [x, y];
    };
    const kind = curve.GetType() === 'GeomAbs_Line' ? 'line' : 'arc';
    const piece = { from: at(first), through: at((first + last) / 2), to: at(last), kind } as const;
    return edge.Orientation() === 'TopAbs_REVERSED' ? { ...piece, from: piece.to, to: piece.from } : piece;
  });
}

const apart = (a: Vec2, b: Vec2): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** Puts the pieces of a closed contour in order. */
function chained(pieces: readonly Piece[]): Contour {
  const [first, ...rest] = pieces;
  if (first === undefined) throw new ProblemError('outline-open', 'The outline is not closed.');
  if (rest.length === 0) {
    const center: Vec2 = [(first.from[0] + first.through[0]) / 2, (first.from[1] + first.through[1]) / 2];
    return { kind: 'circle', center, radiusMm: apart(center, first.from) };
  }
  const segments: Segment[] = [];
  const push = (piece: Piece) =>
    segments.push(
      piece.kind === 'line' ? { kind: 'line', to: piece.to } : { kind: 'arc', through: piece.through, to: piece.to },
    );
  let end = first.to;
  push(first);
  while (rest.length > 0) {
    const index = rest.findIndex((piece) => apart(piece.from, end) < JOINED_MM || apart(piece.to, end) < JOINED_MM);
    const [next] = rest.splice(index, 1);
    if (index < 0 || next === undefined) throw new ProblemError('outline-open', 'The outline is not closed.');
    const onward = apart(next.from, end) < JOINED_MM ? next : { ...next, from: next.to, to: next.from };
    push(onward);
    end = onward.to;
  }
  return { kind: 'path', start: first.from, segments };
}
