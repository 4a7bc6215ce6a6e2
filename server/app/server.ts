/** Puts the server together: services over one database and file store, and the routes of the application. */
import { Hono } from 'hono';

import type { Assignments } from '#server/assignment';
import type { Attempts } from '#server/attempt';
import { identify } from '#server/auth';
import type { Exercises, RevisionJobs } from '#server/exercise';
import { limitJson, type AppEnv } from '#server/http';
import type { Atlases, Queue, Studies } from '#server/jobs';
import type { News } from '#server/news';
import type { Questions } from '#server/question';
import type { Reviews } from '#server/review';
import type { StudentGroups } from '#server/student-group';

import { guard, measure, refuseTheRest, servePage } from './guards.ts';
import { showReadOnly } from './read-only.ts';
import { mountRoutes } from './routes.ts';
import { createServices, type ServerParts, type WebOptions } from './services.ts';

export interface Services {
  /** With which the first account is made; null where there is one. */
  readonly setupCode: string | null;
  readonly exercises: Exercises;
  readonly revisionJobs: RevisionJobs;
  readonly assignments: Assignments;
  readonly attempts: Attempts;
  readonly reviews: Reviews;
  readonly queue: Queue;
  readonly atlases: Atlases;
  readonly studies: Studies;
  readonly news: News;
  readonly questions: Questions;
  readonly groups: StudentGroups;
  readonly app: Hono<AppEnv>;
  /** What is made while nobody waits: studies of sheets, and atlases of mistakes. */
  readonly background: { start(): void; stop(): void };
}

export function createServer(parts: ServerParts, web: WebOptions): Services {
  const services = createServices(parts, web);
  const { exercises, revisionJobs, assignments, attempts, reviews, queue, atlases, studies } = services;

  const app = new Hono<AppEnv>();
  measure(app, services.metrics);
  guard(app, services.front);
  if (web.readOnlyAs === undefined) identify(app, services.sessions);
  else showReadOnly(app, parts.db, web.readOnlyAs);
  app.use('/api/*', limitJson);
  mountRoutes(app, parts, services, web);
  if (web.webRoot !== null) servePage(app, web.webRoot);
  refuseTheRest(app, parts.log);

  if (web.readOnlyAs === undefined) {
    queue.wake();
    revisionJobs.resume();
  }
  const background = {
    start(): void {
      studies.start();
      atlases.start();
      services.retention.start();
    },
    stop(): void {
      revisionJobs.stop();
      studies.stop();
      atlases.stop();
      services.retention.stop();
    },
  };
  const setupCode = services.accounts.isEmpty() ? services.setupCode : null;
  return {
    setupCode,
    exercises,
    revisionJobs,
    assignments,
    attempts,
    reviews,
    queue,
    atlases,
    studies,
    news: services.news,
    questions: services.questions,
    groups: services.groups,
    app,
    background,
  };
}
