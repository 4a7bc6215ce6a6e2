/** Content-addressed store: a file is named by the SHA-256 of its content and never changes. */
import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { mkdir, open, readFile, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';

import type { Db } from '#server/db';

export interface StoredFile {
  readonly sha256: string;
  readonly sizeBytes: number;
}

/** Content on disk that is not kept yet: until it is, the next start of the server clears it away. */
export interface Incoming extends StoredFile {
  readonly temporaryPath: string;
}

export interface FileStore {
  /** Folder of the content. */
  readonly root: string;
  /** Writes under a temporary name, syncs, renames, then records the row: a crash leaves no half file behind a name. */
  put(content: Uint8Array): Promise<StoredFile>;
  /** Writes what comes a piece at a time under a temporary name; where the stream fails, nothing is left. */
  receive(content: AsyncIterable<Uint8Array>): Promise<Incoming>;
  /** Keeps what was received. */
  keep(incoming: Incoming): Promise<StoredFile>;
  discard(incoming: Incoming): Promise<void>;
  read(sha256: string): Promise<Buffer>;
  /** Where the content is, for worker threads. */
  pathOf(sha256: string): string;
}

/** The name under which content is stored. */
export const hashOf = (content: Uint8Array): string => createHash('sha256').update(content).digest('hex');

export function createFileStore(root: string, db: Db, now: () => Date): FileStore {
  const incoming = path.join(root, 'incoming');
  mkdirSync(incoming, { recursive: true });
  // What a process that ended left half written.
  for (const name of readdirSync(incoming)) rmSync(path.join(incoming, name), { force: true });
  clearUnknown(root, db);
  const record = db.prepare<[string, number, string]>(
    'INSERT INTO files (sha256, size_bytes, created_at) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  );
  const pathOf = (sha256: string): string => {
    if (!/^[0-9a-f]{64}$/.test(sha256)) throw new Error('not a content hash');
    return path.join(root, sha256.slice(0, 2), sha256);
  };
  /** Names content by what it is, on disk before a row speaks of it. */
  async function keep({ temporaryPath, ...stored }: Incoming): Promise<StoredFile> {
    const target = pathOf(stored.sha256);
    try {
      if (!(await isThere(target, stored.sizeBytes))) {
        await mkdir(path.dirname(target), { recursive: true });
        await rename(temporaryPath, target);
        const folder = await open(path.dirname(target), 'r');
        try {
          await folder.sync();
        } finally {
          await folder.close();
        }
      }
    } finally {
      await rm(temporaryPath, { force: true });
    }
    record.run(stored.sha256, stored.sizeBytes, now().toISOString());
    return stored;
  }

  async function receive(content: AsyncIterable<Uint8Array>): Promise<Incoming> {
    const temporaryPath = path.join(incoming, randomUUID());
    const hash = createHash('sha256');
    let sizeBytes = 0;
    try {
      const handle = await open(temporaryPath, 'wx');
      try {
        for await (const piece of content) {
          hash.update(piece);
          sizeBytes += piece.length;
          await handle.writeFile(piece);
        }
        await handle.sync();
      } finally {
        await handle.close();
      }
    } catch (error) {
      await rm(temporaryPath, { force: true });
      throw error;
    }
    return { temporaryPath, sha256: hash.digest('hex'), sizeBytes };
  }

  return {
    root,
    pathOf,
    receive,
    keep,
    discard: ({ temporaryPath }) => rm(temporaryPath, { force: true }),
    read: (sha256) => readFile(pathOf(sha256)),
    async put(content) {
      const [sha256, sizeBytes] = [hashOf(content), content.byteLength];
      if (!(await isThere(pathOf(sha256), sizeBytes))) return keep(await receive(Readable.from([content])));
      record.run(sha256, sizeBytes, now().toISOString());
      return { sha256, sizeBytes };
    },
  };
}

/** Content that got its name just before the process ended, and no row: nobody was told that it is there. */
function clearUnknown(root: string, db: Db): void {
  const known = db.prepare<[string], 1>('SELECT 1 FROM files WHERE sha256 = ?').pluck();
  for (const folder of readdirSync(root).filter((name) => /^[0-9a-f]{2}$/.test(name)))
    for (const name of readdirSync(path.join(root, folder)))
      if (known.get(name) === undefined) rmSync(path.join(root, folder, name), { force: true });
}

const isThere = async (file: string, sizeBytes: number): Promise<boolean> =>
  (await stat(file).catch(() => null))?.size === sizeBytes;
