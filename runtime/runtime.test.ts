import { describe, expect, it } from 'vitest';

import { capMemory } from '#runtime';

/** A wasm module of one memory: header, memory section (id 5) with one entry of flags, minimum and maximum. */
const moduleWith = (...memory: number[]): Uint8Array =>
  Uint8Array.from([0, 0x61, 0x73, 0x6d, 1, 0, 0, 0, 5, memory.length + 1, 1, ...memory]);

/** 65536 and 12288 as LEB128 of three bytes. */
const MANY = [0x80, 0x80, 0x04];
const FEWER = [0x80, 0xe0, 0x00];

describe('the memory of a kernel', () => {
  it('is capped in place, without changing the length of the module', () => {
    const wasm = moduleWith(1, 16, ...MANY);
    capMemory(wasm, 12_288);
    expect([...wasm.slice(-3)]).toEqual(FEWER);
    expect(WebAssembly.validate(new Uint8Array(wasm))).toBe(true);
  });

  it('is left alone when it is smaller already, or has no maximum', () => {
    for (const memory of [
      [1, 16, 32],
      [0, 16],
    ]) {
      const wasm = moduleWith(...memory);
      const before = [...wasm];
      capMemory(wasm, 12_288);
      expect([...wasm]).toEqual(before);
    }
  });

  it('is found behind other sections', () => {
    const custom = [0, 3, 1, 0x7a, 9];
    const plain = moduleWith(1, 16, ...MANY);
    const wasm = Uint8Array.from([...plain.slice(0, 8), ...custom, ...plain.slice(8)]);
    capMemory(wasm, 12_288);
    expect([...wasm.slice(-3)]).toEqual(FEWER);
  });
});
