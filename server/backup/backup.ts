import { constants } from 'node:fs';
import { copyFile, link, mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';

import Database from 'better-sqlite3';
import * as v from 'valibot';

import { refuse, succeed, type Result } from '#core/problem';
import { PROGRAM_VERSION } from '#server/jobs';

import { DATABASE, hashOfFile, NOTE, pathIn, storedIn, type StoredRow } from './layout.ts';

/** What a backup says of itself. */
export const BackupNoteSchema = v.object({
  format: v.literal('zorvet-backup'),
  version: v.literal(1),
  madeAt: v.pipe(v.string(), v.isoTimestamp()),
  program: v.string(),
  /** Of the database. */
  schema: v.number(),
  files: v.number(),
  bytes: v.number(),
});
export type BackupNote = v.InferOutput<typeof BackupNoteSchema>;

export interface BackupOptions {
  readonly dataFolder: string;
  /** Is made; must not be there yet, or be empty. */
  readonly target: string;
  readonly now: () => Date;
  /** An earlier backup on the same disk, whose files are linked instead of copied again. */
  readonly previous?: string | null;
}

/**
 * Copies a data folder while a server may work on it: first the database with its own online copy, then every file that this
 * copy knows, each compared with its hash. Files are never changed or removed, so that the two fit together. Refuses with
 * `backup-target`, and with `damaged-data` where a file is missing or is not what its name says.
 */
export async function backUp({ dataFolder, target, now, previous = null }: BackupOptions): Promise<Result<BackupNote>> {
  const there = await readdir(target).catch(() => []);
  if (there.length > 0)
    return refuse('backup-target', `There is something in "${target}" already. Choose a folder that is empty or new.`);
  const source = path.join(dataFolder, DATABASE);
  if ((await stat(source).catch(() => null)) === null)
    return refuse('backup-target', `There is no database in "${dataFolder}". Say with --data where the data is.`);
  // Under another name until it is whole.
  const making = `${path.resolve(target)}.making`;
  await rm(making, { recursive: true, force: true });
  await mkdir(making, { recursive: true, mode: 0o700 });
  try {
    const schema = await copyDatabase(source, path.join(making, DATABASE));
    const stored = storedIn(path.join(making, DATABASE));
    for (const row of stored) {
      const failed = await copyStored(row, { dataFolder, making, previous });
      if (failed !== null) return refuse('damaged-data', failed);
    }
    const note: BackupNote = {
      format: 'zorvet-backup',
      version: 1,
      madeAt: now().toISOString(),
      program: PROGRAM_VERSION,
      schema,
      files: stored.length,
      bytes: stored.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
    };
    await writeSynced(path.join(making, NOTE), `${JSON.stringify(note, null, 2)}\n`);
    await rm(target, { recursive: true, force: true });
    await rename(making, target);
    return succeed(note);
  } finally {
    await rm(making, { recursive: true, force: true });
  }
}

/** Copies the database, looks whether the copy is whole, and gives the number of its form. */
async function copyDatabase(source: string, target: string): Promise<number> {
  const from = new Database(source, { readonly: true });
  try {
    await from.backup(target);
  } finally {
    from.close();
  }
  const copy = new Database(target);
  try {
    // One file is a backup; a journal beside it is none.
    copy.pragma('journal_mode = DELETE');
    return copy.pragma('user_version', { simple: true }) as number;
  } finally {
    copy.close();
  }
}

/** Copies or links one file; gives what is wrong with it, or null. */
async function copyStored(
  { sha256, sizeBytes }: StoredRow,
  { dataFolder, making, previous }: { dataFolder: string; making: string; previous: string | null },
): Promise<string | null> {
  const to = pathIn(making, sha256);
  await mkdir(path.dirname(to), { recursive: true });
  if (previous !== null) {
    const known = pathIn(previous, sha256);
    const isKnown = (await stat(known).catch(() => null))?.size === sizeBytes;
    if (
      isKnown &&
      (await link(known, to).then(
        () => true,
        () => false,
      ))
    )
      return null;
  }
  const from = pathIn(dataFolder, sha256);
  try {
    await copyFile(from, to, constants.COPYFILE_EXCL);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    return `The file ${sha256} is missing in "${dataFolder}".`;
  }
  return (await hashOfFile(to)) === sha256 ? null : `The file ${sha256} in "${dataFolder}" is damaged.`;
}

async function writeSynced(file: string, text: string): Promise<void> {
  const handle = await open(file, 'w');
  try {
    await handle.writeFile(text);
    await handle.sync();
  } finally {
    await handle.close();
  }
}
