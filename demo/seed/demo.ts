/** The demo: the server at once, and its course made in the background, with its progress on the desk. */
import { existsSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

import { pino } from 'pino';

import type { Activity } from '#api';
import { serveMailbox, type Mailbox } from '#demo/mailbox';
import { serveStandIn } from '#demo/school-site';
import { listen, portOf, startOrSay, startServices } from '#server/app';
import { frontOf } from '#server/http';

import { openBench } from './bench.ts';
import { makeCourse } from './course.ts';
import { registerStandIn } from './school-site.ts';

const here = path.dirname(fileURLToPath(import.meta.url));
const dataFolder = path.resolve(process.env['ZORVET_DATA'] ?? 'data');
/** There as long as the course is not complete; an interrupted start is taken up again. */
const unfinished = path.join(dataFolder, 'demo-unfinished');
const isNew = !existsSync(path.join(dataFolder, 'zorvet.sqlite'));

const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
let activity: Activity | null = null;
/** What stands beside the server; the demo goes on without what finds its port taken. */
const beside = <T>(what: string, starting: Promise<T>): Promise<T | null> =>
  starting.catch((error: unknown) => {
    process.stderr.write(`${what} could not start: ${String(error)}\n`);
    return null;
  });
const { started, port } = await startOrSay(log, async () => {
  const asked = portOf(process.env['PORT'], 4310);
  const box: Mailbox | null = await beside(
    "The stand-in of the school's mail",
    serveMailbox({ smtp: asked + 3, page: asked + 2 }),
  );
  return {
    port: asked,
    started: await startServices({
      dataFolder,
      workerUrl: new URL('./worker.js', import.meta.url),
      log,
      mail: box === null ? null : { url: box.smtpUrl, from: 'Zorvet <zorvet@saltmarsh.example>' },
      web: {
        webRoot: path.resolve(here, '../web'),
        secureCookie: process.env['ZORVET_SECURE_COOKIE'] === '1',
        front: frontOf(`http://localhost:${String(asked)}`, undefined),
        activity: () => activity,
      },
    }),
  };
});
if (isNew) writeFileSync(unfinished, 'The demo course is being made.\n');

const site = await beside(
  "The stand-in of the school's site",
  serveStandIn({ port: port + 1, hostname: 'localhost' }, `http://localhost:${String(port)}`),
);
if (site !== null) registerStandIn(started.db, site.origin);

/** Says more of what is being made, or how far it is; what is not said again stays. */
function show(more: Partial<Activity>): void {
  activity = { what: 'The demo course is being made', done: 0, total: 0, ...activity, ...more };
}

async function finishCourse(): Promise<void> {
  const bench = openBench(new URL('./bench-worker.js', import.meta.url));
  show({});
  try {
    await makeCourse({
      started,
      model: bench.model,
      ...(site === null ? {} : { siteOrigin: site.origin }),
      say: (line) => {
        show({ what: `The demo course is being made: ${line.replace(/ \.\.\.$/, '')}` });
      },
      onProgress: (done, total) => {
        show({ done, total });
      },
    });
    rmSync(unfinished, { force: true });
    process.stdout.write('  The demo course is complete.\n');
  } finally {
    activity = null;
    await bench.close();
  }
}

listen(started, {
  port,
  hostname: process.env['HOST'] ?? '127.0.0.1',
  log,
  onListening: () => {
    const inBackground = process.env['ZORVET_BACKGROUND'] !== '0';
    const made = existsSync(unfinished) ? finishCourse() : Promise.resolve();
    made
      .then(() => {
        if (inBackground) started.services.background.start();
        started.mail?.start();
      })
      .catch((error: unknown) => {
        log.error({ error: error instanceof Error ? error.stack : String(error) }, 'the demo course was not finished');
        process.stderr.write(
          'The demo course could not be finished. bin/demo goes on with it; bin/demo --fresh makes it anew.\n',
        );
      });
  },
});
