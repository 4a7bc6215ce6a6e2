import { mkdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';

import * as v from 'valibot';

import { ArchiveFault, entriesOf, isZip, unpackWhole } from '#core/archive';
import { refuse, succeed, type Result } from '#core/problem';
import { openDatabase } from '#server/db';
import { hashOf } from '#server/files';

import { DATABASE, FILES, NOTE, TermNoteSchema, type TermNote } from './note.ts';

/** An archive as a data folder, and who looks at it: an instructor of its course. */
export interface OpenedTerm {
  readonly note: TermNote;
  readonly readerId: number;
}

const MOST_ENTRIES = 65_000;
const MOST_BYTES = 2_000_000_000;
const NONE = 'This is no archive of a course of Zorvet.';

/**
 * Unpacks the archive of a course into an empty folder, each file compared with its hash. Refuses with `no-term-archive`,
 * and with `damaged-data` what is not what was packed.
 */
export async function openTerm(archive: string, folder: string): Promise<Result<OpenedTerm>> {
  const bytes = await readFile(archive).catch(() => null);
  if (bytes === null) return refuse('no-term-archive', `There is no file "${archive}".`);
  if (!isZip(bytes)) return refuse('no-term-archive', NONE);
  try {
    const note = await unpackInto(bytes, folder);
    if (note === null) return refuse('no-term-archive', NONE);
    const readerId = readerOf(path.join(folder, DATABASE), note.course.id);
    return readerId === null
      ? refuse('damaged-data', 'The archive has nobody who teaches its course.')
      : succeed({ note, readerId });
  } catch (error) {
    if (error instanceof ArchiveFault) return refuse('damaged-data', `The archive cannot be read: ${error.why}.`);
    throw error;
  }
}

async function unpackInto(bytes: Uint8Array, folder: string): Promise<TermNote | null> {
  const entries = entriesOf(bytes, MOST_ENTRIES);
  const contentOf = (name: string): Uint8Array | null => {
    const entry = entries.find((one) => one.name === name);
    return entry === undefined ? null : unpackWhole(bytes, entry, MOST_BYTES);
  };
  const text = new TextDecoder().decode(contentOf(NOTE) ?? new Uint8Array());
  const note = v.safeParse(v.pipe(v.string(), v.parseJson(), TermNoteSchema), text);
  const database = contentOf(DATABASE);
  if (!note.success || database === null) return null;
  await writeFile(path.join(folder, DATABASE), database);
  let count = 0;
  for (const entry of entries) {
    const sha256 = new RegExp(`^${FILES}/[0-9a-f]{2}/([0-9a-f]{64})$`).exec(entry.name)?.[1];
    if (sha256 === undefined) continue;
    const content = unpackWhole(bytes, entry, MOST_BYTES);
    if (hashOf(content) !== sha256) throw new ArchiveFault('damaged', `its file ${sha256} is not what its name says`);
    await mkdir(path.join(folder, FILES, sha256.slice(0, 2)), { recursive: true });
    await writeFile(path.join(folder, FILES, sha256.slice(0, 2), sha256), content);
    count++;
  }
  if (count !== note.output.files)
    throw new ArchiveFault('damaged', `it has ${String(count)} of ${String(note.output.files)} files`);
  return note.output;
}

function readerOf(database: string, courseId: number): number | null {
  const db = openDatabase(database);
  try {
    return (
      db
        .prepare<[number], number>(
          `SELECT user_id FROM course_staff WHERE course_id = ? AND role = 'instructor' ORDER BY user_id LIMIT 1`,
        )
        .pluck()
        .get(courseId) ?? null
    );
  } finally {
    db.close();
  }
}
