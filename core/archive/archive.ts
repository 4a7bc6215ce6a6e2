import checksum from 'crc-32';
import { Inflate, strFromU8 } from 'fflate';

/** One file of an archive, as its directory has it. */
export interface ArchiveEntry {
  readonly name: string;
  /** What the archive says; what comes out may be anything. */
  readonly declaredBytes: number;
  readonly compressedBytes: number;
  readonly crc32: number;
  readonly method: 'stored' | 'deflated' | 'other';
  readonly isEncrypted: boolean;
  /** Where its local header begins. */
  readonly at: number;
}

/** Why an archive, or a file of it, is not read; `why` is a clause such as "its directory is missing". */
export class ArchiveFault extends Error {
  readonly kind: 'damaged' | 'encrypted' | 'too-large';
  readonly why: string;

  constructor(kind: ArchiveFault['kind'], why: string) {
    super(why);
    this.kind = kind;
    this.why = why;
  }
}

/** Signatures and sizes of "APPNOTE.TXT, .ZIP File Format Specification", sections 4.3.7, 4.3.12 and 4.3.16. */
const LOCAL = { signature: 0x04034b50, size: 30 };
const DIRECTORY = { signature: 0x02014b50, size: 46 };
const END = { signature: 0x06054b50, size: 22, mostComment: 65_535 };
const ENCRYPTED = 1;
const METHODS: Readonly<Record<number, ArchiveEntry['method']>> = { 0: 'stored', 8: 'deflated' };
/** Compressed bytes that are given to the unpacker at once: deflate grows them 1032 times at most. */
const PIECE_BYTES = 4096;
const MOST_ENTRIES = 2000;

/** Whether bytes begin as a zip archive does (local file header, PK 3). */
export const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3;

const damaged = (why: string): ArchiveFault => new ArchiveFault('damaged', why);
const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

function endOf(bytes: Uint8Array): number {
  const view = viewOf(bytes);
  const first = Math.max(0, bytes.length - END.size - END.mostComment);
  for (let at = bytes.length - END.size; at >= first; at--) if (view.getUint32(at, true) === END.signature) return at;
  throw damaged('its directory is missing, as when a copy breaks off');
}

/** The files of an archive. Throws an `ArchiveFault` where the directory is damaged, or names more than `most`. */
export function entriesOf(bytes: Uint8Array, most = MOST_ENTRIES): readonly ArchiveEntry[] {
  if (bytes.length < END.size) throw damaged('it is too short');
  const view = viewOf(bytes);
  const end = endOf(bytes);
  const count = view.getUint16(end + 10, true);
  let at = view.getUint32(end + 16, true);
  if (count > most) throw new ArchiveFault('too-large', `it holds more than ${String(most)} files`);
  const entries: ArchiveEntry[] = [];
  for (let i = 0; i < count; i++) {
    if (at + DIRECTORY.size > bytes.length || view.getUint32(at, true) !== DIRECTORY.signature)
      throw damaged('its directory is damaged');
    const flags = view.getUint16(at + 8, true);
    const nameBytes = view.getUint16(at + 28, true);
    const name = bytes.subarray(at + DIRECTORY.size, at + DIRECTORY.size + nameBytes);
    entries.push({
      name: strFromU8(name, (flags & 0x800) === 0),
      declaredBytes: view.getUint32(at + 24, true),
      compressedBytes: view.getUint32(at + 20, true),
      crc32: view.getUint32(at + 16, true),
      method: METHODS[view.getUint16(at + 10, true)] ?? 'other',
      isEncrypted: (flags & ENCRYPTED) !== 0,
      at: view.getUint32(at + 42, true),
    });
    at += DIRECTORY.size + nameBytes + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
  }
  return entries;
}

function contentOf(bytes: Uint8Array, entry: ArchiveEntry): Uint8Array {
  const view = viewOf(bytes);
  if (entry.isEncrypted) throw new ArchiveFault('encrypted', `its file "${entry.name}" is locked with a password`);
  if (entry.method === 'other') throw damaged(`its file "${entry.name}" is packed in a way that is not read`);
  if (entry.at + LOCAL.size > bytes.length || view.getUint32(entry.at, true) !== LOCAL.signature)
    throw damaged(`its file "${entry.name}" is not where the directory says`);
  const from = entry.at + LOCAL.size + view.getUint16(entry.at + 26, true) + view.getUint16(entry.at + 28, true);
  if (from + entry.compressedBytes > bytes.length) throw damaged(`its file "${entry.name}" breaks off`);
  return bytes.subarray(from, from + entry.compressedBytes);
}

/**
 * Unpacks one file of an archive a piece at a time, and counts what comes out, whatever the archive says. `onPiece` may
 * throw to end it. Throws an `ArchiveFault` for more than `mostBytes`, a password, or content that is not what was packed.
 */
export function unpack(
  bytes: Uint8Array,
  entry: ArchiveEntry,
  { mostBytes, onPiece }: { readonly mostBytes: number; readonly onPiece: (piece: Uint8Array) => void },
): void {
  const content = contentOf(bytes, entry);
  let total = 0;
  let sum = 0;
  const take = (piece: Uint8Array): void => {
    total += piece.length;
    if (total > mostBytes)
      throw new ArchiveFault('too-large', `its file "${entry.name}" unpacks to more than ${inMegabytes(mostBytes)}`);
    sum = checksum.buf(piece, sum);
    onPiece(piece);
  };
  const inflate = entry.method === 'deflated' ? new Inflate(take) : null;
  let [from, isEnd] = [0, false];
  while (!isEnd) {
    const piece = content.subarray(from, from + PIECE_BYTES);
    from += PIECE_BYTES;
    isEnd = from >= content.length;
    if (inflate === null) take(piece);
    else pushed(inflate, piece, isEnd, entry.name);
  }
  if (total !== entry.declaredBytes || sum >>> 0 !== entry.crc32)
    throw damaged(`the checksum of its file "${entry.name}" is wrong`);
}

function pushed(inflate: Inflate, piece: Uint8Array, isEnd: boolean, name: string): void {
  try {
    inflate.push(piece, isEnd);
  } catch (error) {
    // The unpacker's own errors have a number for a code; everything else comes from whoever takes the pieces.
    if (typeof (error as { readonly code?: unknown }).code !== 'number') throw error;
    throw damaged(`its file "${name}" cannot be unpacked`);
  }
}

/** The whole content of one file, as `unpack` gives it. */
export function unpackWhole(bytes: Uint8Array, entry: ArchiveEntry, mostBytes: number): Uint8Array {
  const pieces: Uint8Array[] = [];
  unpack(bytes, entry, {
    mostBytes,
    onPiece: (piece) => {
      pieces.push(piece.slice());
    },
  });
  const whole = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}

const inMegabytes = (bytes: number): string => `${String(Math.round(bytes / 1024 / 1024))} MB`;
