/** How a data folder and a backup of it are laid out. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import path from 'node:path';

import Database from 'better-sqlite3';

export const DATABASE = 'zorvet.sqlite';
export const FILES = 'files';
/** What a backup says of itself; its last file, so that one without it is none. */
export const NOTE = 'backup.json';

/** A file of the store as the database has it. */
export interface StoredRow {
  readonly sha256: string;
  readonly sizeBytes: number;
}

/** Where content lies under a data folder or a backup. */
export const pathIn = (folder: string, sha256: string): string => path.join(folder, FILES, sha256.slice(0, 2), sha256);

/** The files that a database knows. */
export function storedIn(database: string): readonly StoredRow[] {
  const db = new Database(database, { readonly: true, fileMustExist: true });
  try {
    return db.prepare<[], StoredRow>('SELECT sha256, size_bytes AS sizeBytes FROM files ORDER BY sha256').all();
  } finally {
    db.close();
  }
}

/** SHA-256 of a file, read a piece at a time. */
export async function hashOfFile(file: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const piece of createReadStream(file)) hash.update(piece as Buffer);
  return hash.digest('hex');
}
