/** Opens the data folder, starts the workers, and puts the server together over them. */
import path from 'node:path';

import { serve } from '@hono/node-server';
import type { Logger } from 'pino';

import { MAX_GRADING_SECONDS } from '#api';
import { openDatabase, type Db } from '#server/db';
import { createFileStore, type FileStore } from '#server/files';
import { BadSetting } from '#server/http';
import { startPool, type Runner } from '#server/jobs';
import { createMailRound, createPostOffice, type MailRound, type MailSettings } from '#server/news';

import { opened, StartRefusal, takeFolder } from './folder.ts';
import { createServer, type Services } from './server.ts';
import type { WebOptions } from './services.ts';

export interface StartOptions {
  readonly dataFolder: string;
  /** URL of the bundled worker. */
  readonly workerUrl: URL;
  readonly log: Logger;
  readonly web: WebOptions;
  /** All workers may be busy in the background, as when a demo course is made. */
  readonly isAllForBackground?: boolean;
  /** Through whom mail is sent; null or left out where none is. */
  readonly mail?: MailSettings | null;
}

export interface Started {
  readonly db: Db;
  readonly files: FileStore;
  readonly runner: Runner;
  readonly services: Services;
  /** Mails what is new once it is started; null where no mail is sent. */
  readonly mail: MailRound | null;
  /** Ends in order: nothing new is begun, what runs is taken up again at the next start. */
  readonly close: () => Promise<void>;
}

/** Runs what may refuse to start: the refusal is said in a sentence, and the program ends with 2. */
export async function startOrSay<T>(log: Logger, start: () => Promise<T>): Promise<T> {
  try {
    return await start();
  } catch (error) {
    if (!(error instanceof StartRefusal || error instanceof BadSetting)) throw error;
    log.fatal(error.message);
    process.exit(2);
  }
}

/** Opens the data folder, which no other server may have, and starts what works on it. Throws a `StartRefusal`. */
export async function startServices({
  dataFolder,
  workerUrl,
  log,
  web,
  isAllForBackground = false,
  mail: mailSettings = null,
}: StartOptions): Promise<Started> {
  const now = (): Date => new Date();
  // What is written from here on, handed-in work and keys, is nobody else's business on the machine.
  process.umask(0o077);
  const letGo = takeFolder(dataFolder, now);
  const file = path.join(dataFolder, 'zorvet.sqlite');
  const db = openedOr(letGo, file);
  const files = createFileStore(path.join(dataFolder, 'files'), db, now);
  const runner = await startPool({ workerUrl, timeLimitMs: MAX_GRADING_SECONDS * 1000, log, isAllForBackground });
  const services = createServer({ db, files, runner, log, now }, { ...web, isMailSent: mailSettings !== null });
  const mail =
    mailSettings === null
      ? null
      : createMailRound({
          db,
          news: services.news,
          office: createPostOffice(mailSettings),
          publicUrl: web.front?.publicUrl ?? null,
          log,
          now,
        });
  const close = async (): Promise<void> => {
    services.queue.stop();
    services.background.stop();
    mail?.stop();
    await runner.close();
    db.close();
    letGo();
  };
  return { db, files, runner, services, mail, close };
}

function openedOr(letGo: () => void, file: string): Db {
  try {
    return opened(() => openDatabase(file), file);
  } catch (error) {
    letGo();
    throw error;
  }
}

export interface ListenOptions {
  readonly port: number;
  readonly hostname: string;
  readonly log: Logger;
  readonly onListening: () => void;
}

/** Serves until a signal comes; a port that is taken ends the program with a sentence. */
export function listen({ services, close }: Started, { port, hostname, log, onListening }: ListenOptions): void {
  const server = serve({ fetch: services.app.fetch, port, hostname }, (address) => {
    log.info({ port: address.port }, 'listening');
    if (services.setupCode !== null)
      log.info(
        { code: services.setupCode },
        'nobody has an account yet: open the page and type this code to make the first one',
      );
    onListening();
  });
  server.on('error', (error: NodeJS.ErrnoException) => {
    const taken = error.code === 'EADDRINUSE';
    log.fatal(taken ? 'This port is taken by another program; set PORT to a free one.' : error.message);
    process.exit(2);
  });
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.once(signal, () => {
      server.close();
      void close().finally(() => process.exit(0));
    });
}
