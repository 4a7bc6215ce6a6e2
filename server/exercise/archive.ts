import { strFromU8, strToU8, unzipSync, zipSync, type UnzipFileInfo } from 'fflate';

import { MAX_FILE_BYTES } from '#api';
import { filesOf, parseExercise, type Exercise } from '#core/exercise';
import { attempt, ProblemError, refuse, succeed, unwrap, type Result } from '#core/problem';
import { hashOf } from '#server/files';

import { soundPage } from './drawings.ts';
import { extensionOf } from './exercise-files.ts';

const DOCUMENT = 'exercise.json';
const ATTACHED = /^(model|drawing|drawing-page-\d{1,2})\.[a-z0-9]{1,5}$/;
const LARGEST_BYTES = 4 * 1024 * 1024;
const MOST_FILES = 40;

const README = `An exercise of Zorvet.

exercise.json    the whole exercise: recipe, check plan, material, variants, stages, rules (schema: docs/exercise.schema.json)
reference.step   the reference part as STEP, for other programs; it is made anew from the recipe on import
model.*          the reference part, for an exercise that was not built from a recipe
drawing*.*       the drawing and pictures of its pages, for an exercise whose sheet was made elsewhere
`;

/**
 * An exercise as a zip of documented JSON with the files that belong to it, in the order of `filesOf`, and the reference
 * part as STEP where there is one.
 */
export function packExercise(
  exercise: Exercise,
  part: Uint8Array | null,
  attached: readonly Uint8Array[] = [],
): Uint8Array {
  const names = filesOf(exercise).map(({ sha256, fileName }) =>
    sha256 === exercise.model?.sha256
      ? `model.${extensionOf(fileName)}`
      : sha256 === exercise.sheet?.drawing?.sha256
        ? `drawing.${extensionOf(fileName)}`
        : fileName,
  );
  return zipSync(
    {
      [DOCUMENT]: strToU8(`${JSON.stringify(exercise, null, 2)}\n`),
      'README.txt': strToU8(README),
      ...(part === null ? {} : { 'reference.step': part }),
      ...Object.fromEntries(names.flatMap((name, i) => (attached[i] === undefined ? [] : [[name, attached[i]]]))),
    },
    { mtime: new Date('2026-01-01T00:00:00Z') },
  );
}

export interface Unpacked {
  readonly exercise: Exercise;
  /** The files that belong to it. */
  readonly attached: readonly { readonly fileName: string; readonly content: Uint8Array }[];
}

/**
 * The exercise of an archive, whatever version wrote it. Refuses with `bad-archive` and the reason, and with the
 * problems of `parseExercise`.
 */
export async function unpackExercise(bytes: Uint8Array): Promise<Result<Unpacked>> {
  const files = attempt(() => readArchive(bytes));
  if (!files.ok) return files;
  const { exercise, contents } = files.value;
  const attached: { fileName: string; content: Uint8Array }[] = [];
  for (const { sha256, fileName } of filesOf(exercise)) {
    const content = contents.find((one) => hashOf(one) === sha256);
    if (content === undefined)
      return refuse(
        'bad-archive',
        `This is not an exercise archive: its file "${fileName}" is missing or was changed.`,
      );
    attached.push({ fileName, content });
  }
  // Pages go into PDF files as they are, so that they are looked at as those that are uploaded.
  for (const { sha256 } of exercise.sheet?.drawing?.pages ?? []) {
    const page = contents.find((one) => hashOf(one) === sha256);
    const sound = page === undefined ? null : await soundPage(page);
    if (sound?.ok === false) return sound;
  }
  return succeed({ exercise, attached });
}

function readArchive(bytes: Uint8Array): { readonly exercise: Exercise; readonly contents: readonly Uint8Array[] } {
  const bad = (why: string) => new ProblemError('bad-archive', `This is not an exercise archive: ${why}.`);
  let count = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: ({ name, originalSize }: UnzipFileInfo) => {
        if (++count > MOST_FILES) throw bad(`it holds more than ${String(MOST_FILES)} files`);
        if (name !== DOCUMENT && !ATTACHED.test(name)) return false;
        if (originalSize > (name === DOCUMENT ? LARGEST_BYTES : MAX_FILE_BYTES))
          throw bad(`its ${name} is larger than any exercise needs`);
        return true;
      },
    });
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw bad('the zip file is damaged or is none');
  }
  const { [DOCUMENT]: document, ...others } = files;
  if (document === undefined) throw bad('it holds no exercise.json');
  let json: unknown;
  try {
    json = JSON.parse(strFromU8(document));
  } catch {
    throw bad('its exercise.json is not JSON');
  }
  return { exercise: unwrap(parseExercise(json)), contents: Object.values(others) };
}
