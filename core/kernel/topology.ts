import type { Geom_Surface, TopoDS_Edge, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs';

import { normalAt, recognizeSurface, type Shape } from '#core/fit';
import type { Edge, Face, Surface } from '#core/solid';
import { add, cross, dot, length, nearestOnLine, normalize, scale, subtract, type Box, type Vec3 } from '#core/vector';

import { scoped, type Keep } from './scope.ts';
import { subShapes, take, type Oc } from './shape.ts';

/** Two faces are taken as smooth when their normals differ by less than half a degree. */
const SMOOTH_SINE = Math.sin((0.5 * Math.PI) / 180);

interface EdgeUse {
  readonly faceId: number;
  readonly face: TopoDS_Face;
  /** Oriented as the face uses it. */
  readonly edge: TopoDS_Edge;
}

/** Face and edge handles in id order; they live as long as the scope that `keep` belongs to. */
export interface Topology {
  readonly faces: readonly TopoDS_Face[];
  readonly uses: readonly (readonly EdgeUse[])[];
  readonly edgesOfFace: readonly (readonly number[])[];
  /** Number of the solid that each face bounds, -1 for a loose face. */
  readonly bodyOf: readonly number[];
}

/** Walks the faces of a shape in the kernel's order and gives every face and every edge an id. */
export function topologyOf(oc: Oc, shape: TopoDS_Shape, keep: Keep): Topology {
  const faces = subShapes(oc, shape, 'TopAbs_FACE', keep).map((face) => keep(oc.TopoDS.Face(face)));
  const uses: EdgeUse[][] = [];
  const buckets = new Map<number, number[]>();
  const idOf = (edge: TopoDS_Edge): number => {
    const hash = oc.ReplicadShapeHasher.HashCode(edge, 2147483647);
    const bucket = buckets.get(hash) ?? [];
    buckets.set(hash, bucket);
    const known = bucket.find((id) => uses[id]?.[0]?.edge.IsSame(edge));
    if (known !== undefined) return known;
    const id = uses.push([]) - 1;
    bucket.push(id);
    return id;
  };
  const edgesOfFace = faces.map((face, faceId) =>
    subShapes(oc, face, 'TopAbs_EDGE', keep).map((sub) => {
      const edge = keep(oc.TopoDS.Edge(sub));
      const id = idOf(edge);
      uses[id]?.push({ faceId, face, edge });
      return id;
    }),
  );
  return { faces, uses, edgesOfFace, bodyOf: bodiesOf(oc, shape, faces) };
}

function bodiesOf(oc: Oc, shape: TopoDS_Shape, faces: readonly TopoDS_Face[]): number[] {
  return scoped((keep) => {
    const bodyOf = new Map<number, { face: TopoDS_Shape; body: number }[]>();
    const hash = (face: TopoDS_Shape): number => oc.ReplicadShapeHasher.HashCode(face, 2147483647);
    subShapes(oc, shape, 'TopAbs_SOLID', keep).forEach((solid, body) => {
      for (const face of subShapes(oc, solid, 'TopAbs_FACE', keep)) {
        const bucket = bodyOf.get(hash(face));
        if (bucket) bucket.push({ face, body });
        else bodyOf.set(hash(face), [{ face, body }]);
      }
    });
    return faces.map((face) => bodyOf.get(hash(face))?.find((entry) => entry.face.IsSame(face))?.body ?? -1);
  });
}

/** Tight box of a shape in mm. */
export function boundsOf(oc: Oc, shape: TopoDS_Shape): Box {
  return scoped((keep) => {
    const box = keep(new oc.Bnd_Box());
    oc.BRepBndLib.AddOptimal(shape, box, false, false);
    if (box.IsVoid()) return { min: [0, 0, 0], max: [0, 0, 0] };
    return { min: take(box.CornerMin()), max: take(box.CornerMax()) };
  });
}

/** The face table: surface kinds with parameters, areas, tight bounds. */
export function facesOf(oc: Oc, topology: Topology): Face[] {
  return topology.faces.map((face, id) =>
    scoped((keep) => {
      const properties = keep(new oc.GProp_GProps());
      oc.BRepGProp.SurfaceProperties(face, properties, false, false);
      const centroid = take(properties.CentreOfMass());
      const areaMm2 = properties.Mass();
      return {
        id,
        ...surfaceOf(oc, face, centroid, areaMm2),
        areaMm2,
        centroid,
        bounds: boundsOf(oc, face),
        edgeIds: [...new Set(topology.edgesOfFace[id] ?? [])],
        bodyId: topology.bodyOf[id] ?? -1,
      };
    }),
  );
}

type Measured = Pick<Face, 'surface' | 'uncertaintyMm'>;

/** How far a spline may stray from the plain surface it stands for, mm and as a share of the face. */
const SPLINE_TOLERANCE_MM = 1e-4;
const SPLINE_TOLERANCE_SHARE = 2e-5;

function surfaceOf(oc: Oc, face: TopoDS_Face, centroid: Vec3, areaMm2: number): Measured {
  return scoped((keep) => {
    const adaptor = keep(new oc.BRepAdaptor_Surface(face, true));
    const exact = exactSurfaceOf(oc, face, { adaptor, centroid, keep });
    if (exact !== null) return { surface: exact, uncertaintyMm: 0 };
    const samples = samplesOf(face, adaptor);
    const toleranceMm = Math.max(SPLINE_TOLERANCE_MM, SPLINE_TOLERANCE_SHARE * Math.sqrt(areaMm2));
    const fit = recognizeSurface(
      samples.map(({ point }) => point),
      samples.map(({ normal }) => normal),
      toleranceMm,
    );
    if (fit === null) return { surface: { kind: 'freeform' }, uncertaintyMm: 0 };
    const outward = samples.reduce((sum, { point, normal }) => sum + dot(normalAt(fit.shape, point), normal), 0) >= 0;
    return { surface: sided(fit.shape, outward, centroid), uncertaintyMm: fit.uncertainty };
  });
}

/** Points inside the parameter range of a face, with normals out of the material. */
function samplesOf(
  face: TopoDS_Face,
  adaptor: InstanceType<Oc['BRepAdaptor_Surface']>,
): { readonly point: Vec3; readonly normal: Vec3 }[] {
  const side = face.Orientation() === 'TopAbs_REVERSED' ? -1 : 1;
  const [u0, u1] = [adaptor.FirstUParameter(), adaptor.LastUParameter()];
  const [v0, v1] = [adaptor.FirstVParameter(), adaptor.LastVParameter()];
  const steps = 8;
  return Array.from({ length: steps * steps }, (_, i) => i).flatMap((i) => {
    const u = u0 + ((u1 - u0) * ((i % steps) + 0.5)) / steps;
    const v = v0 + ((v1 - v0) * (Math.floor(i / steps) + 0.5)) / steps;
    const at = adaptor.EvalD1(u, v);
    const point = take(at.Point);
    const normal = cross(take(at.D1U), take(at.D1V));
    return length(normal) > 1e-12 ? [{ point, normal: scale(normalize(normal), side) }] : [];
  });
}

/** A fitted shape as the face table has it. */
function sided(shape: Shape, outward: boolean, near: Vec3): Surface {
  const side = outward ? 'convex' : 'concave';
  switch (shape.kind) {
    case 'plane':
      return { kind: 'plane', origin: near, normal: outward ? shape.normal : scale(shape.normal, -1) };
    case 'cylinder': {
      const origin = nearestOnLine(near, shape.origin, shape.direction);
      return { kind: 'cylinder', origin, direction: shape.direction, radiusMm: shape.radius, side };
    }
    case 'cone': {
      const origin = nearestOnLine(near, shape.apex, shape.direction);
      const radiusMm = length(subtract(origin, shape.apex)) * Math.tan(shape.halfAngle);
      const { apex, direction, halfAngle: halfAngleRad } = shape;
      return { kind: 'cone', origin, direction, radiusMm, halfAngleRad, apex, side };
    }
    case 'sphere':
      return { kind: 'sphere', center: shape.center, radiusMm: shape.radius, side };
    case 'torus': {
      const { center, direction, major: majorRadiusMm, minor: minorRadiusMm } = shape;
      return { kind: 'torus', center, direction, majorRadiusMm, minorRadiusMm, side };
    }
  }
}

/** Where a face is in its middle: a point, and a point of the line or circle about which it bends gives its side. */
interface Middle {
  readonly point: Vec3;
  readonly sideFrom: (center: Vec3) => 'convex' | 'concave';
}

/** The build binds no accessors for trimmed cones: axis and apex follow from two circles of the surface. */
function coneOf(cone: Geom_Surface, centroid: Vec3, { point, sideFrom }: Middle): Surface {
  const at = (u: number, v: number): Vec3 => take(cone.EvalD0(u, v));
  const circle = (v: number) => {
    const [near, far] = [at(0, v), at(Math.PI, v)];
    return { center: scale(add(near, far), 0.5), across: scale(subtract(near, far), 0.5) };
  };
  const [first, second] = [circle(0), circle(1)];
  const radial = normalize(length(first.across) > length(second.across) ? first.across : second.across);
  const [r0, r1] = [dot(first.across, radial), dot(second.across, radial)];
  const rise = subtract(second.center, first.center);
  const line = normalize(rise);
  const apex = subtract(first.center, scale(rise, r0 / (r1 - r0)));
  const origin = nearestOnLine(centroid, apex, line);
  const fromApex = subtract(origin, apex);
  const halfAngleRad = Math.atan2(Math.abs(r1 - r0), length(rise));
  return {
    kind: 'cone',
    origin,
    // Away from the apex, so that the cone opens along it.
    direction: dot(fromApex, line) < 0 ? scale(line, -1) : line,
    radiusMm: length(fromApex) * Math.tan(halfAngleRad),
    halfAngleRad,
    apex,
    side: sideFrom(nearestOnLine(point, origin, line)),
  };
}

/** The build binds no torus accessors: radii and axis follow from four points of the surface. */
function torusOf(torus: Geom_Surface, { point, sideFrom }: Middle): Surface {
  const at = (u: number, v: number): Vec3 => take(torus.EvalD0(u, v));
  const outer = at(0, 0);
  const inner = at(0, Math.PI);
  const center = scale(add(outer, at(Math.PI, 0)), 0.5);
  const direction = normalize(cross(subtract(outer, center), subtract(at(Math.PI / 2, 0), center)));
  const minorRadiusMm = length(subtract(outer, inner)) / 2;
  const majorRadiusMm = length(subtract(scale(add(outer, inner), 0.5), center));
  const toPoint = subtract(point, center);
  const inPlane = normalize(subtract(toPoint, scale(direction, dot(toPoint, direction))));
  const side = sideFrom(add(center, scale(inPlane, majorRadiusMm)));
  return { kind: 'torus', center, direction, majorRadiusMm, minorRadiusMm, side };
}

function exactSurfaceOf(
  oc: Oc,
  face: TopoDS_Face,
  {
    adaptor,
    centroid,
    keep,
  }: { readonly adaptor: InstanceType<Oc['BRepAdaptor_Surface']>; readonly centroid: Vec3; readonly keep: Keep },
): Surface | null {
  const middle = adaptor.EvalD1(
    (adaptor.FirstUParameter() + adaptor.LastUParameter()) / 2,
    (adaptor.FirstVParameter() + adaptor.LastVParameter()) / 2,
  );
  const point = take(middle.Point);
  const normal = scale(
    normalize(cross(take(middle.D1U), take(middle.D1V))),
    face.Orientation() === 'TopAbs_REVERSED' ? -1 : 1,
  );
  const sideFrom = (center: Vec3) => (dot(subtract(point, center), normal) > 0 ? 'convex' : 'concave');

  switch (adaptor.GetType()) {
    case 'GeomAbs_Plane':
      return { kind: 'plane', origin: centroid, normal };
    case 'GeomAbs_Cylinder': {
      const cylinder = keep(adaptor.Cylinder());
      const axis = keep(cylinder.Axis());
      const direction = normalize(take(axis.Direction()));
      const origin = nearestOnLine(centroid, take(axis.Location()), direction);
      const side = sideFrom(nearestOnLine(point, origin, direction));
      return { kind: 'cylinder', origin, direction, radiusMm: cylinder.Radius(), side };
    }
    case 'GeomAbs_Cone':
      return coneOf(keep(oc.BRep_Tool.Surface(face)), centroid, { point, sideFrom });
    case 'GeomAbs_Sphere': {
      const sphere = keep(adaptor.Sphere());
      const center = take(sphere.Location());
      return { kind: 'sphere', center, radiusMm: sphere.Radius(), side: sideFrom(center) };
    }
    case 'GeomAbs_Torus':
      return torusOf(keep(oc.BRep_Tool.Surface(face)), { point, sideFrom });
    default:
      return null;
  }
}

const CURVES: Readonly<Record<string, Edge['curve']>> = {
  GeomAbs_Line: 'line',
  GeomAbs_Circle: 'circle',
  GeomAbs_Ellipse: 'ellipse',
};

/** The edge table: curve kind, length, end points, the faces that meet and how. */
export function edgesOf(oc: Oc, topology: Topology): Edge[] {
  return topology.uses.map((uses, id) =>
    scoped((keep): Edge => {
      const faceIds = [...new Set(uses.map((use) => use.faceId))];
      const first = uses[0];
      if (first === undefined || oc.BRep_Tool.Degenerated(first.edge))
        return { id, curve: 'other', lengthMm: 0, start: [0, 0, 0], end: [0, 0, 0], faceIds, convexity: 'degenerate' };
      const curve = keep(new oc.BRepAdaptor_Curve(first.edge));
      const from = curve.FirstParameter();
      const to = curve.LastParameter();
      const properties = keep(new oc.GProp_GProps());
      oc.BRepGProp.LinearProperties(first.edge, properties, false, false);
      return {
        id,
        curve: CURVES[curve.GetType()] ?? 'other',
        lengthMm: properties.Mass(),
        start: take(curve.EvalD0(from)),
        end: take(curve.EvalD0(to)),
        faceIds,
        convexity: convexityOf(oc, uses, (from + to) / 2, keep),
      };
    }),
  );
}

/** (n1 x n2) . t > 0 with t along the edge as the first face uses it means the material is convex there. */
function convexityOf(oc: Oc, uses: readonly EdgeUse[], parameter: number, keep: Keep): Edge['convexity'] {
  const [first, second] = uses;
  if (first === undefined || second === undefined) return 'boundary';
  if (uses.length > 2) return 'non-manifold';
  if (first.faceId === second.faceId) return 'seam';
  const normalOn = (use: EdgeUse): Vec3 => {
    const uv = keep(keep(new oc.BRepAdaptor_Curve2d(use.edge, use.face)).EvalD0(parameter));
    const point = keep(new oc.gp_Pnt());
    const normal = keep(new oc.gp_Vec());
    keep(new oc.BRepGProp_Face(use.face, false)).Normal(uv.X(), uv.Y(), point, normal);
    return normalize([normal.X(), normal.Y(), normal.Z()]);
  };
  const normalA = normalOn(first);
  const normalB = normalOn(second);
  const at = keep(new oc.BRepAdaptor_Curve(first.edge)).EvalD1(parameter);
  at.Point.delete();
  const tangent = scale(normalize(take(at.D1)), first.edge.Orientation() === 'TopAbs_REVERSED' ? -1 : 1);
  const turn = cross(normalA, normalB);
  if (length(turn) < SMOOTH_SINE && dot(normalA, normalB) > 0) return 'smooth';
  return dot(turn, tangent) > 0 ? 'convex' : 'concave';
}
