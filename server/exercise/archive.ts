import { strFromU8, strToU8, unzipSync, zipSync, type UnzipFileInfo } from 'fflate';

import { MAX_FILE_BYTES } from '#api';
import { parseExercise, type Exercise } from '#core/exercise';
import { attempt, ProblemError, unwrap, type Result } from '#core/problem';
import { hashOf } from '#server/files';

import { extensionOf } from './models.ts';

const DOCUMENT = 'exercise.json';
const MODEL = /^model\.[a-z0-9]{1,5}$/;
const LARGEST_BYTES = 4 * 1024 * 1024;
const MOST_FILES = 20;

const README = `An exercise of Zorvet.

exercise.json    the whole exercise: recipe, check plan, material, variants, stages, rules (schema: docs/exercise.schema.json)
reference.step   the reference part as STEP, for other programs; it is made anew from the recipe on import
model.*          the reference part, for an exercise that was not built from a recipe
`;

/**
 * An exercise as a zip of documented JSON with its reference part, where there is one: the model file, or the part as
 * STEP.
 */
export function packExercise(exercise: Exercise, part: Uint8Array | null): Uint8Array {
  const name = exercise.model === undefined ? 'reference.step' : `model.${extensionOf(exercise.model.fileName)}`;
  return zipSync(
    {
      [DOCUMENT]: strToU8(`${JSON.stringify(exercise, null, 2)}\n`),
      'README.txt': strToU8(README),
      ...(part === null ? {} : { [name]: part }),
    },
    { mtime: new Date('2026-01-01T00:00:00Z') },
  );
}

export interface Unpacked {
  readonly exercise: Exercise;
  /** The model file, for an exercise that has one. */
  readonly model: Uint8Array | null;
}

/**
 * The exercise of an archive, whatever version wrote it. Refuses with `bad-archive` and the reason, and with the
 * problems of `parseExercise`.
 */
export function unpackExercise(bytes: Uint8Array): Result<Unpacked> {
  return attempt(() => {
    const bad = (why: string) => new ProblemError('bad-archive', `This is not an exercise archive: ${why}.`);
    let count = 0;
    let files: Record<string, Uint8Array>;
    try {
      files = unzipSync(bytes, {
        filter: ({ name, originalSize }: UnzipFileInfo) => {
          if (++count > MOST_FILES) throw bad(`it holds more than ${String(MOST_FILES)} files`);
          if (name !== DOCUMENT && !MODEL.test(name)) return false;
          if (originalSize > (name === DOCUMENT ? LARGEST_BYTES : MAX_FILE_BYTES))
            throw bad(`its ${name} is larger than any exercise needs`);
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
    const exercise = unwrap(parseExercise(json));
    if (exercise.model === undefined) return { exercise, model: null };
    const { sha256 } = exercise.model;
    const model = Object.entries(files).find(([name, content]) => MODEL.test(name) && hashOf(content) === sha256);
    if (model === undefined) throw bad(`its model file "${exercise.model.fileName}" is missing or was changed`);
    return { exercise, model: model[1] };
  });
}
