/** References of exercises: what was measured of a reference part, kept by the hash of its file. */
import { LRUCache } from 'lru-cache';
import * as v from 'valibot';

import { ReferenceSchema, type Reference } from '#core/check';
import type { FileStore } from '#server/files';

export interface References {
  /** The reference that a file holds. Throws where the file is not there. */
  at(sha256: string): Promise<Reference>;
}

/** References of the demo take a tenth to a quarter of a megabyte; one made of a scanned mesh takes tens. */
const KEPT_BYTES = 64_000_000;

/** Reads references, and keeps the last ones: pages and scores ask for the same few of them again and again. */
export function createReferences(files: Pick<FileStore, 'read'>): References {
  const known = new LRUCache<string, { readonly reference: Reference; readonly bytes: number }>({
    maxSize: KEPT_BYTES,
    sizeCalculation: ({ bytes }) => bytes,
    fetchMethod: async (sha256) => {
      const content = await files.read(sha256);
      return { reference: v.parse(ReferenceSchema, JSON.parse(content.toString('utf8'))), bytes: content.length };
    },
  });
  return { at: async (sha256) => (await known.forceFetch(sha256)).reference };
}
