import * as v from 'valibot';

import { exerciseOfStage, parametersChangedBy, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { massOf } from '#core/material';
import { withPart } from '#core/model';
import { attempt } from '#core/problem';
import { formatFixed, LENGTH_UNITS, propertyUnits, unitFactor } from '#core/quantity';
import type { RecipeBuilder } from '#core/recipe';
import { MassPropertiesSchema, Vec3Schema } from '#core/solid';
import { writeTable } from '#core/table';
import { boxSize } from '#core/vector';

import { tryValues } from './judge.ts';

const WordsSchema = v.pipe(v.string(), v.maxLength(400));

/** The numbers that prove a part, for one variant and stage. Values of letters are expressions. */
export const KeyEntrySchema = v.strictObject({
  variant: WordsSchema,
  stage: WordsSchema,
  values: v.record(WordsSchema, WordsSchema),
  problem: v.nullable(WordsSchema),
  properties: v.nullable(MassPropertiesSchema),
  massG: v.nullable(v.number()),
  sizeMm: v.nullable(Vec3Schema),
});
export type KeyEntry = Readonly<v.InferOutput<typeof KeyEntrySchema>>;

/** The answer key: the part as drawn, then every variant, each in every stage. `model`: bytes of the model file, if any. */
export function answerKey(
  kernel: Kernel,
  builder: RecipeBuilder,
  exercise: Exercise,
  model?: Uint8Array,
): readonly KeyEntry[] {
  const places = ['as drawn', ...exercise.variants.map(({ name }) => name)];
  const stages = ['first', ...exercise.stages.map(({ title }) => title)];
  return places.flatMap((variant, place) =>
    stages.map((stage, i): KeyEntry => {
      const staged = exerciseOfStage(exercise, i + 1);
      const values = place === 0 ? {} : (staged.variants[place - 1]?.values ?? {});
      const tried =
        exercise.model === undefined ? tryValues(kernel, builder, staged, values) : readKey(kernel, staged, model);
      const common = { variant, stage, values: { ...values, ...parametersChangedBy(exercise, i + 1) } };
      if ('code' in tried) return { ...common, problem: tried.message, properties: null, massG: null, sizeMm: null };
      const { properties, sizeMm } = tried;
      const massG = massOf(properties.volumeMm3, exercise.material.densityGPerCm3);
      return { ...common, problem: null, properties, massG, sizeMm };
    }),
  );
}

/** The numbers of a model file; for triangles, of the round surfaces that they stand for. */
function readKey(kernel: Kernel, exercise: Exercise, model: Uint8Array | undefined) {
  const read = attempt(() =>
    withPart(kernel, exercise, { model }, ({ solid: { massProperties, estimate, bounds } }) => ({
      properties: {
        ...massProperties,
        volumeMm3: estimate.volumeMm3,
        areaMm2: estimate.areaMm2,
        centroidMm: estimate.centroidMm,
      },
      sizeMm: boxSize(bounds),
    })),
  );
  return read.ok ? read.value : read.problem;
}

/** The key as a table for a spreadsheet: lengths in mm, areas in mm2, volumes in mm3, masses in g. */
export function keyAsCsv(entries: readonly KeyEntry[], letters: readonly string[]): string {
  const header = [
    'variant',
    'stage',
    ...letters,
    'volume_mm3',
    'mass_g',
    'area_mm2',
    'x_mm',
    'y_mm',
    'z_mm',
    'length_mm',
    'width_mm',
    'height_mm',
  ];
  const number = (value: number | undefined, decimals: number) =>
    value === undefined ? '' : formatFixed(value, decimals);
  const rows = entries.map(({ variant, stage, values, properties, massG, sizeMm }) => [
    variant,
    stage,
    ...letters.map((letter) => values[letter] ?? ''),
    number(properties?.volumeMm3, 3),
    number(massG ?? undefined, 3),
    number(properties?.areaMm2, 3),
    ...[0, 1, 2].map((i) => number(properties?.centroidMm[i], 4)),
    ...[0, 1, 2].map((i) => number(sizeMm?.[i], 4)),
  ]);
  return writeTable([header, ...rows]);
}

/** The rows of a printed key: every variant and stage with its letters and the numbers that prove it. */
export function keyRows(
  entries: readonly KeyEntry[],
  { recipe, decimals }: Exercise,
): { readonly head: readonly string[]; readonly body: readonly (readonly string[])[] } {
  const units = propertyUnits(recipe.unit);
  const length = (mm: number) => formatFixed(mm / LENGTH_UNITS[recipe.unit], decimals + 1);
  const amount = (value: number, kind: 'volume' | 'mass' | 'area') =>
    formatFixed(value / unitFactor(units[kind], kind), recipe.unit === 'mm' ? 2 : 4);
  const letters = recipe.parameters.map(({ name }) => name);
  return {
    head: [
      'Variant',
      'Stage',
      ...letters,
      `Volume, ${units.volume}`,
      `Mass, ${units.mass}`,
      `Area, ${units.area}`,
      `Center of mass, ${recipe.unit}`,
      `Size, ${recipe.unit}`,
    ],
    body: entries.map(({ variant, stage, values, properties, massG, sizeMm, problem }) => [
      variant,
      stage,
      ...recipe.parameters.map(({ name, value }) => values[name] ?? value),
      ...(properties === null || massG === null || sizeMm === null
        ? [problem ?? '', '', '', '', '']
        : [
            amount(properties.volumeMm3, 'volume'),
            amount(massG, 'mass'),
            amount(properties.areaMm2, 'area'),
            properties.centroidMm.map(length).join(' / '),
            sizeMm.map(length).join(' x '),
          ]),
    ]),
  };
}
