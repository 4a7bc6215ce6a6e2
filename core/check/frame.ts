import * as v from 'valibot';

import { graphOf } from '#core/feature';
import { placeSurface, trianglesOf, Vec3Schema, type Face, type Solid, type Surface } from '#core/solid';
import { FITTED_PARALLEL_SINE, FLAT_ON_END_SINE } from '#core/tolerance';
import {
  add,
  AS_MODELED,
  angleBetween,
  AXIS_ROTATIONS,
  boxCenter,
  boxDiagonal,
  boxSize,
  compose,
  cross,
  determinant,
  distance,
  distanceToLine,
  dot,
  IDENTITY,
  length,
  negate,
  normalize,
  perpendicular,
  placePoint,
  rotationAngle,
  scale,
  subtract,
  transpose,
  type Box,
  type Mat3,
  type Placement,
  type Vec3,
} from '#core/vector';

export const FrameSchema = v.object({
  kind: v.picklist(['as-modeled', 'moved', 'turned', 'mirrored', 'scaled']),
  /** Carries the submission onto the reference; the rotation of a mirrored part holds the reflection. */
  placement: v.object({
    rotation: v.pipe(v.tuple([Vec3Schema, Vec3Schema, Vec3Schema]), v.readonly()),
    scale: v.number(),
    translation: Vec3Schema,
  }),
  /** Share of the reference surface that the placed submission covers, 0 to 1. */
  agreement: v.number(),
  /** How sure the kind is, 0 to 1: the agreement, less where another hypothesis agrees nearly as well. */
  certainty: v.number(),
});
/** How the submission lies with respect to the reference. */
export type Frame = Readonly<v.InferOutput<typeof FrameSchema>>;

/** Sizes that a wrong unit gives: the submission times this factor has the size of the reference. */
const SCALES = [1, 25.4, 1 / 25.4, 10, 0.1, 1000, 0.001];

/** From this agreement on the two parts are taken as the same, and the search ends; below it, it goes on to the next hypothesis. */
const SAME = 0.9995;
/** Rotations that are looked at closely, of those that the directions of the faces suggest. */
const MOST_ROTATIONS = 24;
/** A hypothesis that stays so far behind the best takes nothing from its certainty. */
const RIVAL_LEAD = 0.1;

/** Box around the placed corners of a box; exact for the axis rotations. */
export function placeBox(placement: Placement, box: Box): Box {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) =>
    placePoint(placement, [
      i & 1 ? box.max[0] : box.min[0],
      i & 2 ? box.max[1] : box.min[1],
      i & 4 ? box.max[2] : box.min[2],
    ]),
  );
  const extreme = (pick: (...xs: number[]) => number): Vec3 => [
    pick(...corners.map((c) => c[0])),
    pick(...corners.map((c) => c[1])),
    pick(...corners.map((c) => c[2])),
  ];
  return { min: extreme(Math.min), max: extreme(Math.max) };
}

/** What aligning asks of a face. */
type Patch = Pick<Face, 'surface' | 'areaMm2' | 'centroid' | 'uncertaintyMm'>;

const placePatch = (placement: Placement, { surface, areaMm2, centroid, uncertaintyMm }: Patch): Patch => ({
  surface: placeSurface(placement, surface),
  areaMm2: areaMm2 * placement.scale ** 2,
  centroid: placePoint(placement, centroid),
  uncertaintyMm,
});

/** A face carried into the frame of the reference. */
export function placeFace(placement: Placement, face: Face): Face {
  return {
    ...face,
    surface: placeSurface(placement, face.surface),
    areaMm2: face.areaMm2 * placement.scale ** 2,
    centroid: placePoint(placement, face.centroid),
    bounds: placeBox(placement, face.bounds),
  };
}

/** Whether two faces lie on the same surface within `toleranceMm`; any two freeform ones may. */
export function samePlace(a: Surface, b: Surface, toleranceMm: number): boolean {
  if (a.kind === 'plane' && b.kind === 'plane')
    return (
      dot(a.normal, b.normal) > 0 &&
      length(cross(a.normal, b.normal)) < FITTED_PARALLEL_SINE &&
      Math.abs(dot(subtract(a.origin, b.origin), a.normal)) < toleranceMm
    );
  if (a.kind === 'cylinder' && b.kind === 'cylinder')
    return (
      a.side === b.side &&
      length(cross(a.direction, b.direction)) < FITTED_PARALLEL_SINE &&
      Math.abs(a.radiusMm - b.radiusMm) < toleranceMm &&
      distanceToLine(b.origin, a.origin, a.direction) < toleranceMm
    );
  if (a.kind === 'cone' && b.kind === 'cone')
    return a.side === b.side && distance(a.apex, b.apex) < 20 * toleranceMm && dot(a.direction, b.direction) > 0.999;
  if (a.kind === 'sphere' && b.kind === 'sphere')
    return (
      a.side === b.side && distance(a.center, b.center) < toleranceMm && Math.abs(a.radiusMm - b.radiusMm) < toleranceMm
    );
  if (a.kind === 'torus' && b.kind === 'torus')
    return (
      a.side === b.side &&
      distance(a.center, b.center) < toleranceMm &&
      Math.abs(a.minorRadiusMm - b.minorRadiusMm) < toleranceMm
    );
  return a.kind === b.kind;
}

/** How much of a face another on the same surface covers, told by area and place: 1 where both are alike, as facets allow. */
function covered(a: Patch, b: Patch, toleranceMm: number): number {
  const ratio = Math.min(a.areaMm2, b.areaMm2) / Math.max(a.areaMm2, b.areaMm2, 1e-12);
  const width = Math.sqrt(a.areaMm2);
  const apart = Math.max(0, distance(a.centroid, b.centroid) - toleranceMm - 0.01 * width);
  return Math.min(1, ratio / 0.98) * Math.max(0, 1 - apart / width);
}

/**
 * The share of the surface of a reference, largest faces first, that placed faces cover. Ends with 0 as soon as it cannot
 * reach `least`.
 */
function agreementOf(
  reference: readonly Patch[],
  submission: readonly Patch[],
  { toleranceMm, least }: { readonly toleranceMm: number; readonly least: number },
): number {
  const totalMm2 = reference.reduce((sum, { areaMm2 }) => sum + areaMm2, 0);
  if (!(totalMm2 > 0)) return 0;
  let sum = 0;
  let leftMm2 = totalMm2;
  for (const face of reference) {
    let best = 0;
    for (const other of submission)
      if (
        other.surface.kind === face.surface.kind &&
        samePlace(face.surface, other.surface, toleranceMm + other.uncertaintyMm)
      )
        best = Math.max(best, covered(face, other, toleranceMm));
    sum += face.areaMm2 * best;
    leftMm2 -= face.areaMm2;
    if (sum + leftMm2 < least * totalMm2) return 0;
  }
  return sum / totalMm2;
}

/** Weights of shifts along one axis, gathered in bins as wide as the tolerance. */
class Accumulator {
  private readonly bins = new Map<number, { sum: number; weight: number }>();
  private readonly binMm: number;
  constructor(binMm: number) {
    this.binMm = binMm;
  }

  cast(shiftMm: number, weight: number): void {
    const key = Math.round(shiftMm / this.binMm);
    const bin = this.bins.get(key) ?? { sum: 0, weight: 0 };
    bin.sum += shiftMm * weight;
    bin.weight += weight;
    this.bins.set(key, bin);
  }

  /** The shift with most weight, with that of the neighboring bins; `otherwise` when nothing was cast. */
  best(otherwise: number): number {
    let top = { shift: otherwise, weight: 0 };
    for (const key of this.bins.keys()) {
      const near = [key - 1, key, key + 1].flatMap((k) => this.bins.get(k) ?? []);
      const weight = near.reduce((sum, bin) => sum + bin.weight, 0);
      if (weight > top.weight + 1e-9) top = { shift: near.reduce((sum, bin) => sum + bin.sum, 0) / weight, weight };
    }
    return top.shift;
  }
}

/** The shift along each axis that brings most surface of the two solids together. */
function votedTranslation(
  reference: readonly Patch[],
  submission: readonly Patch[],
  toleranceMm: number,
  otherwise: Vec3,
): Vec3 {
  const accumulators = [
    new Accumulator(toleranceMm),
    new Accumulator(toleranceMm),
    new Accumulator(toleranceMm),
  ] as const;
  const cast = (axis: 0 | 1 | 2, shift: number, weight: number): void => {
    accumulators[axis].cast(shift, weight);
  };
  for (const a of reference)
    for (const b of submission) {
      const weight = Math.min(a.areaMm2, b.areaMm2) / Math.max(a.areaMm2, b.areaMm2, 1e-12);
      const share = Math.sqrt(a.areaMm2) * weight;
      if (a.surface.kind === 'plane' && b.surface.kind === 'plane') {
        for (const axis of [0, 1, 2] as const)
          if (Math.abs(a.surface.normal[axis]) > 0.999 && a.surface.normal[axis] * b.surface.normal[axis] > 0.999)
            cast(axis, a.surface.origin[axis] - b.surface.origin[axis], share);
      } else if (a.surface.kind === 'cylinder' && b.surface.kind === 'cylinder' && a.surface.side === b.surface.side) {
        if (Math.abs(a.surface.radiusMm - b.surface.radiusMm) > toleranceMm + b.uncertaintyMm) continue;
        if (length(cross(a.surface.direction, b.surface.direction)) > FITTED_PARALLEL_SINE) continue;
        for (const axis of [0, 1, 2] as const)
          if (Math.abs(a.surface.direction[axis]) < 1e-3)
            cast(axis, a.surface.origin[axis] - b.surface.origin[axis], share);
      } else if (a.surface.kind === 'sphere' && b.surface.kind === 'sphere') {
        for (const axis of [0, 1, 2] as const) cast(axis, a.surface.center[axis] - b.surface.center[axis], share);
      }
    }
  return [accumulators[0].best(otherwise[0]), accumulators[1].best(otherwise[1]), accumulators[2].best(otherwise[2])];
}

const isMirrored = (rotation: Mat3): boolean => determinant(rotation) < 0;
const isTurned = (rotation: Mat3): boolean => rotationAngle(rotation) > 1e-6;

/** Less likely hypotheses need more agreement to win: a symmetric part is not called turned, nor a wrong size a unit slip. */
function prior(placement: Placement): number {
  const moved = length(placement.translation) > 1e-6;
  return (
    (placement.scale !== 1 ? 0.08 : 0) +
    (isMirrored(placement.rotation) ? 0.06 : isTurned(placement.rotation) ? 0.04 : 0) +
    (moved ? 0.02 : 0)
  );
}

function kindOf(placement: Placement): Frame['kind'] {
  if (placement.scale !== 1) return 'scaled';
  if (isMirrored(placement.rotation)) return 'mirrored';
  if (isTurned(placement.rotation)) return 'turned';
  return length(placement.translation) > 1e-6 ? 'moved' : 'as-modeled';
}

interface Judged {
  readonly placement: Placement;
  readonly agreement: number;
  readonly likelihood: number;
}

/** Where two parts are the same, only the order of likelihood is left of the prior. */
const judge = (placement: Placement, agreement: number): Judged => ({
  placement,
  agreement,
  likelihood: agreement - prior(placement) * (agreement > SAME ? 1e-3 : 1),
});

class Search {
  private readonly reference: Solid;
  private readonly submission: Solid;
  private readonly toleranceMm: number;
  private readonly judged: Judged[] = [];
  private readonly largestFirst: readonly Patch[];

  constructor(reference: Solid, submission: Solid) {
    this.reference = reference;
    this.largestFirst = [...reference.faces].sort((a, b) => b.areaMm2 - a.areaMm2);
    this.submission = submission;
    const unsure = submission.faces.reduce((most, face) => Math.max(most, Math.min(0.05, face.uncertaintyMm)), 0);
    this.toleranceMm = Math.max(1e-3, boxDiagonal(reference.bounds) * 1e-5) + unsure;
  }

  run(): Frame {
    const first = this.consider(AS_MODELED);
    if (first.agreement > SAME) return this.frame();
    const sizes = this.sizes();
    for (const size of sizes) for (const rotation of AXIS_ROTATIONS) this.turned(rotation, size);
    if (this.best().agreement > SAME) return this.frame();
    for (const size of sizes)
      for (const rotation of this.suggestedRotations(size, IDENTITY)) this.turned(rotation, size, 'any');
    if (this.best().agreement > SAME) return this.frame();
    for (const size of sizes) {
      for (const rotation of AXIS_ROTATIONS) this.turned(compose(rotation, MIRROR), size);
      for (const rotation of this.suggestedRotations(size, MIRROR)) this.turned(compose(rotation, MIRROR), size, 'any');
    }
    return this.frame();
  }

  private best(): Judged {
    return this.judged.reduce((a, b) => (b.likelihood > a.likelihood + 1e-9 ? b : a));
  }

  /** The best hypothesis, and how far the best of another kind stays behind it. */
  private frame(): Frame {
    const best = this.best();
    const kind = kindOf(best.placement);
    const rival = this.judged
      .filter((other) => kindOf(other.placement) !== kind)
      .reduce((most, other) => Math.max(most, other.likelihood), 0);
    const lead = Math.min(1, Math.max(0, (best.likelihood - rival) / RIVAL_LEAD));
    return {
      kind,
      placement: best.placement,
      agreement: best.agreement,
      certainty: best.agreement > SAME ? best.agreement : best.agreement * (0.6 + 0.4 * lead),
    };
  }

  /** What stays further behind the best than a rival counts is not looked at to its end. */
  private consider(placement: Placement): Judged {
    const faces = this.submission.faces.map((face) => placePatch(placement, face));
    const least = this.judged.length === 0 ? 0 : this.best().likelihood - RIVAL_LEAD;
    const judged = judge(placement, agreementOf(this.largestFirst, faces, { toleranceMm: this.toleranceMm, least }));
    this.judged.push(judged);
    return judged;
  }

  private sizes(): number[] {
    const ratio = boxDiagonal(this.reference.bounds) / Math.max(boxDiagonal(this.submission.bounds), 1e-9);
    return SCALES.filter((size) => size === 1 || (ratio / size < 2 && ratio / size > 0.5));
  }

  /** Looks at a rotation with the shifts that the faces vote for, that the middles give, and none. */
  private turned(rotation: Mat3, size: number, box: 'comparable' | 'any' = 'comparable'): void {
    const turned: Placement = { rotation, scale: size, translation: [0, 0, 0] };
    const bounds = placeBox(turned, this.submission.bounds);
    // The box of a part that lies askew says nothing of its size.
    if (box === 'comparable' && !comparable(boxSize(bounds), boxSize(this.reference.bounds))) return;
    const faces = this.submission.faces.map((face) => placePatch(turned, face));
    const middle = subtract(
      this.reference.massProperties.centroidMm,
      placePoint(turned, this.submission.estimate.centroidMm),
    );
    const voted = votedTranslation(this.reference.faces, faces, this.toleranceMm, middle);
    const boxes = subtract(boxCenter(this.reference.bounds), boxCenter(bounds));
    for (const translation of [[0, 0, 0] as Vec3, voted, middle, boxes]) this.consider({ ...turned, translation });
  }

  /** Rotations that carry two leading directions of the submission, mirrored first if need be, onto those of the reference. */
  private suggestedRotations(size: number, before: Mat3): Mat3[] {
    const own = leadingDirections(this.reference);
    const theirs = leadingDirections(this.submission).map((d) => ({ ...d, direction: transform(before, d.direction) }));
    const [first] = own;
    if (!first) return [];
    const second = own.find(({ direction }) => {
      const angle = angleBetween(direction, first.direction);
      return angle > 0.2 && angle < Math.PI - 0.2;
    });
    const found: Mat3[] = [];
    const note = (rotation: Mat3 | null): void => {
      if (rotation && !found.some((known) => rotationAngle(compose(rotation, transpose(known))) < 1e-3))
        found.push(rotation);
    };
    for (const a of theirs) {
      if (!second) {
        note(rotationOf(a.direction, perpendicular(a.direction), first.direction, perpendicular(first.direction)));
        continue;
      }
      const angle = angleBetween(first.direction, second.direction);
      for (const b of theirs)
        if (Math.abs(angleBetween(a.direction, b.direction) - angle) < 5e-3)
          note(rotationOf(a.direction, b.direction, first.direction, second.direction));
    }
    const target = this.reference.massProperties.inertiaMm5;
    const inertia = this.submission.massProperties.inertiaMm5;
    const off = (rotation: Mat3): number => {
      const whole = compose(rotation, before);
      const turned = compose(compose(whole, inertia), transpose(whole));
      return target.flat().reduce((sum, x, i) => sum + (x - (turned.flat()[i] ?? 0) * size ** 5) ** 2, 0);
    };
    return found
      .map((rotation) => ({ rotation, off: off(rotation) }))
      .sort((a, b) => a.off - b.off)
      .slice(0, MOST_ROTATIONS)
      .map(({ rotation }) => rotation);
  }
}

const MIRROR: Mat3 = [
  [-1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

const transform = (m: Mat3, p: Vec3): Vec3 => [dot(m[0], p), dot(m[1], p), dot(m[2], p)];

/** The rotation that carries `a` onto `c` and `b` into the half plane of `d`. */
function rotationOf(a: Vec3, b: Vec3, c: Vec3, d: Vec3): Mat3 | null {
  const base = (x: Vec3, y: Vec3): readonly [Vec3, Vec3, Vec3] | null => {
    const z = cross(x, y);
    if (length(z) < 1e-3) return null;
    const third = normalize(z);
    return [x, cross(third, x), third];
  };
  const [from, to] = [base(a, b), base(c, d)];
  if (!from || !to) return null;
  const row = (i: 0 | 1 | 2): Vec3 =>
    add(add(scale(from[0], to[0][i]), scale(from[1], to[1][i])), scale(from[2], to[2][i]));
  return [row(0), row(1), row(2)];
}

/**
 * Directions that a part shows most of: normals of flat faces and axes of round ones, by area, and from the main axis to
 * the axes beside it, which fix the turn of a turned part.
 */
function leadingDirections(solid: Solid): { readonly direction: Vec3; readonly weight: number }[] {
  const found: { direction: Vec3; weight: number }[] = [];
  const note = (direction: Vec3, weight: number): void => {
    const known = found.find((other) => dot(other.direction, direction) > 1 - 1e-6);
    if (known) known.weight += weight;
    else found.push({ direction, weight });
  };
  let main: { origin: Vec3; direction: Vec3; weight: number } | null = null;
  for (const { surface, areaMm2 } of solid.faces) {
    if (surface.kind === 'plane') note(surface.normal, areaMm2);
    if (surface.kind !== 'cylinder' && surface.kind !== 'cone') continue;
    note(surface.direction, areaMm2);
    note(negate(surface.direction), areaMm2);
    if (main === null || areaMm2 > main.weight)
      main = { origin: surface.origin, direction: surface.direction, weight: areaMm2 };
  }
  if (main !== null)
    for (const { surface, areaMm2 } of solid.faces) {
      if (surface.kind !== 'cylinder' || length(cross(surface.direction, main.direction)) > FITTED_PARALLEL_SINE)
        continue;
      const apart = subtract(surface.origin, main.origin);
      const radial = subtract(apart, scale(main.direction, dot(apart, main.direction)));
      if (length(radial) > 0.01 * boxDiagonal(solid.bounds)) note(normalize(radial), 0.5 * areaMm2);
    }
  return found.sort((a, b) => b.weight - a.weight).slice(0, 16);
}

/**
 * Finds how the submission lies against the reference: as modeled, moved, turned about the axes or in any way, mirrored,
 * or in a wrong unit. Every candidate is judged by the share of the reference surface that it covers; likely stories are
 * looked at first and need less to win.
 */
export const alignFrames = (reference: Solid, submission: Solid): Frame => new Search(reference, submission).run();

/** Boxes that differ by more than a factor of two in a direction are not the same part in that position. */
const comparable = (a: Vec3, b: Vec3): boolean =>
  ([0, 1, 2] as const).every((axis) => {
    const ratio = (a[axis] + 1e-3) / (b[axis] + 1e-3);
    return ratio < 2.4 && ratio > 1 / 2.4;
  });

/** A direction of the reference frame as the submission has it. */
export const directionInSubmission = ({ rotation }: Placement, direction: Vec3): Vec3 =>
  // The inverse of a rotation or reflection is its transpose.
  transform(transpose(rotation), direction);

/** Where the origin of the submission should have been, seen from its own origin, mm. */
export const originShift = (frame: Frame): Vec3 => scale(frame.placement.translation, -1);

/** Extent of a solid along a direction: over its corners, and over the crests of its round faces between them. */
export function extentAlong(solid: Solid, direction: Vec3): number {
  for (const axis of [0, 1, 2] as const)
    if (Math.abs(direction[axis]) > 1 - 1e-9 && solid.faces.every((face) => face.uncertaintyMm === 0))
      return boxSize(solid.bounds)[axis];
  return reachAlong(solid, direction) + reachAlong(solid, negate(direction));
}

/** A crest may rise above the nearest corner of its face by this share of its radius. */
const CREST_SHARE = 0.04;

function reachAlong(solid: Solid, direction: Vec3): number {
  const graph = graphOf(solid);
  let reach = -Infinity;
  for (const group of solid.mesh.groups) {
    const face = solid.faces[group.faceId];
    if (!face) continue;
    let own = graph.rim(face).reduce((most, p) => Math.max(most, dot(p, direction)), -Infinity);
    for (let i = group.start; i < group.start + group.count; i++) {
      const at = 3 * (solid.mesh.indices[i] ?? 0);
      const { positions } = solid.mesh;
      own = Math.max(
        own,
        (positions[at] ?? 0) * direction[0] +
          (positions[at + 1] ?? 0) * direction[1] +
          (positions[at + 2] ?? 0) * direction[2],
      );
    }
    const crest = crestOf(face.surface, direction);
    if (
      crest !== null &&
      crest.at > own &&
      crest.at < own + CREST_SHARE * crest.radius &&
      spans(solid, group, direction)
    )
      own = crest.at;
    reach = Math.max(reach, own);
  }
  return reach;
}

/** A facet that is so much wider than most of its face is no facet of a round, but a narrow flat on it. */
const WIDE_FACET = 1.6;

/**
 * Whether a round face is there where its crest in a direction would be: one of its facets lies to both sides of it. A flat
 * or keyway may have taken it away, which triangles show as one wide facet. Faces that are no cylinders are believed.
 */
function spans({ faces, mesh }: Solid, group: Solid['mesh']['groups'][number], direction: Vec3): boolean {
  const surface = faces[group.faceId]?.surface;
  if (surface?.kind !== 'cylinder') return true;
  const { origin, direction: axis } = surface;
  const across = cross(axis, direction);
  const facets = trianglesOf(mesh, group).map((corners) => {
    const flat = corners.map((corner): readonly [number, number] => {
      const from = subtract(corner, origin);
      return [dot(from, across), dot(from, direction)];
    });
    const widths = flat.map(([x, y], i) => {
      const [u, v] = flat[(i + 1) % 3] ?? [x, y];
      return Math.hypot(u - x, v - y);
    });
    return { flat, widthMm: Math.max(...widths) };
  });
  const usual = facets.map(({ widthMm }) => widthMm).sort((a, b) => a - b)[Math.floor(facets.length / 2)] ?? 0;
  return facets.some(
    ({ flat, widthMm }) =>
      widthMm < WIDE_FACET * usual &&
      flat.some(([x]) => x < 0) &&
      flat.some(([x]) => x > 0) &&
      flat.every(([, y]) => y > 0),
  );
}

/** How far the crest of a convex round surface reaches; of a cylinder only where the direction is square to it. */
function crestOf(surface: Surface, direction: Vec3): { readonly at: number; readonly radius: number } | null {
  switch (surface.kind) {
    case 'cylinder':
      return surface.side === 'convex' && Math.abs(dot(surface.direction, direction)) < FLAT_ON_END_SINE
        ? { at: dot(surface.origin, direction) + surface.radiusMm, radius: surface.radiusMm }
        : null;
    case 'sphere':
      return surface.side === 'convex'
        ? { at: dot(surface.center, direction) + surface.radiusMm, radius: surface.radiusMm }
        : null;
    case 'torus': {
      const square = length(cross(surface.direction, direction));
      return surface.side === 'convex'
        ? {
            at: dot(surface.center, direction) + surface.majorRadiusMm * square + surface.minorRadiusMm,
            radius: surface.minorRadiusMm,
          }
        : null;
    }
    default:
      return null;
  }
}
