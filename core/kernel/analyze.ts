import type { TopoDS_Shape } from 'replicad-opencascadejs';

import {
  exactEstimate,
  roundCoordinate,
  type DisplayMesh,
  type Face,
  type MassProperties,
  type Solid,
  type SolidSource,
} from '#core/solid';
import { boxDiagonal, cross, length, subtract, type Mat3, type Vec3 } from '#core/vector';

import { looseFaces, needlessEdges, warningsAbout } from './condition.ts';
import { scoped } from './scope.ts';
import { countSolids, guarded, memoryOf, subShapes, take, type Oc, type Shape } from './shape.ts';
import { boundsOf, edgesOf, facesOf, topologyOf, type Topology } from './topology.ts';

/** Error goal of the kernel's adaptive integration, relative; used where a face is not a plane, cylinder or cone. */
const INTEGRATION_GOAL = 1e-6;

/**
 * Everything Zorvet knows of a shape, as plain data. Faces that one surface carries and that are split only by a seam
 * are joined first, so that the face table does not depend on the exporter.
 */
export function analyzeShape(oc: Oc, shape: Shape, source: SolidSource, fineness?: MeshFineness): Solid {
  return guarded(oc, 'kernel-analysis', 'The model was read but could not be analyzed.', () =>
    scoped((keep) => {
      const bodies = countSolids(oc, shape.raw);
      const asRead = massPropertiesOf(oc, shape.raw);
      const inverted = bodies > 0 && asRead.volumeMm3 < 0;
      const own = inverted ? keep(shape.raw.Reversed()) : shape.raw;
      const raw = keep(withoutSplitFaces(oc, own));
      const topology = topologyOf(oc, raw, keep);
      const faces = facesOf(oc, topology);
      const edges = edgesOf(oc, topology);
      const bounds = boundsOf(oc, raw);
      const rawFaces = subShapes(oc, own, 'TopAbs_FACE', keep).length;
      const valid = isValid(oc, own);
      const closed =
        bodies > 0 && edges.every((edge) => edge.convexity !== 'boundary' && edge.convexity !== 'non-manifold');
      const massProperties = inverted ? massPropertiesOf(oc, own) : asRead;
      return {
        source,
        bodies,
        valid,
        closed,
        massProperties,
        estimate: exactEstimate(massProperties),
        bounds,
        faces,
        edges,
        mesh: displayMeshOf(oc, raw, { topology, faces, diagonalMm: boxDiagonal(bounds), fineness }),
        warnings: warningsAbout({
          bodies,
          valid,
          closed,
          inverted,
          loose: looseFaces(topology),
          needless: rawFaces === faces.length ? 0 : needlessEdges(oc, own),
          faces,
          edges,
          bounds,
        }),
      };
    }),
  );
}

/** Whether the kernel finds no fault in a shape. */
function isValid(oc: Oc, shape: TopoDS_Shape): boolean {
  return scoped((keep) => {
    const checker = keep(new oc.BRepCheck_Analyzer(shape, true, false, false));
    const valid = checker.IsValid();
    // Its findings are freed only when it is given something else to check.
    const corner = keep(new oc.BRepBuilderAPI_MakeVertex(keep(new oc.gp_Pnt(0, 0, 0))));
    checker.Init(keep(corner.Shape()), true);
    return valid;
  });
}

function withoutSplitFaces(oc: Oc, shape: TopoDS_Shape): TopoDS_Shape {
  return scoped((keep) => {
    const unify = keep(new oc.ShapeUpgrade_UnifySameDomain(shape, true, true, false));
    unify.Build();
    return unify.Shape();
  });
}

const QUADRICS = new Set(['GeomAbs_Plane', 'GeomAbs_Cylinder', 'GeomAbs_Cone']);

/** Whether all faces are planes, cylinders and cones that end at lines and circles: the usual integration is exact there. */
function isPlain(oc: Oc, shape: TopoDS_Shape): boolean {
  return scoped((keep) => {
    const faces = subShapes(oc, shape, 'TopAbs_FACE', keep);
    const surface = (face: TopoDS_Shape) =>
      keep(new oc.BRepAdaptor_Surface(keep(oc.TopoDS.Face(face)), true)).GetType();
    if (!faces.every((face) => QUADRICS.has(surface(face)))) return false;
    return subShapes(oc, shape, 'TopAbs_EDGE', keep).every((sub) => {
      const edge = keep(oc.TopoDS.Edge(sub));
      if (oc.BRep_Tool.Degenerated(edge)) return true;
      const curve = keep(new oc.BRepAdaptor_Curve(edge)).GetType();
      return curve === 'GeomAbs_Line' || curve === 'GeomAbs_Circle';
    });
  });
}

/** Volume, area, centroid and inertia about the centroid, integrated over the B-rep for unit density. */
export function massPropertiesOf(oc: Oc, shape: TopoDS_Shape): MassProperties {
  return scoped((keep) => {
    const plain = isPlain(oc, shape);
    const volume = keep(new oc.GProp_GProps());
    if (plain) oc.BRepGProp.VolumeProperties(shape, volume, false, false, false);
    else oc.BRepGProp.VolumeProperties(shape, volume, INTEGRATION_GOAL, false, false);
    const area = keep(new oc.GProp_GProps());
    if (plain) oc.BRepGProp.SurfaceProperties(shape, area, false, false);
    else oc.BRepGProp.SurfaceProperties(shape, area, INTEGRATION_GOAL, false);
    const centroidMm = take(volume.CentreOfMass());
    const about = (direction: Vec3): number => {
      const axis = keep(new oc.gp_Ax1(keep(new oc.gp_Pnt(...centroidMm)), keep(new oc.gp_Dir(...direction))));
      return volume.MomentOfInertia(axis);
    };
    const half = Math.SQRT1_2;
    const [xx, yy, zz] = [about([1, 0, 0]), about([0, 1, 0]), about([0, 0, 1])];
    // The moment about a diagonal is the mean of two diagonal entries plus the product of inertia between them.
    const xy = about([half, half, 0]) - (xx + yy) / 2;
    const xz = about([half, 0, half]) - (xx + zz) / 2;
    const yz = about([0, half, half]) - (yy + zz) / 2;
    const inertiaMm5: Mat3 = [
      [xx, xy, xz],
      [xy, yy, yz],
      [xz, yz, zz],
    ];
    return { volumeMm3: volume.Mass(), areaMm2: area.Mass(), centroidMm, inertiaMm5 };
  });
}

/** Turning of the surface within one triangle, rad. The later ones are tried when the mesher fails at a face. */
const MESH_ANGLES = [0.2, 0.3, 0.12, 0.45] as const;
/** With many edges the mesher's time grows with the square of their points, so it is given fewer. */
const MANY_EDGES = 600;
const COARSE_ANGLES = [0.5, 0.4, 0.6] as const;
/** The triangles of a face may differ from its area by this share before they are taken for a failure of the mesher. */
const MESH_AREA_SHARE = 0.04;

/** How far triangles may be from the surface, and how far it may turn within one. */
export interface MeshFineness {
  readonly toleranceMm: number;
  readonly angleRad: number;
}

interface FaceTriangles {
  readonly positions: number[];
  readonly indices: number[];
  readonly groups: readonly { readonly faceId: number; readonly start: number; readonly count: number }[];
  /** Largest difference between the area of a face and of its triangles, as a share; infinite for a face without any. */
  readonly worst: number;
}

/**
 * Triangles and edge polylines of a shape. The mesher of the kernel sometimes folds the triangles of a round face or
 * leaves one out; the areas show it, and then it is tried with another angle.
 */
export function displayMeshOf(
  oc: Oc,
  shape: TopoDS_Shape,
  {
    topology,
    faces,
    diagonalMm,
    fineness,
  }: {
    readonly topology: Topology;
    readonly faces: readonly Face[];
    readonly diagonalMm: number;
    readonly fineness?: MeshFineness | undefined;
  },
): DisplayMesh {
  const toleranceMm = fineness?.toleranceMm ?? Math.min(0.1, Math.max(0.005, diagonalMm * 3e-4));
  // Triangles that are there already would be kept, however coarse.
  if (fineness) oc.BRepTools.Clean(shape, true);
  let best: FaceTriangles | null = null;
  const usual = topology.uses.length > MANY_EDGES ? COARSE_ANGLES : MESH_ANGLES;
  for (const angle of fineness ? [fineness.angleRad] : usual) {
    if (best !== null) oc.BRepTools.Clean(shape, true);
    const mesh = trianglesOf(oc, shape, { topology, faces, toleranceMm, angleRad: angle });
    if (best === null || mesh.worst < best.worst) best = mesh;
    if (best.worst < MESH_AREA_SHARE) break;
  }
  const { positions, indices, groups } = best ?? { positions: [], indices: [], groups: [] };
  return { positions, indices, groups, edges: polylinesOf(oc, topology, toleranceMm) };
}

function trianglesOf(
  oc: Oc,
  shape: TopoDS_Shape,
  {
    topology,
    faces,
    toleranceMm,
    angleRad,
  }: {
    readonly topology: Topology;
    readonly faces: readonly Face[];
    readonly toleranceMm: number;
    readonly angleRad: number;
  },
): FaceTriangles {
  return scoped((keep) => {
    const data = keep(oc.ReplicadMeshExtractor.extract(shape, toleranceMm, angleRad, true));
    // Taken after the extraction: the kernel's memory may have grown and moved.
    const memory = memoryOf(oc);
    const positions = Array.from(
      new Float32Array(memory, data.getVerticesPtr(), data.getVerticesSize()),
      roundCoordinate,
    );
    const indices = Array.from(new Uint32Array(memory, data.getTrianglesPtr(), data.getTrianglesSize()));
    const ranges = new Int32Array(memory, data.getFaceGroupsPtr(), data.getFaceGroupsSize());
    const byHash = new Map(topology.faces.map((face, id) => [oc.ReplicadShapeHasher.HashCode(face, 2147483647), id]));
    const inOrder = ranges.length / 3 === topology.faces.length;
    const groups: { faceId: number; start: number; count: number }[] = [];
    for (let i = 0; i + 2 < ranges.length; i += 3) {
      const faceId = inOrder ? i / 3 : byHash.get(ranges[i + 2] ?? -1);
      if (faceId !== undefined) groups.push({ faceId, start: ranges[i] ?? 0, count: ranges[i + 1] ?? 0 });
    }
    const meshed = new Map(groups.map((group) => [group.faceId, areaOf(positions, indices, group)]));
    const worst = faces.reduce((most, { id, areaMm2 }) => {
      const area = meshed.get(id);
      // Small faces cannot spoil much, and few triangles serve them.
      const off = area === undefined ? Infinity : Math.abs(area - areaMm2) / Math.max(areaMm2, 0.1 * toleranceMm ** 2);
      return Math.max(most, areaMm2 < 100 * toleranceMm ** 2 && area !== undefined ? 0 : off);
    }, 0);
    return { positions, indices, groups, worst };
  });
}

function areaOf(
  positions: readonly number[],
  indices: readonly number[],
  { start, count }: { readonly start: number; readonly count: number },
): number {
  const at = (i: number): Vec3 => {
    const v = 3 * (indices[i] ?? 0);
    return [positions[v] ?? 0, positions[v + 1] ?? 0, positions[v + 2] ?? 0];
  };
  let area = 0;
  for (let i = start; i < start + count; i += 3)
    area += length(cross(subtract(at(i + 1), at(i)), subtract(at(i + 2), at(i)))) / 2;
  return area;
}

function polylinesOf(oc: Oc, topology: Topology, toleranceMm: number): DisplayMesh['edges'] {
  return topology.uses.flatMap((uses, edgeId) => {
    const first = uses[0];
    if (first === undefined || oc.BRep_Tool.Degenerated(first.edge)) return [];
    if (uses.length === 2 && uses[1]?.faceId === first.faceId) return [];
    return scoped((keep) => {
      const curve = keep(new oc.BRepAdaptor_Curve(first.edge));
      const [from, to] = [curve.FirstParameter(), curve.LastParameter()];
      // All eight arguments: with fewer, the binding picks another overload.
      const samples = keep(new oc.GCPnts_TangentialDeflection(curve, from, to, 0.15, toleranceMm, 2, 1e-9, 1e-7));
      const points: number[] = [];
      for (let i = 1; i <= samples.NbPoints(); i++) points.push(...take(samples.Value(i)).map(roundCoordinate));
      return [{ edgeId, faceIds: uses.map((use) => use.faceId), points }];
    });
  });
}
