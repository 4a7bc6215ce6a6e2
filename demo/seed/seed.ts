/** Makes a demo database and ends: `node seed.js` a whole one, `--for-tests` what the browser tests need, `--bare` one exercise and people. */
import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';

import { pino } from 'pino';

import { startServices } from '#server/app';

import { openBench } from './bench.ts';
import { makeCourse, type CourseOptions } from './course.ts';

const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};

/** What the browser tests look at. */
const FOR_TESTS: CourseOptions['only'] = {
  issued: ['SB-101', 'SB-102', 'SB-104', 'SB-201', 'SB-202', 'SB-203', 'SB-205', 'SB-301'],
  notIssued: ['SB-103'],
  mistakes: ['SB-202'],
  without: { 'SB-202': ['head-radius'] },
};

/** One exercise that can be issued, and nothing that was. */
const BARE: CourseOptions['only'] = { issued: [], notIssued: ['SB-101'], mistakes: [], without: {} };

const finalFolder = path.resolve(process.env['ZORVET_DATA'] ?? 'data');
if (existsSync(path.join(finalFolder, 'zorvet.sqlite'))) {
  say('The demo database is there already.');
  process.exit(0);
}
// Made beside its place and moved there when complete: an interrupted start leaves nothing half made.
const folder = `${finalFolder}.new`;
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });

const startMs = Date.now();
const started = await startServices({
  dataFolder: folder,
  workerUrl: new URL('./worker.js', import.meta.url),
  log: pino({ level: 'warn' }),
  web: { webRoot: null, secureCookie: false },
  isAllForBackground: true,
});
const bench = openBench(new URL('./bench-worker.js', import.meta.url));
await makeCourse({
  started,
  model: bench.model,
  say,
  ...(process.argv.includes('--for-tests') ? { only: FOR_TESTS } : {}),
  ...(process.argv.includes('--bare') ? { only: BARE } : {}),
});
await bench.close();
started.db.pragma('wal_checkpoint(TRUNCATE)');
await started.close();
renameSync(folder, finalFolder);
say(`Demo database made in ${((Date.now() - startMs) / 1000).toFixed(0)} s.`);
process.exit(0);
