import type { Context, Hono } from 'hono';
import { KeepSchema, SizeQuestionSchema, WORKINGS, type Aids, type WorkingKind } from '#api';
import type { Exercise } from '#core/exercise';
import { allow, idParam, jsonBody, notFound, placeParam, refuseProblem, userOf, type AppEnv } from '#server/http';

import type { DrawnPart } from './parts.ts';
import type { Rounds } from './rounds.ts';
import type { Sizes } from './sizes.ts';
import type { SavedElsewhere, Workings, WorkPlace } from './workings.ts';

interface PracticeServices {
  readonly workings: Workings;
  readonly rounds: Rounds;
  readonly sizes: Sizes;
}

/** The work of students, as far as it is needed here. */
interface StudentWork {
  /** The work of a student as far as it is open; the last stage where none is asked for. */
  workDetail(
    assignmentId: number,
    studentId: number,
    stage?: number,
  ): { readonly stage: number; readonly aids: Aids } | null;
  sheetOf(
    assignmentId: number,
    studentId: number,
    stage?: number,
  ): (DrawnPart & { readonly exercise: Exercise }) | null;
}

/** Which aid a kind of working belongs to. */
const AID_OF = { build: 'building', round: 'round', sizes: 'sizes' } as const satisfies Record<WorkingKind, keyof Aids>;

/** What a student does between reading and handing in. Whoever asks sees the own work alone. */
export function practiceRoutes(
  app: Hono<AppEnv>,
  { workings, rounds, sizes }: PracticeServices,
  attempts: StudentWork,
): void {
  /** Where in the work the request is, if the course offers this there. */
  const placeOf = (c: Context<AppEnv>, kind: WorkingKind): WorkPlace | null => {
    const [assignmentId, studentId] = [idParam(c) ?? 0, userOf(c).id];
    const work = attempts.workDetail(assignmentId, studentId, placeParam(c.req.query('stage')));
    return work === null || work.aids[AID_OF[kind]] === 'none' ? null : { assignmentId, studentId, stage: work.stage };
  };
  const conflict = (c: Context, { version, updatedAt }: SavedElsewhere) =>
    c.json(
      {
        error: {
          code: 'conflict',
          message: 'You saved this in another window. Look at that version, or keep this one.',
        },
        version,
        updatedAt,
        updatedBy: 'You',
      },
      409,
    );

  app.get('/api/work/:id/build', allow('work'), (c) => {
    const place = placeOf(c, 'build');
    return place === null ? notFound(c) : c.json(workings.find('build', place));
  });
  app.put('/api/work/:id/build', allow('work'), jsonBody(KeepSchema(WORKINGS.build)), (c) => {
    const place = placeOf(c, 'build');
    if (place === null) return notFound(c);
    const { version, document } = c.req.valid('json');
    const saved = workings.save('build', place, version, document);
    return saved.kind === 'saved' ? c.json({ version: saved.version, updatedAt: saved.updatedAt }) : conflict(c, saved);
  });

  app.get('/api/work/:id/sizes', allow('work'), (c) => {
    const place = placeOf(c, 'sizes');
    return place === null ? notFound(c) : c.json(workings.find('sizes', place));
  });
  app.put('/api/work/:id/sizes', allow('work'), jsonBody(KeepSchema(WORKINGS.sizes)), (c) => {
    const place = placeOf(c, 'sizes');
    if (place === null) return notFound(c);
    const { version, document } = c.req.valid('json');
    const saved = workings.save('sizes', place, version, document);
    return saved.kind === 'saved' ? c.json({ version: saved.version, updatedAt: saved.updatedAt }) : conflict(c, saved);
  });

  const roundAnswer = async (c: Context<AppEnv>, place: WorkPlace) => {
    const part = attempts.sheetOf(place.assignmentId, place.studentId, place.stage);
    if (part === null) return notFound(c);
    const { version, document } = workings.find('round', place);
    return c.json({ version, lines: await rounds.linesOf(part, document ?? {}) });
  };
  app.get('/api/work/:id/round', allow('work'), async (c) => {
    const place = placeOf(c, 'round');
    return place === null ? notFound(c) : roundAnswer(c, place);
  });
  app.put('/api/work/:id/round', allow('work'), jsonBody(KeepSchema(WORKINGS.round)), async (c) => {
    const place = placeOf(c, 'round');
    if (place === null) return notFound(c);
    const { version, document } = c.req.valid('json');
    const saved = workings.save('round', place, version, document);
    return saved.kind === 'saved' ? roundAnswer(c, place) : conflict(c, saved);
  });

  app.post('/api/work/:id/size', allow('work'), jsonBody(SizeQuestionSchema), async (c) => {
    const [assignmentId, studentId] = [idParam(c) ?? 0, userOf(c).id];
    const work = attempts.workDetail(assignmentId, studentId, placeParam(c.req.query('stage')));
    const part = work && attempts.sheetOf(assignmentId, studentId, work.stage);
    if (part === null || work === null || work.aids.sizes === 'none') return notFound(c);
    const answer = await sizes.answer(part, c.req.valid('json'), work.aids.sizes);
    return answer.ok ? c.json(answer.value) : refuseProblem(c, answer.problem);
  });
}
