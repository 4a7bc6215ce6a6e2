/** A hand-in whose server is killed at each of its steps on disk. */
import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { build } from 'esbuild';
import { pino } from 'pino';
import { beforeAll, expect, it, onTestFinished } from 'vitest';

import { createServer } from '#server/app';
import { checkFolder } from '#server/backup';
import { openDatabase } from '#server/db';
import { createFileStore } from '#server/files';

import { NOON, openSchool, runnerOf } from '../testing/fixture.ts';

const FOLDER = '.cache/crash';
const CHILD = path.join(FOLDER, 'crash-child.mjs');

beforeAll(async () => {
  rmSync(FOLDER, { recursive: true, force: true });
  await build({
    entryPoints: ['server/testing/crash-child.ts'],
    outfile: CHILD,
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    logLevel: 'error',
  });
  cpSync('server/db/migrations', path.join(FOLDER, 'migrations'), { recursive: true });
});

/** Hands in under a name, and dies at a step; whether it was killed, and what was answered. */
function handIn(folder: string, key: string, step: number) {
  const { signal, stdout, stderr } = spawnSync(process.execPath, [CHILD, folder, key, String(step)], {
    encoding: 'utf8',
  });
  if (stderr !== '') throw new Error(stderr);
  return { isKilled: signal === 'SIGKILL', isAccepted: stdout === 'accepted' };
}

/** The same hand-in, at the next server on the folder. */
async function sendAgain(folder: string, key: string): Promise<void> {
  const db = openDatabase(path.join(folder, 'zorvet.sqlite'));
  const files = createFileStore(path.join(folder, 'files'), db, () => NOON);
  const runner = runnerOf(
    () => new Promise(() => undefined),
    () => files,
  );
  const log = pino({ level: 'silent' });
  const server = createServer({ db, files, runner, log, now: () => NOON }, { webRoot: null, secureCookie: false });
  const sent = await server.attempts.handIn({
    assignmentId: 1,
    studentId: db.prepare<[], number>("SELECT id FROM users WHERE login = 'ansel'").pluck().get() ?? 0,
    fileName: 'part.step',
    content: new TextEncoder().encode('a model'),
    fileUnit: null,
    typed: [],
    key,
  });
  server.queue.stop();
  db.close();
  expect(sent.ok).toBe(true);
}

/** The attempts of a folder, each with what its file holds. */
function attemptsIn(folder: string): readonly string[] {
  const db = openDatabase(path.join(folder, 'zorvet.sqlite'));
  const hashes = db.prepare<[], string>('SELECT file_sha256 FROM attempts ORDER BY id').pluck().all();
  const jobs = db.prepare('SELECT count(*) FROM jobs').pluck().get();
  db.close();
  expect(jobs).toBe(hashes.length);
  return hashes.map((sha256) => readFileSync(path.join(folder, 'files', sha256.slice(0, 2), sha256), 'utf8'));
}

it('is there whole or not at all, is never lost once it was answered, and sent again it is one attempt', async () => {
  const school = await openSchool();
  school.db.pragma('wal_checkpoint(TRUNCATE)');
  const room = mkdtempSync(path.join(tmpdir(), 'zorvet-'));
  onTestFinished(() => {
    rmSync(room, { recursive: true, force: true });
  });
  let steps = 0;
  for (let step = 1; ; step++) {
    const folder = path.join(room, String(step));
    cpSync(school.folder, folder, { recursive: true });
    const { isKilled, isAccepted } = handIn(folder, 'crash-test-1', step);
    const before = attemptsIn(folder);
    if (isAccepted) expect(before).toEqual(['a model']);
    else expect([[], ['a model']]).toContainEqual(before);
    await sendAgain(folder, 'crash-test-1');
    expect(attemptsIn(folder)).toEqual(['a model']);
    expect(await checkFolder(folder)).toMatchObject({ faults: [], attempts: 1, unreferenced: 0 });
    rmSync(folder, { recursive: true, force: true });
    if (!isKilled) break;
    steps = step;
  }
  // Opening, writing, syncing, closing and naming the file, syncing its folder, and the row: before and after each.
  expect(steps).toBeGreaterThan(12);
}, 300_000);
