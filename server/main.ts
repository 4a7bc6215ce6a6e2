/** Starts the server: `node main.js`, configured by environment variables (see README). */
import path from 'node:path';
import { fileURLToPath } from 'node:url';

import { serve } from '@hono/node-server';
import { pino } from 'pino';

import { MAX_GRADING_SECONDS } from '#api';
import { createServer } from '#server/app';
import { openDatabase } from '#server/db';
import { createFileStore } from '#server/files';
import { startPool } from '#server/jobs';

const here = path.dirname(fileURLToPath(import.meta.url));
const dataFolder = path.resolve(process.env['ZORVET_DATA'] ?? 'data');
const log = pino({ level: process.env['LOG_LEVEL'] ?? 'info' });
const now = (): Date => new Date();

const db = openDatabase(path.join(dataFolder, 'zorvet.sqlite'));
const files = createFileStore(path.join(dataFolder, 'files'), db, now);
const runner = await startPool({
  workerUrl: new URL('./worker.js', import.meta.url),
  timeLimitMs: MAX_GRADING_SECONDS * 1000,
  log,
});
const { app, queue, atlases } = createServer(
  { db, files, runner, log, now },
  { webRoot: path.resolve(here, '../web'), secureCookie: process.env['ZORVET_SECURE_COOKIE'] === '1' },
);

const server = serve(
  { fetch: app.fetch, port: Number(process.env['PORT'] ?? 4310), hostname: process.env['HOST'] ?? '127.0.0.1' },
  ({ port }) => {
    log.info({ port }, 'listening');
    if (process.env['ZORVET_BACKGROUND'] !== '0') atlases.start();
  },
);

server.on('error', (error: NodeJS.ErrnoException) => {
  const taken = error.code === 'EADDRINUSE';
  log.fatal(taken ? 'This port is taken by another program; set PORT to a free one.' : error.message);
  process.exit(1);
});

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => {
    queue.stop();
    atlases.stop();
    server.close();
    void runner.close().finally(() => {
      db.close();
      process.exit(0);
    });
  });
