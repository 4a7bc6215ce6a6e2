import { strFromU8, strToU8, unzipSync, zipSync, type UnzipFileInfo } from 'fflate';

import { parseExercise, type Exercise } from '#core/exercise';
import { attempt, ProblemError, unwrap, type Result } from '#core/problem';

const DOCUMENT = 'exercise.json';
const LARGEST_BYTES = 4 * 1024 * 1024;
const MOST_FILES = 20;

const README = `An exercise of Zorvet.

exercise.json    the whole exercise: recipe, check plan, material, variants, stages, rules (schema: docs/exercise.schema.json)
reference.step   the reference part as STEP, for other programs; it is made anew from the recipe on import
`;

/** An exercise as a zip of documented JSON, with its reference part where there is one. */
export function packExercise(exercise: Exercise, step: Uint8Array | null): Uint8Array {
  return zipSync(
    {
      [DOCUMENT]: strToU8(`${JSON.stringify(exercise, null, 2)}\n`),
      'README.txt': strToU8(README),
      ...(step === null ? {} : { 'reference.step': step }),
    },
    { mtime: new Date('2026-01-01T00:00:00Z') },
  );
}

/**
 * The exercise of an archive, whatever version wrote it. Refuses with `bad-archive` and the reason, and with the
 * problems of `parseExercise`.
 */
export function unpackExercise(bytes: Uint8Array): Result<Exercise> {
  return attempt(() => {
    const bad = (why: string) => new ProblemError('bad-archive', `This is not an exercise archive: ${why}.`);
    let count = 0;
    let files: Record<string, Uint8Array>;
    try {
      files = unzipSync(bytes, {
        filter: ({ name, originalSize }: UnzipFileInfo) => {
          if (++count > MOST_FILES) throw bad(`it holds more than ${String(MOST_FILES)} files`);
          if (name !== DOCUMENT) return false;
          if (originalSize > LARGEST_BYTES) throw bad('its exercise.json is larger than any exercise needs');
          return true;
        },
      });
    } catch (error) {
      if (error instanceof ProblemError) throw error;
      throw bad('the zip file is damaged or is none');
    }
    const document = files[DOCUMENT];
    if (document === undefined) throw bad('it holds no exercise.json');
    let json: unknown;
    try {
      json = JSON.parse(strFromU8(document));
    } catch {
      throw bad('its exercise.json is not JSON');
    }
    return unwrap(parseExercise(json));
  });
}
