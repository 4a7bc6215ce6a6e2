import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';

import init from 'replicad-opencascadejs';

import { createKernel, type Kernel } from '#core/kernel';

let loaded: Promise<Kernel> | null = null;

/** The kernel for unit tests; one instance a test file. */
export function loadTestKernel(): Promise<Kernel> {
  loaded ??= (async () => {
    const wasmBinary = await readFile(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm'));
    return createKernel(await init({ wasmBinary, print() {}, printErr() {} }));
  })();
  return loaded;
}
