import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { pino, type Logger } from 'pino';
import * as v from 'valibot';
import { onTestFinished } from 'vitest';

import type { TypedInput } from '#core/grade';
import { AtlasSchema, coverageOf } from '#core/mistake';
import { AS_MODELED } from '#core/vector';
import { cleatPlateExercise } from '#demo/exercises';
import { unpackExercise } from '#server/archive';
import { createServer, type Services, type WebOptions } from '#server/app';
import { hashPassword } from '#server/auth';
import { openDatabase, type Db } from '#server/db';
import { createFileStore, type FileStore } from '#server/files';
import type { Graded, Outcome, Runner } from '#server/jobs';
import { printed } from '#server/print';
import { cutTerm } from '#server/extract';

/** What a busy machine may take for what is done at once elsewhere; for `vi.waitFor`. */
export const PATIENCE = { timeout: 60_000 };

export const NOON = new Date('2026-05-04T12:00:00.000Z');
const HOUR_MS = 3_600_000;
/** Cost of the password hashes of a test: hundreds of sign-ins need not be hard to guess. */
const CHEAP = { N: 16, r: 1, p: 1 };

/** What a runner answers for a file, by its content. */
export type Grading = (content: string, typed: readonly TypedInput[]) => Outcome<Graded> | Promise<Outcome<Graded>>;

const NOT_HERE = { kind: 'refused', problem: { code: 'not-prepared', message: 'not in this test' } } as const;

export const GRADED: Outcome<Graded> = {
  kind: 'done',
  value: {
    overlayJson: null,
    diagnosis: null,
    modelJson: '{"bounds":{"min":[0,0,0],"max":[1,1,1]},"mesh":{"positions":[],"indices":[],"groups":[],"edges":[]}}',
    measurement: {
      frame: {
        kind: 'as-modeled',
        placement: AS_MODELED,
        agreement: 1,
        certainty: 1,
      },
      checks: [],
      bodies: 1,
      closed: true,
      valid: true,
      declaredUnit: 'mm',
      massProperties: {
        volumeMm3: 1,
        areaMm2: 6,
        centroidMm: [0, 0, 0],
        inertiaMm5: [
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 1],
        ],
      },
      estimate: {
        volumeMm3: 1,
        areaMm2: 6,
        centroidMm: [0, 0, 0],
        volumeUncertaintyMm3: 0,
        areaUncertaintyMm2: 0,
        centroidUncertaintyMm: 0,
      },
      format: 'step',
      evidence: null,
      replay: null,
      missing: [],
      extra: [],
      sizeMm: [1, 1, 1],
      warnings: [],
    },
    report: {
      score: 80,
      scoreBeforeRelease: 80,
      cap: null,
      lines: [
        {
          checkId: 'volume',
          kind: 'volume',
          label: 'Volume',
          group: 'properties',
          quantity: 'volume',
          nominal: 67123.98,
          measured: 60000,
          deviation: -7123.98,
          tolerance: 67,
          nominalPoint: null,
          measuredPoint: null,
          verdict: 'wrong',
          credit: 0,
          weight: 1,
          limits: null,
          uncertainty: 0,
          reason: null,
          faceIds: [],
          advice: null,
          followOn: false,
          override: null,
        },
      ],
      typed: [],
      causes: [
        {
          id: 'wrong-size',
          certainty: 0.6,
          message: 'Thickness is 9.0 mm where the sheet says 10.0 mm.',
          checkIds: [],
          explains: 'observed',
          instead: false,
        },
      ],
      rules: [],
      frame: {
        kind: 'as-modeled',
        placement: AS_MODELED,
        agreement: 1,
        certainty: 1,
      },
      format: 'step',
      missing: [],
      extra: [],
      overlay: null,
      unit: 'mm',
      decimals: 1,
      declaredUnit: 'mm',
      massProperties: {
        volumeMm3: 60000,
        areaMm2: 6,
        centroidMm: [0, 0, 0],
        inertiaMm5: [
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 1],
        ],
      },
      warnings: [],
      withheld: false,
      detail: 'overlay',
      questions: [],
      deductions: [],
    },
  },
};

export const REFUSED: Outcome<Graded> = {
  kind: 'refused',
  problem: { code: 'not-step', message: 'This is not a STEP file.' },
};

export interface School extends Services {
  readonly db: Db;
  readonly files: FileStore;
  readonly folder: string;
  /** Sets the clock, in hours after noon. */
  setHour(hour: number): void;
  /** Forgets who is signed in: the next request of everyone signs in again. */
  signOutAll(): void;
  /** Cookie of a signed-in user. */
  cookieOf(login: string): Promise<string>;
  request(login: string | null, method: string, path: string, body?: unknown): Promise<Response>;
  handIn(
    login: string,
    assignmentId: number,
    content: string,
    more?: { readonly typed?: unknown; readonly buildLog?: string; readonly key?: string },
  ): Promise<Response>;
  readonly assignmentId: number;
  readonly futureAssignmentId: number;
}

/** Runs what a test says instead of the kernel; everything else is the real server, on a database of its own. */
export function runnerOf(grading: Grading, files: () => FileStore, width = 1): Runner {
  return {
    width,
    ended: () => ({ crashed: 0, timedOut: 0, replaced: 0 }),
    async grade({ filePath, typed }, onStage) {
      onStage('measuring');
      const content = await files().read(path.basename(filePath));
      return grading(content.toString('utf8'), typed);
    },
    prepare: () => Promise.resolve(NOT_HERE),
    print: async (task) => {
      const pdf = await printed(task);
      return pdf.ok ? { kind: 'done', value: pdf.value } : { kind: 'refused', problem: pdf.problem };
    },
    unpack: async (bytes) => {
      const unpacked = await unpackExercise(bytes);
      return unpacked.ok ? { kind: 'done', value: unpacked.value } : { kind: 'refused', problem: unpacked.problem };
    },
    cutTerm: async (task) => ({ kind: 'done', value: await cutTerm(task) }),
    coverage: async ({ exercise, atlasPath }) => {
      const content = await files().read(path.basename(atlasPath));
      const atlas = v.parse(AtlasSchema, JSON.parse(content.toString('utf8')));
      return { kind: 'done', value: coverageOf(exercise, atlas) };
    },
    atlas: () => Promise.resolve(NOT_HERE),
    gather: () => Promise.resolve(NOT_HERE),
    study: () => Promise.resolve(NOT_HERE),
    lookalikes: () => Promise.resolve(NOT_HERE),
    diagnose: () => Promise.resolve(NOT_HERE),
    close: () => Promise.resolve(),
  };
}

/** What a test has otherwise than others: where the log goes, how the server is reached. */
export interface SchoolSettings {
  readonly log?: Logger;
  readonly web?: Partial<WebOptions>;
}

/** Two instructors (orla teaches, pim another course), two students of one section, one assignment that is open. */
export async function openSchool(
  grading: Grading = () => GRADED,
  width = 1,
  own: Partial<Runner> = {},
  { log = pino({ level: 'silent' }), web = {} }: SchoolSettings = {},
): Promise<School> {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-'));
  let clock = NOON;
  const now = (): Date => clock;
  const db = openDatabase(path.join(folder, 'zorvet.sqlite'));
  const files = createFileStore(path.join(folder, 'files'), db, now);
  const services = createServer(
    { db, files, runner: { ...runnerOf(grading, () => files, width), ...own }, log, now },
    { webRoot: null, secureCookie: false, ...web },
  );
  onTestFinished(() => {
    services.queue.stop();
    services.background.stop();
    db.close();
    rmSync(folder, { recursive: true, force: true });
  });

  const hash = await hashPassword('tide', CHEAP);
  const time = NOON.toISOString();
  const insert = (sql: string, ...values: unknown[]): number => Number(db.prepare(sql).run(...values).lastInsertRowid);
  const user = (login: string, role: string): number =>
    insert(
      'INSERT INTO users (login, name, role, password_hash, created_at) VALUES (?, ?, ?, ?, ?)',
      login,
      login,
      role,
      hash,
      time,
    );
  const [orla, pim, tilda, ansel, fia] = [
    user('orla', 'instructor'),
    user('pim', 'instructor'),
    user('tilda', 'assistant'),
    user('ansel', 'student'),
    user('fia', 'student'),
  ];
  user('bodil', 'administrator');
  const course = insert("INSERT INTO courses (title, school) VALUES ('Fittings', 'Saltmarsh')");
  const other = insert("INSERT INTO courses (title, school) VALUES ('Rigging', 'Saltmarsh')");
  insert("INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, 'instructor')", course, orla);
  insert("INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, 'instructor')", other, pim);
  insert("INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, 'assistant')", course, tilda);
  const section = insert("INSERT INTO sections (course_id, name) VALUES (?, 'Morning')", course);
  for (const student of [ansel, fia]) insert('INSERT INTO enrollments VALUES (?, ?)', section, student);
  const exercise = insert(
    "INSERT INTO exercises (course_id, number, title) VALUES (?, 'SB-101', 'Cleat plate')",
    course,
  );
  const file = (await files.put(Buffer.from('reference'))).sha256;
  const sheet = (await files.put(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'))).sha256;
  const revision = insert(
    `INSERT INTO exercise_revisions (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
     VALUES (?, 1, ?, ?, ?, ?, ?)`,
    exercise,
    JSON.stringify(cleatPlateExercise),
    file,
    sheet,
    file,
    time,
  );
  const hour = (hours: number): string => new Date(NOON.getTime() + hours * HOUR_MS).toISOString();
  const issue = (opens: number, due: number): number =>
    services.assignments.issue(
      {
        exerciseId: exercise,
        sectionId: section,
        opensAt: hour(opens),
        dueAt: hour(due),
        attemptsAllowed: 2,
        answers: 'after-due',
      },
      revision,
    );
  const assignmentId = issue(-1, 10);
  const futureAssignmentId = issue(20, 30);

  const cookies = new Map<string, string>();
  const cookieOf = async (login: string): Promise<string> => {
    const known = cookies.get(login);
    if (known) return known;
    const response = await services.app.request('/api/session', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ login, password: 'tide' }),
    });
    const cookie = response.headers.get('set-cookie')?.split(';')[0] ?? '';
    cookies.set(login, cookie);
    return cookie;
  };
  const request: School['request'] = async (login, method, at, body) =>
    services.app.request(at, {
      method,
      headers: {
        origin: 'http://localhost',
        ...(login === null ? {} : { cookie: await cookieOf(login) }),
        ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  return {
    ...services,
    db,
    files,
    folder,
    assignmentId,
    futureAssignmentId,
    setHour: (hours) => {
      clock = new Date(NOON.getTime() + hours * HOUR_MS);
    },
    signOutAll: () => {
      cookies.clear();
    },
    cookieOf,
    request,
    handIn: async (login, id, content, { typed = [], buildLog = '', key = '' } = {}) => {
      const form = new FormData();
      form.append('file', new File([content], 'part.step'));
      form.append('typed', JSON.stringify(typed));
      form.append('log', buildLog);
      form.append('key', key);
      return services.app.request(`/api/work/${String(id)}/attempts`, {
        method: 'POST',
        headers: { cookie: await cookieOf(login), origin: 'http://localhost' },
        body: form,
      });
    },
  };
}
