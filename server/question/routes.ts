import type { Hono } from 'hono';
import { RateLimiterMemory } from 'rate-limiter-flexible';

import { AnswerQuestionSchema, NewErratumSchema, NewQuestionSchema } from '#api';
import type { Attempts } from '#server/attempt';
import type { FileStore } from '#server/files';
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
import { sheetAsSvg } from '#server/sheet';

import type { Questions } from './questions.ts';

/** Questions of one student in an hour. */
const ASKED = { points: 30, duration: 3600 } as const;
const TOO_MANY = 'You have asked many questions within this hour. Wait a while, or come to the next lesson.';

export interface QuestionRouteParts {
  readonly questions: Questions;
  readonly attempts: Pick<Attempts, 'sheetOfAssignment'>;
  readonly files: Pick<FileStore, 'read'>;
}

export function questionRoutes(app: Hono<AppEnv>, { questions, attempts, files }: QuestionRouteParts): void {
  studentRoutes(app, questions);
  staffRoutes(app, questions);

  const svg = { 'Content-Type': 'image/svg+xml' };
  app.get('/api/questions/:id/sheet.svg', allow('review'), async (c) => {
    const sha256 = questions.sheetOf(idParam(c) ?? 0, userOf(c));
    if (sha256 === null) return notFound(c);
    return c.body(await sheetAsSvg(files, sha256, placeParam(c.req.query('page')) ?? 1, {}), 200, svg);
  });

  app.get('/api/assignments/:id/sheet.svg', allow('read-course'), async (c) => {
    const stage = placeParam(c.req.query('stage')) ?? 1;
    const sheet = attempts.sheetOfAssignment(idParam(c) ?? 0, stage, userOf(c));
    if (sheet === null) return notFound(c);
    const page = placeParam(c.req.query('page')) ?? 1;
    return c.body(await sheetAsSvg(files, sheet.sha256, page, sheet.fields), 200, svg);
  });
}

function studentRoutes(app: Hono<AppEnv>, questions: Questions): void {
  app.get('/api/work/:id/questions', allow('work'), (c) => {
    const found = questions.ofWork(idParam(c) ?? 0, userOf(c).id, placeParam(c.req.query('stage')));
    return found === null ? notFound(c) : c.json(found);
  });

  const asked = new RateLimiterMemory(ASKED);
  app.post('/api/work/:id/questions', allow('work'), jsonBody(NewQuestionSchema), async (c) => {
    if (!(await takesRoom(asked, userOf(c).id))) return refuseWith(c, 'too-many-tries', TOO_MANY);
    const result = questions.ask(idParam(c) ?? 0, userOf(c).id, c.req.valid('json'));
    return result.ok ? c.json({}, 201) : refuseProblem(c, result.problem);
  });

  app.delete('/api/work/:id/questions/:question', allow('work'), (c) => {
    const result = questions.takeBack(idParam(c) ?? 0, userOf(c).id, idParam(c, 'question') ?? 0);
    return result.ok ? c.json({}) : refuseProblem(c, result.problem);
  });
}

function staffRoutes(app: Hono<AppEnv>, questions: Questions): void {
  app.get('/api/assignments/:id/questions', allow('review'), (c) => {
    const found = questions.ofAssignment(idParam(c) ?? 0, userOf(c));
    return found === null ? notFound(c) : c.json(found);
  });

  app.put('/api/questions/:id/answer', allow('review'), jsonBody(AnswerQuestionSchema), (c) => {
    const result = questions.answer(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    return result.ok ? c.json({}) : refuseProblem(c, result.problem);
  });

  app.post('/api/assignments/:id/errata', allow('review'), jsonBody(NewErratumSchema), (c) => {
    const result = questions.correct(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    return result.ok ? c.json({}, 201) : refuseProblem(c, result.problem);
  });

  app.delete('/api/assignments/:id/errata/:erratum', allow('review'), (c) => {
    const result = questions.withdraw(idParam(c) ?? 0, userOf(c), idParam(c, 'erratum') ?? 0);
    return result.ok ? c.json({}) : refuseProblem(c, result.problem);
  });
}
