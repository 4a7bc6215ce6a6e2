import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createInterface } from 'node:readline';

import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  export interface ProvidedContext {
    /** Of the server of each worker. */
    baseUrls: readonly string[];
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

async function stop(server: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => server.once('exit', resolve));
  server.kill('SIGTERM');
  await ended;
}

function seededIn(course: string): string {
  const seeded = spawnSync(process.execPath, ['dist/node/seed.js', '--for-tests'], {
    env: { ...process.env, ZORVET_DATA: course },
    encoding: 'utf8',
  });
  if (seeded.status !== 0) throw new Error(`the demo database was not made:\n${seeded.stdout}\n${seeded.stderr}`);
  return course;
}

/**
 * A fresh demo course (or that of `ZORVET_COURSE`, a data folder that `seed.js` made), and for each worker a copy of it with the built server on a free port: files that run side by
 * side do not see each other's changes.
 */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-e2e-'));
  const course = process.env['ZORVET_COURSE'] ?? seededIn(path.join(folder, 'course'));
  const servers = Array.from({ length: project.config.maxWorkers }, (_, worker) => {
    const data = path.join(folder, `data-${String(worker)}`);
    cpSync(course, data, { recursive: true });
    return spawn(process.execPath, ['--enable-source-maps', 'dist/node/main.js'], {
      env: {
        ...process.env,
        ZORVET_DATA: data,
        PORT: '0',
        LOG_LEVEL: 'info',
        ZORVET_BACKGROUND: '0',
        ZORVET_BACKUPS: 'off',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
  });
  const ports = await Promise.all(servers.map(portOf));
  project.provide(
    'baseUrls',
    ports.map((port) => `http://127.0.0.1:${String(port)}`),
  );
  return async () => {
    await Promise.all(servers.map(stop));
    rmSync(folder, { recursive: true, force: true });
  };
}
