import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import type { Exercise } from '#core/exercise';
import type { TypedInput } from '#core/grade';
import { trianglesOf, writeStl } from '#core/mesh';
import { unwrap } from '#core/problem';
import { LENGTH_UNITS } from '#core/quantity';
import { buildRecipe } from '#core/recipe';
import { modelLikeStudent, type Slip } from '#demo/workbench';
import { loadKernel } from '#runtime';

const kernel = loadKernel();
const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-models-'));

export interface Model {
  readonly file: string;
  readonly typed: readonly TypedInput[];
}

/** A STEP file on disk as a student would export it, and the numbers read off it. */
export async function model(exercise: Exercise, mistake: Slip, name: string): Promise<Model> {
  const { step, typed } = unwrap(modelLikeStudent(await kernel, exercise, mistake));
  return { file: textFile(name, step), typed };
}

/** The right part as binary STL whose numbers are inches. */
export async function stlInInches(exercise: Exercise, name: string): Promise<string> {
  const { shape } = unwrap(buildRecipe(await kernel, exercise.recipe));
  const stl = writeStl(trianglesOf((await kernel).displayMesh(shape)), LENGTH_UNITS.in);
  shape.free();
  return textFile(name, stl);
}

/** Any file on disk. */
export function textFile(name: string, content: string | Uint8Array): string {
  const file = path.join(folder, name);
  writeFileSync(file, content);
  return file;
}
