import { LRUCache } from 'lru-cache';

import type { Reference } from '#core/check';
import { printedDimensions, type PrintedDimension } from '#core/selfcheck';
import type { Sheet } from '#core/sheet';
import type { FileStore } from '#server/files';
import type { References } from '#server/reference';
import { storedSheet } from '#server/sheet';

/** A part as a student has it: its sheet, and what that was drawn of. */
export interface DrawnPart {
  readonly sha256: string;
  readonly referenceSha256: string;
}

/** What is needed to look a student's readings and sums over. */
export interface ReadPart {
  readonly reference: Reference;
  readonly sheet: Sheet;
  readonly dimensions: readonly PrintedDimension[];
}

/** A class has few parts at a time; each takes about a megabyte. */
const KEPT_PARTS = 30;

/** Null for a sheet of which an earlier program kept the picture alone. */
export type ReadParts = (part: DrawnPart) => Promise<ReadPart | null>;

/** Reads sheets and their references, and keeps the last ones. */
export function createPartReader(files: Pick<FileStore, 'read'>, references: References): ReadParts {
  const known = new LRUCache<string, ReadPart>({ max: KEPT_PARTS });
  return async ({ sha256, referenceSha256 }) => {
    const key = `${sha256} ${referenceSha256}`;
    const before = known.get(key);
    if (before !== undefined) return before;
    const sheet = await storedSheet(files, sha256);
    if (sheet === null) return null;
    const reference = await references.at(referenceSha256);
    const part = { reference, sheet, dimensions: printedDimensions(sheet, reference) };
    known.set(key, part);
    return part;
  };
}
