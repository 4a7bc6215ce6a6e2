import type { TopoDS_Shape } from 'replicad-opencascadejs';

import type { DisplayMesh, Face, MassProperties, Solid, SolidSource, Warning } from '#core/solid';
import { boxDiagonal, type Mat3, type Vec3 } from '#core/vector';

import { scoped } from './scope.ts';
import { countSolids, guarded, memoryOf, take, type Oc, type Shape } from './shape.ts';
import { boundsOf, edgesOf, facesOf, topologyOf, type Topology } from './topology.ts';

/** Error goal of the kernel's adaptive integration, relative; used where a face is not a plane, cylinder or cone. */
const INTEGRATION_GOAL = 1e-6;

/**
 * Everything Zorvet knows of a shape, as plain data. Faces that one surface carries and that are split only by a seam
 * are joined first, so that the face table does not depend on the exporter.
 */
export function analyzeShape(oc: Oc, shape: Shape, source: SolidSource): Solid {
  return guarded(oc, 'kernel-analysis', 'The model was read but could not be analyzed.', () =>
    scoped((keep) => {
      const raw = keep(withoutSplitFaces(oc, shape.raw));
      const topology = topologyOf(oc, raw, keep);
      const faces = facesOf(oc, topology);
      const edges = edgesOf(oc, topology);
      const bounds = boundsOf(oc, raw);
      const bodies = countSolids(oc, shape.raw);
      const checker = keep(new oc.BRepCheck_Analyzer(shape.raw, true, false, false));
      const valid = checker.IsValid();
      const closed = bodies > 0 && edges.every((edge) => edge.joint !== 'free' && edge.joint !== 'knot');
      return {
        source,
        bodies,
        valid,
        closed,
        massProperties: massPropertiesOf(oc, raw, faces),
        bounds,
        faces,
        edges,
        mesh: displayMeshOf(oc, raw, topology, boxDiagonal(bounds)),
        warnings: warningsOf(bodies, valid, closed),
      };
    }),
  );
}

function warningsOf(bodies: number, valid: boolean, closed: boolean): Warning[] {
  const warnings: Warning[] = [];
  if (bodies === 0)
    warnings.push({
      code: 'no-solid',
      message: 'The file holds surfaces but no solid body; a closed solid is wanted.',
    });
  if (bodies > 1)
    warnings.push({
      code: 'several-bodies',
      message: `The model is ${String(bodies)} separate bodies; merge them into one.`,
    });
  if (bodies > 0 && !closed) warnings.push({ code: 'not-closed', message: 'The surface of the body is not closed.' });
  if (!valid)
    warnings.push({ code: 'invalid-geometry', message: 'The kernel finds faults in the geometry of this model.' });
  return warnings;
}

function withoutSplitFaces(oc: Oc, shape: TopoDS_Shape): TopoDS_Shape {
  return scoped((keep) => {
    const unify = keep(new oc.ShapeUpgrade_UnifySameDomain(shape, true, true, false));
    unify.Build();
    return unify.Shape();
  });
}

/** Volume, area, centroid and inertia about the centroid, integrated over the B-rep for unit density. */
export function massPropertiesOf(oc: Oc, shape: TopoDS_Shape, faces: readonly Face[]): MassProperties {
  return scoped((keep) => {
    const quadric = faces.every(({ surface }) => ['plane', 'cylinder', 'cone'].includes(surface.kind));
    const volume = keep(new oc.GProp_GProps());
    oc.BRepGProp.VolumeProperties(shape, volume, false, false, false);
    const refined = quadric ? volume : keep(new oc.GProp_GProps());
    if (!quadric) oc.BRepGProp.VolumeProperties(shape, refined, INTEGRATION_GOAL, false, false);
    const area = keep(new oc.GProp_GProps());
    if (quadric) oc.BRepGProp.SurfaceProperties(shape, area, false, false);
    else oc.BRepGProp.SurfaceProperties(shape, area, INTEGRATION_GOAL, false);
    const centroidMm = take(refined.CentreOfMass());
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
    return { volumeMm3: refined.Mass(), areaMm2: area.Mass(), centroidMm, inertiaMm5 };
  });
}

const round4 = (value: number): number => Math.round(value * 1e4) / 1e4;

/** Triangles and edge polylines for the viewer. Measuring never uses them. */
export function displayMeshOf(oc: Oc, shape: TopoDS_Shape, topology: Topology, diagonalMm: number): DisplayMesh {
  return scoped((keep) => {
    const toleranceMm = Math.min(0.1, Math.max(0.005, diagonalMm * 3e-4));
    const data = keep(oc.ReplicadMeshExtractor.extract(shape, toleranceMm, 0.2, true));
    // Taken after the extraction: the kernel's memory may have grown and moved.
    const memory = memoryOf(oc);
    const vertices = new Float32Array(memory, data.getVerticesPtr(), data.getVerticesSize());
    const triangles = new Uint32Array(memory, data.getTrianglesPtr(), data.getTrianglesSize());
    const ranges = new Int32Array(memory, data.getFaceGroupsPtr(), data.getFaceGroupsSize());
    const byHash = new Map(topology.faces.map((face, id) => [oc.ReplicadShapeHasher.HashCode(face, 2147483647), id]));
    const inOrder = ranges.length / 3 === topology.faces.length;
    const groups: { faceId: number; start: number; count: number }[] = [];
    for (let i = 0; i + 2 < ranges.length; i += 3) {
      const faceId = inOrder ? i / 3 : byHash.get(ranges[i + 2] ?? -1);
      if (faceId !== undefined) groups.push({ faceId, start: ranges[i] ?? 0, count: ranges[i + 1] ?? 0 });
    }
    return {
      positions: Array.from(vertices, round4),
      indices: Array.from(triangles),
      groups,
      edges: polylinesOf(oc, topology, toleranceMm),
    };
  });
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
      for (let i = 1; i <= samples.NbPoints(); i++) points.push(...take(samples.Value(i)).map(round4));
      return [{ edgeId, faceIds: uses.map((use) => use.faceId), points }];
    });
  });
}
