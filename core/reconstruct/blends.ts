import { grouped } from '#core/group';
import { featuresOf, graphOf, type Chamfer, type FaceGraph, type Fillet } from '#core/feature';
import type { Contour, Kernel, Shape, WorkPlane } from '#core/kernel';
import type { DrawingUnit } from '#core/quantity';
import { basePlane, planeAt, type EdgeSelector, type Step, type StepOf } from '#core/recipe';
import type { Cylinder, Face, Plane, Solid, Torus } from '#core/solid';
import { add, cross, dot, length, normalize, perpendicular, scale, subtract, type Vec2, type Vec3 } from '#core/vector';

import {
  degrees,
  lengthIn,
  nameOfFace,
  offsetBasePlane,
  onPlane,
  partsOf,
  pointIn,
  type Candidate,
  type Naming,
} from './candidate.ts';
import { outlineFrom } from './outline.ts';
import { eachMade, polygon } from './tools.ts';

/** One face of a round or chamfer as the edge that it was made on, and the material between the two. */
interface Blend {
  readonly tool: () => Shape;
  /** A point of the sharp edge. */
  readonly near: Vec3;
  readonly sharpSides: readonly [Face, Face];
  /** The same material as an outline that is turned, where the axis is one of those that a part is drawn about. */
  readonly turning?: Turning | null;
}

type Turning = Pick<StepOf<'revolve'>, 'plane' | 'outlines' | 'axis'>;

/** Rounds of one radius and chamfers of one size, each as one step where all of them can be undone, else one by one. */
export function blendCandidates(kernel: Kernel, solid: Solid, naming: Naming): readonly (readonly Candidate[])[] {
  const graph = graphOf(solid);
  const filletBlends = featuresOf(solid, 'fillet').flatMap((fillet) => {
    const blends = fillet.faceIds.map((id) => filletBlend(kernel, graph, { fillet, id, unit: naming.unit }));
    return blends.includes(null) ? [] : [{ fillet, blends: blends as readonly Blend[] }];
  });
  const chamferBlends = featuresOf(solid, 'chamfer').flatMap((chamfer) => {
    const blend = chamferBlend(kernel, graph, chamfer, naming.unit);
    return blend === null ? [] : [{ chamfer, ...blend }];
  });
  const fillets = grouped(filletBlends, ({ fillet }) => `${fillet.side} ${fillet.radiusMm.toFixed(6)}`).map((group) => {
    const make = (members: typeof group, id: string) => {
      const [{ fillet }] = members;
      return filletCandidate(
        fillet,
        members.flatMap(({ blends }) => blends),
        id,
        naming,
      );
    };
    return wholeOrSingly(group, make, idOf(graph, group[0].fillet.faceIds, naming, 'fillet'));
  });
  const chamfers = grouped(
    chamferBlends,
    ({ chamfer, concave }) => `${concave} ${chamfer.sizesMm.map((size) => size.toFixed(6)).join(' ')}`,
  ).map((group) => {
    const make = (members: typeof group, id: string) => {
      const [{ chamfer, concave }] = members;
      return chamferCandidate(chamfer, { concave, blends: members.map(({ blend }) => blend), id, naming });
    };
    return wholeOrSingly(group, make, idOf(graph, group[0].chamfer.faceIds, naming, 'chamfer'));
  });
  return [...chamfers, ...fillets];
}

/** All of a group together, and then each of them by itself. */
function wholeOrSingly<T>(
  group: readonly [T, ...T[]],
  make: (members: readonly [T, ...T[]], id: string) => Candidate,
  id: string,
): readonly Candidate[] {
  const whole = make(group, id);
  return group.length === 1 ? [whole] : [whole, ...group.map((one, i) => make([one], `${id}-${String(i + 1)}`))];
}

function idOf(graph: FaceGraph, [id = -1]: readonly number[], naming: Naming, kind: string): string {
  const face = graph.solid.faces[id];
  const name = face && nameOfFace(naming, face);
  return name?.startsWith(`${kind}-`) === true ? partsOf(name).stepId : `${kind}-of-part`;
}

function filletCandidate(fillet: Fillet, blends: readonly Blend[], id: string, naming: Naming): Candidate {
  const radius = lengthIn(naming.unit, fillet.radiusMm);
  const step = (edges: readonly EdgeSelector[]): Step => ({
    id,
    label: `${fillet.side === 'convex' ? 'Rounds' : 'Rounds in corners'} of ${radius} ${naming.unit}`,
    op: 'fillet',
    radius,
    edges,
  });
  return {
    undoneBy: fillet.side === 'convex' ? 'filling' : 'removing',
    tools: () => eachMade(blends.map(({ tool }) => tool)),
    openMm2: null,
    steps: [
      ...selectorsOf(blends, naming).map(step),
      ...turnings(step([]), blends, fillet.side === 'convex' ? 'cut' : 'add'),
    ],
  };
}

function chamferCandidate(
  { sizesMm: [first, second] }: Chamfer,
  {
    concave,
    blends,
    id,
    naming,
  }: { readonly concave: boolean; readonly blends: readonly Blend[]; readonly id: string; readonly naming: Naming },
): Candidate {
  const [size, other] = [lengthIn(naming.unit, first), lengthIn(naming.unit, second)];
  const even = size === other;
  const [blend] = blends;
  const on = even || blend === undefined ? null : nameOfFace(naming, blend.sharpSides[0]);
  // A drawing gives the angle where that is the shorter number: 1.5 x 30° rather than 1.5 x 0.86602540.
  const angle = degrees(Math.atan2(second, first));
  const byAngle = !even && angle.length < other.length;
  const step = (edges: readonly EdgeSelector[]): Step => ({
    id,
    label: `${blends.length === 1 ? 'Chamfer' : 'Chamfers'} of ${even ? size : `${size} x ${byAngle ? `${angle}°` : other}`} ${naming.unit}`,
    op: 'chamfer',
    size,
    ...(even ? {} : { ...(byAngle ? { angle } : { other }), ...(on === null ? {} : { on }) }),
    edges,
  });
  return {
    undoneBy: concave ? 'removing' : 'filling',
    tools: () => eachMade(blends.map(({ tool }) => tool)),
    openMm2: null,
    steps: [...selectorsOf(blends, naming).map(step), ...turnings(step([]), blends, concave ? 'add' : 'cut')],
  };
}

/** Where the kernel cannot round or chamfer an edge again, what it took away or added as an outline that is turned. */
const turnings = ({ id, label }: Step, [blend, ...more]: readonly Blend[], mode: 'add' | 'cut'): readonly Step[] =>
  blend?.turning === null || blend?.turning === undefined || more.length > 0
    ? []
    : [{ id, label, op: 'revolve', mode, ...blend.turning }];

/** The edges by the surfaces that meet in them, and by points on them. */
function selectorsOf(blends: readonly Blend[], naming: Naming): readonly (readonly EdgeSelector[])[] {
  const near = blends.map(({ near: [x, y, z] }): EdgeSelector => ({
    near: [lengthIn(naming.unit, x), lengthIn(naming.unit, y), lengthIn(naming.unit, z)],
  }));
  const between = blends.flatMap(({ sharpSides: [a, b] }): EdgeSelector[] => {
    const names = [nameOfFace(naming, a), nameOfFace(naming, b)] as const;
    return names[0] === null || names[1] === null ? [] : [{ between: [names[0], names[1]] }];
  });
  const distinct = [...new Map(between.map((selector) => [JSON.stringify(selector), selector])).values()];
  return between.length === blends.length ? [distinct, near] : [near];
}

function filletBlend(
  kernel: Kernel,
  graph: FaceGraph,
  { fillet, id, unit }: { readonly fillet: Fillet; readonly id: number; readonly unit: DrawingUnit },
): Blend | null {
  const face = graph.solid.faces[id];
  if (face?.surface.kind === 'cylinder') return straightFillet(kernel, graph, { fillet, face, cylinder: face.surface });
  if (face?.surface.kind === 'torus') return turnedFillet(kernel, graph, { face, torus: face.surface, unit });
  return null;
}

/** The flat faces that a round joins smoothly, by the edges that run along it. */
function straightFillet(
  kernel: Kernel,
  graph: FaceGraph,
  {
    fillet: { side },
    face,
    cylinder: { origin, direction, radiusMm },
  }: { readonly fillet: Fillet; readonly face: Face; readonly cylinder: Cylinder },
): Blend | null {
  const flats = graph.around(face).flatMap(({ edge, face: other }) => {
    const run = subtract(edge.end, edge.start);
    const runsAlong = length(run) > 1e-6 && Math.abs(dot(normalize(run), direction)) > 1 - 1e-6;
    return edge.convexity === 'smooth' && runsAlong && other.surface.kind === 'plane'
      ? [{ other, plane: other.surface }]
      : [];
  });
  const [a, b] = flats;
  if (a === undefined || b === undefined || flats.length !== 2 || a.other.id === b.other.id) return null;
  const out = side === 'convex' ? 1 : -1;
  const [na, nb] = [scale(a.plane.normal, out), scale(b.plane.normal, out)];
  const cosine = dot(na, nb);
  if (cosine < -0.99) return null;
  const [from, to] = graph.span(face, origin, direction);
  const base = planeAt(add(origin, scale(direction, from)), direction);
  const at = (offset: Vec3): Vec2 => [dot(offset, base.u), dot(offset, base.v)];
  const both = add(na, nb);
  const corner = scale(both, radiusMm / (1 + cosine));
  const [ta, tb, middle] = [scale(na, radiusMm), scale(nb, radiusMm), scale(normalize(both), radiusMm)];
  const outline: Contour = {
    kind: 'path',
    start: at(ta),
    segments: [
      { kind: 'line', to: at(corner) },
      { kind: 'line', to: at(tb) },
      { kind: 'arc', through: at(middle), to: at(ta) },
    ],
  };
  return {
    tool: () => kernel.extrude(base, outline, 0, to - from),
    near: add(add(origin, scale(direction, (from + to) / 2)), corner),
    sharpSides: [a.other, b.other],
  };
}

/** A round between a flat face and a wall that stands on it and turns about the same axis. */
function turnedFillet(
  kernel: Kernel,
  graph: FaceGraph,
  {
    face,
    torus: { center, direction, majorRadiusMm, minorRadiusMm },
    unit,
  }: { readonly face: Face; readonly torus: Torus; readonly unit: DrawingUnit },
): Blend | null {
  const smooth = graph.around(face).filter(({ edge }) => edge.convexity === 'smooth');
  const flat = smooth.find(
    ({ face: { surface } }) => surface.kind === 'plane' && Math.abs(dot(surface.normal, direction)) > 1 - 1e-6,
  )?.face;
  const wall = smooth.find(
    ({ face: { surface } }) =>
      surface.kind === 'cylinder' &&
      Math.abs(dot(surface.direction, direction)) > 1 - 1e-6 &&
      Math.abs(Math.abs(surface.radiusMm - majorRadiusMm) - minorRadiusMm) < 1e-5,
  )?.face;
  if (flat?.surface.kind !== 'plane' || wall?.surface.kind !== 'cylinder') return null;
  const height = dot(subtract(flat.surface.origin, center), direction);
  const corner: Vec2 = [wall.surface.radiusMm, height];
  const tube: Vec2 = [majorRadiusMm, 0];
  const toCorner: Vec2 = [corner[0] - tube[0], corner[1] - tube[1]];
  const share = minorRadiusMm / Math.hypot(...toCorner);
  const outline: Contour = {
    kind: 'path',
    start: [majorRadiusMm, height],
    segments: [
      { kind: 'line', to: corner },
      { kind: 'line', to: [wall.surface.radiusMm, 0] },
      {
        kind: 'arc',
        through: [tube[0] + toCorner[0] * share, tube[1] + toCorner[1] * share],
        to: [majorRadiusMm, height],
      },
    ],
  };
  return {
    ...turned(kernel, graph, { face, axis: { center, direction }, outline, corner, unit }),
    sharpSides: [flat, wall],
  };
}

/** An outline in the half plane of an axis, turned as far as a face reaches. */
function turned(
  kernel: Kernel,
  graph: FaceGraph,
  {
    face,
    axis: { center, direction },
    outline,
    corner,
    unit,
  }: {
    readonly face: Face;
    readonly axis: { readonly center: Vec3; readonly direction: Vec3 };
    readonly outline: Contour;
    readonly corner: Vec2;
    readonly unit: DrawingUnit;
  },
): Pick<Blend, 'tool' | 'near' | 'turning'> {
  const { startRad, sweepRad } = sweepOf(graph, face, center, direction);
  const [e, f] = [perpendicular(direction), cross(direction, perpendicular(direction))];
  const radial = (angle: number): Vec3 => add(scale(e, Math.cos(angle)), scale(f, Math.sin(angle)));
  const u = radial(startRad);
  const plane: WorkPlane = { origin: center, u, v: direction, normal: cross(u, direction) };
  const axis = { origin: [0, 0], direction: [0, 1] } as const;
  const middle = radial(startRad + sweepRad / 2);
  return {
    tool: () => kernel.revolve(plane, outline, axis, sweepRad),
    near: add(add(center, scale(middle, corner[0])), scale(direction, corner[1])),
    turning: sweepRad < 2 * Math.PI ? null : turningOf(unit, { center, direction }, outline),
  };
}

/** An outline in the half plane of an axis as it is drawn on a base plane. */
function turningOf(
  unit: DrawingUnit,
  { center, direction }: { readonly center: Vec3; readonly direction: Vec3 },
  outline: Contour,
): Turning | null {
  for (const base of ['XY', 'XZ', 'YZ'] as const) {
    const { normal } = basePlane(base);
    const on = Math.abs(dot(normal, direction)) < 1e-9 ? offsetBasePlane(unit, center, normal) : null;
    if (on === null) continue;
    const radial = cross(normal, direction);
    const at = (point: Vec2): Vec2 =>
      onPlane(on.plane, add(center, add(scale(radial, point[0]), scale(direction, point[1]))));
    return {
      plane: on.reference,
      outlines: [outlineFrom(mapped(outline, at), unit)],
      axis: { from: pointIn(unit, at([0, 0])), to: pointIn(unit, at([0, 1])) },
    };
  }
  return null;
}

const mapped = (outline: Contour, at: (point: Vec2) => Vec2): Contour =>
  outline.kind === 'circle'
    ? { ...outline, center: at(outline.center) }
    : {
        kind: 'path',
        start: at(outline.start),
        segments: outline.segments.map((segment) =>
          segment.kind === 'line'
            ? { kind: 'line', to: at(segment.to) }
            : { kind: 'arc', through: at(segment.through), to: at(segment.to) },
        ),
      };

/** Where a turned face begins and how far it goes round its axis, by the widest gap between the points of its rim. */
function sweepOf(
  graph: FaceGraph,
  face: Face,
  center: Vec3,
  direction: Vec3,
): { readonly startRad: number; readonly sweepRad: number } {
  const [e, f] = [perpendicular(direction), cross(direction, perpendicular(direction))];
  const angleOf = (point: Vec3): number => {
    const from = subtract(point, center);
    return Math.atan2(dot(from, f), dot(from, e));
  };
  // A whole turn begins at the seam of the part, or the edge would be in two pieces afterwards.
  const seam = graph.edgesOf(face).find(({ curve, convexity }) => curve === 'circle' && convexity !== 'degenerate');
  if (graph.turn(face, center, direction) === 1)
    return { startRad: seam === undefined ? 0 : angleOf(seam.start), sweepRad: 2 * Math.PI };
  const angles = graph
    .rim(face)
    .map(angleOf)
    .sort((a, b) => a - b);
  let [startRad, gap] = [0, -1];
  angles.forEach((angle, i) => {
    const before = i === 0 ? (angles.at(-1) ?? 0) - 2 * Math.PI : (angles[i - 1] ?? 0);
    if (angle - before > gap) [startRad, gap] = [angle, angle - before];
  });
  return { startRad, sweepRad: 2 * Math.PI - gap };
}

function chamferBlend(
  kernel: Kernel,
  graph: FaceGraph,
  chamfer: Chamfer,
  unit: DrawingUnit,
): { readonly blend: Blend; readonly concave: boolean } | null {
  const [face, first, second] = [chamfer.faceIds[0], ...chamfer.onFaceIds].map((id) => graph.solid.faces[id ?? -1]);
  if (face === undefined || first?.surface.kind !== 'plane' || second === undefined) return null;
  if (face.surface.kind === 'plane' && second.surface.kind === 'plane')
    return flatBevel(kernel, graph, { face, first: [first, first.surface], second: [second, second.surface] });
  if (face.surface.kind !== 'cone' || second.surface.kind !== 'cylinder') return null;
  const { surface } = second;
  const [radial, axial] = chamfer.sizesMm;
  const height = dot(subtract(first.surface.origin, surface.origin), surface.direction);
  const up = Math.sign(dot(first.surface.normal, surface.direction));
  const outwards = surface.side === 'convex' ? -1 : 1;
  const corner: Vec2 = [surface.radiusMm, height];
  const outline = polygon(
    [surface.radiusMm + outwards * radial, height],
    [corner, [surface.radiusMm, height - up * axial], [surface.radiusMm + outwards * radial, height]],
  );
  const axis = { center: surface.origin, direction: surface.direction };
  const blend = {
    ...turned(kernel, graph, { face, axis, outline, corner, unit }),
    sharpSides: [first, second] as const,
  };
  return { blend, concave: false };
}

function flatBevel(
  kernel: Kernel,
  graph: FaceGraph,
  {
    face,
    first: [first, a],
    second: [second, b],
  }: { readonly face: Face; readonly first: readonly [Face, Plane]; readonly second: readonly [Face, Plane] },
): { readonly blend: Blend; readonly concave: boolean } | null {
  const edgeWith = (other: Face) => graph.around(face).find((beyond) => beyond.face.id === other.id)?.edge;
  const [ea, eb] = [edgeWith(first), edgeWith(second)];
  if (ea === undefined || eb === undefined) return null;
  const direction = normalize(cross(a.normal, b.normal));
  const at = (point: Vec3): number => dot(subtract(point, ea.start), direction);
  const ends = [ea.start, ea.end, eb.start, eb.end].map(at);
  const [from, to] = [Math.min(...ends), Math.max(...ends)];
  const base = planeAt(add(ea.start, scale(direction, from)), direction);
  const flat = (point: Vec3): Vec2 => onPlane(base, point);
  // The corner lies on both faces: start from a point of the first and go within it until the second.
  const within = cross(direction, a.normal);
  const step = dot(subtract(b.origin, ea.start), b.normal) / dot(within, b.normal);
  const corner = add(ea.start, scale(within, step));
  const outline = polygon(flat(ea.start), [flat(corner), flat(eb.start), flat(ea.start)]);
  const middle = add(corner, scale(direction, (from + to) / 2 - at(corner)));
  return {
    blend: { tool: () => kernel.extrude(base, outline, 0, to - from), near: middle, sharpSides: [first, second] },
    concave: ea.convexity === 'concave',
  };
}
