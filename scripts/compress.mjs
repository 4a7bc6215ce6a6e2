/** Writes .gz and .br beside the scripts and styles of the built page, for the server to send. */
import { readdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

const folder = 'dist/web/assets';
for (const name of await readdir(folder)) {
  if (!/\.(js|css|wasm|svg)$/.test(name)) continue;
  const file = path.join(folder, name);
  const content = await readFile(file);
  await writeFile(`${file}.gz`, gzipSync(content, { level: 9 }));
  await writeFile(`${file}.br`, brotliCompressSync(content, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }));
}
