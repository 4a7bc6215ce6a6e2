import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { pino } from 'pino';
import { afterAll, describe, expect, it } from 'vitest';

import { blankExercise, type Exercise } from '#core/exercise';
import { cleatPlateExercise } from '#demo/exercises';
import { startPool } from '#server/jobs';

import { blockStep, exerciseOf, holesStep, sizeCheck } from '../core/exercise/testing.ts';

import { model, textFile } from './models.ts';

const kept = mkdtempSync(path.join(tmpdir(), 'zorvet-cache-'));
afterAll(() => {
  rmSync(kept, { recursive: true });
});
const run = (...args: string[]) => {
  const env = { ...process.env, XDG_CACHE_HOME: kept };
  const done = spawnSync(process.execPath, ['dist/node/zorvet.js', ...args], { encoding: 'utf8', env });
  return { ...done, json: () => JSON.parse(done.stdout) as Record<string, unknown> };
};
const cube = createRequire(import.meta.url).resolve('occt-import-js/test/testfiles/cube-units/cube-in.step');

describe('zorvet inspect', () => {
  it('prints one JSON object with the agreed names', () => {
    const done = run('inspect', cube, '--json');
    expect(done.status).toBe(0);
    const json = done.json();
    expect(json).toMatchObject({ format: 'step', declared_unit: 'in', bodies: 1, valid: true, closed: true, faces: 6 });
    expect(json['volume_mm3']).toBeCloseTo(1e9, 0);
    for (const name of ['area_mm2', 'centroid_mm', 'inertia_mm5', 'bbox_mm', 'features', 'warnings'])
      expect(json).toHaveProperty(name);
  });

  it('tells people the same in words', () => {
    expect(run('inspect', cube).stdout).toContain('declared unit    in');
  });

  it.each([
    [textFile('text.step', 'hello'), 'not-step'],
    ['no-such-file.step', 'no-file'],
  ])('refuses %s with exit code 2 and a code', (file, code) => {
    const done = run('inspect', file, '--json');
    expect(done.status).toBe(2);
    expect(done.json()).toMatchObject({ error: { code } });
  });
});

describe('zorvet grade', () => {
  const exercise = 'demo/exercises/cleat-plate.json';

  it('grades a file with typed numbers', async () => {
    const { file, typed } = await model(
      cleatPlateExercise,
      { kind: 'radius-for-diameter', step: 'bolts', hole: 1 },
      'cli.step',
    );
    const values = textFile('values.json', JSON.stringify(typed));
    const json = run('grade', exercise, file, '--values', values, '--json').json();
    expect(json).toMatchObject({ frame: { kind: 'as-modeled' }, causes: [{ id: 'radius-for-diameter' }] });
    const checks = json['checks'] as { id: string; verdict: string; measured: number }[];
    expect(checks.find((check) => check.id === 'bolt-diameter')).toMatchObject({ verdict: 'wrong', measured: 4.5 });
    expect(json['typed']).toHaveLength(5);
  });

  it('judges how the part was built, and says what of it was not understood', async () => {
    const { file } = await model(cleatPlateExercise, { kind: 'none' }, 'built.step');
    const steps = textFile(
      'steps.txt',
      'Extrude plate\nfrobnicate\nFillet corners\nHole 9 through all\nExtrude slots, cut\n',
    );
    const json = run('grade', exercise, file, '--steps', steps, '--json').json();
    expect(json).toMatchObject({ steps_not_understood: [{ line: 2, text: 'frobnicate' }] });
    expect((json['rules'] as { verdict: string }[]).map(({ verdict }) => verdict)).not.toContain('open');
    const none = run('grade', exercise, file, '--steps', textFile('nothing.txt', 'hello\n'), '--json');
    expect([none.status, none.json()]).toMatchObject([2, { error: { code: 'log-without-steps' } }]);
  });

  it('grades against other values of the letters', async () => {
    const { file } = await model(cleatPlateExercise, { kind: 'size-wrong', parameter: 'A', value: '150' }, 'long.step');
    const wrong = run('grade', exercise, file, '--json').json()['causes'] as { id: string }[];
    expect(wrong.length).toBeGreaterThan(0);
    expect(run('grade', exercise, file, '--set', 'A=150', '--json').json()['causes']).toEqual([]);
  });

  it('refuses an exercise that is none, and says where it is wrong', () => {
    const broken = { ...(JSON.parse(readFileSync(exercise, 'utf8')) as object), level: 'impossible' };
    const done = run('grade', textFile('broken.json', JSON.stringify(broken)), cube);
    expect(done.status).toBe(2);
    expect(done.stderr).toContain('level');
  });
});

describe('zorvet sheet', () => {
  it.each([
    ['svg', /^<svg [^>]*viewBox="0 0 420 297"/],
    ['pdf', /^%PDF-/],
    ['dxf', /SECTION[\s\S]*ENTITIES/],
  ])('writes the sheet of an exercise as %s', (ending, content) => {
    const out = textFile(`sheet.${ending}`, '');
    expect(run('sheet', 'demo/exercises/cleat-plate.json', '--set', 'A=140', '--out', out).status).toBe(0);
    expect(readFileSync(out, 'latin1')).toMatch(content);
  });

  it('tells with it what the sheet leaves open: of the cleat plate nothing', () => {
    const out = textFile('open.svg', '');
    const done = run('sheet', 'demo/exercises/cleat-plate.json', '--set', 'A=140', '--out', out, '--json');
    const nothing = { undetermined: [], redundant: [], unchecked: [] };
    expect(done.json()).toMatchObject({ out, pages: 1, scale: 1, warnings: [], ...nothing });
  });

  it.each(['x', '0', '2', '1.5'])('refuses a stage %s that the exercise does not have', (stage) => {
    const out = textFile('no.svg', '');
    const done = run('sheet', 'demo/exercises/cleat-plate.json', '--stage', stage, '--out', out, '--json');
    expect(done.status).toBe(2);
    expect(done.json()).toMatchObject({ error: { code: 'bad-input' } });
  });

  it('refuses a file it cannot write, with exit code 2', () => {
    const done = run('sheet', 'demo/exercises/cleat-plate.json', '--out', 'sheet.doc', '--json');
    expect(done.status).toBe(2);
    expect(done.json()).toMatchObject({ error: { code: 'bad-output' } });
  });
});

it('zorvet build writes a part that inspect reads back', () => {
  const out = path.join(path.dirname(textFile('place', '')), 'built.step');
  expect(run('build', 'demo/exercises/cleat-plate.json', '--set', 'C=20', '--out', out).status).toBe(0);
  expect(existsSync(out)).toBe(true);
  // Twice as thick as the sheet's plate of 67123.98 mm3, whose formula is worked out with the demo exercises.
  expect(run('inspect', out, '--json').json()['volume_mm3']).toBeCloseTo(2 * 67123.98253830508, 4);
});

describe('the pool of kernel workers', () => {
  it('stops a job that takes too long, and the next job is done by a new worker', async () => {
    const log = pino({ level: 'silent' });
    const workerUrl = new URL('../dist/node/worker.js', import.meta.url);
    const hasty = await startPool({ workerUrl, timeLimitMs: 40, log, threads: 1 });
    expect((await hasty.prepare({ exercise: cleatPlateExercise, stage: 1 })).kind).toBe('timed-out');
    await hasty.close();
    const patient = await startPool({ workerUrl, timeLimitMs: 60_000, log, threads: 1 });
    expect((await patient.prepare({ exercise: cleatPlateExercise, stage: 1 })).kind).toBe('done');
    await patient.close();
  });

  it('makes the mistakes of a part that was read from a file', async () => {
    const plate = exerciseOf({
      steps: [
        blockStep([60, 30, 10]),
        holesStep(
          'bore',
          [
            [15, 15],
            [45, 15],
          ],
          8,
        ),
      ],
      checks: [],
    });
    const { file } = await model(plate, { kind: 'none' }, 'reference.step');
    const exercise: Exercise = {
      ...blankExercise('SB-907', 'Plate from a file', 'mm'),
      model: { sha256: '0'.repeat(64), fileName: 'reference.step', unit: null },
    };
    const pool = await startPool({
      workerUrl: new URL('../dist/node/worker.js', import.meta.url),
      timeLimitMs: 120_000,
      log: pino({ level: 'silent' }),
      threads: 1,
    });
    const prepared = await pool.prepare({ exercise, stage: 1, modelPath: file });
    if (prepared.kind !== 'done') throw new Error(prepared.kind);
    const part = { exercise, stage: 1, referencePath: textFile('reference.json', prepared.value.referenceJson) };
    const first = await pool.atlas({ ...part, modelPath: file, from: 0, count: 3 });
    // Two holes of 8 are recognized, and nothing without the file.
    expect(first.kind === 'done' && first.value.total).toBeGreaterThan(15);
    expect(first.kind === 'done' && first.value.made.map(({ kind }) => kind)).toContain('made');
    const made = first.kind === 'done' ? first.value.made : [];
    expect((await pool.gather({ ...part, modelPath: file, made })).kind).toBe('done');
    // The same reference with another document: what was kept of the first is not taken for it.
    const forgetful = { ...exercise, likelihoods: { 'feature-forgotten': 0, 'one-forgotten': 0 } };
    const other = await pool.atlas({ ...part, exercise: forgetful, modelPath: file, from: 0, count: 500 });
    const kept = other.kind === 'done' ? other.value.made.flatMap((one) => (one.kind === 'made' ? one.entry : [])) : [];
    expect(kept.length).toBeGreaterThan(8);
    expect(kept.map(({ mistake }) => mistake.kind)).not.toContain('feature-forgotten');
    const bare = await pool.atlas({
      ...part,
      exercise: { ...exercise, title: 'Plate without its file' },
      from: 0,
      count: 3,
    });
    expect(bare).toMatchObject({ kind: 'done', value: { total: 0 } });
    await pool.close();
  });
});

describe('zorvet explain', () => {
  const drilled = exerciseOf({
    steps: [blockStep([60, 30, 10]), holesStep('bore', [[30, 15]], 8)],
    checks: [
      sizeCheck('length', 'overall-size', 60, { axis: 'x' }),
      sizeCheck('bore', 'diameter', 8, { of: ['bore.wall'] }),
      { kind: 'volume', id: 'volume', label: 'Volume', weight: 1, tolerancePercent: 0.1 },
    ],
  });
  const file = textFile('drilled.json', JSON.stringify(drilled));
  const explain = (...numbers: string[]) => run('explain', file, ...numbers, '--json');
  /** 60 x 30 x 10 with a bore through it. */
  const volumeMm3 = (boreMm: number) => 10 * (60 * 30 - (Math.PI / 4) * boreMm ** 2);

  it('names the mistake that gives a volume, and knows the right one', () => {
    const found = explain('--volume', volumeMm3(4).toFixed(1)).json();
    expect(found).toMatchObject({ right: false, causes: [{ kind: 'radius-for-diameter' }] });
    expect(explain('--volume', volumeMm3(8).toFixed(1)).json()).toMatchObject({ right: true });
  });

  it.each([
    [['--volume', 'abc'], 'not-a-number'],
    [['--mass=-5'], 'not-positive'],
    [['--volume', '0'], 'not-positive'],
    [['--centroid', '1,2'], 'bad-centroid'],
    [['--centroid', 'a,b,c'], 'not-a-number'],
    [[], 'no-numbers'],
  ])('refuses %j with a code', (numbers, code) => {
    const done = explain(...numbers);
    expect(done.status).toBe(2);
    expect(done.json()).toMatchObject({ error: { code } });
  });

  it('takes a number far from the part for what it is', () => {
    expect(explain('--volume', '1e99').json()).toMatchObject({ right: false, causes: [] });
  });
});
