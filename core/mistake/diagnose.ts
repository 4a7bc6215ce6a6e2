import * as v from 'valibot';

import type { CheckMeasurement, Measurement } from '#core/check';
import { AS_MODELED, type Placement, type Vec3 } from '#core/vector';

import type { Atlas, AtlasEntry } from './atlas.ts';
import { farthest, fingerprintOf, fingerprintOfPoints, minus, plus, scalesOf, type Fingerprint } from '#core/solid';
import { MistakeSchema } from './mistake.ts';

/** One hypothesis of what happened: one mistake, or two or three together. */
export const HypothesisSchema = v.object({
  mistakes: v.pipe(v.array(MistakeSchema), v.minLength(1), v.readonly()),
  /** How likely it is beside the other hypotheses, 0 to 1. */
  certainty: v.number(),
  /** Whether the part with these mistakes is the very part that was handed in, or only nearer to it. */
  fit: v.picklist(['complete', 'most']),
  /** What the checks measure on a part with these mistakes, where it differs from the right one. */
  checks: v.pipe(v.array(v.object({ checkId: v.string(), measured: v.nullable(v.number()) })), v.readonly()),
  /** Of these, the ones that speak of the mistakes themselves. */
  roots: v.pipe(v.array(v.string()), v.readonly()),
  /** Other mistakes that give the same part. */
  same: v.pipe(v.array(v.string()), v.readonly()),
  /** Whether the part lies where its file puts it, rather than where it was laid onto the reference. */
  inPlace: v.boolean(),
});
export type Hypothesis = Readonly<v.InferOutput<typeof HypothesisSchema>>;

export const DiagnosisSchema = v.object({
  /** The likeliest first; empty when nothing of the catalogue explains the part. */
  hypotheses: v.pipe(v.array(HypothesisSchema), v.readonly()),
});
export type Diagnosis = Readonly<v.InferOutput<typeof DiagnosisSchema>>;

export const NO_DIAGNOSIS: Diagnosis = { hypotheses: [] };

/**
 * Builds the part with some mistakes; null where it cannot be built. Its checks are measured only where its fingerprint is
 * the one that is looked for.
 */
export type Verify = (
  entries: readonly AtlasEntry[],
  isIt: (fingerprint: Fingerprint) => boolean,
) => Pick<AtlasEntry, 'fingerprint' | 'bodies' | 'checks'> | null;

/** Exact parts of two kernels agree to this share. */
const EXACT_SHARE = 3e-6;
/** So many uncertainties apart still counts as the same. */
const WITHIN = 3;
/** A hypothesis explains most of a part when it leaves less than this share of what is wrong. */
const MOST_LEFT = 0.25;
/** With facets, a hypothesis that this share of the checks speaks against is not believed. */
const MOST_AGAINST = 0.4;
/** Pairs and triples that are built, to see whether they are the part. */
const MOST_VERIFIED = 10;
const MOST_HYPOTHESES = 5;

export interface DiagnoseOptions {
  /** Builds pairs and triples; without it, single mistakes alone are looked for. */
  readonly verify?: Verify | null | undefined;
  /** Whether it matters where the part lies: then a mistake may have moved it as well. */
  readonly placeCounts?: boolean | undefined;
  /** Checks that the part does not pass. */
  readonly failing?: readonly string[] | undefined;
  /** By what it differs from the reference, as far as that is clear; for parts of facets, whose numbers are less sure. */
  readonly pieces?: readonly DifferencePiece[] | undefined;
}

/** One connected piece of material that only one of the two parts has, in the frame of the reference. */
export interface DifferencePiece {
  /** Negative where it is missing. */
  readonly volumeMm3: number;
  readonly centerMm: Vec3;
}

interface Evidence {
  /** As it lies on the reference, and as it lies in its file. */
  readonly placed: readonly Fingerprint[];
  /** Uncertainty of each number of a fingerprint, as a share of its scale. */
  readonly spread: Fingerprint;
  readonly scales: Fingerprint;
  readonly bodies: number;
  readonly checks: ReadonlyMap<string, CheckMeasurement>;
  readonly failing: readonly string[];
  /** Of a model without facets. */
  readonly exact: boolean;
}

/**
 * Tells which mistakes of an atlas the measured part shows. Single mistakes are compared with what their parts measure;
 * pairs and triples are guessed from what their mistakes change by themselves, and built by `verify` before they are
 * believed. Silent where nothing is wrong, and where nothing fits.
 */
export function diagnose(measurement: Measurement, atlas: Atlas, options: DiagnoseOptions = {}): Diagnosis {
  const { verify = null, pieces = [] } = options;
  const evidence = evidenceOf(measurement, atlas, options);
  const right = atlas.reference.fingerprint;
  const [onReference = right] = evidence.placed;
  const isRight =
    distanceTo(onReference, right, evidence) <= WITHIN &&
    measurement.bodies === 1 &&
    // Between facets there is room for a small mistake, which a size that was measured then gives away.
    (evidence.exact || evidence.failing.every((id) => evidence.checks.get(id)?.measured === null));
  if (isRight && !evidence.exact && pieces.length > 0) return fromPieces(atlas, pieces, evidence);
  if (isRight && evidence.placed.length === 1) return NO_DIAGNOSIS;

  const singles = atlas.entries.map((entry) => judged(entry, evidence, isRight)).filter(({ complete }) => complete);
  if (singles.length > 0) return ranked(singles);
  if (isRight) return NO_DIAGNOSIS;

  const several = verify === null ? [] : combinations(atlas, evidence, verify);
  if (several.length > 0) return ranked(several);

  // Nothing is the part itself: the nearest of those that leave little of what is wrong.
  const whole = farthestFrom(right, evidence);
  const partial = atlas.entries
    .map((entry) => ({ entries: [entry], left: farthestFrom(entry.fingerprint, evidence) / whole, entry }))
    .filter(({ left, entry }) => left < MOST_LEFT && supported(entry, evidence))
    .map(({ entries, left, entry }) => ({
      entries,
      complete: false,
      weight: entry.mistake.prior * (1 - left / MOST_LEFT) ** 2,
      checks: entry.checks,
      inPlace: false,
    }));
  return ranked(partial);
}

/** How well the volume and place of a piece are known, as a share. */
const PIECE_SHARE = 0.03;

/**
 * Looks up a part of facets that is right by its numbers by the pieces that it has too much or too few: what they add up
 * to is known better than what the facets measure.
 */
function fromPieces(atlas: Atlas, pieces: readonly DifferencePiece[], evidence: Evidence): Diagnosis {
  const right = atlas.reference.fingerprint;
  const found = fingerprintOfPoints(pieces);
  // Pieces are wider than points: half of the side of a cube of their size.
  const half = ({ volumeMm3 }: DifferencePiece): number => Math.cbrt(Math.abs(volumeMm3)) / 2;
  const reach = (piece: DifferencePiece): number => Math.hypot(...piece.centerMm) + half(piece);
  const roomFor = (share: (piece: DifferencePiece) => number): number =>
    pieces.reduce((total, piece) => total + Math.abs(piece.volumeMm3) * share(piece), 0);
  const zeroth = roomFor(() => PIECE_SHARE);
  const first = roomFor((piece) => PIECE_SHARE * reach(piece));
  const second = roomFor((piece) => PIECE_SHARE * reach(piece) ** 2 + half(piece) ** 2);
  // Pieces say nothing of the area of the part.
  const room = found.map((_, i) => (i === 0 ? zeroth : i === 1 ? Infinity : i < 5 ? first : second));
  const judgedEntries = atlas.entries.flatMap((entry): readonly Judged[] => {
    const change = minus(entry.fingerprint, right);
    const misfit = Math.max(...change.map((value, i) => Math.abs(value - (found[i] ?? 0)) / (room[i] ?? 1)));
    return misfit > 1 || entry.bodies !== evidence.bodies
      ? []
      : [
          {
            entries: [entry],
            complete: true,
            weight: entry.mistake.prior * Math.exp(-2 * misfit ** 2),
            checks: entry.checks,
            inPlace: false,
          },
        ];
  });
  return ranked(judgedEntries);
}

interface Judged {
  readonly entries: readonly AtlasEntry[];
  readonly complete: boolean;
  readonly weight: number;
  readonly checks: readonly CheckMeasurement[];
  readonly inPlace: boolean;
}

function ranked(judged: readonly Judged[]): Diagnosis {
  const sorted = [...judged].sort((a, b) => b.weight - a.weight).slice(0, MOST_HYPOTHESES);
  const total = sorted.reduce((sum, { weight }) => sum + weight, 0) || 1;
  return {
    hypotheses: sorted.map(({ entries, complete, weight, checks, inPlace }) => ({
      mistakes: entries.map(({ mistake }) => mistake),
      certainty: (weight / total) * (complete ? 0.98 : 0.6),
      fit: complete ? 'complete' : 'most',
      checks: checks.map(({ checkId, measured }) => ({ checkId, measured })),
      roots: [...new Set(entries.flatMap(({ roots }) => roots))],
      same: entries.length === 1 ? (entries[0]?.same ?? []) : [],
      inPlace,
    })),
  };
}

function evidenceOf(
  measurement: Measurement,
  atlas: Atlas,
  { placeCounts = true, failing = [] }: DiagnoseOptions,
): Evidence {
  const { massProperties, estimate, frame, bodies, checks } = measurement;
  const exact = estimate.volumeUncertaintyMm3 === 0;
  // What facets take off round surfaces is put back as far as it is known.
  const factor = massProperties.volumeMm3 > 0 ? estimate.volumeMm3 / massProperties.volumeMm3 : 1;
  const inertia = massProperties.inertiaMm5.map((row) => row.map((entry) => entry * factor));
  const own = {
    volumeMm3: estimate.volumeMm3,
    areaMm2: estimate.areaMm2,
    centroidMm: estimate.centroidMm,
    inertiaMm5: inertia as unknown as typeof massProperties.inertiaMm5,
  };
  const placements: readonly Placement[] =
    frame.kind === 'as-modeled' ? [AS_MODELED] : placeCounts ? [frame.placement, AS_MODELED] : [frame.placement];
  const scales = scalesOf(atlas.reference.fingerprint);
  const [volume, area] = [
    estimate.volumeUncertaintyMm3 / estimate.volumeMm3,
    estimate.areaUncertaintyMm2 / estimate.areaMm2,
  ];
  const size = (scales[2] ?? 1) / (scales[0] ?? 1);
  const first = volume + estimate.centroidUncertaintyMm / size;
  // How the facets change the second moments is known only as far as they change the volume.
  const second =
    2 * volume + (2 * estimate.centroidUncertaintyMm) / size + (exact ? 0 : 1e-4 + 2 * Math.abs(factor - 1));
  const spread = [volume, 2 * area, first, first, first, ...Array.from({ length: 6 }, () => second)].map(
    (share) => EXACT_SHARE + share / WITHIN,
  );
  return {
    placed: placements.map((placement) => fingerprintOf(own, placement)),
    spread,
    scales,
    bodies,
    checks: new Map(checks.map((check) => [check.checkId, check])),
    failing,
    exact,
  };
}

/** How many uncertainties apart two fingerprints are at most. */
const distanceTo = (own: Fingerprint, other: Fingerprint, { scales, spread }: Evidence): number =>
  Math.max(
    ...own.map((value, i) => Math.abs(value - (other[i] ?? 0)) / ((scales[i] ?? 1) * (spread[i] ?? EXACT_SHARE))),
  );

const farthestFrom = (fingerprint: Fingerprint, { placed, scales }: Evidence): number =>
  Math.min(...placed.map((own) => farthest(own, fingerprint, scales)));

/** Whether a mistake is what was handed in; a part that is right but lies elsewhere is looked at in its own place only. */
function judged(entry: AtlasEntry, evidence: Evidence, isRight: boolean): Judged {
  const misfits = evidence.placed.map((own, i) =>
    isRight && i === 0 ? Infinity : distanceTo(own, entry.fingerprint, evidence),
  );
  const misfit = Math.min(...misfits);
  const against = disagreements(entry.checks, evidence);
  const complete =
    misfit <= WITHIN && entry.bodies === evidence.bodies && (evidence.exact || against.share < MOST_AGAINST);
  return {
    entries: [entry],
    complete,
    weight: weightOf(entry.mistake.prior, misfit, against.count, evidence),
    checks: entry.checks,
    inPlace: misfits.length > 1 && misfits.indexOf(misfit) === 1,
  };
}

/** How likely a hypothesis is: how often it happens, how well it fits, and how many checks speak against it. */
const weightOf = (prior: number, misfit: number, against: number, { exact }: Evidence): number =>
  prior * Math.exp(-0.5 * misfit ** 2 - (exact ? 0 : against));

/** Sizes agree when they are measured alike, each within what is known of it. */
function agrees(a: number | null, b: number | null, uncertainty: number): boolean {
  if (a === null || b === null) return a === b;
  return Math.abs(a - b) <= Math.max(2 * uncertainty, 0.01, Math.abs(b) * 1e-3);
}

/** Whether a check found on the model what a hypothesis expects of it. */
function isMet({ checkId, measured }: CheckMeasurement, { checks }: Evidence): boolean {
  const own = checks.get(checkId);
  return own !== undefined && agrees(own.measured, measured, own.uncertainty ?? 0);
}

/**
 * Checks that speak against a hypothesis: those that it would fail with another value, and those that fail without it. Exact
 * parts need no such witness.
 */
function disagreements(
  checks: readonly CheckMeasurement[],
  evidence: Evidence,
): { readonly count: number; readonly share: number } {
  const expected = new Map(checks.map((check) => [check.checkId, check]));
  const ids = [...new Set([...expected.keys(), ...evidence.failing])].filter((id) => evidence.checks.has(id));
  // What was not found among facets may be there all the same.
  const unseen = ids.filter((id) => evidence.checks.get(id)?.measured === null && expected.get(id)?.measured !== null);
  const seen = ids.filter((id) => !unseen.includes(id));
  const against = seen.filter((id) => {
    const wanted = expected.get(id);
    return wanted === undefined || !isMet(wanted, evidence);
  });
  return {
    count: against.length + unseen.length / 2,
    share: seen.length === 0 ? 0 : against.length / seen.length,
  };
}

/** Whether at least one size that the mistake would make wrong is wrong in that way, if it makes any wrong. */
function supported({ checks }: AtlasEntry, evidence: Evidence): boolean {
  const sizes = checks.filter(({ checkId }) => evidence.checks.has(checkId));
  return sizes.length === 0 || sizes.some((check) => isMet(check, evidence));
}

/** Pairs, and triples where no pair is the part, that are the part when they are built. */
function combinations(atlas: Atlas, evidence: Evidence, verify: Verify): readonly Judged[] {
  const right = atlas.reference.fingerprint;
  const candidates = atlas.entries.map((entry) => ({ entry, change: minus(entry.fingerprint, right) }));
  const wanted = evidence.placed.map((own) => minus(own, right));
  const zero = right.map(() => 0);
  const size = Math.max(1e-9, ...wanted.map((change) => farthest(change, zero, evidence.scales)));
  const left = (change: Fingerprint): number =>
    Math.min(...wanted.map((own) => farthest(own, change, evidence.scales))) / size;

  const pairs = candidates.flatMap((a, i) =>
    candidates.slice(i + 1).flatMap((b) => {
      if (conflict([a.entry], b.entry)) return [];
      const change = plus(a.change, b.change);
      return [
        { entries: [a.entry, b.entry], change, left: left(change), support: supportOf([a.entry, b.entry], evidence) },
      ];
    }),
  );
  const cost = (one: { readonly left: number; readonly support: number }): number => one.left - 0.5 * one.support;
  const byCost = [...pairs].sort((a, b) => cost(a) - cost(b));
  // A change of size moves what other changes add: then volume and area alone still add up.
  const leftOfSize = (change: Fingerprint): number =>
    Math.min(...wanted.map((own) => farthest(own.slice(0, 2), change.slice(0, 2), evidence.scales.slice(0, 2)))) / size;
  const bySize = pairs
    .map((pair) => ({ pair, cost: leftOfSize(pair.change) - 0.5 * pair.support }))
    .sort((a, b) => a.cost - b.cost)
    .map(({ pair }) => pair);
  const chosen = [...new Set([...byCost.slice(0, MOST_VERIFIED), ...bySize.slice(0, MOST_VERIFIED)])];
  const found = verified(chosen, evidence, verify);
  if (found.length > 0) return found;

  const seeds = byCost.slice(0, 40);
  const triples = seeds.flatMap((pair) =>
    candidates.flatMap((c) => {
      if (conflict(pair.entries, c.entry)) return [];
      const entries = [...pair.entries, c.entry];
      return [{ entries, left: left(plus(pair.change, c.change)), support: supportOf(entries, evidence) }];
    }),
  );
  const seen = new Set<string>();
  const distinct = triples
    .sort((a, b) => cost(a) - cost(b))
    .filter(({ entries }) => {
      const key = entries
        .map(({ mistake }) => mistake.id)
        .sort()
        .join();
      return !seen.has(key) && seen.add(key);
    });
  return verified(distinct.slice(0, MOST_VERIFIED / 2), evidence, verify);
}

/** Whether a mistake cannot be made beside others: it changes the same number, or needs what they left out. */
function conflict(entries: readonly AtlasEntry[], other: AtlasEntry): boolean {
  const keys = ({ mistake }: AtlasEntry): readonly string[] =>
    mistake.edits.map((edit) => {
      switch (edit.kind) {
        case 'set':
          return `${edit.stepId}/${edit.path.join('/')}`;
        case 'parameter':
          return edit.name;
        case 'single':
          return `${edit.stepId}/alone`;
        case 'stretch':
          return `stretch ${String(edit.axis)} ${String(edit.atMm)}`;
        default:
          return edit.stepId;
      }
    });
  const taken = new Set(entries.flatMap(keys));
  return keys(other).some((key) => taken.has(key));
}

/** Share of the wrong sizes that one of the mistakes makes wrong in just that way. */
function supportOf(entries: readonly AtlasEntry[], evidence: Evidence): number {
  const claimed = entries.flatMap(({ checks }) => checks);
  if (claimed.length === 0) return 0;
  return claimed.filter((check) => isMet(check, evidence)).length / claimed.length;
}

function verified(
  candidates: readonly { readonly entries: readonly AtlasEntry[] }[],
  evidence: Evidence,
  verify: Verify,
): readonly Judged[] {
  return candidates.flatMap(({ entries }): Judged[] => {
    const misfitOf = (fingerprint: Fingerprint): number =>
      Math.min(...evidence.placed.map((own) => distanceTo(own, fingerprint, evidence)));
    const made = verify(entries, (fingerprint) => misfitOf(fingerprint) <= WITHIN);
    if (made?.bodies !== evidence.bodies) return [];
    const misfit = misfitOf(made.fingerprint);
    const against = disagreements(made.checks, evidence);
    if (misfit > WITHIN || (!evidence.exact && against.share >= MOST_AGAINST)) return [];
    const prior = entries.reduce((product, { mistake }) => product * (mistake.prior / 100), 1);
    const weight = weightOf(prior, misfit, against.count, evidence);
    return [{ entries, complete: true, weight, checks: made.checks, inPlace: false }];
  });
}
