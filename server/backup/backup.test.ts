import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { pino } from 'pino';
import { describe, expect, it, onTestFinished } from 'vitest';

import type { Result } from '#core/problem';
import { backUp, backupSettings, checkFolder, createDailyBackup, restore } from '#server/backup';
import { openDatabase } from '#server/db';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

const now = () => NOON;
const codeOf = (result: Result<unknown>): string => (result.ok ? '' : result.problem.code);

/** A school with one attempt that was measured, and room for copies of it. */
async function openHandedIn() {
  const school = await openSchool();
  await school.handIn('ansel', school.assignmentId, 'a model');
  await school.queue.idle();
  const room = mkdtempSync(path.join(tmpdir(), 'zorvet-'));
  onTestFinished(() => {
    rmSync(room, { recursive: true, force: true });
  });
  return { school, copy: path.join(room, 'copy'), other: path.join(room, 'other'), room };
}
const back = (school: School, target: string, previous: string | null = null) =>
  backUp({ dataFolder: school.folder, target, now, previous });

/** The file that an attempt was handed in as, in a data folder or a backup. */
function fileOf(school: School, folder: string): string {
  const sha256 = school.db.prepare<[], string>('SELECT file_sha256 FROM attempts').pluck().get() ?? '';
  return path.join(folder, 'files', sha256.slice(0, 2), sha256);
}

describe('a backup of a server that runs', () => {
  it('is whole, and put back it has what was there then and nothing of what came later', async () => {
    const { school, copy, other } = await openHandedIn();
    const made = await back(school, copy);
    expect(made.ok && made.value).toMatchObject({ format: 'zorvet-backup', madeAt: NOON.toISOString() });
    await school.handIn('fia', school.assignmentId, 'another model');
    await school.queue.idle();
    expect((await checkFolder(copy)).faults).toEqual([]);
    const put = await restore(copy, other, { replace: false, now });
    expect(put.ok && put.value.keptIn).toBeNull();
    const db = openDatabase(path.join(other, 'zorvet.sqlite'));
    expect(db.prepare('SELECT student_id FROM attempts').pluck().all()).toHaveLength(1);
    expect(db.prepare('SELECT count(*) FROM reports').pluck().get()).toBe(1);
    db.close();
    expect(readFileSync(fileOf(school, other), 'utf8')).toBe('a model');
  });

  it('overwrites nothing', async () => {
    const { school, copy, room } = await openHandedIn();
    expect((await back(school, copy)).ok).toBe(true);
    expect(codeOf(await back(school, copy))).toBe('backup-target');
    expect(codeOf(await backUp({ dataFolder: room, target: path.join(room, 'x'), now }))).toBe('backup-target');
  });

  it('of which a file is missing or damaged is refused, names it, and leaves nothing behind', async () => {
    const { school, copy, room } = await openHandedIn();
    const file = fileOf(school, school.folder);
    writeFileSync(file, 'A MODEL');
    const damaged = await back(school, copy);
    expect([codeOf(damaged), damaged.ok ? '' : damaged.problem.message]).toEqual([
      'damaged-data',
      expect.stringContaining(path.basename(file)),
    ]);
    rmSync(file);
    expect(codeOf(await back(school, copy))).toBe('damaged-data');
    expect(readdirSync(room)).toEqual([]);
  });

  it('shares with the one before what did not change', async () => {
    const { school, copy, other } = await openHandedIn();
    await back(school, copy);
    await back(school, other, copy);
    expect(statSync(fileOf(school, other)).ino).toBe(statSync(fileOf(school, copy)).ino);
    expect((await checkFolder(other)).faults).toEqual([]);
  });
});

describe('putting a backup back', () => {
  it('keeps what was in the folder, and only where that is said', async () => {
    const { school, copy, other } = await openHandedIn();
    await back(school, copy);
    await restore(copy, other, { replace: false, now });
    expect(codeOf(await restore(copy, other, { replace: false, now }))).toBe('data-there');
    const put = await restore(copy, other, { replace: true, now });
    const kept = put.ok ? (put.value.keptIn ?? '') : '';
    expect((await checkFolder(kept)).faults).toEqual([]);
    expect((await checkFolder(other)).faults).toEqual([]);
  });

  it('refuses one that is damaged, or was not completed, and changes nothing', async () => {
    const { school, copy, other } = await openHandedIn();
    await back(school, copy);
    writeFileSync(fileOf(school, copy), 'something');
    expect((await checkFolder(copy)).faults).toEqual([expect.stringContaining('is damaged')]);
    expect(codeOf(await restore(copy, other, { replace: false, now }))).toBe('damaged-data');
    rmSync(path.join(copy, 'backup.json'));
    expect(codeOf(await restore(copy, other, { replace: false, now }))).toBe('no-backup');
    expect(existsSync(other)).toBe(false);
  });
});

describe('a look through a data folder', () => {
  it('finds what is missing, what is torn, and what belongs to nothing', async () => {
    const { school } = await openHandedIn();
    await school.files.put(Buffer.from('more'));
    school.db
      .prepare('DELETE FROM files WHERE size_bytes = 4 AND sha256 NOT IN (SELECT file_sha256 FROM attempts)')
      .run();
    rmSync(fileOf(school, school.folder));
    school.db.pragma('foreign_keys = OFF');
    school.db.exec('DELETE FROM assignments WHERE id = 1');
    const { faults, unreferenced, attempts } = await checkFolder(school.folder);
    expect([unreferenced, attempts]).toEqual([1, 1]);
    expect(faults).toContainEqual(expect.stringContaining('is missing'));
    expect(faults).toContainEqual('A row of "attempts" refers to one of "assignments" that is not there.');
  });

  it('of a folder without database, or with one that is none, says so', async () => {
    const { room } = await openHandedIn();
    expect((await checkFolder(room)).faults).toEqual([`There is no database in "${room}".`]);
    writeFileSync(path.join(room, 'zorvet.sqlite'), 'no database');
    expect((await checkFolder(room)).faults).toEqual([expect.stringContaining('cannot be read')]);
  });
});

describe('the backup of each day', () => {
  it('is made once, after its hour, and kept for as many days as are wanted', async () => {
    const { school, room } = await openHandedIn();
    let time = new Date(2026, 4, 1, 2, 30);
    const settings = { folder: room, hour: 3, keep: 14 };
    const daily = createDailyBackup({
      dataFolder: school.folder,
      settings,
      log: pino({ level: 'silent' }),
      now: () => time,
    });
    await daily.look();
    expect(readdirSync(room)).toEqual([]);
    for (let day = 1; day <= 20; day++)
      for (const hour of [3, 15]) {
        time = new Date(2026, 4, day, hour);
        await daily.look();
      }
    const days = readdirSync(room).sort();
    expect([days.length, days[0], days.at(-1)]).toEqual([14, '2026-05-07', '2026-05-20']);
    expect(daily.state()).toEqual({ last: '2026-05-20', problem: null });
    expect((await checkFolder(path.join(room, '2026-05-20'))).faults).toEqual([]);
  });

  it('that fails is said, and tried again', async () => {
    const { school, room } = await openHandedIn();
    const file = fileOf(school, school.folder);
    const content = readFileSync(file);
    rmSync(file);
    const settings = { folder: room, hour: 0, keep: 14 };
    const daily = createDailyBackup({ dataFolder: school.folder, settings, log: pino({ level: 'silent' }), now });
    await daily.look();
    expect(daily.state()).toEqual({ last: null, problem: expect.stringContaining('is missing') as string });
    writeFileSync(file, content);
    await daily.look();
    expect(daily.state()).toEqual({ last: '2026-05-04', problem: null });
  });

  it('has settings, which are refused where they are none', () => {
    expect(backupSettings({}, '/data')).toEqual({ folder: '/data/backups', hour: 3, keep: 14 });
    expect(backupSettings({ ZORVET_BACKUPS: 'off' }, '/data').folder).toBeNull();
    expect(() => backupSettings({ ZORVET_BACKUP_HOUR: '25' }, '/data')).toThrow('ZORVET_BACKUP_HOUR');
    expect(() => backupSettings({ ZORVET_BACKUP_KEEP: 'all' }, '/data')).toThrow('ZORVET_BACKUP_KEEP');
  });
});
