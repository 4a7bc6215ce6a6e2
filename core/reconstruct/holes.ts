import { grouped } from '#core/group';
import { featuresOf, findHoles, graphOf, type FaceGraph, type Hole } from '#core/feature';
import { circleCenter, type Kernel, type Shape, type WorkPlane } from '#core/kernel';
import type { DrawingUnit } from '#core/quantity';
import { planeAt, type PlaneReference, type StepOf } from '#core/recipe';
import type { Cylinder, Solid } from '#core/solid';
import { ARITHMETIC_MM } from '#core/tolerance';
import {
  add,
  boxDiagonal,
  cross,
  distance,
  distanceToLine,
  length,
  negate,
  perpendicular,
  scale,
  type Vec2,
} from '#core/vector';

import {
  degrees,
  lengthIn,
  namedPlane,
  offsetBasePlane,
  onPlane,
  partsOf,
  pointIn,
  type Candidate,
  type Naming,
} from './candidate.ts';
import { eachMade, polygon } from './tools.ts';

const USUAL_POINT_DEG = '118';

interface Placed {
  readonly hole: Hole;
  readonly stepId: string;
  readonly number: number;
  readonly reference: PlaneReference;
  readonly plane: WorkPlane;
  /** Half of the whole angle of the drill point. */
  readonly tipRad: number | null;
  /** Round walls of the part that it begins or ends in. */
  readonly hosts: readonly Cylinder[];
  /** Of its own faces. */
  readonly areaMm2: number;
}

/** Holes of one size from one plane as one step. Holes without a plane to begin on, or with a round bottom, are left. */
export function holeCandidates(kernel: Kernel, solid: Solid, naming: Naming): readonly Candidate[] {
  const placed = findHoles(solid).flatMap((hole) => placedOn(hole, solid, naming) ?? []);
  const taken = new Set<string>();
  const onCircles = new Set(featuresOf(solid, 'bolt-circle').flatMap(({ faceIds }) => faceIds));
  return grouped(placed, ({ stepId, reference }) => `${stepId} ${JSON.stringify(reference)}`).map((group) => {
    const [first] = group;
    let id = first.stepId;
    for (let n = 2; taken.has(id); n++) id = `${first.stepId}-${String(n)}`;
    taken.add(id);
    const members = [...group].sort((a, b) => a.number - b.number);
    const sizeMm = boxDiagonal(solid.bounds);
    const betweenFlats = members.every(({ hosts }) => hosts.length === 0);
    const openings = members.reduce((sum, { hole }) => sum + openingsOf(hole), 0);
    const walls = members.reduce((sum, { areaMm2 }) => sum + areaMm2, 0);
    return {
      undoneBy: 'filling',
      tools: () => eachMade(members.map((member) => () => plugOf(kernel, member, sizeMm))),
      openMm2: (toolsMm2) => (betweenFlats ? openings : toolsMm2 - walls),
      steps: stepsOf(id, members, { first, naming, onCircles }),
    };
  });
}

function placedOn(hole: Hole, solid: Solid, naming: Naming): Placed | null {
  if (hole.bottom === 'round') return null;
  const name = [...naming.surfaces].find(
    ([own, surface]) =>
      own.startsWith('hole-') &&
      surface.kind === 'cylinder' &&
      Math.abs(2 * surface.radiusMm - hole.diameterMm) < ARITHMETIC_MM &&
      length(cross(surface.direction, hole.direction)) < ARITHMETIC_MM &&
      distanceToLine(surface.origin, hole.origin, hole.direction) < ARITHMETIC_MM,
  )?.[0];
  if (name === undefined) return null;
  const out = negate(hole.direction);
  const on = namedPlane(naming, hole.origin, out) ?? (hole.through ? basePlaneFor(naming, hole) : null);
  if (on === null) return null;
  const tip = hole.faceIds
    .flatMap((id) => solid.faces[id]?.surface ?? [])
    .find(
      (surface) =>
        surface.kind === 'cone' &&
        (hole.countersink === null || Math.abs(2 * surface.halfAngleRad - hole.countersink.angleRad) > 1e-6),
    );
  return {
    hole,
    ...partsOf(name),
    ...on,
    hosts: hostsOf(graphOf(solid), hole),
    areaMm2: hole.faceIds.reduce((sum, id) => sum + (solid.faces[id]?.areaMm2 ?? 0), 0),
    tipRad: hole.bottom === 'drill-point' && tip?.kind === 'cone' ? tip.halfAngleRad : null,
  };
}

/** The round walls that the walls of a hole end in. */
const hostsOf = (graph: FaceGraph, { faceIds }: Hole): readonly Cylinder[] =>
  faceIds.flatMap((id) => {
    const face = graph.solid.faces[id];
    return (face === undefined ? [] : graph.around(face)).flatMap(({ face: { id: other, surface } }) =>
      surface.kind === 'cylinder' && !faceIds.includes(other) ? [surface] : [],
    );
  });

/** A through hole that begins in a round wall is drilled from a plane that touches it, at either of its ends. */
function basePlaneFor({ unit }: Naming, { origin, direction, depthMm, counterbore, countersink }: Hole) {
  if (counterbore !== null || countersink !== null) return null;
  return (
    offsetBasePlane(unit, origin, negate(direction)) ??
    offsetBasePlane(unit, add(origin, scale(direction, depthMm)), direction)
  );
}

function stepsOf(
  id: string,
  members: readonly Placed[],
  {
    first: { hole, reference, plane, tipRad },
    naming: { unit },
    onCircles,
  }: { readonly first: Placed; readonly naming: Naming; readonly onCircles: ReadonlySet<number> },
): readonly StepOf<'hole'>[] {
  const size = (lengthMm: number): string => lengthIn(unit, lengthMm);
  const diameter = size(hole.diameterMm);
  const places = members.map((member) => onPlane(plane, member.hole.origin));
  const points = { kind: 'points', points: places.map((place) => pointIn(unit, place)) } as const;
  const circle = hole.faceIds.some((id) => onCircles.has(id)) ? boltCircle(places, unit) : null;
  const many = members.length === 1 ? 'Hole' : `${String(members.length)} holes`;
  const common = {
    id,
    label: `${many} of ${diameter} ${unit}`,
    op: 'hole',
    plane: reference,
    diameter,
    ...(hole.counterbore && {
      counterbore: { diameter: size(hole.counterbore.diameterMm), depth: size(hole.counterbore.depthMm) },
    }),
    ...(hole.countersink && {
      countersink: { diameter: size(hole.countersink.diameterMm), angle: degrees(hole.countersink.angleRad) },
    }),
  } as const;
  const pointAngle = tipRad === null ? USUAL_POINT_DEG : degrees(2 * tipRad);
  const blind = {
    kind: 'blind',
    depth: size(hole.depthMm),
    ...(tipRad === null ? {} : { bottom: 'drill-point' as const }),
    ...(pointAngle === USUAL_POINT_DEG ? {} : { pointAngle }),
  } as const;
  const depths = hole.through ? ([{ kind: 'through' }, { kind: 'wall' }, blind] as const) : [blind];
  return depths.flatMap((depth) =>
    (circle === null ? [points] : [circle, points]).map((at) => ({ ...common, at, depth })),
  );
}

const LEAST_ON_CIRCLE = 3;
const MOST_PLACES = 24;
const SAME_RAD = 1e-7;

/** Places that lie evenly on a circle, some of which may be free; null where they do not. */
function boltCircle(
  places: readonly Vec2[],
  unit: DrawingUnit,
): Extract<StepOf<'hole'>['at'], { kind: 'bolt-circle' }> | null {
  const [a, b, c] = places;
  const center = places.length < LEAST_ON_CIRCLE || !a || !b || !c ? null : circleCenter(a, b, c);
  if (center === null || a === undefined) return null;
  const radius = Math.hypot(a[0] - center[0], a[1] - center[1]);
  if (places.some(([u, v]) => Math.abs(Math.hypot(u - center[0], v - center[1]) - radius) > ARITHMETIC_MM)) return null;
  const turn = (rad: number): number => ((rad % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const angles = places.map(([u, v]) => turn(Math.atan2(v - center[1], u - center[0]) + SAME_RAD) - SAME_RAD);
  const start = Math.min(...angles);
  for (let count = places.length; count <= MOST_PLACES; count++) {
    const steps = angles.map((angle) => ((angle - start) * count) / (2 * Math.PI));
    if (steps.some((step) => Math.abs(step - Math.round(step)) > SAME_RAD * count)) continue;
    const taken = new Set(steps.map((step) => Math.round(step) + 1));
    const skip = Array.from({ length: count }, (_, i) => i + 1).filter((number) => !taken.has(number));
    const startAngle = degrees(start);
    return {
      kind: 'bolt-circle',
      center: pointIn(unit, center),
      diameter: lengthIn(unit, 2 * radius),
      count: String(count),
      ...(startAngle === '0' ? {} : { startAngle }),
      ...(skip.length === 0 ? {} : { skip }),
    };
  }
  return null;
}

const mouthRadius = ({ diameterMm, counterbore, countersink }: Hole): number =>
  Math.max(diameterMm, counterbore?.diameterMm ?? 0, countersink?.diameterMm ?? 0) / 2;

const openingsOf = (hole: Hole): number =>
  Math.PI * (mouthRadius(hole) ** 2 + (hole.through ? (hole.diameterMm / 2) ** 2 : 0));

/** The material that a hole took away; where it ends in round walls, as far as they reach. */
function plugOf(kernel: Kernel, placed: Placed, sizeMm: number): Shape {
  const { hole, hosts } = placed;
  if (hosts.length === 0) return plug(kernel, placed);
  const rod = (at: Cylinder['origin'], direction: Cylinder['direction'], radiusMm: number): Shape =>
    kernel.extrude(planeAt(at, direction), { kind: 'circle', center: [0, 0], radiusMm }, -sizeMm, sizeMm);
  const middle = add(hole.origin, scale(hole.direction, hole.depthMm / 2));
  let made = rod(middle, hole.direction, hole.diameterMm / 2);
  for (const { origin, direction, radiusMm, side } of hosts) {
    const host = rod(origin, direction, radiusMm);
    const [before, cut] = [made, side === 'convex' ? kernel.common(made, [host]) : kernel.cut(made, [host])];
    made = cut;
    before.free();
    host.free();
  }
  // A rod through a tube is in several pieces, of which the hole is the one that it lies in.
  const pieces = kernel.pieces(made);
  const apart = (piece: Shape): number => distance(kernel.massProperties(piece).centroidMm, middle);
  const [own, ...others] = [...pieces].sort((a, b) => apart(a) - apart(b));
  for (const other of others) other.free();
  if (own === undefined) return made;
  made.free();
  return own;
}

/** The material of a hole between flat faces, turned about its axis: u leads outward, v into the hole. */
function plug(kernel: Kernel, { hole, tipRad }: Placed): Shape {
  const u = perpendicular(hole.direction);
  const plane: WorkPlane = { origin: hole.origin, u, v: hole.direction, normal: cross(u, hole.direction) };
  const { diameterMm, depthMm, counterbore, countersink } = hole;
  const radius = diameterMm / 2;
  const outline: Vec2[] = [[mouthRadius(hole), 0]];
  if (counterbore) outline.push([counterbore.diameterMm / 2, counterbore.depthMm], [radius, counterbore.depthMm]);
  if (countersink) outline.push([radius, (countersink.diameterMm / 2 - radius) / Math.tan(countersink.angleRad / 2)]);
  outline.push([radius, depthMm], [0, depthMm + (tipRad === null ? 0 : radius / Math.tan(tipRad))], [0, 0]);
  return kernel.revolve(plane, polygon([0, 0], outline), { origin: [0, 0], direction: [0, 1] });
}
