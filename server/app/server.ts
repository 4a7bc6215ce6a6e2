/** Puts the server together: services over one database and file store, and the routes of the application. */
import path from 'node:path';

import { serveStatic } from '@hono/node-server/serve-static';
import { Hono, type Context } from 'hono';
import { compress } from 'hono/compress';
import { csrf } from 'hono/csrf';
import { HTTPException } from 'hono/http-exception';
import { matchedRoutes } from 'hono/route';
import { secureHeaders } from 'hono/secure-headers';
import type { Logger } from 'pino';

import type { Activity, Failure, ServiceState } from '#api';
import { machineZone } from '#core/time';
import { assignmentRoutes, createAssignmentChanges, createAssignments, type Assignments } from '#server/assignment';
import { attemptRoutes, createAttempts, type Attempts } from '#server/attempt';
import { createAudit } from '#server/audit';
import { authRoutes, createAccounts, createSessions, createSignInCodes, identify, newSetupCode } from '#server/auth';
import { calendarRoutes, createCalendars } from '#server/calendar';
import { courseRoutes, createCourseManagement, createCourses, fillTimeZones } from '#server/course';
import { isUnwritable, type Db } from '#server/db';
import { createEvents, eventRoutes } from '#server/events';
import {
  createDrafts,
  createExercises,
  createExerciseFiles,
  createLibrary,
  createRevisionJobs,
  draftRoutes,
  exerciseRoutes,
  libraryRoutes,
  type Exercises,
  type RevisionJobs,
} from '#server/exercise';
import type { FileStore } from '#server/files';
import { createGradebooks, createGrading, gradebookRoutes } from '#server/gradebook';
import { limitJson, NO_FRONT, notFound, refuseWith, type AppEnv, type Front } from '#server/http';
import { createLikenesses, likenessRoutes } from '#server/likeness';
import { createPersonalData, personalDataRoutes } from '#server/personal';
import { createReviews, reviewRoutes, type Reviews } from '#server/review';
import { createRosters, rosterRoutes } from '#server/roster';
import { createScoring, scoringRoutes } from '#server/score';
import { createMetrics, createServiceState, serviceRoutes, type Metrics } from '#server/service';
import {
  createAtlases,
  createPrinter,
  createQueue,
  createStudies,
  type Atlases,
  type Queue,
  type Runner,
  type Studies,
} from '#server/jobs';

export interface ServerParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly runner: Runner;
  readonly log: Logger;
  readonly now: () => Date;
}

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
  readonly app: Hono<AppEnv>;
  /** What is made while nobody waits: studies of sheets, and atlases of mistakes. */
  readonly background: { start(): void; stop(): void };
}

export interface WebOptions {
  /** Folder of the built page; null serves the API alone. */
  readonly webRoot: string | null;
  readonly secureCookie: boolean;
  /** What whoever makes the first account has to type; a new one where nothing is said. */
  readonly setupCode?: string;
  /** Of courses that have none of their own; that of the machine where nothing is said. */
  readonly timeZone?: string;
  /** What is in front of the server; nobody where nothing is said. */
  readonly front?: Front;
  /** Something long that is done for everybody, as the desk shows it; null for nothing. */
  readonly activity?: () => Activity | null;
  readonly backup?: () => ServiceState['backup'];
  /** Who says this reads the metrics from elsewhere. */
  readonly metricsToken?: string | null;
}

export function createServer(parts: ServerParts, web: WebOptions): Services {
  const { db, files, runner, log, now } = parts;
  const front = web.front ?? NO_FRONT;
  const events = createEvents();
  const scoring = createScoring(db, files);
  const queue = createQueue({
    db,
    files,
    events,
    runner,
    log,
    now,
    onUnexplained: () => {
      atlases.wake();
    },
    onOutdated: (attemptId) => scoring.rescoreAttempt(attemptId),
    onStage: (stage, seconds) => {
      metrics.stage(stage, seconds);
    },
    onRefused: (code) => {
      metrics.refused(code);
    },
  });
  const metrics = createMetrics({ runner, queue: () => queue.state(), now });
  const atlases: Atlases = createAtlases({
    db,
    files,
    events,
    runner,
    queue,
    log,
    now,
    rescore: (attemptId) => scoring.rescoreAttempt(attemptId),
  });
  const studies: Studies = createStudies({ db, runner, queue, log });
  const sessions = createSessions(db, now);
  const timeZone = web.timeZone ?? machineZone();
  fillTimeZones(db, timeZone);
  const courses = createCourses(db, timeZone);
  const printer = createPrinter(runner, files);
  const audit = createAudit(db, now);
  const codes = createSignInCodes(db, now);
  const setupCode = web.setupCode ?? newSetupCode();
  const accounts = createAccounts({ db, codes, sessions, audit, now, setupCode });
  const management = createCourseManagement({ db, audit, codes, now });
  const rosters = createRosters({ db, audit, codes, now });
  const exercises = createExercises({
    db,
    files,
    runner,
    now,
    onRevision: (revisionId) => {
      atlases.plan(revisionId);
      studies.plan(revisionId);
    },
  });
  const revisionJobs = createRevisionJobs({ db, exercises, log, now });
  const changes = createAssignmentChanges(db, audit, now);
  const assignments = createAssignments(db, changes, now);
  const reviews = createReviews({
    db,
    now,
    rescore: (attemptId, change) => scoring.rescoreAttempt(attemptId, change),
    onChanged: ({ attemptId, assignmentId, studentId, courseId }) => {
      events.publish({ event: { attemptId, assignmentId, state: 'graded', stage: null }, studentId, courseId });
    },
  });
  const attempts = createAttempts({ db, files, queue, now, reviewOf: reviews.reviewOf });
  const latestRevision = db.prepare<[number], { courseId: number }>(
    'SELECT course_id AS courseId FROM exercises WHERE id = ?',
  );

  const app = new Hono<AppEnv>();
  measure(app, metrics);
  guard(app, front);
  identify(app, sessions);
  app.use('/api/*', limitJson);
  authRoutes(app, {
    timeZoneOf: (userId) => (userId === null ? timeZone : courses.timeZoneOf(userId)),
    db,
    sessions,
    accounts,
    front,
    secureCookie: web.secureCookie || front.publicUrl?.protocol === 'https:',
    now,
  });
  scoringRoutes(app, scoring);
  courseRoutes(app, { courses, management, audit });
  rosterRoutes(app, { rosters, management, publicUrl: front.publicUrl, printer });
  const drafts = createDrafts(db, now);
  libraryRoutes(app, createLibrary({ db, exercises, drafts, audit, now }));
  exerciseRoutes(app, { exercises, files, atlases, studies, printer });
  draftRoutes(app, {
    exercises,
    drafts,
    revisionJobs,
    exerciseFiles: createExerciseFiles(db, files, now),
    files,
    runner,
    printer,
  });
  const revisionToIssue = (exerciseId: number, instructorId: number) => {
    const row = exercises.findFor(exerciseId, instructorId);
    const course = latestRevision.get(exerciseId);
    return row && course ? { revisionId: row.revisionId, courseId: course.courseId } : null;
  };
  assignmentRoutes(app, {
    assignments,
    changes,
    rescoreStudent: (assignmentId, studentId) => scoring.rescoreLate(assignmentId, studentId),
    courses,
    revisionToIssue,
    openSizesOf: (revisionId) => studies.of(revisionId).flatMap(({ open }) => open?.undetermined ?? []),
    requestsOf: reviews.requestsOf,
    activity: web.activity ?? (() => null),
    queue: () => queue.state(),
  });
  gradebookRoutes(app, { gradebooks: createGradebooks(db, now), grading: createGrading(db, audit), printer });
  calendarRoutes(app, createCalendars(db, now), front);
  likenessRoutes(app, createLikenesses(db, files));
  reviewRoutes(app, reviews);
  attemptRoutes(app, attempts, files, printer);
  personalDataRoutes(app, createPersonalData({ db, files, attempts, printer, audit, sessions }));
  eventRoutes(app, { events, sessions, coursesOf: (userId) => courses.readBy(userId) });
  serviceRoutes(app, {
    db,
    metrics,
    front,
    state: createServiceState({ db, runner, queue: () => queue.state(), now, backup: web.backup ?? (() => null) }),
    metricsToken: web.metricsToken ?? null,
  });
  app.all('/api/*', (c) => notFound(c));

  if (web.webRoot !== null) servePage(app, web.webRoot);
  refuseTheRest(app, log);
  queue.wake();
  revisionJobs.resume();
  const background = {
    start(): void {
      studies.start();
      atlases.start();
    },
    stop(): void {
      revisionJobs.stop();
      studies.stop();
      atlases.stop();
    },
  };
  const isEmpty = accounts.isEmpty();
  return {
    setupCode: isEmpty ? setupCode : null,
    exercises,
    revisionJobs,
    assignments,
    attempts,
    reviews,
    queue,
    atlases,
    studies,
    app,
    background,
  };
}

/** Notes how long each route takes; by its pattern, so that no number of anybody is in it. */
function measure(app: Hono<AppEnv>, metrics: Metrics): void {
  app.use('/api/*', async (c: Context<AppEnv>, next) => {
    const started = performance.now();
    await next();
    const route = matchedRoutes(c).find(({ path: pattern }) => !pattern.includes('*'))?.path ?? 'none';
    if (route !== '/api/events')
      metrics.request(route, c.req.method, c.res.status, (performance.now() - started) / 1000);
  });
}

/** What every answer carries: who may frame it, what it may load, whether it may be kept. */
function guard(app: Hono<AppEnv>, { publicUrl }: Front): void {
  // The kernel of the editor compiles code when it starts. Its worker reaches neither page nor cookies.
  app.use('/assets/*', async (c, next) => {
    await next();
    if (path.basename(c.req.path).startsWith('kernel-'))
      c.header('Content-Security-Policy', "default-src 'none'; script-src 'self' 'unsafe-eval'; connect-src 'self'");
  });
  app.use(
    secureHeaders({
      contentSecurityPolicy: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        workerSrc: ["'self'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
        baseUri: ["'none'"],
      },
      referrerPolicy: 'same-origin',
      xFrameOptions: 'DENY',
      strictTransportSecurity: false,
    }),
  );
  const isOwn = (origin: string, address: string): boolean =>
    origin === new URL(address).origin || origin === publicUrl?.origin;
  app.use('/api/*', csrf({ origin: (origin, c) => isOwn(origin, c.req.url) }));
  app.use(async (c, next) => {
    await (c.req.path === '/api/events' ? next() : compress()(c, next));
  });
  app.use('/api/*', async (c, next) => {
    await next();
    c.header('Cache-Control', 'no-store');
  });
}

/** The built page: its files may be kept for ever, for their names change with what is in them. */
function servePage(app: Hono<AppEnv>, webRoot: string): void {
  const root = path.relative(process.cwd(), webRoot);
  app.use('/assets/*', async (c, next) => {
    await next();
    if (c.res.ok) c.header('Cache-Control', 'public, max-age=31536000, immutable');
  });
  app.use('/assets/*', serveStatic({ root, precompressed: true }));
  app.all('/assets/*', (c) => notFound(c));
  app.use('/*', serveStatic({ root }));
  app.get('/*', serveStatic({ root, path: 'index.html' }));
}

const DISK_FULL =
  'The disk of the server is full, so that nothing can be stored now. What was stored before is safe. Tell whoever runs the server, and try again later.';

function refuseTheRest(app: Hono<AppEnv>, log: Logger): void {
  app.notFound(notFound);
  app.onError((error, c) => {
    if (error instanceof HTTPException)
      return c.json(
        { error: { code: 'refused', message: error.message || 'This request was refused.' } } satisfies Failure,
        error.status,
      );
    if (isUnwritable(error)) {
      log.error({ path: c.req.path, error: String(error) }, 'the disk takes nothing more');
      return refuseWith(c, 'disk-full', DISK_FULL);
    }
    log.error({ path: c.req.path, error: error.stack }, 'request failed');
    return refuseWith(c, 'server-error', 'Something went wrong on the server. Nothing was lost; try again.');
  });
}
