/** Content-addressed store: a file is named by the SHA-256 of its content and never changes. */
import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { open, readFile, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';

import type { Db } from '#server/db';

export interface StoredFile {
  readonly sha256: string;
  readonly sizeBytes: number;
}

export interface FileStore {
  /** Writes under a temporary name, syncs, renames, then records the row: a crash leaves no half file behind a name. */
  put(content: Uint8Array): Promise<StoredFile>;
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
  const record = db.prepare<[string, number, string]>(
    'INSERT INTO files (sha256, size_bytes, created_at) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  );
  const pathOf = (sha256: string): string => {
    if (!/^[0-9a-f]{64}$/.test(sha256)) throw new Error('not a content hash');
    return path.join(root, sha256.slice(0, 2), sha256);
  };
  return {
    pathOf,
    read: (sha256) => readFile(pathOf(sha256)),
    async put(content) {
      const sha256 = hashOf(content);
      const target = pathOf(sha256);
      const known = await stat(target).catch(() => null);
      if (known?.size !== content.byteLength) {
        const temporary = path.join(incoming, randomUUID());
        try {
          const handle = await open(temporary, 'wx');
          try {
            await handle.writeFile(content);
            await handle.sync();
          } finally {
            await handle.close();
          }
          mkdirSync(path.dirname(target), { recursive: true });
          await rename(temporary, target);
          // The name is on disk too before a row speaks of it.
          const folder = await open(path.dirname(target), 'r');
          try {
            await folder.sync();
          } finally {
            await folder.close();
          }
        } finally {
          await rm(temporary, { force: true });
        }
      }
      record.run(sha256, content.byteLength, now().toISOString());
      return { sha256, sizeBytes: content.byteLength };
    },
  };
}
