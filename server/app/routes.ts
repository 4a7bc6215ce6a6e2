/** The routes of the application, each given the services that it speaks to. */
import type { Hono } from 'hono';

import { assignmentRoutes } from '#server/assignment';
import { attemptRoutes } from '#server/attempt';
import { authRoutes, createPasswordDoor, createSignInLimits } from '#server/auth';
import { calendarRoutes, createCalendars } from '#server/calendar';
import { courseRoutes } from '#server/course';
import { eventRoutes } from '#server/events';
import { createExerciseFiles, draftRoutes, exerciseRoutes, libraryRoutes } from '#server/exercise';
import { createGrading, createStudentNotes, gradebookRoutes } from '#server/gradebook';
import { notFound, type AppEnv } from '#server/http';
import { createInsights, insightRoutes } from '#server/insight';
import { createLikenesses, likenessRoutes } from '#server/likeness';
import { newsRoutes } from '#server/news';
import { createPersonalData, personalDataRoutes } from '#server/personal';
import { practiceRoutes } from '#server/practice';
import { createProgress, progressRoutes } from '#server/progress';
import { questionRoutes } from '#server/question';
import { reviewRoutes } from '#server/review';
import { rosterRoutes } from '#server/roster';
import { createSchoolSite, schoolSiteRoutes } from '#server/school-site';
import { scoringRoutes } from '#server/score';
import { createServiceState, serviceRoutes } from '#server/service';
import { studentGroupRoutes } from '#server/student-group';
import { createTermArchives, termRoutes } from '#server/term';

import type { AllServices, ServerParts, WebOptions } from './services.ts';

/** Everything below /api, for a page or another program. */
export function mountRoutes(app: Hono<AppEnv>, parts: ServerParts, services: AllServices, web: WebOptions): void {
  peopleRoutes(app, parts, services, web);
  exerciseAndDraftRoutes(app, parts, services);
  workRoutes(app, parts, services, web);
  const { db, runner, now } = parts;
  const { queue, metrics, front } = services;
  serviceRoutes(app, {
    db,
    metrics,
    front,
    state: createServiceState({ db, runner, queue: () => queue.state(), now, backup: web.backup ?? (() => null) }),
    metricsToken: web.metricsToken ?? null,
  });
  app.all('/api/*', (c) => notFound(c));
}

function peopleRoutes(app: Hono<AppEnv>, { db, now }: ServerParts, services: AllServices, web: WebOptions): void {
  const { sessions, accounts, courses, management, audit, rosters, printer, front, timeZone, gradebooks } = services;
  const secureCookie = web.secureCookie || front.publicUrl?.protocol === 'https:';
  const limits = createSignInLimits(now);
  const door = createPasswordDoor(db, limits, front);
  authRoutes(app, {
    timeZoneOf: (userId) => (userId === null ? timeZone : courses.timeZoneOf(userId)),
    isReadOnly: web.readOnlyAs !== undefined,
    sessions,
    accounts,
    door,
    limits,
    front,
    secureCookie,
  });
  const site = createSchoolSite({ db, audit, gradebooks, fetch: web.fetch ?? fetch, now });
  schoolSiteRoutes(app, { ...site, sessions, secureCookie, door, management, front });
  courseRoutes(app, { courses, management, audit });
  newsRoutes(app, { db, news: services.news, isMailSent: web.isMailSent ?? false, now });
  rosterRoutes(app, { rosters, management, publicUrl: front.publicUrl, printer });
}

function exerciseAndDraftRoutes(
  app: Hono<AppEnv>,
  { db, files, runner, now }: ServerParts,
  services: AllServices,
): void {
  const { exercises, drafts, library, revisionJobs, atlases, studies, printer, references } = services;
  libraryRoutes(app, library);
  exerciseRoutes(app, { exercises, files, references, runner, atlases, studies, printer });
  const exerciseFiles = createExerciseFiles(db, files, now);
  draftRoutes(app, { exercises, drafts, revisionJobs, exerciseFiles, files, runner, printer });
}

/** What is issued, handed in, reviewed and counted. */
function workRoutes(
  app: Hono<AppEnv>,
  { db, files, runner, now }: ServerParts,
  services: AllServices,
  web: WebOptions,
): void {
  const { scoring, assignments, changes, courses, exercises, studies, reviews, queue, attempts } = services;
  const { audit, printer, sessions, events, front, gradebooks, practice } = services;
  const courseOf = db.prepare<[number], { courseId: number }>(
    'SELECT course_id AS courseId FROM exercises WHERE id = ?',
  );
  const revisionToIssue = (exerciseId: number, instructorId: number) => {
    const row = exercises.findFor(exerciseId, instructorId);
    const course = courseOf.get(exerciseId);
    return row && course ? { revisionId: row.revisionId, courseId: course.courseId } : null;
  };
  scoringRoutes(app, scoring);
  assignmentRoutes(app, {
    assignments,
    changes,
    corrections: services.corrections,
    rescoreStudent: (assignmentId, studentId) => scoring.rescoreLate(assignmentId, studentId),
    courses,
    revisionToIssue,
    openSizesOf: (revisionId) => studies.of(revisionId).flatMap(({ open }) => open?.undetermined ?? []),
    requestsOf: reviews.requestsOf,
    questionsOf: (userId) => services.questions.waitingFor(userId),
    activity: web.activity ?? (() => null),
    queue: () => queue.state(),
  });
  studentGroupRoutes(app, {
    groups: services.groups,
    management: services.management,
    changes,
    rescore: (assignmentId) => scoring.rescoreLate(assignmentId, null),
  });
  gradebookRoutes(app, {
    gradebooks,
    grading: createGrading(db, audit),
    notes: createStudentNotes(db, now),
    printer,
  });
  insightRoutes(app, createInsights(db, now));
  calendarRoutes(app, createCalendars(db, now), front);
  likenessRoutes(app, createLikenesses(db, files));
  reviewRoutes(app, reviews);
  attemptRoutes(app, { attempts, files, references: services.references, printer });
  practiceRoutes(app, practice, attempts);
  questionRoutes(app, { questions: services.questions, attempts, files });
  progressRoutes(app, createProgress(db, attempts, now));
  personalDataRoutes(app, createPersonalData({ db, files, attempts, printer, audit, sessions }));
  termRoutes(app, createTermArchives({ db, files, runner, audit, now }));
  eventRoutes(app, { events, sessions, coursesOf: (userId) => courses.readBy(userId) });
}
