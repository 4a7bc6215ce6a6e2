import { cp, mkdir, readdir, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';

import * as v from 'valibot';

import { refuse, succeed, type Result } from '#core/problem';

import { BackupNoteSchema, type BackupNote } from './backup.ts';
import { checkFolder } from './check.ts';
import { DATABASE, FILES, NOTE } from './layout.ts';

/** What of a data folder a backup stands for; the rest is left. */
const OURS = [DATABASE, `${DATABASE}-wal`, `${DATABASE}-shm`, FILES] as const;

export interface Restored {
  readonly note: BackupNote;
  /** Where what was in the data folder before is kept; null where nothing was. */
  readonly keptIn: string | null;
}

/**
 * Puts a backup in the place of a data folder that no server works on; what was there before is kept beside it. The backup
 * is looked through first. Refuses with `no-backup`, `damaged-data`, and `data-there` unless `replace` is said.
 */
export async function restore(
  backup: string,
  dataFolder: string,
  { replace, now }: { readonly replace: boolean; readonly now: () => Date },
): Promise<Result<Restored>> {
  const text = await readFile(path.join(backup, NOTE), 'utf8').catch(() => 'null');
  const note = v.safeParse(v.pipe(v.string(), v.parseJson(), BackupNoteSchema), text);
  if (!note.success) return refuse('no-backup', `"${backup}" is no backup of Zorvet, or was not completed.`);
  const { faults } = await checkFolder(backup);
  const [first] = faults;
  if (first !== undefined)
    return refuse('damaged-data', `The backup is damaged and was not put back. ${first} Take an earlier one.`);
  const there = (await readdir(dataFolder).catch(() => [])).filter((name) =>
    (OURS as readonly string[]).includes(name),
  );
  if (there.length > 0 && !replace)
    return refuse('data-there', `There is data in "${dataFolder}". With --replace it is moved aside, not removed.`);
  const keptIn =
    there.length === 0 ? null : path.join(dataFolder, `before-restore-${now().toISOString().replaceAll(':', '-')}`);
  const coming = path.join(dataFolder, 'restoring');
  await rm(coming, { recursive: true, force: true });
  await mkdir(coming, { recursive: true, mode: 0o700 });
  await cp(path.join(backup, DATABASE), path.join(coming, DATABASE));
  await cp(path.join(backup, FILES), path.join(coming, FILES), { recursive: true }).catch((error: unknown) => {
    // A backup without any file has no folder for them.
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  });
  if (keptIn !== null) {
    await mkdir(keptIn, { recursive: true });
    for (const name of there) await rename(path.join(dataFolder, name), path.join(keptIn, name));
  }
  for (const name of await readdir(coming)) await rename(path.join(coming, name), path.join(dataFolder, name));
  await rm(coming, { recursive: true, force: true });
  return succeed({ note: note.output, keptIn });
}
