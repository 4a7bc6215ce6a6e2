import { readdir, rm } from 'node:fs/promises';
import path from 'node:path';

import type { Logger } from 'pino';

import { BadSetting } from '#server/http';

import { backUp, type BackupNote } from './backup.ts';
import { NOTE } from './layout.ts';

export interface BackupSettings {
  /** Where the backups of each day lie; null for none. */
  readonly folder: string | null;
  /** From this hour on, of the machine's own time. */
  readonly hour: number;
  /** How many are kept. */
  readonly keep: number;
}

/** Reads the settings of the daily backup; "off" makes none. */
export function backupSettings(env: Readonly<Record<string, string | undefined>>, dataFolder: string): BackupSettings {
  const whole = (name: string, usual: number, least: number, most: number): number => {
    const text = env[name] ?? String(usual);
    const value = Number(text);
    if (!Number.isInteger(value) || value < least || value > most)
      throw new BadSetting(`${name} is "${text}": give a whole number from ${String(least)} to ${String(most)}.`);
    return value;
  };
  const folder = env['ZORVET_BACKUPS'] ?? path.join(dataFolder, 'backups');
  return {
    folder: folder === 'off' ? null : path.resolve(folder),
    hour: whole('ZORVET_BACKUP_HOUR', 3, 0, 23),
    keep: whole('ZORVET_BACKUP_KEEP', 14, 1, 1000),
  };
}

export interface DailyBackup {
  /** Looks now and then whether today's is due, as long as it is not stopped. */
  start(): void;
  /** Makes today's now, unless it is there or not due. */
  look(): Promise<void>;
  /** The newest one that was made or found, and why the last try failed. */
  state(): { readonly last: string | null; readonly problem: string | null };
  stop(): void;
}

export interface DailyBackupParts {
  readonly dataFolder: string;
  readonly settings: BackupSettings;
  readonly log: Logger;
  readonly now: () => Date;
  readonly make?: typeof backUp;
}

const LOOK_EVERY_MS = 10 * 60_000;
const DAY = /^\d{4}-\d{2}-\d{2}$/;
const two = (value: number): string => String(value).padStart(2, '0');
const dayOf = (date: Date): string =>
  `${String(date.getFullYear())}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;

/** One backup a day in a folder named by the day; the oldest are removed. */
export function createDailyBackup({ dataFolder, settings, log, now, make = backUp }: DailyBackupParts): DailyBackup {
  const { folder, hour, keep } = settings;
  let clock: NodeJS.Timeout | undefined;
  let underWay: Promise<void> | null = null;
  let [last, problem]: [string | null, string | null] = [null, null];

  /** The days of which there is a whole backup, the oldest first. */
  async function days(root: string): Promise<string[]> {
    const names = (await readdir(root).catch(() => [])).filter((name) => DAY.test(name)).sort();
    const whole = await Promise.all(names.map(async (name) => (await readdir(path.join(root, name))).includes(NOTE)));
    return names.filter((_, i) => whole[i]);
  }

  async function lookIn(root: string): Promise<void> {
    const there = await days(root);
    last = there.at(-1) ?? null;
    const today = dayOf(now());
    if (last === today || now().getHours() < hour) return;
    const previous = last === null ? null : path.join(root, last);
    const made = await make({ dataFolder, target: path.join(root, today), now, previous });
    if (!made.ok) {
      problem = made.problem.message;
      log.error({ problem }, 'the backup of today failed');
      return;
    }
    [last, problem] = [today, null];
    const { files, bytes }: BackupNote = made.value;
    log.info({ files, bytes }, 'backed up');
    for (const day of [...there, today].slice(0, -keep))
      await rm(path.join(root, day), { recursive: true, force: true });
  }

  function look(): Promise<void> {
    if (folder === null) return Promise.resolve();
    underWay ??= lookIn(folder)
      .catch((error: unknown) => {
        problem = String(error);
        log.error({ problem }, 'the backup of today failed');
      })
      .finally(() => {
        underWay = null;
      });
    return underWay;
  }

  return {
    look,
    start() {
      clock = setInterval(() => void look(), LOOK_EVERY_MS).unref();
      void look();
    },
    state: () => ({ last, problem }),
    stop() {
      clearInterval(clock);
    },
  };
}
