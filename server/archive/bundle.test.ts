import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';

import { bundle, type BundleEntry } from '#server/archive';

const text = (name: string): BundleEntry => ({
  name,
  content: async () => Promise.resolve(new TextEncoder().encode(`content of ${name}`)),
});
const broken: BundleEntry = { name: 'b.txt', content: () => Promise.reject(new Error('gone')) };
const bytesOf = async (stream: ReadableStream<Uint8Array>): Promise<Uint8Array> =>
  new Uint8Array(await new Response(stream).arrayBuffer());

/** Entries that say whether they were let go. */
function watched(...entries: readonly BundleEntry[]) {
  const state = { ended: false };
  const generator = (function* () {
    try {
      yield* entries;
    } finally {
      state.ended = true;
    }
  })();
  return { state, generator };
}

describe('a zip that is packed while it is sent', () => {
  it('has each entry, and a text in the place of one that cannot be read', async () => {
    const files = unzipSync(await bytesOf(bundle([text('a.txt'), broken, text('c.txt')])));
    expect(Object.keys(files)).toEqual(['a.txt', 'b.txt could not be read.txt', 'c.txt']);
    expect(strFromU8(files['a.txt'] ?? new Uint8Array())).toBe('content of a.txt');
  });

  it('fails where only the whole is of use, and lets go of what it held', async () => {
    const { state, generator } = watched(text('a.txt'), broken);
    await expect(bytesOf(bundle(generator, { whole: true }))).rejects.toThrow('gone');
    expect(state.ended).toBe(true);
  });

  it('lets go of what it held when nobody reads on', async () => {
    const { state, generator } = watched(text('a.txt'), text('b.txt'), text('c.txt'));
    const reader = bundle(generator).getReader();
    await reader.read();
    await reader.cancel();
    expect(state.ended).toBe(true);
  });
});
