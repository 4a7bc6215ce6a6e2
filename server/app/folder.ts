/** The data folder as a server takes it: there, writable, and its alone. */
import { accessSync, constants, mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';

import Database from 'better-sqlite3';

import { isUnwritable, NewerDatabase } from '#server/db';

/** Why a server cannot start, as a sentence for whoever started it. */
export class StartRefusal extends Error {}

const LOCK = 'server.lock';
const HOLDER = 'server.json';

/**
 * Makes the data folder where it is missing, readable for its owner alone, and keeps other servers out of it as long as this
 * process lives: the lock is one of the operating system and ends with the process, however that ends. Gives a function
 * that lets the folder go. Throws a `StartRefusal`.
 */
export function takeFolder(folder: string, now: () => Date): () => void {
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    if (!statSync(folder).isDirectory()) throw new Error('it is a file');
    accessSync(folder, constants.R_OK | constants.W_OK | constants.X_OK);
  } catch (error) {
    throw new StartRefusal(
      `The data folder "${folder}" cannot be written to (${reasonOf(error)}). Give it to the account that runs the server, or set ZORVET_DATA to another folder.`,
    );
  }
  const lock = new Database(path.join(folder, LOCK), { timeout: 0 });
  try {
    lock.pragma('locking_mode = EXCLUSIVE');
    lock.exec('BEGIN EXCLUSIVE');
  } catch {
    lock.close();
    throw new StartRefusal(
      `Another server works on the data folder "${folder}"${holderOf(folder)}. Stop it first, or set ZORVET_DATA to another folder: two on one folder would grade everything twice.`,
    );
  }
  try {
    const holder = { pid: process.pid, host: hostname(), since: now().toISOString() };
    writeFileSync(path.join(folder, HOLDER), JSON.stringify(holder));
  } catch (error) {
    // It only helps to say who holds the folder; a full disk keeps nobody from reading.
    if (!isUnwritable(error)) throw error;
  }
  return () => {
    lock.close();
  };
}

function holderOf(folder: string): string {
  try {
    const holder = JSON.parse(readFileSync(path.join(folder, HOLDER), 'utf8')) as Record<string, unknown>;
    return ` (process ${String(holder['pid'])} on ${String(holder['host'])}, since ${String(holder['since'])})`;
  } catch {
    return '';
  }
}

const reasonOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** The port of the environment; throws a `StartRefusal` for what is none. */
export function portOf(text: string | undefined, usual: number): number {
  if (text === undefined || text.trim() === '') return usual;
  const port = Number(text);
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new StartRefusal(`PORT is "${text}", which is no port: give a whole number from 0 to 65535.`);
  return port;
}

/** Opens a database, with a sentence for one that is damaged, or newer than this program. */
export function opened<T>(open: () => T, file: string): T {
  try {
    return open();
  } catch (error) {
    const code = (error as { readonly code?: string }).code ?? '';
    if (code.startsWith('SQLITE_CORRUPT') || code === 'SQLITE_NOTADB')
      throw new StartRefusal(
        `The database "${file}" is damaged (${reasonOf(error)}). Put back the last backup of the data folder; keep the damaged one until that is done.`,
      );
    if (isUnwritable(error))
      throw new StartRefusal(
        `The disk of the database "${file}" is full, or cannot be written to (${reasonOf(error)}). Make room there and start again; nothing is lost.`,
      );
    if (error instanceof NewerDatabase)
      throw new StartRefusal(
        `The database "${file}" was made by a newer version of Zorvet (${error.message}). Start that version, or put back a backup from before it.`,
      );
    throw error;
  }
}
