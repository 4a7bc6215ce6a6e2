/** Finds and loads the geometry kernel under Node: for worker threads, the command line, tests and benchmarks. */
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import v8 from 'node:v8';

import loadMeshLibrary from 'manifold-3d';
import init from 'replicad-opencascadejs';

import { createKernel, type Kernel } from '#core/kernel';
import { createOverlayer, type Overlayer } from '#core/overlay';

/** Memory pages of 64 KiB that a kernel may grow to: 768 MiB. A model that needs more ends its own job only. */
const MAX_PAGES = 12_288;

/**
 * Keeps the process on the baseline compiler. The kernel's code is large and most of it runs rarely: without this the
 * first jobs take many times longer. Call before the kernel is compiled.
 */
export function useBaselineCompiler(): void {
  v8.setFlagsFromString('--liftoff-only');
}

/** Reads the unsigned LEB128 number at `at`; gives its value and the position behind it. */
function readNumber(bytes: Uint8Array, at: number): readonly [value: number, next: number] {
  let value = 0;
  let shift = 0;
  for (let i = at; ; i++) {
    const byte = bytes[i] ?? 0;
    value += (byte & 0x7f) * 2 ** shift;
    shift += 7;
    if (byte < 0x80) return [value, i + 1];
  }
}

/** Lowers the maximum in the memory section (id 5) of a wasm binary, in place and of the same length. */
export function capMemory(wasm: Uint8Array, maxPages: number): void {
  for (let at = 8; at < wasm.length;) {
    const id = wasm[at];
    const [size, body] = readNumber(wasm, at + 1);
    if (id === 5) {
      const [, flags] = readNumber(wasm, body);
      const hasMaximum = ((wasm[flags] ?? 0) & 1) === 1;
      const [, maximumAt] = readNumber(wasm, flags + 1);
      const [maximum, end] = readNumber(wasm, maximumAt);
      if (!hasMaximum || maximum <= maxPages) return;
      let rest = maxPages;
      for (let i = maximumAt; i < end; i++) {
        wasm[i] = (rest & 0x7f) | (i < end - 1 ? 0x80 : 0);
        rest >>= 7;
      }
      return;
    }
    at = body + size;
  }
}

/** Compiles the kernel once; the module can be handed to any number of threads. */
export async function compileKernel(): Promise<WebAssembly.Module> {
  const wasm = await readFile(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm'));
  capMemory(wasm, MAX_PAGES);
  return WebAssembly.compile(wasm);
}

/** A fresh kernel from a compiled module. */
export async function startKernel(module: WebAssembly.Module): Promise<Kernel> {
  const oc = await init({
    print() {},
    printErr() {},
    instantiateWasm(
      imports: WebAssembly.Imports,
      done: (instance: WebAssembly.Instance, module: WebAssembly.Module) => void,
    ) {
      void WebAssembly.instantiate(module, imports).then((instance) => {
        done(instance, module);
      });
      return {};
    },
  });
  return createKernel(oc);
}

/** The compiled kernel of this process: a second kernel starts in milliseconds. */
let compiled: Promise<WebAssembly.Module> | undefined;

/** Compiles and starts a kernel for a process that needs just one. */
export const loadKernel = async (): Promise<Kernel> => {
  compiled ??= compileKernel();
  return startKernel(await compiled);
};

/** Loads the mesh library that compares solids. */
export async function loadOverlayer(): Promise<Overlayer> {
  const library = await loadMeshLibrary();
  library.setup();
  return createOverlayer(library);
}
