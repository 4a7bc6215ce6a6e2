import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { massOf } from '#core/material';
import { formatFixed } from '#core/quantity';
import type { RecipeBuilder } from '#core/recipe';
import type { MassProperties } from '#core/solid';
import type { Vec3 } from '#core/vector';

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

/** The answer key: the part as drawn, then every variant, each in every stage. */
export function answerKey(kernel: Kernel, builder: RecipeBuilder, exercise: Exercise): readonly KeyEntry[] {
  const variants = [{ name: 'as drawn', values: {} }, ...exercise.variants];
  const stages = [{ title: 'first', values: {} }, ...exercise.stages];
  return variants.flatMap((variant) =>
    stages.map((stage): KeyEntry => {
      const values = { ...variant.values, ...stage.values };
      const tried = tryValues(kernel, builder, exercise, values);
      const common = { variant: variant.name, stage: stage.title, values };
      if ('code' in tried) return { ...common, problem: tried.message, properties: null, massG: null, sizeMm: null };
      const { properties, sizeMm } = tried;
      const massG = massOf(properties.volumeMm3, exercise.material.densityGPerCm3);
      return { ...common, problem: null, properties, massG, sizeMm };
    }),
  );
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
