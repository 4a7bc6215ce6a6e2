/**
 * A process that hands in a file and dies by SIGKILL at one of its steps on disk: `node crash-child.js FOLDER KEY STEP`. Step 0
 * is never reached. Prints "accepted" when the hand-in was answered as such.
 */
import promises from 'node:fs/promises';
import { syncBuiltinESMExports } from 'node:module';
import path from 'node:path';

import { pino } from 'pino';

import { createServer } from '#server/app';
import { openDatabase } from '#server/db';
import { createFileStore } from '#server/files';

import { NOON, runnerOf } from './fixture.ts';

const [folder = '', key = '', at = '0'] = process.argv.slice(2);
let isArmed = false;
let step = 0;

function pass(): void {
  if (isArmed && ++step === Number(at)) process.kill(process.pid, 'SIGKILL');
}

/** Every call is a step before it and a step after it. */
function stepping<T extends object>(target: T, names: readonly (keyof T)[]): void {
  for (const name of names) {
    const original = target[name] as unknown as (...args: unknown[]) => unknown;
    const wrapped = async (...args: unknown[]): Promise<unknown> => {
      pass();
      const result = await original.apply(target, args);
      pass();
      return result;
    };
    Object.assign(target, { [name]: wrapped });
  }
}

const { open } = promises;
Object.assign(promises, {
  open: async (...args: Parameters<typeof open>) => {
    pass();
    const handle = await open(...args);
    stepping(handle, ['writeFile', 'sync', 'close']);
    return handle;
  },
});
stepping(promises, ['rename', 'mkdir', 'rm', 'stat']);
syncBuiltinESMExports();

const db = openDatabase(path.join(folder, 'zorvet.sqlite'));
const transaction = db.transaction.bind(db);
Object.assign(db, {
  transaction: (work: (...args: unknown[]) => unknown) => {
    const whole = transaction(work);
    return (...args: unknown[]): unknown => {
      pass();
      const result: unknown = whole(...args);
      pass();
      return result;
    };
  },
});
const files = createFileStore(path.join(folder, 'files'), db, () => NOON);
const runner = runnerOf(
  () => new Promise(() => undefined),
  () => files,
);
const { app } = createServer(
  { db, files, runner, log: pino({ level: 'silent' }), now: () => NOON },
  { webRoot: null, secureCookie: false },
);
const signIn = await app.request('/api/session', {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ login: 'ansel', password: 'tide' }),
});
const form = new FormData();
form.append('key', key);
form.append('file', new File(['a model'], 'part.step'));
isArmed = true;
const answer = await app.request('/api/work/1/attempts', {
  method: 'POST',
  headers: { cookie: signIn.headers.get('set-cookie')?.split(';')[0] ?? '', origin: 'http://localhost' },
  body: form,
});
process.stdout.write(answer.status === 202 ? 'accepted' : await answer.text());
process.exit(0);
