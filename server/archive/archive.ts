import { strFromU8, strToU8, zipSync } from 'fflate';

import { MAX_FILE_BYTES } from '#api';
import { ArchiveFault, entriesOf, unpackWhole, type ArchiveEntry } from '#core/archive';
import { filesOf, parseExercise, type Exercise } from '#core/exercise';
import { parseJson } from '#core/json';
import { attempt, ProblemError, refuse, succeed, unwrap, type Result } from '#core/problem';
import { hashOf } from '#server/files';

import { soundPage } from './drawings.ts';

const DOCUMENT = 'exercise.json';
const ATTACHED = /^(model|drawing|drawing-page-\d{1,2})\.[a-z0-9]{1,5}$/;
const LARGEST_BYTES = 4 * 1024 * 1024;
const MOST_FILES = 40;
/** Of all its files together. */
const MOST_BYTES = 3 * MAX_FILE_BYTES;

const README = `An exercise of Zorvet.

exercise.json    the whole exercise: recipe, check plan, material, variants, stages, rules (schema: docs/exercise.schema.json)
reference.step   the reference part as STEP, for other programs; it is made anew from the recipe on import
model.*          the reference part, for an exercise that was not built from a recipe
drawing*.*       the drawing and pictures of its pages, for an exercise whose sheet was made elsewhere
`;

/** Ending of a file name without the dot, in small letters; "bin" for a name without one. */
export const extensionOf = (fileName: string): string =>
  /\.([a-z0-9]{1,5})$/.exec(fileName.toLowerCase())?.[1] ?? 'bin';

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

const bad = (why: string) => new ProblemError('bad-archive', `This is not an exercise archive: ${why}.`);

function readArchive(bytes: Uint8Array): { readonly exercise: Exercise; readonly contents: readonly Uint8Array[] } {
  const { [DOCUMENT]: document, ...others } = filesIn(bytes);
  if (document === undefined) throw bad('it holds no exercise.json');
  const json = parseJson(strFromU8(document));
  if (!json.ok) throw bad(`its exercise.json cannot be read: ${json.problem.message.replace(/\.$/, '')}`);
  return { exercise: unwrap(parseExercise(json.value)), contents: Object.values(others) };
}

/** The files of an archive that belong to an exercise; what comes out is counted, whatever the archive says. */
function filesIn(bytes: Uint8Array): Readonly<Record<string, Uint8Array>> {
  try {
    const entries = entriesOf(bytes);
    if (entries.length > MOST_FILES) throw bad(`it holds more than ${String(MOST_FILES)} files`);
    let left = MOST_BYTES;
    const read = (entry: ArchiveEntry): Uint8Array => {
      const most = Math.min(left, entry.name === DOCUMENT ? LARGEST_BYTES : MAX_FILE_BYTES);
      const content = unpackWhole(bytes, entry, most);
      left -= content.length;
      return content;
    };
    const wanted = entries.filter(({ name }) => name === DOCUMENT || ATTACHED.test(name));
    return Object.fromEntries(wanted.map((entry) => [entry.name, read(entry)]));
  } catch (error) {
    throw error instanceof ArchiveFault ? bad(error.why) : error;
  }
}
