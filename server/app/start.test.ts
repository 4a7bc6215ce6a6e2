/** What keeps a server from starting is said in a sentence. */
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { pino } from 'pino';
import { expect, it, onTestFinished } from 'vitest';

import { portOf, startServices, type Started } from '#server/app';
import { openDatabase } from '#server/db';

function place(): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-start-'));
  onTestFinished(() => {
    rmSync(folder, { recursive: true, force: true });
  });
  return path.join(folder, 'data');
}

const start = (dataFolder: string): Promise<Started> =>
  startServices({
    dataFolder,
    workerUrl: new URL('../testing/worn-worker.mjs', import.meta.url),
    log: pino({ level: 'silent' }),
    web: { webRoot: null, secureCookie: false },
  });

it('a folder that is not there is made, for its owner alone', async () => {
  const folder = place();
  const { close } = await start(folder);
  await close();
  expect(statSync(folder).mode & 0o777).toBe(0o700);
  expect(statSync(path.join(folder, 'zorvet.sqlite')).mode & 0o077).toBe(0);
});

it('a second server on one folder is refused, and told which one has it; afterwards the folder is free', async () => {
  const folder = place();
  const { close } = await start(folder);
  await expect(start(folder)).rejects.toThrow(new RegExp(`process ${String(process.pid)} on .*Stop it first`));
  await close();
  const again = await start(folder);
  await again.close();
});

it('a path that is a file, and a database that is damaged or newer, are refused with what to do', async () => {
  const file = place();
  writeFileSync(file, 'no folder');
  await expect(start(file)).rejects.toThrow(/cannot be written to/);

  const damaged = place();
  await (await start(damaged)).close();
  rmSync(path.join(damaged, 'zorvet.sqlite'));
  writeFileSync(path.join(damaged, 'zorvet.sqlite'), 'not a database, though it has its name'.repeat(50));
  await expect(start(damaged)).rejects.toThrow(/is damaged .* Put back the last backup/);
  expect(readFileSync(path.join(damaged, 'zorvet.sqlite'), 'utf8')).toContain('not a database');

  const newer = place();
  await (await start(newer)).close();
  const db = openDatabase(path.join(newer, 'zorvet.sqlite'));
  db.pragma('user_version = 9999');
  db.close();
  await expect(start(newer)).rejects.toThrow(/made by a newer version of Zorvet/);
});

it('what was half written is cleared away at the next start', async () => {
  const folder = place();
  await (await start(folder)).close();
  const half = path.join(folder, 'files', 'incoming', 'half-written');
  writeFileSync(half, 'ISO-10303-21; and so');
  await (await start(folder)).close();
  expect(existsSync(half)).toBe(false);
});

it('a port is a whole number that there is', () => {
  expect(portOf(undefined, 4310)).toBe(4310);
  expect(portOf('8080', 4310)).toBe(8080);
  for (const wrong of ['abc', '-1', '70000', '80.5']) expect(() => portOf(wrong, 4310)).toThrow(/which is no port/);
});
