/** Times through the running server: from the upload to the report, alone and two hundred at once. */
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createInterface } from 'node:readline';

import * as v from 'valibot';

import {
  AssignmentDetailSchema,
  AttemptDetailSchema,
  ExerciseListSchema,
  HandedInSchema,
  SectionListSchema,
} from '#api';
import { unwrap } from '#core/problem';
import { INSTRUCTOR, loginOf, SECTION, STUDENT_PASSWORD, STUDENTS } from '#demo/course';
import { firstExercises } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';

import { median, ms, printTable, quantile } from './statistics.ts';

const RUNS = 20;
const AT_ONCE = 200;

class Client {
  private readonly base: string;
  private cookie = '';
  constructor(base: string) {
    this.base = base;
  }

  async send<S extends v.GenericSchema>(
    method: string,
    at: string,
    schema: S,
    body?: unknown,
  ): Promise<v.InferOutput<S>> {
    const form = body instanceof FormData;
    const response = await fetch(`${this.base}${at}`, {
      method,
      headers: {
        cookie: this.cookie,
        origin: this.base,
        ...(body === undefined || form ? {} : { 'Content-Type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: form ? body : JSON.stringify(body) }),
    });
    this.cookie = response.headers.get('set-cookie')?.split(';')[0] ?? this.cookie;
    if (!response.ok) throw new Error(`${method} ${at}: ${String(response.status)} ${await response.text()}`);
    return v.parse(schema, await response.json());
  }

  async signIn(login: string, password: string): Promise<this> {
    await this.send('POST', '/api/session', v.unknown(), { login, password });
    return this;
  }

  async handIn(assignmentId: number, step: Uint8Array): Promise<number> {
    const form = new FormData();
    form.append('file', new File([new Uint8Array(step)], 'bench.step'));
    form.append('typed', '[]');
    return (await this.send('POST', `/api/work/${String(assignmentId)}/attempts`, HandedInSchema, form)).attemptId;
  }

  /** Asks every few ms until the attempt is graded. */
  async report(attemptId: number): Promise<void> {
    for (;;) {
      const { state } = await this.send('GET', `/api/attempts/${String(attemptId)}`, AttemptDetailSchema);
      if (state === 'graded') return;
      if (state === 'refused') throw new Error('refused');
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  }
}

export async function benchServer(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-bench-'));
  const env = { ...process.env, ZORVET_DATA: path.join(folder, 'data'), PORT: '0', LOG_LEVEL: 'info' };
  spawnSync(process.execPath, ['dist/node/seed.js'], { env });
  const server = spawn(process.execPath, ['dist/node/main.js'], { env, stdio: ['ignore', 'pipe', 'inherit'] });
  try {
    const port = await new Promise<string>((resolve) => {
      createInterface({ input: server.stdout }).on('line', (line) => {
        const found = /"port":(\d+)/.exec(line)?.[1];
        if (found) resolve(found);
      });
    });
    await measure(`http://127.0.0.1:${port}`);
  } finally {
    server.kill('SIGTERM');
    await new Promise((resolve) => server.once('exit', resolve));
    rmSync(folder, { recursive: true, force: true });
  }
}

/** How late the event loop of the server was, as it says itself. */
async function lagOf(base: string): Promise<{ readonly p99: number; readonly most: number }> {
  const text = await (await fetch(`${base}/metrics`)).text();
  const read = (name: string): number =>
    1000 * Number(new RegExp(`^${name} (\\S+)`, 'm').exec(text)?.[1] ?? Number.NaN);
  return { p99: read('nodejs_eventloop_lag_p99_seconds'), most: read('nodejs_eventloop_lag_max_seconds') };
}

async function measure(base: string): Promise<void> {
  const kernel = await loadKernel();
  const instructor = await new Client(base).signIn(INSTRUCTOR.login, INSTRUCTOR.password);
  const students = await Promise.all(STUDENTS.map((name) => new Client(base).signIn(loginOf(name), STUDENT_PASSWORD)));
  const { sections } = await instructor.send('GET', '/api/sections', SectionListSchema);
  const { exercises } = await instructor.send('GET', '/api/exercises', ExerciseListSchema);
  const issue = async (number: string): Promise<number> => {
    const now = Date.now();
    const { id } = await instructor.send('POST', '/api/assignments', v.object({ id: v.number() }), {
      exerciseId: exercises.find((exercise) => exercise.number === number)?.id,
      sectionId: sections.find(({ name }) => name === SECTION)?.id,
      opensAt: new Date(now - 1000).toISOString(),
      dueAt: new Date(now + 3_600_000).toISOString(),
      attemptsAllowed: 20,
      answers: 'never',
    });
    return id;
  };

  const [first] = students;
  if (first === undefined) throw new Error('no students');
  const rows: string[][] = [];
  let baseline = Number.NaN;
  for (const exercise of firstExercises) {
    const { step } = unwrap(modelLikeStudent(kernel, exercise, { kind: 'none' }));
    const assignmentId = await issue(exercise.number);
    const times: number[] = [];
    for (let i = 0; i < RUNS; i++) {
      const start = performance.now();
      await first.report(await first.handIn(assignmentId, step));
      times.push(performance.now() - start);
    }
    if (Number.isNaN(baseline)) baseline = median(times);
    rows.push([
      exercise.title,
      ms(times[0] ?? Number.NaN),
      ms(median(times)),
      ms(quantile(times, 0.95)),
      (median(times) / baseline).toFixed(2),
    ]);
  }
  printTable(
    `From upload to report through the server, one at a time, ${String(RUNS)} of each, in ms (ratio to the first part)`,
    ['part', 'first', 'median', '95 %', 'ratio'],
    rows,
  );

  const exercise = firstExercises[0];
  if (exercise === undefined) return;
  // Every second one has a mistake, which is looked up among all mistakes of the part.
  const [right, wrong] = [{ kind: 'none' } as const, { kind: 'radius-for-diameter', step: 'bolts' } as const].map(
    (slip) => unwrap(modelLikeStudent(kernel, exercise, slip)).step,
  ) as [Uint8Array, Uint8Array];
  const assignmentId = await issue(exercise.number);
  const pages: number[] = [];
  const stop = new AbortController();
  const watching = (async () => {
    while (!stop.signal.aborted) {
      const start = performance.now();
      await instructor.send('GET', `/api/assignments/${String(assignmentId)}`, AssignmentDetailSchema);
      pages.push(performance.now() - start);
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  })();
  const start = performance.now();
  const all = await Promise.all(
    Array.from({ length: AT_ONCE }, async (_, i) => {
      const student = students[i % 10] ?? first;
      const id = await student.handIn(assignmentId, i % 2 === 0 ? right : wrong);
      return { student, id, uploaded: performance.now() - start };
    }),
  );
  for (;;) {
    const { attempts } = await instructor.send(
      'GET',
      `/api/assignments/${String(assignmentId)}`,
      AssignmentDetailSchema,
    );
    if (attempts.filter((attempt) => attempt.state === 'graded').length === AT_ONCE) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  const total = performance.now() - start;
  stop.abort();
  await watching;
  const lag = await lagOf(base);
  const reports = await Promise.all(
    all.map(({ id }) => instructor.send('GET', `/api/attempts/${String(id)}`, AttemptDetailSchema)),
  );
  const explained = reports.filter(({ report }) => report?.causes.some(({ explains }) => explains === 'all')).length;
  printTable(
    `${String(AT_ONCE)} attempts at once`,
    ['what', 'value'],
    [
      ['handed in and accepted', `${String(all.length)} in ${ms(Math.max(...all.map(({ uploaded }) => uploaded)))} ms`],
      ['graded, none lost', `${String(AT_ONCE)} in ${(total / 1000).toFixed(1)} s`],
      ['with a mistake, explained completely', `${String(explained)} of ${String(AT_ONCE / 2)}`],
      ['per attempt', `${ms(total / AT_ONCE)} ms`],
      ['event loop late by, 99 % / most, since the start', `${ms(lag.p99)} / ${ms(lag.most)} ms`],
      ['assignment page meanwhile, median / 95 %', `${ms(median(pages))} / ${ms(quantile(pages, 0.95))} ms`],
    ],
  );
}
