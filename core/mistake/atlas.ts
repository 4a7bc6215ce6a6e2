import * as v from 'valibot';

import { CheckMeasurementSchema, type Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import { gradeMeasurement } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { farthest, FingerprintSchema, fingerprintOf, SAME_SHARE, scalesOf, Vec3Schema } from '#core/solid';
import { boxSize } from '#core/vector';

import { MistakenParts, withoutFaces, type PartOptions } from './build.ts';
import type { Verify } from './diagnose.ts';
import { mistakesOf } from './generate.ts';
import { MistakeSchema, type Mistake } from './mistake.ts';
import { rootsOf } from './roots.ts';

const AtlasEntrySchema = v.object({
  mistake: MistakeSchema,
  fingerprint: FingerprintSchema,
  sizeMm: Vec3Schema,
  bodies: v.number(),
  /** What the checks measure on a part with this mistake; only those that differ from the right part. */
  checks: v.pipe(v.array(CheckMeasurementSchema), v.readonly()),
  /** Checks that it does not pass. */
  failing: v.pipe(v.array(v.string()), v.readonly()),
  /** Of these, the ones that speak of the mistake itself. */
  roots: v.pipe(v.array(v.string()), v.readonly()),
  /** Ids of other mistakes that give the very same part, less likely first left out. */
  same: v.pipe(v.array(v.string()), v.readonly()),
});
export type AtlasEntry = Readonly<v.InferOutput<typeof AtlasEntrySchema>>;

/** Every mistake of a part that can be built and changes it, with what can be measured on the part then. */
export const AtlasSchema = v.object({
  version: v.literal(1),
  reference: v.object({ fingerprint: FingerprintSchema, sizeMm: Vec3Schema }),
  entries: v.pipe(v.array(AtlasEntrySchema), v.readonly()),
  /** Mistakes that change nothing, and that cannot be built. */
  unchanged: v.pipe(v.array(v.string()), v.readonly()),
  unbuilt: v.pipe(v.array(v.string()), v.readonly()),
});
export type Atlas = Readonly<v.InferOutput<typeof AtlasSchema>>;

export interface AtlasOptions extends PartOptions {
  /** Mistakes to look at; all of the catalogue where nothing is said. */
  readonly mistakes?: readonly Mistake[] | undefined;
  readonly onProgress?: ((done: number, total: number) => void) | undefined;
}

/** What became of one mistake when its part was built. */
export const MadeMistakeSchema = v.variant('kind', [
  v.object({ kind: v.literal('made'), entry: AtlasEntrySchema }),
  v.object({ kind: v.literal('unbuilt'), id: v.string() }),
]);
export type MadeMistake = Readonly<v.InferOutput<typeof MadeMistakeSchema>>;

/** Builds every mistake of a part and measures it. A part that was read from a file has some only with its ground. */
export function buildAtlas(
  kernel: Kernel,
  document: Exercise,
  reference: Reference,
  options: AtlasOptions = {},
): Atlas {
  const { values = {}, stage = 1, ground } = options;
  const { mistakes = mistakesOf(ground?.exercise ?? document, values, stage, ground?.sizes) } = options;
  return atlasOf(reference, makeMistakes(kernel, document, reference, { ...options, mistakes }));
}

/** Builds some mistakes of a part and measures each by itself. */
export function makeMistakes(
  kernel: Kernel,
  document: Exercise,
  reference: Reference,
  { mistakes, onProgress, ...options }: AtlasOptions & { readonly mistakes: readonly Mistake[] },
): readonly MadeMistake[] {
  const parts = new MistakenParts(kernel, document, options);
  try {
    return mistakes.map((mistake, i): MadeMistake => {
      onProgress?.(i, mistakes.length);
      const entry = entryOf(parts, mistake, reference);
      return entry === null ? { kind: 'unbuilt', id: mistake.id } : { kind: 'made', entry };
    });
  } finally {
    parts.free();
  }
}

/** Puts mistakes that were made into an atlas: those that change nothing are left out, those with one shape are one. */
export function atlasOf(reference: Reference, made: readonly MadeMistake[]): Atlas {
  const right = {
    fingerprint: fingerprintOf(reference.solid.massProperties),
    sizeMm: boxSize(reference.solid.bounds),
  };
  const scales = scalesOf(right.fingerprint);
  const entries: AtlasEntry[] = [];
  const unchanged: string[] = [];
  // The likeliest first, so that of mistakes with one shape it stands for all; unless many sizes give that shape.
  const built = made.flatMap((one) => (one.kind === 'made' ? one.entry : []));
  for (const entry of [...built].sort((a, b) => b.mistake.prior - a.mistake.prior)) {
    if (farthest(entry.fingerprint, right.fingerprint, scales) < SAME_SHARE && entry.bodies === 1) {
      unchanged.push(entry.mistake.id);
      continue;
    }
    const twin = entries.findIndex(
      (other) => other.bodies === entry.bodies && farthest(other.fingerprint, entry.fingerprint, scales) < SAME_SHARE,
    );
    const known = entries[twin];
    if (known === undefined) entries.push(entry);
    else entries[twin] = merged(known, entry);
  }
  const unbuilt = made.flatMap((one) => (one.kind === 'unbuilt' ? one.id : []));
  return { version: 1, reference: right, entries, unchanged, unbuilt };
}

/**
 * Two mistakes with one shape as one, as likely as the likelier. Of sizes of one step that all give the shape none is
 * named: the step is told by what can be seen of it; and where nothing can be seen of it, that it was forgotten.
 */
function merged(known: AtlasEntry, other: AtlasEntry): AtlasEntry {
  const sameSteps = other.mistake.stepIds.join() === known.mistake.stepIds.join();
  const isGone = other.mistake.kind === 'feature-forgotten' && known.mistake.kind !== 'feature-forgotten';
  const takesOver = sameSteps && (isGone || (other.mistake.ofAnySize === true && known.mistake.ofAnySize !== true));
  const [stands, hidden] = takesOver ? [other, known] : [known, other];
  return {
    ...stands,
    mistake: { ...stands.mistake, prior: known.mistake.prior },
    same: [...known.same, hidden.mistake.id],
  };
}

/** The part with a mistake, measured; null where there is none. */
function entryOf(parts: MistakenParts, mistake: Mistake, reference: Reference): AtlasEntry | null {
  return parts.with([mistake], (shape) => {
    const made = parts.measured(shape, reference);
    if (made === null) return null;
    const { solid, measurement } = made;
    const report = gradeMeasurement(reference, measurement, { typed: [], policy: parts.exercise.scoring });
    const failing = report.lines.filter(({ verdict }) => verdict !== 'right').map(({ checkId }) => checkId);
    const checks = measurement.checks.filter(({ checkId }) => failing.includes(checkId)).map(withoutFaces);
    return {
      mistake,
      fingerprint: fingerprintOf(solid.massProperties),
      sizeMm: boxSize(solid.bounds),
      bodies: solid.bodies,
      checks,
      failing,
      roots: rootsOf(parts.exercise, mistake, checks),
      same: [],
    };
  });
}

/** Builds mistakes of an atlas together, to see whether they are the part that was handed in. */
export interface Verifier {
  readonly verify: Verify;
  /** Frees what it keeps of the parts. */
  free(): void;
}

/** A verifier for the mistakes of one part; steps that were built are kept for the next question until it is freed. */
export function verifier(
  kernel: Kernel,
  document: Exercise,
  reference: Reference,
  options: PartOptions = {},
): Verifier {
  const parts = new MistakenParts(kernel, document, options);
  const verify: Verify = (entries, isIt) =>
    parts.with(
      entries.map(({ mistake }) => mistake),
      (shape) => {
        const fingerprint = parts.safely(() => fingerprintOf(kernel.massProperties(shape)));
        if (fingerprint === null) return null;
        const bodies = kernel.bodyCount(shape);
        if (!isIt(fingerprint)) return { fingerprint, bodies, checks: [] };
        const made = parts.measured(shape, reference);
        return { fingerprint, bodies, checks: made?.measurement.checks.map(withoutFaces) ?? [] };
      },
    );
  return {
    verify,
    free: () => {
      parts.free();
    },
  };
}
