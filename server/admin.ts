/** Commands for whoever runs the server: `zorvet backup`, `restore`, `check`. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

import { Command } from 'commander';
import { pino } from 'pino';

import type { Problem } from '#core/problem';
import { listen, portOf, StartRefusal, startServices, takeFolder } from '#server/app';
import { resetPassword } from '#server/auth';
import { backUp, checkFolder, restore } from '#server/backup';
import { openDatabase } from '#server/db';
import { openTerm } from '#server/term';

const HERE = path.dirname(fileURLToPath(import.meta.url));

const now = (): Date => new Date();
const say = (text: string): void => {
  process.stdout.write(`${text}\n`);
};
const fail = (text: string, code = 1): never => {
  process.stderr.write(`${text}\n`);
  process.exit(code);
};
const failWith = ({ message }: Problem): never => fail(message);
const inMegabytes = (bytes: number): string => `${(bytes / 1024 / 1024).toFixed(1)} MB`;
const data = ['--data <folder>', 'the data folder', process.env['ZORVET_DATA'] ?? 'data'] as const;

const program = new Command('zorvet').description('Commands for whoever runs the server');

program
  .command('backup')
  .argument('<folder>', 'a new folder for the copy')
  .option(...data)
  .description('copies database and files while the server runs, and verifies the copy')
  .action(async (folder: string, options: { data: string }) => {
    const made = await backUp({ dataFolder: path.resolve(options.data), target: path.resolve(folder), now });
    if (!made.ok) return failWith(made.problem);
    const { files, bytes } = made.value;
    say(`Backed up to ${folder}: the database and ${String(files)} files, ${inMegabytes(bytes)}, each verified.`);
  });

program
  .command('restore')
  .argument('<folder>', 'a backup')
  .option(...data)
  .option('--replace', 'move aside what is in the data folder', false)
  .description('puts a backup in the place of a data folder; the server must not run')
  .action(async (folder: string, options: { data: string; replace: boolean }) => {
    const dataFolder = path.resolve(options.data);
    const letGo = held(dataFolder);
    const put = await restore(path.resolve(folder), dataFolder, { replace: options.replace, now });
    letGo();
    if (!put.ok) return failWith(put.problem);
    const { note, keptIn } = put.value;
    say(`Put back as of ${note.madeAt}: the database and ${String(note.files)} files.`);
    if (keptIn !== null) say(`What was there before is in ${keptIn}.`);
  });

program
  .command('check')
  .argument('[folder]', 'a backup, instead of the data folder')
  .option(...data)
  .description('verifies database, references and every file')
  .action(async (folder: string | undefined, options: { data: string }) => {
    const { files, bytes, attempts, faults, unreferenced } = await checkFolder(path.resolve(folder ?? options.data));
    for (const fault of faults) say(fault);
    if (unreferenced > 0) say(`${String(unreferenced)} files belong to nothing; they only take room.`);
    if (faults.length > 0) return fail(`${String(faults.length)} faults.`);
    say(`Whole: ${String(attempts)} attempts, ${String(files)} files, ${inMegabytes(bytes)}.`);
  });

program
  .command('password')
  .argument('<name>', 'the sign-in name of somebody')
  .option(...data)
  .description('gives somebody a new password, and ends their sessions; the server may run')
  .action(async (name: string, options: { data: string }) => {
    const db = openDatabase(path.join(path.resolve(options.data), 'zorvet.sqlite'));
    const password = await resetPassword(db, name);
    db.close();
    if (password === null) return fail(`Nobody here signs in as "${name}".`);
    say(`${name} signs in with "${password}" from now on.`);
  });

program
  .command('open')
  .argument('<archive>', 'a course that was saved as a zip')
  .option('--port <port>', 'where it is shown', '4320')
  .description('shows the archive of a course on this machine; nothing in it can be changed')
  .action(async (archive: string, options: { port: string }) => {
    const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-archive-'));
    process.once('exit', () => {
      rmSync(folder, { recursive: true, force: true });
    });
    const opened = await openTerm(path.resolve(archive), folder);
    if (!opened.ok) return failWith(opened.problem);
    const { note, readerId } = opened.value;
    const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
    const port = portOf(options.port, 4320);
    const started = await startServices({
      dataFolder: folder,
      workerUrl: new URL('./worker.js', import.meta.url),
      log,
      web: { webRoot: path.resolve(HERE, '../web'), secureCookie: false, readOnlyAs: readerId },
    });
    listen(started, {
      port,
      hostname: '127.0.0.1',
      log,
      onListening: () => {
        say(`${note.course.title} as of ${note.madeAt}: http://127.0.0.1:${String(port)} (end it with Ctrl+C)`);
      },
    });
  });

/** Keeps servers out of a data folder; ends with a sentence where one works on it. */
function held(dataFolder: string): () => void {
  try {
    return takeFolder(dataFolder, now);
  } catch (error) {
    if (error instanceof StartRefusal) fail(error.message, 2);
    throw error;
  }
}

await program.parseAsync();
