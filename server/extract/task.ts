import { rmSync } from 'node:fs';

import Database from 'better-sqlite3';

import { openDatabase } from '#server/db';

import { cutToCourse } from './cut.ts';

/** Makes the database of the archive of one course. */
export interface TermTask {
  /** Of the running server. */
  readonly database: string;
  /** Is made. */
  readonly target: string;
  readonly courseId: number;
}

export interface CutTerm {
  /** Of the database that was made. */
  readonly schema: number;
  /** Hashes of the files that belong to it. */
  readonly files: readonly string[];
}

/** Copies the database of a running server, and cuts the copy to one course. */
export async function cutTerm({ database, target, courseId }: TermTask): Promise<CutTerm> {
  rmSync(target, { force: true });
  const source = new Database(database, { readonly: true });
  try {
    await source.backup(target);
  } finally {
    source.close();
  }
  const db = openDatabase(target);
  try {
    const files = cutToCourse(db, courseId);
    // One file, without a journal beside it.
    db.pragma('journal_mode = DELETE');
    return { schema: db.pragma('user_version', { simple: true }) as number, files };
  } finally {
    db.close();
  }
}
