import * as v from 'valibot';

import { CheckMeasurementSchema, measureSubmission, type CheckMeasurement, type Reference } from '#core/check';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import { gradeMeasurement } from '#core/grade';
import type { Kernel, Shape } from '#core/kernel';
import { attempt, unwrap } from '#core/problem';
import { RecipeBuilder, withValues, type ParameterValues, type Recipe } from '#core/recipe';
import { boxSize } from '#core/vector';
import { Vec3Schema } from '#core/solid';

import type { Verify } from './diagnose.ts';
import { applyEdits } from './edit.ts';
import { farthest, FingerprintSchema, fingerprintOf, scalesOf } from './fingerprint.ts';
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

/** Parts that differ by less than this share are the same part. */
const SAME_SHARE = 1e-7;

export interface AtlasOptions {
  readonly values?: ParameterValues | undefined;
  /** From 1. */
  readonly stage?: number | undefined;
  readonly builder?: RecipeBuilder | undefined;
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

/** Builds every mistake of a part and measures it. A part that is read from a file has none that can be built. */
export function buildAtlas(
  kernel: Kernel,
  document: Exercise,
  reference: Reference,
  options: AtlasOptions = {},
): Atlas {
  const { values = {}, stage = 1, mistakes = mistakesOf(document, values, stage) } = options;
  return atlasOf(reference, makeMistakes(kernel, document, reference, mistakes, options));
}

/** Builds some mistakes of a part and measures each by itself. */
export function makeMistakes(
  kernel: Kernel,
  document: Exercise,
  reference: Reference,
  mistakes: readonly Mistake[],
  { values = {}, stage = 1, builder, onProgress }: AtlasOptions = {},
): readonly MadeMistake[] {
  const exercise = exerciseOfStage(document, stage);
  const recipe = unwrap(withValues(exercise.recipe, values));
  const own = builder ?? new RecipeBuilder(kernel);
  try {
    return mistakes.map((mistake, i): MadeMistake => {
      onProgress?.(i, mistakes.length);
      const made = partWith(kernel, own, recipe, mistake, exercise, reference);
      return made === null
        ? { kind: 'unbuilt', id: mistake.id }
        : { kind: 'made', entry: { mistake, ...made, same: [] } };
    });
  } finally {
    if (builder === undefined) own.free();
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
  // The likeliest first, so that of mistakes with one shape it stands for all.
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
    else entries[twin] = { ...known, same: [...known.same, entry.mistake.id] };
  }
  const unbuilt = made.flatMap((one) => (one.kind === 'unbuilt' ? one.id : []));
  return { version: 1, reference: right, entries, unchanged, unbuilt };
}

/** Fine enough for laying parts on each other. */
export const COARSE = { toleranceMm: 0.3, angleRad: 0.6 } as const;
export const RECIPE_SOURCE = {
  format: 'recipe',
  declaredUnit: 'mm',
  productName: null,
  originatingSystem: null,
} as const;

/** The part with a mistake, measured; null where it cannot be built. */
function partWith(
  kernel: Kernel,
  builder: RecipeBuilder,
  recipe: Recipe,
  mistake: Mistake,
  exercise: Exercise,
  reference: Reference,
): Omit<AtlasEntry, 'mistake' | 'same'> | null {
  return withMistakes(kernel, builder, recipe, [mistake], (shape) => {
    const solid = safely(kernel, () => kernel.analyze(shape, RECIPE_SOURCE, COARSE));
    if (!solid?.ok || !solid.value.closed || solid.value.bodies === 0) return null;
    const measured = attempt(() => measureSubmission(reference, solid.value));
    if (!measured.ok) return null;
    const report = gradeMeasurement(reference, measured.value, [], exercise.scoring);
    const failing = report.lines.filter(({ verdict }) => verdict !== 'right').map(({ checkId }) => checkId);
    const checks = measured.value.checks.filter(({ checkId }) => failing.includes(checkId)).map(bare);
    return {
      fingerprint: fingerprintOf(solid.value.massProperties),
      sizeMm: boxSize(solid.value.bounds),
      bodies: solid.value.bodies,
      checks,
      failing,
      roots: rootsOf(exercise, mistake, checks),
    };
  });
}

/** Opens the part with some mistakes for as long as `use` runs; null where it cannot be built. */
export function withMistakes<T>(
  kernel: Kernel,
  builder: RecipeBuilder,
  recipe: Recipe,
  mistakes: readonly Mistake[],
  use: (shape: Shape) => T,
): T | null {
  const edited = applyEdits(
    recipe,
    mistakes.flatMap(({ edits }) => edits),
  );
  if (!edited.ok) return null;
  const built = safely(kernel, () => builder.build(edited.value));
  if (!built?.ok) return null;
  const { shape } = built.value;
  try {
    return use(shape);
  } finally {
    shape.free();
  }
}

/** Builds mistakes of an atlas together, to see whether they are the part that was handed in. */
export function verifier(
  kernel: Kernel,
  document: Exercise,
  reference: Reference,
  { values = {}, stage = 1, builder = new RecipeBuilder(kernel) }: AtlasOptions = {},
): Verify {
  const exercise = exerciseOfStage(document, stage);
  const recipe = unwrap(withValues(exercise.recipe, values));
  return (entries, isIt) =>
    withMistakes(
      kernel,
      builder,
      recipe,
      entries.map(({ mistake }) => mistake),
      (shape) => {
        const fingerprint = safely(kernel, () => fingerprintOf(kernel.massProperties(shape)));
        if (fingerprint === null) return null;
        const bodies = kernel.bodyCount(shape);
        if (!isIt(fingerprint)) return { fingerprint, bodies, checks: [] };
        const solid = safely(kernel, () => kernel.analyze(shape, RECIPE_SOURCE, COARSE));
        const measured = solid?.ok === true ? attempt(() => measureSubmission(reference, solid.value)) : null;
        return { fingerprint, bodies, checks: measured?.ok === true ? measured.value.checks.map(bare) : [] };
      },
    );
}

/** Without faces, which mean nothing on another part. */
const bare = (check: CheckMeasurement): CheckMeasurement => ({ ...check, faceIds: [], referenceFaceIds: [] });

/** What the kernel raises of its own means that the part cannot be built; anything else is a fault of the program. */
export function safely<T>(kernel: Kernel, work: () => T): T | null {
  try {
    return work();
  } catch (error) {
    if (kernel.explain(error) !== null) return null;
    throw error;
  }
}
