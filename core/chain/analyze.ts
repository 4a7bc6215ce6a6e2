import type { Reference, Target } from '#core/check';
import type { Exercise } from '#core/exercise';
import { featuresOf, findHoles } from '#core/feature';
import { formatFixed, LENGTH_UNITS } from '#core/quantity';

import type { AxisIndex, Link, Place } from './line.ts';
import { chainsOf, linksOf, onSheet } from './links.ts';

/** What the sheet fails to say, or says twice. */
export interface ChainFinding {
  readonly kind: 'missing' | 'repeated' | 'contradiction' | 'derived';
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

const NAMES = ['X (left to right)', 'Y (front to back)', 'Z (up)'] as const;
const AXES = [0, 1, 2] as const;

/**
 * Looks at the dimensions of a sheet along each axis of the part: places that no dimension reaches, dimensions that say
 * what others say already, sizes that do not fit together, and rounds without size.
 */
export function analyzeSheet(exercise: Exercise, reference: Reference): readonly ChainFinding[] {
  const shown = exercise.checks.filter(onSheet);
  const targets = reference.targets.filter(({ checkId }) => shown.some(({ id }) => id === checkId));
  const chains = chainsOf(reference, targets);
  // What is said twice is said by dimensions alone; what is not said may be said by a note.
  const noted = chainsOf(reference, targets);
  if (exercise.notes.some((note) => /symmetr/i.test(note))) for (const chain of noted) chain.mirror();
  const unit = LENGTH_UNITS[reference.unit];
  const size = (mm: number): string => `${String(Number(formatFixed(mm / unit, 4)))} ${reference.unit}`;
  const label = (id: string): string => shown.find((check) => check.id === id)?.label ?? id;
  const findings: ChainFinding[] = [];

  for (const axis of AXES) {
    const chain = noted[axis];
    const [main = [], ...loose] = chain.groups();
    for (const group of loose) {
      const { from, to } = nearestPair(group, main);
      if (from === undefined || to === undefined) continue;
      findings.push({
        kind: 'missing',
        message: `Along ${NAMES[axis]} nothing says where ${wordsFor(from)} lies. A dimension of ${size(Math.abs(from.at - to.at))} to ${wordsFor(to)} would say it.`,
        checkIds: [],
        faceIds: [...from.faceIds, ...to.faceIds],
        valueMm: Math.abs(from.at - to.at),
      });
    }
  }

  const repeated = new Set<string>();
  for (const target of [...targets].reverse()) {
    const links = linksOf(target, reference);
    if (links.length === 0 || target.kind === 'bolt-circle') continue;
    const paths = links.map((link) =>
      chains[link.axis].path(link.from, link.to, new Set([target.checkId, ...repeated])),
    );
    if (paths.some((path) => path === null)) continue;
    repeated.add(target.checkId);
    const path = paths[0] ?? [];
    const others = [...new Set(path.flatMap(({ checkId }) => checkId ?? []))];
    findings.push({
      kind: 'repeated',
      message: `"${label(target.checkId)}" is said twice: it follows from ${others.map((id) => `"${label(id)}"`).join(', ') || 'the picture'} (${arithmeticOf('nominal' in target ? target.nominal : null, path, unit)}). Take it off the sheet.`,
      checkIds: [target.checkId, ...others],
      faceIds: [],
    });
  }

  for (const target of targets) {
    if (!('nominal' in target)) continue;
    const [link] = linksOf(target, reference);
    if (link === undefined || target.kind === 'bolt-circle' || Math.abs(link.valueMm - target.nominal) < 1e-3) continue;
    findings.push({
      kind: 'contradiction',
      message: `"${label(target.checkId)}" says ${size(target.nominal)}, but on the part it is ${size(link.valueMm)}.`,
      checkIds: [target.checkId],
      faceIds: [],
    });
  }
  return [...findings, ...unsizedRounds(reference, targets, exercise.notes, size)];
}

/** Whether a note names a size as a number of its own. */
function saysSize(note: string, size: string): boolean {
  const [number = ''] = size.split(' ');
  const plain = number.replace('.', '\\.').replace(/^0/, '0?');
  return new RegExp(`(^|[^\\d.])R?\\s*${plain}(?![\\d.]*\\d)`).test(note);
}

/** Rounds, chamfers and hole depths that no dimension gives. */
function unsizedRounds(
  { solid, unit, decimals }: Reference,
  targets: readonly Target[],
  notes: readonly string[],
  size: (mm: number) => string,
): readonly ChainFinding[] {
  const sized = new Set(
    targets.flatMap((target) => {
      switch (target.kind) {
        case 'diameter':
        case 'radius':
          return target.members.flat();
        case 'chamfer-size':
          return target.faceIds;
        default:
          return [];
      }
    }),
  );
  const holes = findHoles(solid);
  const deep = holes.filter((hole) =>
    targets.some(
      (target) =>
        target.kind === 'hole-size' &&
        target.size === 'depth' &&
        target.faceIds.some((id) => hole.faceIds.includes(id)),
    ),
  );
  const radii = new Set<string>();
  const rounded = (mm: number): string => formatFixed(mm / LENGTH_UNITS[unit], decimals);
  const widths = targets.flatMap((target) => (target.kind === 'distance' ? target.nominal : []));
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
    if (targets.every(({ kind }) => kind !== 'chamfer-size')) put('size of a chamfer', Math.min(...sizesMm), faceIds);
  }
  for (const hole of holes) {
    const alike = (other: (typeof holes)[number]): boolean =>
      Math.abs(other.diameterMm - hole.diameterMm) < 1e-4 && Math.abs(other.depthMm - hole.depthMm) < 1e-4;
    if (!hole.through && !deep.some(alike)) put('depth of a hole', hole.depthMm, hole.faceIds);
  }
  return findings;
}

function nearestPair(a: readonly Place[], b: readonly Place[]): { from: Place | undefined; to: Place | undefined } {
  let best: { from: Place; to: Place; apart: number } | null = null;
  for (const from of a)
    for (const to of b) {
      const apart = Math.abs(from.at - to.at) + (from.kind === 'end' ? 1e3 : 0) + (to.kind === 'end' ? 1e3 : 0);
      if (best === null || apart < best.apart) best = { from, to, apart };
    }
  return { from: best?.from, to: best?.to };
}

const wordsFor = ({ kind }: Place): string =>
  kind === 'axis' ? 'the center line of a round' : kind === 'face' ? 'a flat face' : 'the end of the part';

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
  axis: AxisIndex,
  from: number,
  to: number,
): Derivation | null {
  const shown = new Set(exercise.checks.filter(onSheet).map(({ id }) => id));
  const chains = chainsOf(
    reference,
    reference.targets.filter(({ checkId }) => shown.has(checkId)),
  );
  const path = chains[axis].path(from, to);
  if (path === null) return null;
  return {
    arithmetic: arithmeticOf(Math.abs(to - from), path, LENGTH_UNITS[reference.unit]),
    steps: path.map(({ checkId, valueMm, sign }) => ({ checkId, valueMm, sign })),
  };
}
