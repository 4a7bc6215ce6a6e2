import { strFromU8, strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';

import { ArchiveFault, entriesOf, isZip, unpack, unpackWhole } from '#core/archive';

const kindOf = (work: () => unknown): string => {
  try {
    work();
    return 'none';
  } catch (error) {
    return error instanceof ArchiveFault ? error.kind : String(error);
  }
};
/** The only entry of an archive. */
const entryOf = (archive: Uint8Array) => entriesOf(archive)[0]!;
const DIRECTORY_SIZE_AT = 24;

/** The archive with another size of its only file in the directory. */
function declaring(archive: Uint8Array, bytes: number): Uint8Array {
  const copy = archive.slice();
  const view = new DataView(copy.buffer);
  let at = 0;
  while (view.getUint32(at, true) !== 0x02014b50) at++;
  view.setUint32(at + DIRECTORY_SIZE_AT, bytes, true);
  return copy;
}

describe('an archive', () => {
  const text = 'cleat plate '.repeat(4000);

  it.each([
    ['packed', 6],
    ['stored', 0],
  ] as const)('gives back what was %s, under its name', (_how, level) => {
    const archive = zipSync({ 'ä/part.txt': strToU8(text) }, { level });
    expect(isZip(archive)).toBe(true);
    expect(entriesOf(archive).map(({ name }) => name)).toEqual(['ä/part.txt']);
    expect(strFromU8(unpackWhole(archive, entryOf(archive), 1e6))).toBe(text);
  });

  it('is told from what is none, and from one that breaks off', () => {
    expect(kindOf(() => entriesOf(strToU8('solid part'.repeat(10))))).toBe('damaged');
    const archive = zipSync({ a: strToU8(text) });
    expect(kindOf(() => entriesOf(archive.slice(0, -30)))).toBe('damaged');
  });

  it('whose content was changed is damaged', () => {
    const archive = zipSync({ a: strToU8(text) }, { level: 0 });
    const copy = archive.slice();
    copy[200] = 0;
    expect(kindOf(() => unpackWhole(copy, entryOf(copy), 1e6))).toBe('damaged');
  });
});

describe('what comes out of an archive', () => {
  // 64 MB of zeros, which deflate packs about a thousand times.
  const bomb = zipSync({ a: new Uint8Array(64 * 1024 * 1024) });

  it('is counted as it comes, and ended where it is too much', () => {
    let taken = 0;
    const work = () => {
      unpack(bomb, entryOf(bomb), { mostBytes: 8 * 1024 * 1024, onPiece: ({ length }) => (taken += length) });
    };
    expect(bomb.length).toBeLessThan(100_000);
    expect(kindOf(work)).toBe('too-large');
    expect(taken).toBeLessThanOrEqual(8 * 1024 * 1024);
  });

  it('is not believed to be as little as the archive says', () => {
    const lying = declaring(bomb, 10);
    expect(kindOf(() => unpackWhole(lying, entryOf(lying), 1024 * 1024))).toBe('too-large');
    expect(kindOf(() => unpackWhole(lying, entryOf(lying), 128 * 1024 * 1024))).toBe('damaged');
  });

  it('may be given up by whoever takes it, whose error is passed on', () => {
    const enough = () => {
      unpack(bomb, entryOf(bomb), {
        mostBytes: 1e9,
        onPiece: () => {
          throw new RangeError('enough');
        },
      });
    };
    expect(enough).toThrow(RangeError);
  });
});
