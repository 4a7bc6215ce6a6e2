/** Loads the geometry kernel in a worker of the page. */
import init from 'replicad-opencascadejs';
import wasmUrl from 'replicad-opencascadejs/wasm?url';

import { createKernel, type Kernel } from '#core/kernel';

export async function loadKernel(): Promise<Kernel> {
  const module = await WebAssembly.compileStreaming(fetch(wasmUrl));
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
