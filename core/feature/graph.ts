/** The faces of a solid with their neighbors, as recognition needs them. */
import {
  axisOf,
  type Axis,
  type Cone,
  type Cylinder,
  type Edge,
  type Face,
  type Plane,
  type Solid,
  type Sphere,
  type Surface,
  type Torus,
} from '#core/solid';
import { FITTED_PARALLEL_SINE, SAME_PLACE_MM } from '#core/tolerance';
import { cross, distanceToLine, dot, length, perpendicular, subtract, type Vec3, pointsOf } from '#core/vector';

export interface Beyond {
  readonly edge: Edge;
  readonly face: Face;
}

/** A face that carries a certain kind of surface. */
export interface On<S extends Surface> {
  readonly face: Face;
  readonly surface: S;
}

export class FaceGraph {
  readonly solid: Solid;
  /** How sure positions are: that of the faces, and never better than rounding. */
  readonly toleranceMm: number;
  private readonly lines: ReadonlyMap<number, readonly Vec3[]>;
  private readonly neighbors: readonly (readonly Beyond[])[];

  constructor(solid: Solid) {
    this.solid = solid;
    this.toleranceMm = solid.faces.reduce(
      (most, face) => Math.max(most, Math.min(face.uncertaintyMm, 0.05)),
      SAME_PLACE_MM,
    );
    this.lines = new Map(solid.mesh.edges.map(({ edgeId, points }) => [edgeId, pointsOf(points)]));
    this.neighbors = solid.faces.map((face) =>
      face.edgeIds.flatMap((id) => {
        const edge = solid.edges[id];
        const other = edge?.faceIds.find((faceId) => faceId !== face.id);
        const beyond = other === undefined ? undefined : solid.faces[other];
        return edge && beyond ? [{ edge, face: beyond }] : [];
      }),
    );
  }

  /** The faces across each edge of a face. */
  around(face: Face): readonly Beyond[] {
    return this.neighbors[face.id] ?? [];
  }

  edgesOf(face: Face): readonly Edge[] {
    return face.edgeIds.flatMap((id) => this.solid.edges[id] ?? []);
  }

  /** Points of an edge in order; its ends where no polyline is known. */
  pointsOfEdge(edge: Edge): readonly Vec3[] {
    return this.lines.get(edge.id) ?? (edge.convexity === 'degenerate' ? [] : [edge.start, edge.end]);
  }

  /** Points along the rim of a face. */
  rim(face: Face): readonly Vec3[] {
    return this.edgesOf(face).flatMap((edge) => [...this.pointsOfEdge(edge)]);
  }

  /** Where a face begins and ends along a line. */
  span(face: Face, origin: Vec3, direction: Vec3): readonly [number, number] {
    return this.reach(face, (point) => dot(subtract(point, origin), direction));
  }

  /** The least and the greatest distance of the rim of a face from a line. */
  radii(face: Face, origin: Vec3, direction: Vec3): readonly [number, number] {
    return this.reach(face, (point) => distanceToLine(point, origin, direction));
  }

  private reach(face: Face, measure: (point: Vec3) => number): readonly [number, number] {
    let from = Infinity;
    let to = -Infinity;
    for (const edge of this.edgesOf(face)) {
      if (edge.convexity === 'degenerate') continue;
      for (const at of [measure(edge.start), measure(edge.end)]) {
        from = Math.min(from, at);
        to = Math.max(to, at);
      }
    }
    // Ends are exact, what lies between them is rounded: it counts only where it reaches farther.
    for (const point of this.rim(face)) {
      const at = measure(point);
      if (at < from - ROUNDING_MM) from = at;
      if (at > to + ROUNDING_MM) to = at;
    }
    return [from, to];
  }

  /** Share of the full turn about an axis that the rim of a face covers: 1 for a hole, 1/4 for a square corner's round. */
  turn(face: Face, origin: Vec3, direction: Vec3): number {
    const u = perpendicular(direction);
    const v = cross(direction, u);
    const angles = this.rim(face)
      .map((point) => {
        const w = subtract(point, origin);
        return Math.atan2(dot(w, v), dot(w, u));
      })
      .sort((a, b) => a - b);
    const [first] = angles;
    const last = angles[angles.length - 1];
    if (first === undefined || last === undefined) return 0;
    let gap = first + 2 * Math.PI - last;
    for (let i = 1; i < angles.length; i++) gap = Math.max(gap, (angles[i] ?? 0) - (angles[i - 1] ?? 0));
    return gap < FULL_GAP ? 1 : 1 - gap / (2 * Math.PI);
  }

  /** The turn of a cylindrical face about its own axis; 0 for other faces. */
  turnOf({ id }: Face): number {
    const face = this.solid.faces[id];
    return face?.surface.kind === 'cylinder' ? this.turn(face, face.surface.origin, face.surface.direction) : 0;
  }

  planes(): On<Plane>[] {
    return this.solid.faces.flatMap((face) => (face.surface.kind === 'plane' ? [{ face, surface: face.surface }] : []));
  }

  cylinders(side?: Cylinder['side']): On<Cylinder>[] {
    return this.solid.faces.flatMap((face) =>
      face.surface.kind === 'cylinder' && (side === undefined || face.surface.side === side)
        ? [{ face, surface: face.surface }]
        : [],
    );
  }

  cones(side?: Cone['side']): On<Cone>[] {
    return this.solid.faces.flatMap((face) =>
      face.surface.kind === 'cone' && (side === undefined || face.surface.side === side)
        ? [{ face, surface: face.surface }]
        : [],
    );
  }
}

/** Rims are polylines: a step between two of their points is not a gap. */
const FULL_GAP = 0.75;
const ROUNDING_MM = 3e-6;

/** Whether two unit vectors of measured surfaces are parallel, either way round. */
export const parallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < FITTED_PARALLEL_SINE;

/** Whether two axes are one line. */
export const sameAxis = (a: Axis, b: Axis, toleranceMm: number): boolean =>
  parallel(a.direction, b.direction) && distanceToLine(b.origin, a.origin, a.direction) < toleranceMm;

/** Whether a surface is one of revolution about an axis; flat faces count when they stand square to it. */
export function turnsAbout(surface: Surface, axis: Axis, toleranceMm: number): boolean {
  switch (surface.kind) {
    case 'plane':
      return parallel(surface.normal, axis.direction);
    case 'sphere':
      return distanceToLine((surface satisfies Sphere).center, axis.origin, axis.direction) < toleranceMm;
    case 'freeform':
      return false;
    default: {
      const own = axisOf(surface satisfies Cylinder | Cone | Torus);
      return own !== null && sameAxis(axis, own, toleranceMm);
    }
  }
}
