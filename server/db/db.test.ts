import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { expect, it, onTestFinished } from 'vitest';

import { openDatabase } from '#server/db';

function place(): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-db-'));
  onTestFinished(() => {
    rmSync(folder, { recursive: true });
  });
  return path.join(folder, 'test.sqlite');
}

it('migrations run once: a database that is opened again keeps its content', () => {
  const file = place();
  const first = openDatabase(file);
  first.prepare("INSERT INTO courses (title, school) VALUES ('Fittings', 'Saltmarsh')").run();
  first.close();
  const second = openDatabase(file);
  expect(second.prepare('SELECT title FROM courses').all()).toEqual([{ title: 'Fittings' }]);
  expect(Number(second.pragma('user_version', { simple: true }))).toBeGreaterThan(0);
  second.close();
});

it('keeps rows together: what refers to nothing is refused', () => {
  const db = openDatabase(place());
  expect(() => db.prepare("INSERT INTO sections (course_id, name) VALUES (99, 'Nowhere')").run()).toThrow(
    /FOREIGN KEY/,
  );
  expect(db.pragma('journal_mode', { simple: true })).toBe('wal');
  db.close();
});

it('does not hold an attempt that is refused without a reason', () => {
  const db = openDatabase(place());
  db.exec(`INSERT INTO users (id, login, name, role, password_hash, created_at) VALUES (1, 'a', 'A', 'student', '', '');
    INSERT INTO courses (id, title, school) VALUES (1, 'c', 's'); INSERT INTO sections (id, course_id, name) VALUES (1, 1, 'x');
    INSERT INTO files VALUES ('f', 1, ''); INSERT INTO exercises (id, course_id, number, title) VALUES (1, 1, 'n', 't');
    INSERT INTO exercise_revisions VALUES (1, 1, 1, '{}', 'f', 'f', 'f', '');
    INSERT INTO assignments (id, revision_id, section_id, opens_at, due_at, attempts_allowed, answers, created_at, policy_json) VALUES (1, 1, 1, '2026-01-01', '2026-01-02', 1, 'never', '', NULL);`);
  const insert = (state: string, code: string | null) =>
    db
      .prepare(
        `INSERT INTO attempts (assignment_id, student_id, file_sha256, file_name, file_size_bytes, typed_json, handed_in_at, state, refusal_code)
         VALUES (1, 1, 'f', 'x.step', 1, '[]', '', ?, ?)`,
      )
      .run(state, code);
  expect(() => insert('refused', null)).toThrow(/CHECK/);
  expect(() => insert('lost', null)).toThrow(/CHECK/);
  expect(insert('refused', 'not-step').changes).toBe(1);
  db.close();
});

it('brings reports of earlier programs up to date without losing what they say', () => {
  const file = place();
  const db = openDatabase(file, 1);
  db.exec(`INSERT INTO users (id, login, name, role, password_hash, created_at) VALUES (1, 'a', 'A', 'student', '', '');
    INSERT INTO courses VALUES (1, 'c', 's'); INSERT INTO sections (id, course_id, name) VALUES (1, 1, 'x');
    INSERT INTO files VALUES ('f', 1, ''); INSERT INTO exercises (id, course_id, number, title) VALUES (1, 1, 'n', 't');
    INSERT INTO exercise_revisions VALUES (1, 1, 1, '{}', 'f', 'f', 'f', '');
    INSERT INTO assignments VALUES (1, 1, 1, '2026-01-01', '2026-01-02', 1, 'never', '');
    INSERT INTO attempts VALUES (1, 1, 1, 'f', 'a.step', 1, '[]', '', 'graded', NULL, NULL);`);
  const old = {
    score: 70,
    lines: [{ checkId: 'width', measured: 5 }, { checkId: 'length' }],
    causes: [{ id: 'wrong-size', message: 'Width is 5 mm.' }],
    frame: { agreement: 0.9 },
    typed: [],
  };
  db.prepare("INSERT INTO reports VALUES (1, 70, '{}', ?, 'f', '', 1)").run(JSON.stringify(old));
  db.close();

  const newer = openDatabase(file);
  const row = newer.prepare('SELECT report_json AS json FROM reports').get() as { json: string };
  expect(JSON.parse(row.json)).toEqual({
    score: 70,
    scoreBeforeRelease: 70,
    lines: [
      { checkId: 'width', measured: 5, limits: null, uncertainty: 0, reason: null, followOn: false, override: null },
      { checkId: 'length', limits: null, uncertainty: 0, reason: null, followOn: false, override: null },
    ],
    causes: [{ id: 'wrong-size', message: 'Width is 5 mm.', explains: 'observed', instead: false }],
    frame: { agreement: 0.9, certainty: 0.9 },
    format: 'step',
    overlay: null,
    missing: [],
    extra: [],
    rules: [],
    typed: [],
    questions: [],
    deductions: [],
    detail: 'overlay',
  });
  newer.close();
});

it('gives causes, groups of checks and staff of earlier programs their names of today', () => {
  const file = place();
  const db = openDatabase(file, 10);
  const cause = (id: string, message: string) => ({ id, message, explains: 'observed', instead: false });
  const report = {
    lines: [{ checkId: 'sharp', group: 'hygiene' }],
    causes: [
      cause('radius-diameter', 'The bore is twice what the sheet says.'),
      cause('radius-diameter', 'The bore is half of what the sheet says.'),
      cause('half-or-whole', 'The depth is twice what the sheet says.'),
      cause('hole-forgotten', 'A hole is missing.'),
      cause('wrong-size', 'The width is wrong.'),
    ],
  };
  db.exec(`INSERT INTO users VALUES (1, 'a', 'A', 'instructor', '', ''), (2, 'b', 'B', 'student', '', '');
    INSERT INTO courses VALUES (1, 'c', 's'); INSERT INTO sections (id, course_id, name) VALUES (1, 1, 'x');
    INSERT INTO course_instructors (course_id, user_id) VALUES (1, 1);
    INSERT INTO files VALUES ('f', 1, ''); INSERT INTO exercises (id, course_id, number, title) VALUES (1, 1, 'n', 't');
    INSERT INTO exercise_revisions (id, exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
      VALUES (1, 1, 1, '{}', 'f', 'f', 'f', '');
    INSERT INTO assignments (id, revision_id, section_id, opens_at, due_at, attempts_allowed, answers, created_at)
      VALUES (1, 1, 1, '2026-01-01', '2026-01-02', 1, 'never', '');
    INSERT INTO attempts (id, assignment_id, student_id, file_sha256, file_name, file_size_bytes, typed_json, handed_in_at, state)
      VALUES (1, 1, 2, 'f', 'a.step', 1, '[]', '', 'graded');`);
  db.prepare(
    `INSERT INTO reports (attempt_id, score, measurement_json, policy_json, report_json, model_sha256, graded_at, duration_ms)
       VALUES (1, 70, '{}', ?, ?, 'f', '', 1)`,
  ).run(JSON.stringify({ weights: { hygiene: 5 } }), JSON.stringify(report));
  db.close();

  const newer = openDatabase(file);
  const row = newer.prepare('SELECT report_json AS report, policy_json AS policy FROM reports').get() as {
    report: string;
    policy: string;
  };
  const { causes, lines } = JSON.parse(row.report) as typeof report;
  expect(causes.map(({ id }) => id)).toEqual([
    'diameter-for-radius',
    'radius-for-diameter',
    'whole-for-half',
    'one-forgotten',
    'wrong-size',
  ]);
  expect(lines).toMatchObject([{ group: 'model-quality' }]);
  expect(JSON.parse(row.policy)).toEqual({ weights: { 'model-quality': 5 } });
  expect(newer.prepare('SELECT * FROM course_staff').all()).toEqual([
    { course_id: 1, user_id: 1, role: 'instructor', may_release: 0 },
  ]);
  newer.prepare("UPDATE users SET role = 'assistant' WHERE id = 1").run();
  expect(() => newer.prepare("UPDATE users SET role = 'owner' WHERE id = 1").run()).toThrow(/CHECK/);
  newer.close();
});

it('reads what earlier programs stored of late work as points for each day', () => {
  const file = place();
  const earlier = openDatabase(file, 34);
  const scoring = { mode: 'weighted', partialReach: 1, rootCauseOnce: false, notOneBodyCap: 50 };
  earlier.pragma('foreign_keys = OFF');
  earlier
    .prepare(
      `INSERT INTO assignments (id, revision_id, section_id, opens_at, due_at, attempts_allowed, answers, created_at, policy_json)
       VALUES (1, 1, 1, '2026', '2027', 1, 'never', '', ?)`,
    )
    .run(JSON.stringify({ ...scoring, late: { perDay: 10, most: 50 } }));
  // What the row refers to is made up: only its policy is looked at.
  earlier.exec(`INSERT INTO courses (id, title, school) VALUES (1, 'c', 's'); INSERT INTO sections (id, course_id, name) VALUES (1, 1, 'x');
    INSERT INTO exercises (id, course_id, number, title) VALUES (1, 1, 'n', 't'); INSERT INTO files VALUES ('f', 1, '');
    INSERT INTO exercise_revisions (id, exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
    VALUES (1, 1, 1, '{}', 'f', 'f', 'f', '')`);
  earlier.close();
  const db = openDatabase(file);
  const stored = db.prepare<[], string>('SELECT policy_json FROM assignments').pluck().get() ?? '';
  expect((JSON.parse(stored) as { late: object }).late).toEqual({
    amount: 10,
    of: 'points',
    each: 'day',
    graceMinutes: 0,
    most: 50,
  });
  db.close();
});
