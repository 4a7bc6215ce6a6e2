import {
  chainRoleOf,
  facesOfTarget,
  isOnSheet,
  spanOf,
  type AxisIndex,
  type Reference,
  type Target,
} from '#core/check';
import type { Exercise } from '#core/exercise';
import { featuresOf, findHoles, type Hole } from '#core/feature';
import { formatFixed, LENGTH_UNITS } from '#core/quantity';
import type { Axis, Face, Plane, Solid } from '#core/solid';
import { SAME_DIRECTION_COSINE } from '#core/tolerance';
import { add, cross, dot, length, scale, subtract, type Vec3 } from '#core/vector';

import type { Link, Place } from './line.ts';
import { chainsOf, linksOf } from './links.ts';

/** What the sheet fails to say, or says twice. */
export interface ChainFinding {
  readonly kind: 'missing' | 'repeated' | 'contradiction';
  readonly message: string;
  /** Dimensions that it is about. */
  readonly checkIds: readonly string[];
  /** Faces that it is about. */
  readonly faceIds: readonly number[];
  /** Of a missing size, what would say it, mm. */
  readonly valueMm?: number;
}

export interface Derivation {
  /** "14 = 62 - 2 x 24". */
  readonly arithmetic: string;
  readonly steps: readonly { readonly checkId: string | null; readonly valueMm: number; readonly sign: 1 | -1 }[];
}

type Chains = ReturnType<typeof chainsOf>;

/** A dimension and the part agree where they differ by less: sheets write no finer. */
const SAME_NUMBER_MM = 1e-3;

/** The axes of a part as instructors and students read them. */
export const AXIS_WORDS = ['X (left to right)', 'Y (front to back)', 'Z (up)'] as const;
const AXES = [0, 1, 2] as const;

/** What the rules below look at: what the sheet shows, and how numbers and dimensions are called in a sentence. */
interface Shown {
  readonly reference: Reference;
  readonly targets: readonly Target[];
  readonly size: (mm: number) => string;
  readonly label: (checkId: string) => string;
}

/**
 * Looks at the dimensions of a sheet along each axis of the part: places that no dimension reaches, dimensions that say
 * what others say already, sizes that do not fit together, and rounds without size.
 */
export function analyzeSheet(exercise: Exercise, reference: Reference): readonly ChainFinding[] {
  const checks = exercise.checks.filter(isOnSheet);
  const targets = reference.targets.filter(({ checkId }) => checks.some(({ id }) => id === checkId));
  const chains = chainsOf(reference, targets);
  // What is said twice is said by dimensions alone; what is not said may be said by a note.
  const symmetric = exercise.notes.some((note) => /symmetr/i.test(note));
  const noted = chainsOf(reference, targets, { ties: true });
  if (symmetric) for (const chain of noted) chain.mirror();
  const unit = LENGTH_UNITS[reference.unit];
  const shown: Shown = {
    reference,
    targets,
    size: (mm) => `${String(Number(formatFixed(mm / unit, 4)))} ${reference.unit}`,
    label: (id) => checks.find((check) => check.id === id)?.label ?? id,
  };
  return [
    ...unsaidPlaces(shown, noted),
    ...saidTwice(shown, chains),
    ...contradictions(shown),
    ...unsizedCylinders(shown, noted, exercise.notes),
    ...unsaidAngles(reference, targets, noted, exercise.notes),
  ];
}

/** Places along the axes of the part that no dimension ties to the others. */
function unsaidPlaces({ reference, targets, size }: Shown, chains: Chains): readonly ChainFinding[] {
  const slanted = placedAslant(reference, targets);
  return AXES.flatMap((axis) => {
    const [main = [], ...loose] = chains[axis].groups();
    return loose.flatMap((group): ChainFinding[] => {
      if (group.every(({ faceIds }) => faceIds.length > 0 && faceIds.every((id) => slanted.has(id)))) return [];
      const { from, to } = nearestPair(group, main);
      if (from === undefined || to === undefined) return [];
      const valueMm = Math.abs(from.at - to.at);
      return [
        {
          kind: 'missing',
          message: `Along ${AXIS_WORDS[axis]} nothing says where ${wordsFor(from)} lies. A dimension of ${size(valueMm)} to ${wordsFor(to)} would say it.`,
          checkIds: [],
          faceIds: [...from.faceIds, ...to.faceIds],
          valueMm,
        },
      ];
    });
  });
}

/** Dimensions that follow from others, the last ones of the plan first; what follows from them is not said twice. */
function saidTwice({ reference, targets, label }: Shown, chains: Chains): readonly ChainFinding[] {
  const unit = LENGTH_UNITS[reference.unit];
  const repeated = new Set<string>();
  return [...targets].reverse().flatMap((target): ChainFinding[] => {
    const links = linksOf(target, reference);
    if (links.length === 0 || chainRoleOf(target).circles !== undefined) return [];
    const paths = links.map((link) =>
      chains[link.axis].path(link.from, link.to, new Set([target.checkId, ...repeated])),
    );
    if (paths.some((path) => path === null)) return [];
    repeated.add(target.checkId);
    const path = paths[0] ?? [];
    const others = [...new Set(path.flatMap(({ checkId }) => checkId ?? []))];
    const from = others.map((id) => `"${label(id)}"`).join(', ') || 'the picture';
    const arithmetic = arithmeticOf('nominal' in target ? target.nominal : null, path, unit);
    return [
      {
        kind: 'repeated',
        message: `"${label(target.checkId)}" is said twice: it follows from ${from} (${arithmetic}). Take it off the sheet.`,
        checkIds: [target.checkId, ...others],
        faceIds: [],
      },
    ];
  });
}

/** Dimensions whose number is not the size that the part has. */
function contradictions({ reference, targets, size, label }: Shown): readonly ChainFinding[] {
  return targets.flatMap((target): ChainFinding[] => {
    if (!('nominal' in target) || chainRoleOf(target).circles !== undefined) return [];
    const [link] = linksOf(target, reference);
    if (link === undefined || Math.abs(link.valueMm - target.nominal) < SAME_NUMBER_MM) return [];
    return [
      {
        kind: 'contradiction',
        message: `"${label(target.checkId)}" says ${size(target.nominal)}, but on the part it is ${size(link.valueMm)}.`,
        checkIds: [target.checkId],
        faceIds: [],
      },
    ];
  });
}

/** Rounds that a size places from a slanting face: their places along the axes of the part follow from its angle. */
function placedAslant({ solid }: Reference, targets: readonly Target[]): ReadonlySet<number> {
  const lies = (ids: readonly number[]): boolean => {
    const { surface } = solid.faces[ids[0] ?? -1] ?? {};
    return surface?.kind === 'plane' && AXES.every((axis) => Math.abs(surface.normal[axis]) < SAME_DIRECTION_COSINE);
  };
  return new Set(
    targets.flatMap((target) => {
      const span = spanOf(target);
      return span?.kind === 'between' && span.from.on === 'face' && span.to.on === 'axis' && lies(span.from.at)
        ? sameAxis(solid, span.to.at)
        : [];
    }),
  );
}

/** The round faces about the axis of one of them. */
function sameAxis(solid: Solid, faceIds: readonly number[]): readonly number[] {
  const own = solid.faces[faceIds[0] ?? -1]?.surface;
  if (own?.kind !== 'cylinder') return faceIds;
  return solid.faces.flatMap(({ id, surface }) => {
    if (surface.kind !== 'cylinder' && surface.kind !== 'cone') return [];
    const apart = subtract(surface.kind === 'cone' ? surface.apex : surface.origin, own.origin);
    const off = Math.max(length(cross(apart, own.direction)), length(cross(surface.direction, own.direction)));
    return off < 1e-3 ? [id] : [];
  });
}

/** Whether a flat face runs on smoothly into two rounds, which its direction follows from. */
const touchesCylinders = (solid: Solid, edgeIds: readonly number[]): boolean =>
  edgeIds.filter((id) => {
    const edge = solid.edges[id];
    return edge?.convexity === 'smooth' && edge.faceIds.some((face) => solid.faces[face]?.surface.kind === 'cylinder');
  }).length >= 2;

/**
 * Slanting flat faces whose direction nothing gives: no angle to them or to a parallel or mirrored face, no chamfer, no
 * note, and ends that are not placed along the axes either.
 */
function unsaidAngles(
  { solid }: Reference,
  targets: readonly Target[],
  chains: Chains,
  notes: readonly string[],
): readonly ChainFinding[] {
  // A note may say it in words: an angle, or a shape with even angles.
  if (notes.some((note) => /\u00b0|degree|angle|hexagon|octagon|turned/i.test(note))) return [];
  const chamfers = new Set(featuresOf(solid, 'chamfer').flatMap(({ faceIds }) => faceIds));
  const directions = (ids: readonly number[]): readonly Vec3[] =>
    ids.flatMap((id) => {
      const { surface } = solid.faces[id] ?? {};
      return surface?.kind === 'plane'
        ? [surface.normal]
        : surface !== undefined && 'direction' in surface
          ? [surface.direction]
          : [];
    });
  const given = targets.flatMap((target) => directions(chainRoleOf(target).directed ?? []));
  const alike = (a: Vec3, b: Vec3): boolean => AXES.every((i) => Math.abs(Math.abs(a[i]) - Math.abs(b[i])) < 1e-6);
  const findings: ChainFinding[] = [];
  const told: Vec3[] = [];
  for (const { id, surface, bounds, edgeIds } of solid.faces) {
    if (surface.kind !== 'plane' || chamfers.has(id) || touchesCylinders(solid, edgeIds)) continue;
    const { normal } = surface;
    if (AXES.some((axis) => Math.abs(normal[axis]) > SAME_DIRECTION_COSINE)) continue;
    if (isOfPolygon(solid, targets, surface) || isTurnedCopy(solid, id)) continue;
    if (
      [...given, ...told].some(
        (direction) => alike(direction, normal) || Math.abs(dot(direction, normal)) > SAME_DIRECTION_COSINE,
      )
    )
      continue;
    const leaning = AXES.filter((axis) => Math.abs(normal[axis]) > 1e-6);
    const placed = leaning.every(
      (axis) => chains[axis].connected(bounds.min[axis], bounds.max[axis]) || isEdgePlaced(solid, targets, id, axis),
    );
    if (placed) continue;
    told.push(normal);
    const [nearest = 0] = [...AXES].sort((a, b) => Math.abs(normal[b]) - Math.abs(normal[a]));
    const degrees = (Math.acos(Math.min(1, Math.abs(normal[nearest]))) * 180) / Math.PI;
    findings.push({
      kind: 'missing',
      message: `Nothing says how a slanting face lies. An angle of ${String(Number(degrees.toFixed(2)))}° to a face across ${AXIS_WORDS[nearest]} would say it.`,
      checkIds: [],
      faceIds: [id],
    });
  }
  return findings;
}

/** Copies around a center stand at a part of the turn that is drawn as equal spacing: an nth of it, n no more than this. */
const MOST_COPIES = 36;
/** So many alike around a center are seen as equally spaced; of two, the angle has to be said. */
const FEWEST_COPIES = 3;

/**
 * Whether a flat face is one of several around an axis of the part at even parts of the turn, one of which lies along the
 * axes: equal spacing as it is drawn says how it lies.
 */
function isTurnedCopy({ faces }: Solid, id: number): boolean {
  const own = faces[id];
  if (own?.surface.kind !== 'plane') return false;
  const isAlong = (direction: Vec3): boolean => AXES.some((axis) => Math.abs(direction[axis]) > SAME_DIRECTION_COSINE);
  const axes = faces.flatMap(({ surface }) =>
    surface.kind === 'cylinder' && isAlong(surface.direction) ? [surface] : [],
  );
  const alike = faces.filter(
    ({ surface, areaMm2 }) => surface.kind === 'plane' && Math.abs(areaMm2 / own.areaMm2 - 1) < 1e-6,
  );
  return axes.some(({ origin, direction }) => {
    const ring = alike.filter((other) => isEvenlyTurned(other, own, { origin, direction }));
    return (
      ring.length >= FEWEST_COPIES && ring.some(({ surface }) => surface.kind === 'plane' && isAlong(surface.normal))
    );
  });
}

/** Whether one flat face becomes another by an even part of a turn about an axis. */
function isEvenlyTurned(from: Face, to: Face, { origin, direction }: Axis): boolean {
  if (from.surface.kind !== 'plane' || to.surface.kind !== 'plane') return false;
  const [a, b] = [subtract(from.centroid, origin), subtract(to.centroid, origin)];
  const turn = turnAbout(direction, from.surface.normal, to.surface.normal);
  const place = turnAbout(direction, a, b);
  if (turn === null || place === null) return false;
  const isCopy =
    Math.abs(dot(subtract(b, a), direction)) < SAME_NUMBER_MM &&
    Math.abs(length(cross(a, direction)) - length(cross(b, direction))) < SAME_NUMBER_MM &&
    Math.abs(Math.sin((place - turn) / 2)) < 1e-6;
  return (
    isCopy &&
    Array.from({ length: MOST_COPIES }, (_, n) => ((n + 1) * turn) / (2 * Math.PI)).some(
      (turns) => Math.abs(turns - Math.round(turns)) < 1e-6,
    )
  );
}

/** By how much a vector is turned about an axis to become another, rad; null where either lies along it. */
function turnAbout(axis: Vec3, from: Vec3, to: Vec3): number | null {
  const across = (p: Vec3): Vec3 => subtract(p, scale(axis, dot(p, axis)));
  const [a, b] = [across(from), across(to)];
  if (Math.min(length(a), length(b)) < 1e-6) return null;
  return Math.atan2(dot(cross(a, b), axis), dot(a, b));
}

/**
 * Whether a flat face is of a regular polygon whose width is given: a dimension between two flat faces that are as far apart
 * as it is from its opposite, about the same center.
 */
function isOfPolygon({ faces }: Solid, targets: readonly Target[], own: Plane): boolean {
  const widths = faces.flatMap(({ surface }) =>
    surface.kind === 'plane' && dot(surface.normal, own.normal) < -SAME_DIRECTION_COSINE
      ? [Math.abs(dot(subtract(own.origin, surface.origin), own.normal))]
      : [],
  );
  return targets.some((target) => {
    const span = spanOf(target);
    if (span?.kind !== 'between' || !('nominal' in target)) return false;
    const [a, b] = [span.from, span.to].map(({ at }) => faces[at[0] ?? -1]?.surface);
    if (a?.kind !== 'plane' || b?.kind !== 'plane') return false;
    const fromMiddle = dot(subtract(own.origin, scale(add(a.origin, b.origin), 0.5)), own.normal);
    // The middle planes of both pairs meet on the axis of the polygon, which runs along all of its faces.
    const isUpright = AXES.some((i) => Math.abs(own.normal[i]) < 1e-9 && Math.abs(a.normal[i]) < 1e-9);
    return (
      isUpright &&
      Math.abs(fromMiddle - target.nominal / 2) < SAME_NUMBER_MM &&
      widths.some((width) => Math.abs(width - target.nominal) < SAME_NUMBER_MM)
    );
  });
}

/** Whether a dimension says how far, along an axis, an edge of a face lies. */
const isEdgePlaced = ({ faces }: Solid, targets: readonly Target[], faceId: number, axis: AxisIndex): boolean =>
  targets.some((target) => {
    if (target.kind !== 'edge-distance' || !facesOfTarget(target).includes(faceId)) return false;
    const from = faces[target.fromFaceIds[0] ?? -1]?.surface;
    return from?.kind === 'plane' && Math.abs(from.normal[axis]) > SAME_DIRECTION_COSINE;
  });

/** Whether a note names a size as a number of its own; `size` may have its unit behind it. */
export function saysSize(note: string, size: string): boolean {
  const [number = ''] = size.split(' ');
  const plain = number.replace('.', '\\.').replace(/^0/, '0?');
  return new RegExp(`(^|[^\\d.])R?\\s*${plain}(?![\\d.]*\\d)`).test(note);
}

const ROUNDING_SHARE = 1e-9;

/** Whether the two ends of the walls of a hole are placed along its axis, so that its depth follows. */
function isDepthPlaced({ faces }: Solid, chains: Chains, { direction, faceIds }: Hole): boolean {
  const axis = AXES.find((i) => Math.abs(direction[i]) > SAME_DIRECTION_COSINE);
  if (axis === undefined) return false;
  const boxes = faceIds.flatMap((id) => faces[id]?.bounds ?? []);
  const [low, high] = [Math.min(...boxes.map(({ min }) => min[axis])), Math.max(...boxes.map(({ max }) => max[axis]))];
  return chains[axis].connected(low, high);
}

/** Rounds, chamfers and hole depths that no dimension gives. */
function unsizedCylinders(
  { reference: { solid, unit, decimals }, targets, size }: Shown,
  chains: Chains,
  notes: readonly string[],
): readonly ChainFinding[] {
  const roles = targets.map(chainRoleOf);
  const sized = new Set(roles.flatMap((role) => role.sized ?? []));
  const holes = findHoles(solid);
  const deep = holes.filter((hole) =>
    roles.some(({ depth }) => depth?.of === 'hole' && depth.faceIds.some((id) => hole.faceIds.includes(id))),
  );
  const radii = new Set<string>();
  // A half is rounded up, as whoever wrote the note did: 1/16 is 0.063.
  const rounded = (mm: number): string => formatFixed((mm / LENGTH_UNITS[unit]) * (1 + ROUNDING_SHARE), decimals);
  // The width of a slot is a distance between flat faces.
  const widths = targets.flatMap((target) => {
    const span = spanOf(target);
    const isWidth = span?.kind === 'between' && span.from.on === 'face' && span.to.on === 'face';
    return isWidth && 'nominal' in target ? target.nominal : [];
  });
  const findings: ChainFinding[] = [];
  const put = (what: string, sizeMm: number, faceIds: readonly number[]): void => {
    const key = `${what} ${sizeMm.toFixed(3)}`;
    // A general note such as "all rounds R2" says it too.
    if (radii.has(key) || notes.some((note) => [size(sizeMm), rounded(sizeMm)].some((words) => saysSize(note, words))))
      return;
    radii.add(key);
    findings.push({
      kind: 'missing',
      message: `Nothing says the ${what} of ${size(sizeMm)}.`,
      checkIds: [],
      faceIds,
      valueMm: sizeMm,
    });
  };
  const given = (radiusMm: number, side: string): boolean =>
    solid.faces.some(
      (face) =>
        sized.has(face.id) &&
        face.surface.kind === 'cylinder' &&
        face.surface.side === side &&
        Math.abs(face.surface.radiusMm - radiusMm) < 1e-4,
    );
  for (const { id, surface } of solid.faces)
    // The width of a slot is twice the radius of its ends.
    if (
      surface.kind === 'cylinder' &&
      !sized.has(id) &&
      !given(surface.radiusMm, surface.side) &&
      !widths.some((width) => Math.abs(width - 2 * surface.radiusMm) < 1e-4)
    )
      put(surface.side === 'concave' ? 'radius of a hollow round' : 'radius of a round', surface.radiusMm, [id]);
  for (const { faceIds, sizesMm } of featuresOf(solid, 'chamfer')) {
    if (faceIds.some((id) => sized.has(id))) continue;
    if (roles.every(({ chamfered }) => chamfered === undefined))
      put('size of a chamfer', Math.min(...sizesMm), faceIds);
  }
  for (const hole of holes) {
    const alike = (other: (typeof holes)[number]): boolean =>
      Math.abs(other.diameterMm - hole.diameterMm) < 1e-4 && Math.abs(other.depthMm - hole.depthMm) < 1e-4;
    if (!hole.through && !deep.some(alike) && !isDepthPlaced(solid, chains, hole))
      put('depth of a hole', hole.depthMm, hole.faceIds);
  }
  return findings;
}

function nearestPair(a: readonly Place[], b: readonly Place[]): { from: Place | undefined; to: Place | undefined } {
  let best: { from: Place; to: Place; apart: number } | null = null;
  for (const from of a)
    for (const to of b) {
      const apart = Math.abs(from.at - to.at) + unfit(from) + unfit(to);
      if (best === null || apart < best.apart) best = { from, to, apart };
    }
  return { from: best?.from, to: best?.to };
}

/** How little a place is fit for a dimension: an end less than a face, and a center line without a round hardly. */
const unfit = ({ kind, faceIds }: Place): number =>
  kind === 'end' ? 1e3 : kind === 'axis' && faceIds.length === 0 ? 1e6 : 0;

const wordsFor = ({ kind, faceIds }: Place): string =>
  kind === 'axis' && faceIds.length === 0
    ? 'the middle of the part'
    : kind === 'axis'
      ? 'the center line of a round'
      : kind === 'face'
        ? 'a flat face'
        : 'the end of the part';

type Step = Link & { readonly sign: 1 | -1 };

/** "14 = 62 - 2 x 24" for a way over sizes; halves of one size are said as a half. */
function arithmeticOf(nominal: number | null, path: readonly Step[], unit: number): string {
  const total = path.reduce((sum, { valueMm, sign }) => sum + sign * valueMm, 0);
  const flip = total < 0 ? -1 : 1;
  const number = (mm: number): string => String(Number(formatFixed(mm / unit, 4)));
  const terms: { readonly sign: number; readonly value: string; count: number }[] = [];
  for (const { valueMm, sign } of path) {
    const same = terms.find((term) => term.value === number(valueMm) && term.sign === sign * flip);
    if (same) same.count++;
    else terms.push({ sign: sign * flip, value: number(valueMm), count: 1 });
  }
  const sorted = [...terms].sort((a, b) => b.sign - a.sign);
  const words = sorted
    .map(({ sign, value, count }, i) => {
      const times = count > 1 ? `${String(count)} x ${value}` : value;
      return i === 0 ? `${sign < 0 ? '-' : ''}${times}` : `${sign < 0 ? '-' : '+'} ${times}`;
    })
    .join(' ');
  return `${number(nominal ?? Math.abs(total))} = ${words}`;
}

/** How the distance of two places along an axis follows from what the sheet says; null where it does not. */
export function derivation(
  exercise: Exercise,
  reference: Reference,
  { axis, from, to }: { readonly axis: AxisIndex; readonly from: number; readonly to: number },
): Derivation | null {
  return derivationIn(shownChains(exercise, reference), LENGTH_UNITS[reference.unit], { axis, from, to });
}

/** A size that is checked but not written on the sheet, and how it follows from those that are. */
export interface DerivedSize {
  readonly checkId: string;
  readonly label: string;
  readonly derivation: Derivation;
  /** "14 = 62 - 2 x 24", or "1.75, half of Length" where it follows from one size alone. */
  readonly words: string;
}

/** The sizes of the check plan that can only be worked out from the sheet. */
export function derivedSizes(exercise: Exercise, reference: Reference): readonly DerivedSize[] {
  const chains = shownChains(exercise, reference);
  return exercise.checks.flatMap((check): DerivedSize[] => {
    const target = reference.targets.find(({ checkId }) => checkId === check.id);
    if (target === undefined || isOnSheet(check) || check.off === true) return [];
    const [link] = linksOf(target, reference);
    if (link === undefined) return [];
    const found = derivationIn(chains, LENGTH_UNITS[reference.unit], { axis: link.axis, from: link.from, to: link.to });
    if (found === null) return [];
    const [step, ...more] = found.steps;
    const whole = reference.targets.find(({ checkId }) => checkId === step?.checkId);
    const [size = found.arithmetic] = found.arithmetic.split(' = ');
    const single = more.length === 0 && step !== undefined && whole !== undefined;
    const half = single && 'nominal' in whole && Math.abs(whole.nominal - 2 * step.valueMm) < 1e-6;
    const words = single ? `${size}, ${half ? 'half of' : 'as'} ${whole.label}` : found.arithmetic;
    return [{ checkId: check.id, label: check.label, derivation: found, words }];
  });
}

/** The three chains of a part with what its sheet writes. */
export function shownChains(exercise: Exercise, reference: Reference): Chains {
  const shown = new Set(exercise.checks.filter(isOnSheet).map(({ id }) => id));
  return chainsOf(
    reference,
    reference.targets.filter(({ checkId }) => shown.has(checkId)),
  );
}

function derivationIn(
  chains: Chains,
  unitMm: number,
  { axis, from, to }: { readonly axis: AxisIndex; readonly from: number; readonly to: number },
): Derivation | null {
  const path = chains[axis].path(from, to);
  if (path === null || path.length === 0) return null;
  return {
    arithmetic: arithmeticOf(Math.abs(to - from), path, unitMm),
    steps: path.map(({ checkId, valueMm, sign }) => ({ checkId, valueMm, sign })),
  };
}
