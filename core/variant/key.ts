import { exerciseOfStage, lettersChangedBy, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { massOf } from '#core/material';
import { withPart } from '#core/model';
import { attempt } from '#core/problem';
import { formatFixed } from '#core/quantity';
import type { RecipeBuilder } from '#core/recipe';
import type { MassProperties } from '#core/solid';
import { boxSize, type Vec3 } from '#core/vector';

import { tryValues } from './judge.ts';

/** The numbers that prove a part, for one variant and stage. Values of letters are expressions. */
export interface KeyEntry {
  readonly variant: string;
  readonly stage: string;
  readonly values: Readonly<Record<string, string>>;
  readonly problem: string | null;
  readonly properties: MassProperties | null;
  readonly massG: number | null;
  readonly sizeMm: Vec3 | null;
}

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
      const common = { variant, stage, values: { ...values, ...lettersChangedBy(exercise, i + 1) } };
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

const quoted = (text: string): string => (/[",\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text);

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
  return [header, ...rows].map((row) => `${row.map(quoted).join(',')}\r\n`).join('');
}
