import type { Context, Hono } from 'hono';
import { RateLimiterMemory } from 'rate-limiter-flexible';

import {
  KeepSchema,
  ReadingChoiceSchema,
  SizeQuestionSchema,
  WORKINGS,
  type Aids,
  type KeptPlan,
  type WorkingKind,
} from '#api';
import type { Exercise, Variant } from '#core/exercise';
import { wordsOf } from '#core/words';
import {
  allow,
  idParam,
  jsonBody,
  notFound,
  placeParam,
  refuseProblem,
  refuseWith,
  takesRoom,
  userOf,
  type AppEnv,
} from '#server/http';

import type { DrawnPart, ReadParts } from './parts.ts';
import type { Readings } from './readings.ts';
import type { Rounds } from './rounds.ts';
import type { Sizes } from './sizes.ts';
import { workedSteps } from './worked.ts';
import type { SavedElsewhere, Workings, WorkPlace } from './workings.ts';

interface PracticeServices {
  readonly workings: Workings;
  readonly rounds: Rounds;
  readonly sizes: Sizes;
  readonly readings: Readings;
  readonly read: ReadParts;
}

/** The work of students, as far as it is needed here. */
interface StudentWork {
  /** The work of a student as far as it is open; the last stage where none is asked for. */
  workDetail(
    assignmentId: number,
    studentId: number,
    stage?: number,
  ): { readonly stage: number; readonly aids: Aids; readonly worked: boolean } | null;
  sheetOf(
    assignmentId: number,
    studentId: number,
    stage?: number,
  ): (DrawnPart & { readonly exercise: Exercise; readonly values: Variant['values'] }) | null;
}

/** Answers and questions of one student in ten minutes: more than anybody thinks about, and less than would fill the disk. */
const ANSWERS = { points: 300, duration: 600 } as const;
const TOO_FAST = 'These are more answers than anybody thinks about. Wait ten minutes and go on.';

/** Which aid a kind of working belongs to. */
const AID_OF = {
  build: 'building',
  plan: 'plan',
  round: 'round',
  sizes: 'sizes',
  time: 'time',
} as const satisfies Record<WorkingKind, keyof Aids>;

/** What a student does between reading and handing in. Whoever asks sees the own work alone. */
export function practiceRoutes(app: Hono<AppEnv>, services: PracticeServices, attempts: StudentWork): void {
  keptRoutes(app, services, attempts);
  planRoute(app, services, attempts);
  roundRoutes(app, services, attempts);
  sizeRoute(app, services, attempts);
  readingRoutes(app, services, attempts);
  workedRoute(app, services.read, attempts);
  wordsRoute(app, services.read, attempts);
}

const workAsked = (c: Context<AppEnv>, attempts: StudentWork) => {
  const [assignmentId, studentId] = [idParam(c) ?? 0, userOf(c).id];
  const work = attempts.workDetail(assignmentId, studentId, placeParam(c.req.query('stage')));
  return work && { aids: work.aids, worked: work.worked, place: { assignmentId, studentId, stage: work.stage } };
};

/** Where in the work the request is, if the course offers this there. */
function placeOf(c: Context<AppEnv>, attempts: StudentWork, kind: WorkingKind): WorkPlace | null {
  const work = workAsked(c, attempts);
  return work === null || work.aids[AID_OF[kind]] === 'none' ? null : work.place;
}

const conflict = (c: Context, { version, updatedAt }: SavedElsewhere) =>
  c.json(
    {
      error: { code: 'conflict', message: 'You saved this in another window. Look at that version, or keep this one.' },
      version,
      updatedAt,
      updatedBy: 'You',
    },
    409,
  );

/** The part that is built in the page, sizes that were worked out, the time that it took: kept as they are. */
function keptRoutes(app: Hono<AppEnv>, { workings }: PracticeServices, attempts: StudentWork): void {
  for (const kind of ['build', 'plan', 'sizes', 'time'] as const) {
    const path = `/api/work/:id/${kind}` as const;
    if (kind !== 'plan')
      app.get(path, allow('work'), (c) => {
        const place = placeOf(c, attempts, kind);
        return place === null ? notFound(c) : c.json(workings.find(kind, place));
      });
    app.put(path, allow('work'), jsonBody(KeepSchema(WORKINGS[kind])), (c) => {
      const place = placeOf(c, attempts, kind);
      if (place === null) return notFound(c);
      const { version, document } = c.req.valid('json');
      const saved = workings.save(kind, place, version, document);
      return saved.kind === 'saved'
        ? c.json({ version: saved.version, updatedAt: saved.updatedAt })
        : conflict(c, saved);
    });
  }
}

/** The plan of building, with the dimensions that its steps may take: what the sheet prints, and nothing else. */
function planRoute(app: Hono<AppEnv>, { workings, read }: PracticeServices, attempts: StudentWork): void {
  app.get('/api/work/:id/plan', allow('work'), async (c) => {
    const place = placeOf(c, attempts, 'plan');
    const part = place && sheetAt(attempts, place);
    if (place === null || part === null) return notFound(c);
    const found = await read(part);
    const sizes = (found?.dimensions ?? []).map(({ checkId, printed, label, page }) => ({
      checkId,
      printed,
      label,
      page,
    }));
    return c.json({ ...workings.find('plan', place), sizes } satisfies KeptPlan);
  });
}

function roundRoutes(app: Hono<AppEnv>, { workings, rounds }: PracticeServices, attempts: StudentWork): void {
  const roundAnswer = async (c: Context<AppEnv>, place: WorkPlace) => {
    const part = sheetAt(attempts, place);
    if (part === null) return notFound(c);
    const { version, document } = workings.find('round', place);
    return c.json({ version, lines: await rounds.linesOf(part, document ?? {}) });
  };
  app.get('/api/work/:id/round', allow('work'), async (c) => {
    const place = placeOf(c, attempts, 'round');
    return place === null ? notFound(c) : roundAnswer(c, place);
  });
  app.put('/api/work/:id/round', allow('work'), jsonBody(KeepSchema(WORKINGS.round)), async (c) => {
    const place = placeOf(c, attempts, 'round');
    if (place === null) return notFound(c);
    const { version, document } = c.req.valid('json');
    const saved = workings.save('round', place, version, document);
    return saved.kind === 'saved' ? roundAnswer(c, place) : conflict(c, saved);
  });
}

function sizeRoute(app: Hono<AppEnv>, { sizes }: PracticeServices, attempts: StudentWork): void {
  const asked = new RateLimiterMemory(ANSWERS);
  app.post('/api/work/:id/size', allow('work'), jsonBody(SizeQuestionSchema), async (c) => {
    if (!(await takesRoom(asked, userOf(c).id))) return refuseWith(c, 'too-many-tries', TOO_FAST);
    const work = workAsked(c, attempts);
    if (work === null || work.aids.sizes === 'none') return notFound(c);
    const part = sheetAt(attempts, work.place);
    if (part === null) return notFound(c);
    const answer = await sizes.answer(part, c.req.valid('json'), work.aids.sizes);
    return answer.ok ? c.json(answer.value) : refuseProblem(c, answer.problem);
  });
}

/** The steps of the reference, where the course shows them or the answers are out. */
function workedRoute(app: Hono<AppEnv>, read: ReadParts, attempts: StudentWork): void {
  app.get('/api/work/:id/worked', allow('work'), async (c) => {
    const work = workAsked(c, attempts);
    const part = work?.worked === true ? sheetAt(attempts, work.place) : null;
    if (part === null) return notFound(c);
    const found = await read(part);
    return c.json(workedSteps(part.exercise, part.values, found?.dimensions ?? []));
  });
}

/** The words and signs of the sheet, which are no help with the exercise itself. */
function wordsRoute(app: Hono<AppEnv>, read: ReadParts, attempts: StudentWork): void {
  app.get('/api/work/:id/words', allow('work'), async (c) => {
    const work = workAsked(c, attempts);
    const part = work && sheetAt(attempts, work.place);
    if (part === null) return notFound(c);
    const found = await read(part);
    return c.json({ words: found === null ? [] : [...wordsOf({ sheet: found.sheet, exercise: part.exercise })] });
  });
}

const sheetAt = (attempts: StudentWork, { assignmentId, studentId, stage }: WorkPlace) =>
  attempts.sheetOf(assignmentId, studentId, stage);

function readingRoutes(app: Hono<AppEnv>, { readings }: PracticeServices, attempts: StudentWork): void {
  app.get('/api/work/:id/reading', allow('work'), async (c) => {
    const work = workAsked(c, attempts);
    if (work === null || work.aids.reading === 'none') return notFound(c);
    const part = sheetAt(attempts, work.place);
    return part === null ? notFound(c) : c.json({ questions: await readings.next(part, work.place, work.aids) });
  });

  const answered = new RateLimiterMemory(ANSWERS);
  app.post('/api/work/:id/reading', allow('work'), jsonBody(ReadingChoiceSchema), async (c) => {
    if (!(await takesRoom(answered, userOf(c).id))) return refuseWith(c, 'too-many-tries', TOO_FAST);
    const work = workAsked(c, attempts);
    if (work === null || work.aids.reading === 'none') return notFound(c);
    const part = sheetAt(attempts, work.place);
    if (part === null) return notFound(c);
    const verdict = await readings.answer(part, work.place, c.req.valid('json'));
    return verdict.ok ? c.json(verdict.value) : refuseProblem(c, verdict.problem);
  });

  app.get('/api/my-reading', allow('work'), (c) => c.json({ topics: readings.dueOf(userOf(c).id) }));

  app.get('/api/courses/:id/reading', allow('read-course'), (c) => {
    const found = readings.ofCourse(idParam(c) ?? 0, userOf(c).id);
    return found === null ? notFound(c) : c.json(found);
  });
}
