import type { Exercise } from '#core/exercise';
import { nameSurfaces } from '#core/feature';
import type { CutAway, CutView, Kernel, ViewDirection } from '#core/kernel';
import { ProblemError, unwrap } from '#core/problem';
import { evaluateParameters, type Scope } from '#core/quantity';
import {
  buildRecipe,
  threadLines,
  withValues,
  type NamedSurfaces,
  type ParameterValues,
  type RecipeBuilder,
  type Thread,
} from '#core/recipe';
import type { Solid } from '#core/solid';

import { detectFormat, formatOf } from './formats.ts';
import { readModel } from './read.ts';

/** What an exercise says of its reference part. */
export type PartSource = Pick<Exercise, 'recipe' | 'model' | 'title'>;

/** The reference part of an exercise, built from its recipe or read from its model file, and analyzed. */
export interface ReferencePart {
  readonly solid: Solid;
  readonly surfaces: NamedSurfaces;
  /** Values of the letters in the drawing unit. */
  readonly scope: Scope;
  readonly threads: readonly Thread[];
  /** The part cut open; null for triangles, which cannot be cut exactly. */
  readonly cut: ((view: ViewDirection, cuts: readonly CutAway[]) => CutView) | null;
  /** The part as a file: STEP in the drawing unit, or the model file itself. */
  readonly file: () => Uint8Array;
}

export interface PartOptions {
  readonly values?: ParameterValues | undefined;
  /** Bytes of the model file, for an exercise that has one. */
  readonly model?: Uint8Array | undefined;
  /** Keeps what consecutive builds have in common. */
  readonly builder?: RecipeBuilder | undefined;
}

/**
 * Opens the reference part for as long as `use` runs. Raises the problems of recipes and of reading files, and
 * `no-model` where the file is not at hand.
 */
export function withPart<T>(
  kernel: Kernel,
  source: PartSource,
  options: PartOptions,
  use: (part: ReferencePart) => T,
): T {
  return source.model === undefined
    ? withBuilt(kernel, source, options, use)
    : withRead(kernel, { source, file: source.model, options, use });
}

/** What plans and studies are made from: the analyzed part with the names of its surfaces. Raises as `withPart` does. */
export const openPart = <E extends PartSource>(kernel: Kernel, exercise: E, options: PartOptions = {}) =>
  withPart(kernel, exercise, options, ({ solid, surfaces, scope }) => ({ exercise, solid, surfaces, scope }));

function withBuilt<T>(
  kernel: Kernel,
  { recipe, title }: PartSource,
  { values = {}, builder }: PartOptions,
  use: (part: ReferencePart) => T,
): T {
  const built = builder === undefined ? buildRecipe(kernel, recipe, values) : builder.build(recipe, values);
  const { shape, surfaces, scope, threads } = unwrap(built);
  try {
    const source = {
      format: 'recipe',
      declaredUnit: recipe.unit,
      productName: title,
      originatingSystem: null,
    } as const;
    const analyzed = unwrap(kernel.analyze(shape, source));
    const lines = threadLines(threads, analyzed.faces, analyzed.edges, analyzed.massProperties.centroidMm);
    return use({
      solid: { ...analyzed, mesh: { ...analyzed.mesh, edges: [...analyzed.mesh.edges, ...lines] } },
      surfaces,
      scope,
      threads,
      cut: (view, cuts) => kernel.cutAway(shape, view, cuts),
      file: () => kernel.writeStep(shape, recipe.unit, title),
    });
  } finally {
    shape.free();
  }
}

function withRead<T>(
  kernel: Kernel,
  {
    source: { recipe },
    file: { fileName, unit },
    options: { values = {}, model },
    use,
  }: {
    readonly source: PartSource;
    readonly file: NonNullable<PartSource['model']>;
    readonly options: PartOptions;
    readonly use: (part: ReferencePart) => T;
  },
): T {
  if (model === undefined)
    throw new ProblemError(
      'no-model',
      `The model file "${fileName}" of this exercise is not at hand. Upload it again.`,
    );
  const scope = unwrap(evaluateParameters(unwrap(withValues(recipe, values)).parameters, recipe.unit));
  const solid = unwrap(readModel(kernel, model, { fileName, unit: unit ?? undefined }));
  if (solid.bodies !== 1 || !solid.closed)
    throw new ProblemError(
      'not-one-body',
      solid.bodies > 1
        ? `The file holds ${String(solid.bodies)} bodies. A reference is one closed body; merge them, or export one alone.`
        : 'The surface of the model is not closed, so it has no volume to check against. Close its gaps and upload it again.',
    );
  const part = { solid, surfaces: nameSurfaces(solid), scope, threads: [], cut: null, file: () => model };
  const format = detectFormat(model, fileName);
  // Triangles cannot be cut exactly.
  if (format === null || formatOf(format).reader.by !== 'kernel') return use(part);
  const { shape } = unwrap(kernel.readStep(model));
  try {
    return use({
      ...part,
      cut: (view, cuts) => kernel.cutAway(shape, view, cuts),
    });
  } finally {
    shape.free();
  }
}
