import { exerciseOfStage, type Exercise, type Variant } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { evaluatePlan } from '#core/plan';
import { attempt, type Problem } from '#core/problem';
import { facesOn, type ParameterValues, type RecipeBuilder } from '#core/recipe';
import type { MassProperties } from '#core/solid';
import { boxSize, type Vec3 } from '#core/vector';

/** The part of a set of values, and what is wrong with it; `problem` is null for a sound one. */
export interface VariantVerdict {
  readonly name: string;
  readonly problem: Problem | null;
  readonly properties: MassProperties | null;
  readonly sizeMm: Vec3 | null;
}

interface Built {
  readonly properties: MassProperties;
  readonly sizeMm: Vec3;
  /** Names of the surfaces that are left on the part. */
  readonly present: ReadonlySet<string>;
}

export type Tried = Built | Problem;

/** Builds the part with other values, and tells which of its surfaces are there. */
export function tryValues(kernel: Kernel, builder: RecipeBuilder, exercise: Exercise, values: ParameterValues): Tried {
  const built = builder.build(exercise.recipe, values);
  if (!built.ok) return built.problem;
  const { shape, surfaces } = built.value;
  try {
    const { faces } = kernel.tables(shape);
    return {
      properties: kernel.massProperties(shape),
      sizeMm: boxSize(kernel.bounds(shape)),
      present: new Set([...surfaces].filter(([, surface]) => facesOn(faces, surface).length > 0).map(([name]) => name)),
    };
  } finally {
    shape.free();
  }
}

/** Volumes of two variants must differ by more than this many tolerances. */
export const APART_TOLERANCES = 3;

/** Share of the volume that a variant may be off and still pass the check of volume, or of mass. */
export function volumeTolerance({ checks }: Exercise): number {
  const shares = checks.flatMap((check) =>
    check.off !== true && (check.kind === 'volume' || check.kind === 'mass') ? [check.tolerancePercent / 100] : [],
  );
  return shares.length === 0 ? 0.005 : Math.min(...shares);
}

/**
 * Whether two volumes lie closer than some tolerances, so that a key of one would pass the other; `tolerance` is a
 * share.
 */
export const tooAlike = (a: number, b: number, tolerance: number): boolean =>
  Math.abs(a - b) <= APART_TOLERANCES * tolerance * Math.max(a, b);

/** What is wrong with a built set of values compared with the part as the recipe gives it. */
export function lossOf(base: Built, other: Built): Problem | null {
  const lost = [...base.present].filter((name) => !other.present.has(name));
  if (lost.length > 0)
    return {
      code: 'surface-lost',
      message: `With these values ${lost.slice(0, 4).join(', ')} ${lost.length === 1 ? 'is' : 'are'} no longer on the part.`,
    };
  const gained = [...other.present].filter((name) => !base.present.has(name));
  if (gained.length > 0)
    return {
      code: 'surface-gained',
      message: `With these values ${gained.slice(0, 4).join(', ')} would be on the part, which it otherwise has not.`,
    };
  return null;
}

/** The checks that the part itself does not pass with other values; null when it passes all. */
function planFailure(
  kernel: Kernel,
  builder: RecipeBuilder,
  exercise: Exercise,
  values: ParameterValues,
): Problem | null {
  if (exercise.checks.length === 0) return null;
  const evaluated = attempt(() =>
    withPart(kernel, exercise, { values, builder }, ({ solid, surfaces, scope }) =>
      evaluatePlan({ exercise, solid, surfaces, scope }),
    ),
  );
  if (!evaluated.ok) return evaluated.problem;
  const failing = evaluated.value.flatMap((state) =>
    state.kind === 'broken' || (state.kind === 'measured' && !state.passes)
      ? (exercise.checks.find(({ id }) => id === state.checkId)?.label ?? [])
      : [],
  );
  return failing.length === 0
    ? null
    : {
        code: 'plan-fails',
        message: `With these values the part does not pass: ${failing.slice(0, 4).join(', ')}. Write their nominals with letters.`,
      };
}

/** What is wrong with a variant in one of the further stages; null when all are sound. */
function stageFailure(kernel: Kernel, builder: RecipeBuilder, exercise: Exercise, name: string): Problem | null {
  for (const [i, { title }] of exercise.stages.entries()) {
    const staged = exerciseOfStage(exercise, i + 2);
    const values = staged.variants.find((variant) => variant.name === name)?.values ?? {};
    const failing = planFailure(kernel, builder, staged, values);
    if (failing !== null) return { ...failing, message: `Stage "${title}": ${failing.message}` };
  }
  return null;
}

interface JudgeOptions {
  /** Those of the exercise where nothing is said. */
  readonly variants?: readonly Variant[];
  readonly onProgress?: (done: number) => void;
}

/**
 * Builds every variant and judges it: it must rebuild, keep all surfaces, pass the check plan of every stage, and differ
 * in volume from every variant before it by more than three tolerances.
 */
export function judgeVariants(
  kernel: Kernel,
  builder: RecipeBuilder,
  exercise: Exercise,
  { variants = exercise.variants, onProgress }: JudgeOptions = {},
): readonly VariantVerdict[] {
  const first = exerciseOfStage(exercise, 1);
  const base = tryValues(kernel, builder, first, {});
  const tolerance = volumeTolerance(exercise);
  const volumes: { name: string; volumeMm3: number }[] = [];
  return variants.map(({ name, values }, i): VariantVerdict => {
    const tried = tryValues(kernel, builder, first, values);
    onProgress?.(i + 1);
    if ('code' in tried) return { name, problem: tried, properties: null, sizeMm: null };
    const { properties, sizeMm } = tried;
    const failing =
      'code' in base
        ? null
        : (planFailure(kernel, builder, first, values) ?? stageFailure(kernel, builder, exercise, name));
    const twin = volumes.find(({ volumeMm3 }) => tooAlike(volumeMm3, properties.volumeMm3, tolerance));
    volumes.push({ name, volumeMm3: properties.volumeMm3 });
    const problem =
      'code' in base
        ? base
        : (lossOf(base, tried) ??
          failing ??
          (twin
            ? {
                code: 'too-alike',
                message: `Its volume is that of variant ${twin.name} within ${String(APART_TOLERANCES)} tolerances, so the key numbers could be exchanged.`,
              }
            : null));
    return { name, problem, properties, sizeMm };
  });
}
