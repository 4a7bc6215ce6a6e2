import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createInterface } from 'node:readline';

import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  export interface ProvidedContext {
    baseUrl: string;
  }
}

/** Waits for the line in which the server says its port. */
function portOf(server: ChildProcess): Promise<number> {
  return new Promise((resolve, reject) => {
    if (server.stdout === null) throw new Error('no output');
    createInterface({ input: server.stdout }).on('line', (line) => {
      const port = /"port":(\d+)/.exec(line)?.[1];
      if (port) resolve(Number(port));
    });
    server.once('exit', (code) => {
      reject(new Error(`the server ended with ${String(code)}`));
    });
  });
}

/** A fresh demo database and the built server on a free port, for all browser tests. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-e2e-'));
  const env = {
    ...process.env,
    ZORVET_DATA: path.join(folder, 'data'),
    PORT: '0',
    LOG_LEVEL: 'info',
    ZORVET_BACKGROUND: '0',
  };
  const seeded = spawnSync(process.execPath, ['dist/node/seed.js'], { env, encoding: 'utf8' });
  if (seeded.status !== 0) throw new Error(`the demo database was not made:\n${seeded.stdout}\n${seeded.stderr}`);
  const server = spawn(process.execPath, ['--enable-source-maps', 'dist/node/main.js'], {
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  project.provide('baseUrl', `http://127.0.0.1:${String(await portOf(server))}`);
  return async () => {
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill('SIGTERM');
    await ended;
    rmSync(folder, { recursive: true, force: true });
  };
}
