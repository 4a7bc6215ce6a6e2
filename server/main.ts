/** Starts the server: `node main.js`, configured by environment variables (see README). */
import path from 'node:path';
import { fileURLToPath } from 'node:url';

import { pino } from 'pino';

import { backupSettings, createDailyBackup } from '#server/backup';
import { BadSetting, frontOf } from '#server/http';
import { mailSettings } from '#server/news';
import { isTimeZone } from '#core/time';
import { listen, portOf, startOrSay, startServices } from '#server/app';

const here = path.dirname(fileURLToPath(import.meta.url));
const log = pino({ level: process.env['LOG_LEVEL'] ?? 'info' });
const { env } = process;
const dataFolder = path.resolve(env['ZORVET_DATA'] ?? 'data');
const now = (): Date => new Date();
const { started, port, daily } = await startOrSay(log, async () => {
  const settings = backupSettings(env, dataFolder);
  const backups = createDailyBackup({ dataFolder, settings, log, now });
  return {
    port: portOf(env['PORT'], 4310),
    daily: backups,
    started: await startServices({
      dataFolder,
      workerUrl: new URL('./worker.js', import.meta.url),
      log,
      mail: mailSettings(env),
      web: {
        webRoot: path.resolve(here, '../web'),
        ...timeZoneSetting(env['ZORVET_TIME_ZONE']),
        secureCookie: env['ZORVET_SECURE_COOKIE'] === '1',
        front: frontOf(env['ZORVET_PUBLIC_URL'], env['ZORVET_TRUSTED_PROXIES']),
        backup: () => ({ folder: settings.folder, ...backups.state() }),
        metricsToken: env['ZORVET_METRICS_TOKEN'] ?? null,
      },
    }),
  };
});
/** The zone of the environment; throws a `BadSetting` for what is none. */
function timeZoneSetting(name: string | undefined): { readonly timeZone?: string } {
  if (name === undefined || name === '') return {};
  if (!isTimeZone(name))
    throw new BadSetting(`ZORVET_TIME_ZONE is "${name}", which is no time zone: write one such as "Europe/London".`);
  return { timeZone: name };
}

listen(started, {
  port,
  hostname: env['HOST'] ?? '127.0.0.1',
  log,
  onListening: () => {
    daily.start();
    started.mail?.start();
    if (env['ZORVET_BACKGROUND'] !== '0') started.services.background.start();
  },
});
