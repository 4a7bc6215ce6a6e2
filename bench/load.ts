/** How pages answer with a school of 5,000 students and 15,000 attempts in the database. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';

import { pino } from 'pino';

import { gradeFile, prepareExercise } from '#core/attempt';
import { unwrap } from '#core/problem';
import { forDisplay } from '#core/solid';
import { cleatPlateExercise } from '#demo/exercises';
import { modelLikeStudent, type Slip } from '#demo/workbench';
import { loadKernel } from '#runtime';
import { createServer } from '#server/app';
import { hashPassword } from '#server/auth';
import { openDatabase, type Db } from '#server/db';
import { createFileStore, type FileStore } from '#server/files';
import type { Runner } from '#server/jobs';
import { createReportStore, type NewReport } from '#server/report';

import { median, ms, printTable, quantile } from './statistics.ts';

const STUDENTS = 5000;
const SECTIONS = 40;
const ASSIGNMENTS = 120;
const ATTEMPTS = 15_000;
const RUNS = 60;

const SLIPS: readonly Slip[] = [
  { kind: 'none' },
  { kind: 'size-wrong', parameter: 'C', value: '10.3' },
  { kind: 'radius-for-diameter', step: 'bolts' },
];

type Made = Omit<NewReport, 'attemptId' | 'modelSha256'> & { readonly modelJson: string };

/** Reports of right and wrong parts, as they are really graded. */
async function makeReports(): Promise<{ readonly referenceJson: string; readonly reports: readonly Made[] }> {
  const kernel = await loadKernel();
  const { reference } = unwrap(prepareExercise(kernel, cleatPlateExercise));
  const policy = cleatPlateExercise.scoring;
  const reports = SLIPS.map((slip): Made => {
    const { step } = unwrap(modelLikeStudent(kernel, cleatPlateExercise, slip));
    const { report, measurement, solid } = unwrap(gradeFile(kernel, reference, { bytes: step, policy }));
    const modelJson = JSON.stringify({ bounds: solid.bounds, mesh: forDisplay(solid.mesh) });
    const made = {
      diagnosis: null,
      overlaySha256: null,
      gradedAt: new Date(),
      durationMs: 400,
      policy,
      program: 'bench',
    };
    return { report, measurement, modelJson, ...made };
  });
  return { referenceJson: JSON.stringify(reference), reports };
}

/** Fills the database: sections of 125 students, three assignments each, one attempt a student and assignment. */
export async function fill(db: Db, files: FileStore): Promise<void> {
  const { referenceJson, reports } = await makeReports();
  const { sha256 } = await files.put(Buffer.from(referenceJson));
  const models = await Promise.all(
    reports.map(async ({ modelJson }) => (await files.put(Buffer.from(modelJson))).sha256),
  );
  const hash = await hashPassword('tide', { N: 16, r: 1, p: 1 });
  const store = createReportStore(db);
  const insert = (sql: string, ...values: readonly unknown[]): number =>
    Number(db.prepare(sql).run(...values).lastInsertRowid);
  db.transaction(() => {
    const user = (login: string, role: string): number =>
      insert(
        'INSERT INTO users (login, name, role, password_hash, created_at) VALUES (?, ?, ?, ?, ?)',
        login,
        login,
        role,
        hash,
        '',
      );
    const course = insert("INSERT INTO courses (title, school) VALUES ('Fittings', 'Saltmarsh')");
    insert(
      "INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, 'instructor')",
      course,
      user('orla', 'instructor'),
    );
    const exercise = insert(
      "INSERT INTO exercises (course_id, number, title) VALUES (?, 'SB-101', 'Cleat plate')",
      course,
    );
    const revision = insert(
      `INSERT INTO exercise_revisions (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
       VALUES (?, 1, ?, ?, ?, ?, '')`,
      exercise,
      JSON.stringify(cleatPlateExercise),
      sha256,
      sha256,
      sha256,
    );
    const sections = Array.from({ length: SECTIONS }, (_, i) =>
      insert('INSERT INTO sections (course_id, name) VALUES (?, ?)', course, `Section ${String(i + 1)}`),
    );
    const students = Array.from({ length: STUDENTS }, (_, i) => {
      const id = user(`student ${String(i + 1)}`, 'student');
      insert('INSERT INTO enrollments VALUES (?, ?)', sections[i % SECTIONS], id);
      return id;
    });
    const now = Date.now();
    const hour = (hours: number): string => new Date(now + hours * 3_600_000).toISOString();
    const assignments = Array.from({ length: ASSIGNMENTS }, (_, i) =>
      insert(
        `INSERT INTO assignments (revision_id, section_id, opens_at, due_at, attempts_allowed, answers, created_at)
         VALUES (?, ?, ?, ?, 3, 'after-due', '')`,
        revision,
        sections[i % SECTIONS],
        hour(-24 * (i + 2)),
        hour(24 * (10 - i)),
      ),
    );
    for (let i = 0; i < ATTEMPTS; i++) {
      const place = i % STUDENTS;
      const assignment = assignments[(place % SECTIONS) + SECTIONS * Math.floor(i / STUDENTS)];
      const attemptId = insert(
        `INSERT INTO attempts (assignment_id, student_id, stage, file_sha256, file_name, file_size_bytes, typed_json, handed_in_at, state)
         VALUES (?, ?, 1, ?, 'part.step', 20000, '[]', ?, 'graded')`,
        assignment,
        students[place],
        sha256,
        hour(-i / 100),
      );
      const made = reports[i % reports.length];
      if (made === undefined) throw new Error('no reports');
      const { modelJson: _, ...report } = made;
      store.put({ ...report, attemptId, modelSha256: models[i % models.length] ?? '' });
    }
  })();
}

const NOT_HERE = { kind: 'timed-out' } as const;
const idle = (): Runner => ({
  width: 1,
  ended: () => ({ crashed: 0, timedOut: 0, replaced: 0 }),
  grade: () => Promise.resolve(NOT_HERE),
  prepare: () => Promise.resolve(NOT_HERE),
  unpack: () => Promise.resolve(NOT_HERE),
  cutTerm: () => Promise.resolve(NOT_HERE),
  print: () => Promise.resolve(NOT_HERE),
  coverage: () => Promise.resolve(NOT_HERE),
  atlas: () => Promise.resolve(NOT_HERE),
  gather: () => Promise.resolve(NOT_HERE),
  study: () => Promise.resolve(NOT_HERE),
  lookalikes: () => Promise.resolve(NOT_HERE),
  diagnose: () => Promise.resolve(NOT_HERE),
  close: () => Promise.resolve(),
});

export async function benchLoad(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-bench-'));
  const db = openDatabase(path.join(folder, 'zorvet.sqlite'));
  const now = (): Date => new Date();
  const files = createFileStore(path.join(folder, 'files'), db, now);
  try {
    await fill(db, files);
    const log = pino({ level: 'silent' });
    const { app } = createServer({ db, files, runner: idle(), log, now }, { webRoot: null, secureCookie: false });
    await measure(app);
  } finally {
    db.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

async function measure(app: ReturnType<typeof createServer>['app']): Promise<void> {
  const signIn = async (login: string): Promise<string> => {
    const answer = await app.request('/api/session', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ login, password: 'tide' }),
    });
    return answer.headers.get('set-cookie')?.split(';')[0] ?? '';
  };
  const [orla, student] = [await signIn('orla'), await signIn('student 1')];
  const pages: readonly (readonly [name: string, cookie: string, at: (run: number) => string, barMs: number])[] = [
    ['who is signed in', student, () => '/api/session', 20],
    ['a student: my work', student, () => '/api/work', 150],
    ['a student: an exercise', student, () => '/api/work/1', 150],
    ['desk', orla, () => '/api/desk', 150],
    ['assignment', orla, (run) => `/api/assignments/${String(1 + (run % ASSIGNMENTS))}`, 150],
    ['review step', orla, (run) => `/api/attempts/${String(1 + ((run * 97) % ATTEMPTS))}`, 250],
    ['exercises', orla, () => '/api/exercises', 150],
    ['grades of a section', orla, (run) => `/api/courses/1/gradebook?section=${String(1 + (run % SECTIONS))}`, 250],
    ['grades of all 5,000', orla, () => '/api/courses/1/gradebook', 250],
    ['grades of a student', orla, () => '/api/courses/1/students/2', 150],
    ['what is new, a student', student, () => '/api/news', 50],
    ['what is new, an instructor', orla, () => '/api/news', 50],
    ['what a section needs', orla, (run) => `/api/courses/1/insight?section=${String(1 + (run % SECTIONS))}`, 250],
    ['checks of a section', orla, (run) => `/api/courses/1/insight/1?section=${String(1 + (run % SECTIONS))}`, 250],
    ['page for the wall', orla, () => '/api/courses/1/wall', 250],
    ['people', orla, () => '/api/courses', 150],
  ];
  let baseline = Number.NaN;
  const rows: string[][] = [];
  for (const [name, cookie, at, bar] of pages) {
    const delay = monitorEventLoopDelay({ resolution: 1 });
    const times: number[] = [];
    let bytes = 0;
    for (let run = 0; run < RUNS; run++) {
      if (run === 5) delay.enable();
      const start = performance.now();
      const answer = await app.request(at(run), { headers: { cookie } });
      bytes = (await answer.arrayBuffer()).byteLength;
      times.push(performance.now() - start);
      if (!answer.ok) throw new Error(`${at(run)}: ${String(answer.status)}`);
      // As between two requests of different people.
      await new Promise((resolve) => setImmediate(resolve));
    }
    delay.disable();
    if (Number.isNaN(baseline)) baseline = median(times);
    rows.push([
      name,
      ms(median(times)),
      ms(quantile(times, 0.95)),
      String(bar),
      ms(delay.max / 1e6),
      (median(times) / baseline).toFixed(0),
      `${(bytes / 1024).toFixed(0)} KB`,
    ]);
  }
  printTable(
    `${String(STUDENTS)} students, ${String(ATTEMPTS)} attempts: answers in ms (ratio to the first row)`,
    ['page', 'median', '95 %', 'bar', 'longest stall', 'ratio', 'answer'],
    rows,
  );
}
