/**
 * `npm run faults [-- HAND_INS [SEED]]`: hand-ins while the server is killed, restarted, doubled, and its disk is full. Prints
 * how many were accepted, lost, stored twice and wrongly refused; ends with 1 where one of these is not zero.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createInterface } from 'node:readline';
import { setTimeout as wait } from 'node:timers/promises';

import Database from 'better-sqlite3';

import { ExerciseListSchema, SectionListSchema } from '#api';
import { trianglesOf } from '#core/mesh';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { randomFrom } from '#core/variant';
import { brokenFiles } from '#demo/broken';
import { INSTRUCTOR, loginOf, SECTION, STUDENT_PASSWORD, STUDENTS } from '#demo/course';
import { cleatPlateExercise } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { checkFolder } from '#server/backup';
import { loadKernel } from '#runtime';
import * as v from 'valibot';

import { printTable } from './statistics.ts';

const WANTED = Number(process.argv[2] ?? 1000);
const random = randomFrom(Number(process.argv[3] ?? 1));
const AT_A_TIME = 10;
const AT_ONCE = 200;
const ATTEMPTS_EACH = 20;
/** Students who hand in what is no part; the others hand in good files alone. */
const HOSTILE = 3;
const DISK_MB = 700;
const LONGEST_WAIT_MS = 10 * 60_000;

interface HandIn {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly isGood: boolean;
}

const pick = <T>(items: readonly T[]): T => {
  const item = items[Math.floor(random() * items.length)];
  if (item === undefined) throw new Error('nothing to pick from');
  return item;
};

/** A server as a process of its own, that can be ended in every way. */
class Server {
  #child: ChildProcess | null = null;
  base = '';
  readonly #env: NodeJS.ProcessEnv;

  constructor(dataFolder: string) {
    this.#env = {
      ...process.env,
      ZORVET_DATA: dataFolder,
      LOG_LEVEL: 'info',
      ZORVET_BACKUPS: 'off',
      ZORVET_BACKGROUND: '0',
    };
  }

  async start(): Promise<void> {
    for (;;) {
      const child = spawn(process.execPath, ['dist/node/main.js'], {
        env: { ...this.#env, PORT: '0' },
        stdio: ['ignore', 'pipe', 'ignore'],
      });
      this.#child = child;
      const port = await new Promise<string | null>((resolve) => {
        child.once('exit', () => {
          resolve(null);
        });
        createInterface({ input: child.stdout }).on('line', (line) => {
          const found = /"port":(\d+)/.exec(line)?.[1];
          if (found !== undefined) resolve(found);
        });
      });
      if (port !== null) {
        this.base = `http://127.0.0.1:${port}`;
        return;
      }
      // A full disk may keep it from starting; it is tried again, as a supervisor would.
      await wait(500);
    }
  }

  async end(signal: 'SIGKILL' | 'SIGTERM'): Promise<void> {
    const child = this.#child;
    if (child === null) return;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill(signal);
    await ended;
    this.#child = null;
  }

  /** Starts a second server on the same folder and gives the code that it ends with. */
  second(): number | null {
    return spawnSync(process.execPath, ['dist/node/main.js'], { env: { ...this.#env, PORT: '0' }, timeout: 20_000 })
      .status;
  }
}

/** Somebody with a browser that asks again when the server does not answer. */
class Person {
  #cookie = '';
  readonly #server: Server;
  constructor(server: Server) {
    this.#server = server;
  }

  async ask(method: string, at: string, body?: FormData | object): Promise<Response> {
    const { base } = this.#server;
    const isForm = body instanceof FormData;
    const response = await fetch(`${base}${at}`, {
      method,
      headers: {
        cookie: this.#cookie,
        origin: base,
        ...(body === undefined || isForm ? {} : { 'Content-Type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: isForm ? body : JSON.stringify(body) }),
      signal: AbortSignal.timeout(30_000),
    });
    this.#cookie = response.headers.get('set-cookie')?.split(';')[0] ?? this.#cookie;
    return response;
  }

  async read<S extends v.GenericSchema>(at: string, schema: S): Promise<v.InferOutput<S>> {
    return v.parse(schema, await (await this.ask('GET', at)).json());
  }

  async signIn(login: string, password: string): Promise<this> {
    const answer = await this.ask('POST', '/api/session', { login, password });
    if (!answer.ok) throw new Error(await answer.text());
    return this;
  }

  /** Hands in until somebody answers: 202 for accepted, another status for refused. */
  async handIn(assignmentId: number, key: string, { name, bytes }: HandIn): Promise<number> {
    for (;;) {
      const form = new FormData();
      form.append('key', key);
      form.append('typed', '[]');
      form.append('file', new File([Uint8Array.from(bytes)], name));
      const status = await this.ask('POST', `/api/work/${String(assignmentId)}/attempts`, form).then(
        async (answer) => {
          // Where the rest of the answer is lost, its first line was read all the same.
          await answer.arrayBuffer().catch(() => null);
          return answer.status;
        },
        () => null,
      );
      // No answer, a server that just ends, or a full disk: the page keeps the file, and the student tries again.
      if (status !== null && status < 500) return status;
      await wait(300);
    }
  }
}

async function makeFiles(): Promise<{ readonly good: readonly HandIn[]; readonly hostile: readonly HandIn[] }> {
  const kernel = await loadKernel();
  const good = [{ kind: 'none' } as const, { kind: 'size-wrong', parameter: 'C', value: '10.3' } as const].map(
    (slip, i) => ({
      name: `part ${String(i)}.step`,
      bytes: unwrap(modelLikeStudent(kernel, cleatPlateExercise, slip)).step,
      isGood: true,
    }),
  );
  const shape = unwrap(buildRecipe(kernel, cleatPlateExercise.recipe)).shape;
  const mesh = trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.1, angleRad: 0.5 }));
  shape.free();
  const step = good[0]?.bytes ?? new Uint8Array();
  const hostile = brokenFiles(step, mesh).map(({ fileName, bytes }) => ({ name: fileName, bytes, isGood: false }));
  return { good, hostile };
}

/** A small disk for the data, where this machine lets us have one; null where it does not. */
function smallDisk(
  at: string,
): { readonly fill: () => void; readonly empty: () => void; readonly remove: () => void } | null {
  const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${String(DISK_MB)}m`, 'tmpfs', at]);
  if (mounted.status !== 0) return null;
  const filler = path.join(at, 'filler');
  return {
    fill: () => {
      mkdirSync(filler, { recursive: true });
      for (const bytes of [8 * 1024 * 1024, 64 * 1024, 4096])
        for (let i = 0; ; i++)
          try {
            writeFileSync(path.join(filler, `${String(bytes)}-${String(i)}`), Buffer.alloc(bytes));
          } catch {
            break;
          }
    },
    empty: () => {
      rmSync(filler, { recursive: true, force: true });
    },
    remove: () => {
      spawnSync('umount', [at]);
    },
  };
}

const counts = { killed: 0, stopped: 0, doubled: 0, full: 0, startedTwice: 0, refusedAtOnce: 0 };
const room = mkdtempSync(path.join(tmpdir(), 'zorvet-faults-'));
const disk = smallDisk(room);
const data = path.join(room, 'data');
const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};
if (disk === null) say('This machine gives no small disk: the disk is never full in this run.');
say('Making the course ...');
const seeded = mkdtempSync(path.join(tmpdir(), 'zorvet-faults-course-'));
const seeding = spawnSync(process.execPath, ['dist/node/seed.js', '--bare'], {
  env: { ...process.env, ZORVET_DATA: path.join(seeded, 'data') },
  stdio: ['ignore', 'ignore', 'inherit'],
});
if (seeding.status !== 0) process.exit(1);
mkdirSync(data, { recursive: true });
spawnSync('cp', ['-a', `${path.join(seeded, 'data')}/.`, data]);
rmSync(seeded, { recursive: true, force: true });

const server = new Server(data);
await server.start();
const { good, hostile } = await makeFiles();
const instructor = await new Person(server).signIn(INSTRUCTOR.login, INSTRUCTOR.password);
const people = await Promise.all(STUDENTS.map((name) => new Person(server).signIn(loginOf(name), STUDENT_PASSWORD)));
const assignments = await issue();
const accepted = new Map<string, boolean>();
let sent = 0;

async function issue(): Promise<readonly number[]> {
  const { sections } = await instructor.read('/api/sections', SectionListSchema);
  const { exercises } = await instructor.read('/api/exercises', ExerciseListSchema);
  const one = async (): Promise<number> => {
    const answer = await instructor.ask('POST', '/api/assignments', {
      exerciseId: exercises.find(({ number }) => number === cleatPlateExercise.number)?.id,
      sectionId: sections.find(({ name }) => name === SECTION)?.id,
      opensAt: new Date(Date.now() - 1000).toISOString(),
      dueAt: new Date(Date.now() + 86_400_000).toISOString(),
      attemptsAllowed: ATTEMPTS_EACH,
      answers: 'never',
    });
    return v.parse(v.object({ id: v.number() }), await answer.json()).id;
  };
  const needed = Math.ceil((1.3 * WANTED + 2 * AT_ONCE) / (ATTEMPTS_EACH * (people.length - HOSTILE)));
  return Promise.all(Array.from({ length: needed }, one));
}

async function handInOne(): Promise<void> {
  const number = sent++;
  const isHostile = random() < 0.15;
  const place = isHostile ? number % HOSTILE : HOSTILE + (number % (people.length - HOSTILE));
  const person = people[place];
  const file = isHostile ? pick(hostile) : pick(good);
  if (person === undefined) return;
  const key = `faults-${String(number).padStart(8, '0')}`;
  const turn = Math.floor(number / ((people.length - HOSTILE) * ATTEMPTS_EACH));
  const status = await person.handIn(assignments[turn % assignments.length] ?? 0, key, file);
  if (status === 202) accepted.set(key, file.isGood);
  else {
    counts.refusedAtOnce++;
    if (file.isGood) say(`a good file was answered with ${String(status)}`);
  }
}

/** Something happens to the server. */
async function fault(): Promise<void> {
  const choice = random();
  if (choice < 0.45) {
    counts.killed++;
    await server.end('SIGKILL');
    await server.start();
  } else if (choice < 0.7) {
    counts.stopped++;
    await server.end('SIGTERM');
    await server.start();
  } else if (choice < 0.8 || disk === null) {
    counts.doubled++;
    if (server.second() !== 2) counts.startedTwice++;
  } else {
    counts.full++;
    disk.fill();
    await wait(2000 + 2000 * random());
    if (random() < 0.4) {
      counts.killed++;
      await server.end('SIGKILL');
      const started = server.start();
      await wait(3000);
      disk.empty();
      await started;
    }
    disk.empty();
  }
}

const started = Date.now();
const isDone = (): boolean => accepted.size >= WANTED || Date.now() - started > 4 * LONGEST_WAIT_MS;
const handingIn = Promise.all(
  Array.from({ length: AT_A_TIME }, async () => {
    while (!isDone()) {
      await handInOne();
      // About as fast as it is measured, so that something is always under way.
      await wait(4000 * random());
    }
  }),
);
const burst = (async () => {
  while (accepted.size < WANTED / 2 && !isDone()) await wait(200);
  await Promise.all(Array.from({ length: Math.min(AT_ONCE, WANTED) }, handInOne));
})();
const faults = (async () => {
  while (!isDone()) {
    await wait(1500 + 4000 * random());
    await fault();
  }
})();
await Promise.all([handingIn, burst, faults]);
disk?.empty();
say('Waiting until all is measured ...');

/** What the database has of a hand-in. */
interface Row {
  readonly key: string;
  readonly state: string;
  readonly code: string | null;
}
const rowsOf = (): readonly Row[] => {
  const db = new Database(path.join(data, 'zorvet.sqlite'), { readonly: true });
  try {
    return db
      .prepare<[], Row>(
        'SELECT hand_in_key AS key, state, refusal_code AS code FROM attempts WHERE hand_in_key IS NOT NULL',
      )
      .all();
  } finally {
    db.close();
  }
};
const waitingSince = Date.now();
while (
  rowsOf().some(({ state }) => state === 'waiting' || state === 'running') &&
  Date.now() - waitingSince < LONGEST_WAIT_MS
)
  await wait(500);
const rows = rowsOf();
const byKey = new Map<string, Row[]>();
for (const row of rows) byKey.set(row.key, [...(byKey.get(row.key) ?? []), row]);
const lost = [...accepted.keys()].filter((key) => !byKey.has(key));
const twice = [...byKey.values()].filter((same) => same.length > 1);
const wrongly = rows.filter(({ key, state }) => accepted.get(key) === true && state === 'refused');
const unfinished = rows.filter(({ state }) => state === 'waiting' || state === 'running');
await server.end('SIGTERM');
const check = await checkFolder(data);
printTable(
  `Hand-ins while the server was ended ${String(counts.killed + counts.stopped)} times`,
  ['what', 'count'],
  [
    ['accepted', String(accepted.size)],
    ['of these good files', String([...accepted.values()].filter(Boolean).length)],
    ['lost', String(lost.length)],
    ['stored twice', String(twice.length)],
    ['good files refused', String(wrongly.length)],
    ['never measured', String(unfinished.length)],
    ['faults of the data folder', String(check.faults.length)],
    ['second servers that started', `${String(counts.startedTwice)} of ${String(counts.doubled)}`],
    ['killed with -9', String(counts.killed)],
    ['stopped', String(counts.stopped)],
    ['times the disk was full', disk === null ? 'not tried' : String(counts.full)],
    ['refused at once (budgets of the hostile)', String(counts.refusedAtOnce)],
    ['minutes', ((Date.now() - started) / 60_000).toFixed(1)],
  ],
);
for (const { key, code } of wrongly.slice(0, 10)) say(`${key}: ${String(code)}`);
for (const fault of check.faults.slice(0, 10)) say(fault);
disk?.remove();
rmSync(room, { recursive: true, force: true });
process.exit(
  lost.length + twice.length + wrongly.length + unfinished.length + check.faults.length + counts.startedTwice > 0
    ? 1
    : 0,
);
