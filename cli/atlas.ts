/** Atlases on the command line: made once for a part, and kept for the next call. */
import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { homedir } from 'node:os';
import path from 'node:path';

import * as v from 'valibot';

import type { Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { AtlasSchema, buildAtlas, mistakesOf, type Atlas, type Ground } from '#core/mistake';
import type { ParameterValues } from '#core/recipe';

interface PartOptions {
  readonly values?: ParameterValues | undefined;
  readonly stage: number;
  readonly ground: Ground;
}

function fileOf({ values = {}, stage, ground }: PartOptions): string {
  const { exercise, sizes, start } = ground;
  const mistakes = mistakesOf(exercise, values, stage, sizes);
  const file = start === null ? null : exercise.model?.sha256;
  const inputs = JSON.stringify([mistakes, exercise.recipe, exercise.checks, values, file]);
  const name = createHash('sha256').update(inputs).digest('hex').slice(0, 32);
  const folder = process.env['XDG_CACHE_HOME'] ?? path.join(homedir(), '.cache');
  return path.join(folder, 'zorvet', `atlas-${name}.json`);
}

/** The atlas of a part if it was made before. */
async function knownAtlas(options: PartOptions): Promise<Atlas | null> {
  try {
    const parsed = v.safeParse(AtlasSchema, JSON.parse(await readFile(fileOf(options), 'utf8')));
    return parsed.success ? parsed.output : null;
  } catch {
    return null;
  }
}

/** The atlas of a part; made now where it is not there yet, which takes up to a minute and says so on standard error. */
export async function atlasFor(
  kernel: Kernel,
  exercise: Exercise,
  reference: Reference,
  options: PartOptions,
): Promise<Atlas> {
  const known = await knownAtlas(options);
  if (known !== null) return known;
  const atlas = buildAtlas(kernel, exercise, reference, {
    ...options,
    onProgress: (done, total) => {
      if (process.stderr.isTTY) process.stderr.write(`\rBuilding mistakes: ${String(done)} of ${String(total)} `);
    },
  });
  if (process.stderr.isTTY) process.stderr.write('\n');
  const file = fileOf(options);
  try {
    await mkdir(path.dirname(file), { recursive: true });
    await writeFile(`${file}.new`, JSON.stringify(atlas));
    await rename(`${file}.new`, file);
  } catch {
    // Without a place to keep it, it is made anew next time.
  }
  return atlas;
}
