/** Starts the server: `node main.js`, configured by environment variables (see README). */
import path from 'node:path';
import { fileURLToPath } from 'node:url';

import { pino } from 'pino';

import { frontOf } from '#server/http';
import { listen, portOf, startOrSay, startServices } from '#server/app';

const here = path.dirname(fileURLToPath(import.meta.url));
const log = pino({ level: process.env['LOG_LEVEL'] ?? 'info' });
const { started, port } = await startOrSay(log, async () => ({
  port: portOf(process.env['PORT'], 4310),
  started: await startServices({
    dataFolder: path.resolve(process.env['ZORVET_DATA'] ?? 'data'),
    workerUrl: new URL('./worker.js', import.meta.url),
    log,
    web: {
      webRoot: path.resolve(here, '../web'),
      secureCookie: process.env['ZORVET_SECURE_COOKIE'] === '1',
      front: frontOf(process.env['ZORVET_PUBLIC_URL'], process.env['ZORVET_TRUSTED_PROXIES']),
    },
  }),
}));
listen(started, {
  port,
  hostname: process.env['HOST'] ?? '127.0.0.1',
  log,
  onListening: () => {
    if (process.env['ZORVET_BACKGROUND'] !== '0') started.services.background.start();
  },
});
