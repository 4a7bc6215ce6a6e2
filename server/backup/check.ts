import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';

import Database from 'better-sqlite3';

import { DATABASE, FILES, hashOfFile, pathIn, storedIn } from './layout.ts';

/** What was looked at, and what is wrong, as sentences. */
export interface FolderCheck {
  readonly files: number;
  readonly bytes: number;
  readonly attempts: number;
  readonly faults: readonly string[];
  /** Files that no row speaks of; they cost nothing but room. */
  readonly unreferenced: number;
}

/** Looks through a data folder or a backup: the database, its references, and every file with its hash. */
export async function checkFolder(folder: string): Promise<FolderCheck> {
  const file = path.join(folder, DATABASE);
  const faults: string[] = [];
  const nothing = { files: 0, bytes: 0, attempts: 0, unreferenced: 0 };
  if ((await stat(file).catch(() => null)) === null)
    return { ...nothing, faults: [`There is no database in "${folder}".`] };
  let attempts = 0;
  let stored: ReturnType<typeof storedIn>;
  try {
    const db = new Database(file, { readonly: true });
    try {
      const integrity = db.pragma('integrity_check') as { integrity_check: string }[];
      for (const { integrity_check: words } of integrity)
        if (words !== 'ok') faults.push(`The database is damaged: ${words}.`);
      const torn = db.pragma('foreign_key_check') as { table: string; parent: string }[];
      for (const { table, parent } of torn)
        faults.push(`A row of "${table}" refers to one of "${parent}" that is not there.`);
      attempts = db.prepare<[], number>('SELECT count(*) FROM attempts').pluck().get() ?? 0;
    } finally {
      db.close();
    }
    stored = storedIn(file);
  } catch (error) {
    return { ...nothing, faults: [...faults, `The database cannot be read: ${String(error)}.`] };
  }
  for (const { sha256, sizeBytes } of stored) {
    const there = await stat(pathIn(folder, sha256)).catch(() => null);
    if (there === null) faults.push(`The file ${sha256} is missing.`);
    else if (there.size !== sizeBytes || (await hashOfFile(pathIn(folder, sha256))) !== sha256)
      faults.push(`The file ${sha256} is damaged.`);
  }
  const known = new Set(stored.map(({ sha256 }) => sha256));
  return {
    files: stored.length,
    bytes: stored.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
    attempts,
    faults,
    unreferenced: (await namesIn(path.join(folder, FILES))).filter((name) => !known.has(name)).length,
  };
}

/** Names of the files of a store, without those that are still coming in. */
async function namesIn(files: string): Promise<readonly string[]> {
  const folders = (await readdir(files).catch(() => [])).filter((name) => /^[0-9a-f]{2}$/.test(name));
  const names = await Promise.all(folders.map((folder) => readdir(path.join(files, folder))));
  return names.flat();
}
