import { beforeAll, describe, expect, it } from 'vitest';

import {
  USUAL_AIDS,
  type Aids,
  type AttemptDetail,
  type KeptPlan,
  type ReadingQuestion,
  type ReadingVerdict,
  type RoundAnswer,
  type SizeAnswer,
  type Worked,
} from '#api';
import { prepareExercise } from '#core/attempt';
import type { Reference } from '#core/check';
import { blankExercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { questionsOf } from '#core/reading';
import { printedDimensions } from '#core/selfcheck';
import type { Sheet } from '#core/sheet';
import { cleatPlateExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

let kernel: Kernel;
let drawn: { readonly sheet: Sheet; readonly reference: Reference };
beforeAll(async () => {
  kernel = await loadKernel();
  drawn = unwrap(prepareExercise(kernel, cleatPlateExercise));
});

/** A school whose cleat plate has its real sheet, and where students may use what is said. */
async function openWith(aids: Partial<Aids> = {}): Promise<School> {
  const school = await openSchool();
  const [sheet, reference] = await Promise.all(
    [drawn.sheet, drawn.reference].map((document) => school.files.put(Buffer.from(JSON.stringify(document)))),
  );
  school.db
    .prepare('UPDATE exercise_revisions SET sheet_sha256 = ?, reference_sha256 = ?')
    .run(sheet?.sha256, reference?.sha256);
  school.db.prepare('UPDATE assignments SET aids_json = ?').run(JSON.stringify({ ...USUAL_AIDS, ...aids }));
  return school;
}
const read = async <T>(response: Response): Promise<T> => (await response.json()) as T;
const at = (school: School, what: string): string => `/api/work/${String(school.assignmentId)}/${what}`;

/** The words of a part whose values are to be kept: no answer may have them as a number. */
const numbersIn = (text: string): number[] => [...text.matchAll(/-?\d+(?:\.\d+)?/g)].map(([number]) => Number(number));

describe('a part that is built in the page', () => {
  const { recipe } = blankExercise('SB-101', 'Cleat plate', 'mm');

  it('is kept for its student alone, with every save counted', async () => {
    const school = await openWith({ building: 'all' });
    const first = await school.request('ansel', 'GET', at(school, 'build'));
    expect(await first.json()).toEqual({ version: 0, updatedAt: null, document: null });
    const saved = await school.request('ansel', 'PUT', at(school, 'build'), { version: 0, document: recipe });
    expect(await saved.json()).toMatchObject({ version: 1 });
    expect(await (await school.request('ansel', 'GET', at(school, 'build'))).json()).toMatchObject({
      version: 1,
      document: recipe,
    });
    expect(await (await school.request('fia', 'GET', at(school, 'build'))).json()).toMatchObject({ document: null });
    expect((await school.request('orla', 'GET', at(school, 'build'))).status).toBe(403);
  });

  it('is not overwritten by another window', async () => {
    const school = await openWith({ building: 'all' });
    const put = (version: number, name: string) =>
      school.request('ansel', 'PUT', at(school, 'build'), { version, document: { ...recipe, name } });
    expect((await put(0, 'one')).status).toBe(200);
    const late = await put(0, 'two');
    expect(late.status).toBe(409);
    expect(await late.json()).toMatchObject({ error: { code: 'conflict' }, version: 1 });
    expect((await put(1, 'two')).status).toBe(200);
  });

  it('is not there where the course does not offer it, and nothing is kept that is no recipe', async () => {
    const closed = await openWith({ building: 'none' });
    expect((await closed.request('ansel', 'GET', at(closed, 'build'))).status).toBe(404);
    const open = await openWith({ building: ['extrude'] });
    const odd = await open.request('ansel', 'PUT', at(open, 'build'), { version: 0, document: { steps: 'many' } });
    expect(odd.status).toBe(400);
  });

  it('is in what is given out of a student, and goes with the account', async () => {
    const school = await openWith({ building: 'all' });
    await school.request('ansel', 'PUT', at(school, 'build'), { version: 0, document: recipe });
    school.db.prepare("DELETE FROM users WHERE login = 'ansel'").run();
    expect(school.db.prepare('SELECT count(*) FROM workings').pluck().get()).toBe(0);
  });
});

describe('the words of a sheet', () => {
  it('are told to whoever has the sheet, and to nobody else', async () => {
    const school = await openWith();
    const answer = await school.request('ansel', 'GET', at(school, 'words'));
    expect(((await answer.json()) as { words: string[] }).words).toEqual(
      expect.arrayContaining(['diameter', 'count', 'through']),
    );
    expect((await school.request('orla', 'GET', at(school, 'words'))).status).toBe(403);
    expect((await school.request('ansel', 'GET', '/api/work/99/words')).status).toBe(404);
  });
});

describe('the time that a work takes', () => {
  const log = {
    estimateMinutes: 60,
    spans: [{ from: NOON.toISOString(), to: new Date(NOON.getTime() + 80 * 60_000).toISOString() }],
  };
  const minutesFor = async (school: School, login: string) => {
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const answer = await school.request(login, 'GET', '/api/attempts/1');
    return ((await answer.json()) as AttemptDetail).preparation?.minutes;
  };

  it('is kept for its student alone where the course does not ask for it', async () => {
    const school = await openWith();
    expect((await school.request('ansel', 'PUT', at(school, 'time'), { version: 0, document: log })).status).toBe(200);
    expect(await (await school.request('ansel', 'GET', at(school, 'time'))).json()).toMatchObject({ document: log });
    expect(await (await school.request('fia', 'GET', at(school, 'time'))).json()).toMatchObject({ document: null });
    expect(await minutesFor(school, 'orla')).toBeNull();
  });

  it('is read as a sum by those who review the work, where the course asks for it', async () => {
    const school = await openWith({ time: 'shared' });
    await school.request('ansel', 'PUT', at(school, 'time'), { version: 0, document: log });
    expect(await minutesFor(school, 'orla')).toBe(80);
    expect(await (await school.request('orla', 'GET', '/api/attempts/1')).text()).not.toContain('estimateMinutes');
  });

  it('is refused where it is no log', async () => {
    const school = await openWith();
    const backwards = { ...log, spans: [{ from: log.spans[0]?.to, to: log.spans[0]?.from }] };
    const answer = await school.request('ansel', 'PUT', at(school, 'time'), { version: 0, document: backwards });
    expect(answer.status).toBe(400);
    expect(await answer.text()).toContain('ends after it has begun');
  });
});

describe('going round the sheet', () => {
  it('lists every dimension of the sheet as it is printed, and says of each reading what it is beside it', async () => {
    const school = await openWith();
    const before = (await (await school.request('ansel', 'GET', at(school, 'round'))).json()) as RoundAnswer;
    const [line, other] = before.lines;
    expect(before.lines.length).toBeGreaterThan(4);
    expect(before.lines.every(({ readings }) => readings.length === 0)).toBe(true);
    const target = drawn.reference.targets.find(({ checkId }) => checkId === line?.checkId);
    const nominal = target !== undefined && 'nominal' in target ? target.nominal : Number.NaN;
    const document = { [line?.checkId ?? '']: [String(nominal)], [other?.checkId ?? '']: ['9999', 'no idea'] };
    const answer = await school.request('ansel', 'PUT', at(school, 'round'), { version: 0, document });
    const after = (await answer.json()) as RoundAnswer;
    expect(after.lines[0]?.readings).toEqual([{ text: String(nominal), verdict: { kind: 'agrees' } }]);
    expect(after.lines[1]?.readings.map(({ verdict }) => verdict.kind)).toEqual(['differs', 'unreadable']);
  });

  it('that the course asks for has to be complete before a hand-in is taken, and costs no attempt till then', async () => {
    const school = await openWith({ round: 'asked' });
    const { lines } = (await (await school.request('ansel', 'GET', at(school, 'round'))).json()) as RoundAnswer;
    const refused = await school.handIn('ansel', school.assignmentId, 'a model');
    expect(refused.status).toBe(409);
    expect(await refused.json()).toMatchObject({
      error: {
        code: 'round-open',
        message: expect.stringContaining(`${String(lines.length)} of ${String(lines.length)} are open`) as string,
      },
    });
    const document = Object.fromEntries(lines.map(({ checkId }) => [checkId, ['1']]));
    await school.request('ansel', 'PUT', at(school, 'round'), { version: 0, document });
    // Measured, though not right: what differs is the student's to decide.
    expect((await school.handIn('ansel', school.assignmentId, 'a model')).status).toBe(202);
    expect((await school.handIn('fia', school.assignmentId, 'a model')).status).toBe(409);
  });
});

describe('a round that counts', () => {
  const countedOf = (school: School) =>
    school.db.prepare('SELECT round_open AS open, round_all AS "all" FROM attempts ORDER BY id').all();

  it('takes a hand-in at once, and keeps how far it was then, whatever is measured afterwards', async () => {
    const school = await openWith({ round: 'counted' });
    const { lines } = (await (await school.request('ansel', 'GET', at(school, 'round'))).json()) as RoundAnswer;
    const [one, two] = lines;
    const document = { [one?.checkId ?? '']: ['1'], [two?.checkId ?? '']: ['no number'] };
    await school.request('ansel', 'PUT', at(school, 'round'), { version: 0, document });
    expect((await school.handIn('ansel', school.assignmentId, 'a model')).status).toBe(202);
    // One was read; what is no number is none.
    expect(countedOf(school)).toEqual([{ open: lines.length - 1, all: lines.length }]);
    const all = Object.fromEntries(lines.map(({ checkId }) => [checkId, ['1']]));
    await school.request('ansel', 'PUT', at(school, 'round'), { version: 1, document: all });
    expect(countedOf(school)).toEqual([{ open: lines.length - 1, all: lines.length }]);
  });

  it('is kept of nobody where the course does not count it', async () => {
    const school = await openWith();
    await school.handIn('ansel', school.assignmentId, 'a model');
    expect(countedOf(school)).toEqual([{ open: null, all: null }]);
  });
});

describe('a size that the sheet does not write', () => {
  /** Two opposite corners of the plate in the first view that shows it straight on. */
  function question() {
    const view = drawn.sheet.views.find(({ lies }) => lies !== undefined);
    const { min, max } = drawn.reference.solid.bounds;
    const height = drawn.sheet.pages[(view?.page ?? 1) - 1]?.heightMm ?? 0;
    const point = (part: readonly number[]) => {
      const along = (axis: readonly number[] = []): number => axis.reduce((sum, n, i) => sum + n * (part[i] ?? 0), 0);
      const { origin = [0, 0], right, up } = view?.lies ?? {};
      const scale = view?.scale ?? 1;
      return { page: view?.page ?? 1, at: [origin[0] + along(right) * scale, height - origin[1] - along(up) * scale] };
    };
    return { from: point(min), to: point(max), along: 'across', shown: 0, sum: null };
  }

  it('is told one link at a time where the course says so, and a sum is looked at', async () => {
    const school = await openWith({ sizes: 'link' });
    const ask = async (change: object): Promise<SizeAnswer> => {
      const response = await school.request('ansel', 'POST', at(school, 'size'), { ...question(), ...change });
      expect(response.status).toBe(200);
      return (await response.json()) as SizeAnswer;
    };
    const bare = await ask({});
    expect(bare).toMatchObject({ along: 'across', verdict: null });
    if (bare.kind === 'follows') expect(bare.links).toEqual([]);
    const shown = await ask({ shown: 1 });
    expect(shown.links.length).toBeLessThanOrEqual(1);
    const { min, max } = drawn.reference.solid.bounds;
    expect((await ask({ sum: String(max[0] - min[0]) })).verdict).toBe('agrees');
    expect((await ask({ sum: '1' })).verdict).toBe('differs');
    expect((await ask({ sum: 'about an inch' })).verdict).toBe('unreadable');
  });

  it('is refused with a sentence where nothing is at the point, or the course leaves it to the student', async () => {
    const school = await openWith();
    const nowhere = { page: 1, at: [1, 1] };
    const refused = await school.request('ansel', 'POST', at(school, 'size'), { ...question(), from: nowhere });
    expect(await refused.json()).toMatchObject({ error: { code: 'no-such-place' } });
    const alone = await openWith({ sizes: 'none' });
    expect((await alone.request('ansel', 'POST', at(alone, 'size'), question())).status).toBe(404);
  });

  it('is kept with how much help there was', async () => {
    const school = await openWith();
    const { from, to } = question();
    const document = [{ name: 'Between the holes', from, to, sum: '60 - 15', help: 'link' }];
    await school.request('ansel', 'PUT', at(school, 'sizes'), { version: 0, document });
    expect(await (await school.request('ansel', 'GET', at(school, 'sizes'))).json()).toMatchObject({ document });
  });
});

describe('reading practice', () => {
  const asked = async (school: School, login = 'ansel'): Promise<readonly ReadingQuestion[]> =>
    ((await (await school.request(login, 'GET', at(school, 'reading'))).json()) as { questions: ReadingQuestion[] })
      .questions;
  const choose = async (school: School, questionId: string, choice: number): Promise<ReadingVerdict> =>
    (await (
      await school.request('ansel', 'POST', at(school, 'reading'), { questionId, choice })
    ).json()) as ReadingVerdict;
  const dueTopics = async (school: School): Promise<unknown> =>
    (await school.request('ansel', 'GET', '/api/my-reading')).json();
  /** The right option of a question, which only the answer to it tells. */
  const answerOf = (id: string): number => {
    const parts = { ...drawn, exercise: cleatPlateExercise };
    const all = questionsOf({ ...parts, dimensions: printedDimensions(drawn.sheet, drawn.reference) });
    return all.find((question) => question.id === id)?.answer ?? -1;
  };

  it('asks of every topic without telling the answer, which is said with its reason afterwards', async () => {
    const school = await openWith();
    const questions = await asked(school);
    expect(questions.length).toBeGreaterThan(5);
    expect(new Set(questions.map(({ topic }) => topic)).size).toBe(questions.length);
    expect(JSON.stringify(questions)).not.toMatch(/"answer"|"why"/);
    const [first] = questions;
    const right = answerOf(first?.id ?? '');
    const verdict = await choose(school, first?.id ?? '', right);
    expect(verdict).toMatchObject({ right: true, answer: right });
    expect(verdict.why.length).toBeGreaterThan(10);
    expect((await choose(school, first?.id ?? '', right === 0 ? 1 : 0)).right).toBe(false);
  });

  it('has pictures of four parts as soon as they are made, and asks for them first then', async () => {
    const school = await openWith();
    expect((await asked(school)).every(({ pictures }) => pictures === null)).toBe(true);
    const wrong = [1, 2, 3].map((x) => ({ kind: 'feature-forgotten', about: '', picture: [[x, 0, x, 9]] }));
    school.db
      .prepare("INSERT INTO lookalikes SELECT reference_sha256, ?, '' FROM exercise_revisions WHERE id = 1")
      .run(JSON.stringify({ right: [[0, 0, 0, 9]], wrong }));
    const found = (await asked(school)).find(({ topic }) => topic === 'pictures');
    expect(found?.options).toEqual(['Part a', 'Part b', 'Part c', 'Part d']);
    expect(found?.pictures).toHaveLength(4);
    const right = found?.pictures?.findIndex((picture) => picture[0]?.[0] === 0) ?? -1;
    expect(await choose(school, found?.id ?? '', right)).toMatchObject({ right: true });
  });

  it('brings back sooner what was wrong than what was right, and asks for what is due first', async () => {
    const school = await openWith();
    const [known, missed] = await asked(school);
    if (known === undefined || missed === undefined) throw new Error('no questions');
    const right = await choose(school, known.id, answerOf(known.id));
    const wrong = await choose(school, missed.id, (answerOf(missed.id) + 1) % missed.options.length);
    expect(Date.parse(wrong.dueAt)).toBeLessThan(Date.parse(right.dueAt));
    expect(await dueTopics(school)).toEqual({ topics: [] });
    school.setHour((Date.parse(wrong.dueAt) - NOON.getTime()) / 3_600_000 + 1);
    school.signOutAll();
    expect(await dueTopics(school)).toEqual({ topics: [missed.topic] });
    // What was never asked comes before it, then what is due; what was known comes last.
    const topics = (await asked(school)).map(({ topic }) => topic);
    const placeOf = (topic: string): number => [...topics, known.topic].findIndex((one) => one === topic);
    expect(placeOf(missed.topic)).toBeLessThan(placeOf(known.topic));
    expect(topics[0]).not.toBe(missed.topic);
  });

  it('counts a second answer of one sitting, but does not move the date for it', async () => {
    const school = await openWith();
    const [question] = await asked(school);
    if (question === undefined) throw new Error('no questions');
    const wrong = (answerOf(question.id) + 1) % question.options.length;
    const { dueAt } = await choose(school, question.id, wrong);
    expect((await choose(school, question.id, answerOf(question.id))).dueAt).toBe(dueAt);
    const reading = await school.request('orla', 'GET', '/api/courses/1/reading');
    expect(await reading.json()).toEqual({ topics: [{ topic: question.topic, answers: 2, right: 1, students: 1 }] });
    expect((await school.request('pim', 'GET', '/api/courses/1/reading')).status).toBe(404);
  });

  it('takes no more answers than anybody thinks about', async () => {
    const school = await openWith();
    const [question] = await asked(school);
    const post = async (): Promise<number> =>
      (await school.request('ansel', 'POST', at(school, 'reading'), { questionId: question?.id ?? '', choice: 0 }))
        .status;
    const statuses = [];
    for (let i = 0; i < 301; i++) statuses.push(await post());
    expect([statuses[299], statuses[300]]).toEqual([200, 429]);
  });

  it('keeps to the topics that the course chose, and to questions that there are', async () => {
    const school = await openWith({ reading: ['symbols', 'lines'] });
    expect(new Set((await asked(school)).map(({ topic }) => topic))).toEqual(new Set(['symbols', 'lines']));
    const odd = await school.request('ansel', 'POST', at(school, 'reading'), { questionId: 'nothing', choice: 0 });
    expect(odd.status).toBe(404);
    const none = await openWith({ reading: 'none' });
    expect((await none.request('ansel', 'GET', at(none, 'reading'))).status).toBe(404);
  });
});

it('no answer to a student at work has a volume, a mass, a center or a surface of the reference', async () => {
  const school = await openWith({ building: 'all', sizes: 'chain' });
  const { massProperties } = drawn.reference.solid;
  const { volumeMm3, areaMm2, centroidMm } = massProperties;
  const massG = (volumeMm3 * drawn.reference.densityGPerCm3) / 1000;
  const secrets = [volumeMm3, areaMm2, massG, ...centroidMm.filter((place) => Math.abs(place) > 1e-6)];
  const texts = [];
  for (const what of ['build', 'round', 'sizes'])
    texts.push(await (await school.request('ansel', 'GET', at(school, what))).text());
  texts.push(await (await school.request('ansel', 'GET', `/api/work/${String(school.assignmentId)}`)).text());
  const found = texts.flatMap(numbersIn);
  for (const secret of secrets) expect(found.filter((number) => Math.abs(number / secret - 1) < 1e-4)).toEqual([]);
});

describe('the steps of the reference', () => {
  const stepsOf = async (school: School): Promise<Worked> =>
    (await (await school.request('ansel', 'GET', at(school, 'worked'))).json()) as Worked;

  it('are kept where nothing else is said, and shown where the part is worked together', async () => {
    const kept = await openWith();
    expect((await kept.request('ansel', 'GET', at(kept, 'worked'))).status).toBe(404);
    const school = await openWith({ worked: 'shown' });
    const { recipe, steps } = await stepsOf(school);
    expect(recipe.steps.map(({ id }) => id)).toEqual(cleatPlateExercise.recipe.steps.map(({ id }) => id));
    expect(steps).toHaveLength(recipe.steps.length);
    for (const { sentence, name } of steps) expect(`${name}: ${sentence}`).toMatch(/^.+: .+/);
    const known = new Set(cleatPlateExercise.checks.map(({ id }) => id));
    expect(steps.flatMap(({ checkIds }) => checkIds).every((id) => known.has(id))).toBe(true);
    expect((await school.request('orla', 'GET', at(school, 'worked'))).status).toBe(403);
  });

  it('are shown once the answers are out, and not before', async () => {
    const school = await openWith();
    school.setHour(9.9);
    school.signOutAll();
    expect((await school.request('ansel', 'GET', at(school, 'worked'))).status).toBe(404);
    school.setHour(10.1);
    expect((await stepsOf(school)).steps.length).toBeGreaterThan(0);
    school.db.prepare("UPDATE assignments SET answers = 'never'").run();
    expect((await school.request('ansel', 'GET', at(school, 'worked'))).status).toBe(404);
  });

  it('have the values of the student’s own variant', async () => {
    const school = await openWith({ worked: 'shown' });
    const [letter] = cleatPlateExercise.recipe.parameters;
    const name = letter?.name ?? '';
    const document = { ...cleatPlateExercise, variants: [{ name: '1', values: { [name]: '77' } }] };
    school.db.prepare('UPDATE exercise_revisions SET document_json = ?, number = 2').run(JSON.stringify(document));
    const revisionId = school.db.prepare('SELECT id FROM exercise_revisions').pluck().get();
    school.db
      .prepare(
        `INSERT INTO revision_parts (revision_id, variant, stage, reference_sha256, sheet_sha256)
         SELECT id, 0, 1, reference_sha256, sheet_sha256 FROM exercise_revisions WHERE id = ?`,
      )
      .run(revisionId);
    expect((await stepsOf(school)).recipe.parameters.find((one) => one.name === name)?.value).toBe('77');
  });
});

describe('a plan of building', () => {
  const step = { operation: 'extrude', removes: false, on: 'top plane', extent: 'depth', made: null } as const;
  const plan = {
    origin: 'lower left corner',
    symmetry: '',
    steps: [
      { ...step, id: 'a', name: 'Base plate', sizes: ['thickness'] },
      { ...step, id: 'b', operation: 'hole', name: 'Bolts', extent: 'through', sizes: [] },
    ],
  };
  const keepPlan = (school: School) =>
    school.request('ansel', 'PUT', at(school, 'plan'), { version: 0, document: plan });

  it('is kept for its student, with what the sheet prints to take sizes from, and nothing else', async () => {
    const school = await openWith();
    expect((await keepPlan(school)).status).toBe(200);
    const kept = await read<KeptPlan>(await school.request('ansel', 'GET', at(school, 'plan')));
    expect(kept).toMatchObject({ version: 1, document: plan });
    expect(kept.sizes.map(({ printed }) => printed)).toEqual(
      printedDimensions(drawn.sheet, drawn.reference).map(({ printed }) => printed),
    );
    expect(await read<KeptPlan>(await school.request('fia', 'GET', at(school, 'plan')))).toMatchObject({
      document: null,
    });
  });

  it('is asked for before a hand-in where the course says so, and is its list of build steps then', async () => {
    const school = await openWith({ plan: 'asked' });
    const refused = await school.handIn('ansel', school.assignmentId, 'a model');
    expect(refused.status).toBe(409);
    expect(await refused.json()).toMatchObject({ error: { code: 'plan-open' } });
    await keepPlan(school);
    const { attemptId } = await read<{ attemptId: number }>(
      await school.handIn('ansel', school.assignmentId, 'a model'),
    );
    await school.queue.idle();
    const seen = await read<AttemptDetail>(await school.request('orla', 'GET', `/api/attempts/${String(attemptId)}`));
    expect(seen.buildLog).toBe('Extrude Base plate\nHole Bolts through all');
    expect(seen.preparation?.plan).toEqual(['Extrude Base plate', 'Hole Bolts through all']);
  });

  it('is not there where the course does without', async () => {
    const school = await openWith({ plan: 'none' });
    expect((await school.request('ansel', 'GET', at(school, 'plan'))).status).toBe(404);
    expect((await keepPlan(school)).status).toBe(404);
  });
});
