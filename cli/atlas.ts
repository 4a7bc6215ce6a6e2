/** Atlases on the command line: made once for a part, and kept for the next call. */
import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { homedir } from 'node:os';
import path from 'node:path';

import * as v from 'valibot';

import type { Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { AtlasSchema, buildAtlas, mistakesOf, type Atlas } from '#core/mistake';
import type { ParameterValues } from '#core/recipe';

interface PartOptions {
  readonly values?: ParameterValues | undefined;
  readonly stage: number;
}

function fileOf(exercise: Exercise, { values = {}, stage }: PartOptions): string {
  const inputs = JSON.stringify([mistakesOf(exercise, values, stage), exercise.recipe, exercise.checks, values]);
  const name = createHash('sha256').update(inputs).digest('hex').slice(0, 32);
  const folder = process.env['XDG_CACHE_HOME'] ?? path.join(homedir(), '.cache');
  return path.join(folder, 'zorvet', `atlas-${name}.json`);
}

/** The atlas of a part if it was made before. */
async function knownAtlas(exercise: Exercise, options: PartOptions): Promise<Atlas | null> {
  try {
    const parsed = v.safeParse(AtlasSchema, JSON.parse(await readFile(fileOf(exercise, options), 'utf8')));
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
  const known = await knownAtlas(exercise, options);
  if (known !== null) return known;
  const atlas = buildAtlas(kernel, exercise, reference, {
    ...options,
    onProgress: (done, total) => {
      if (process.stderr.isTTY) process.stderr.write(`\rBuilding mistakes: ${String(done)} of ${String(total)} `);
    },
  });
  if (process.stderr.isTTY) process.stderr.write('\n');
  const file = fileOf(exercise, options);
  try {
    await mkdir(path.dirname(file), { recursive: true });
    await writeFile(`${file}.new`, JSON.stringify(atlas));
    await rename(`${file}.new`, file);
  } catch {
    // Without a place to keep it, it is made anew next time.
  }
  return atlas;
}
