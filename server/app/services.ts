/** The services of the application over one database, file store and pool of workers. */
import type { Logger } from 'pino';

import type { Activity, ServiceState } from '#api';
import { machineZone } from '#core/time';
import { createAssignmentChanges, createAssignments, createCorrections } from '#server/assignment';
import { createAttempts } from '#server/attempt';
import { createAudit } from '#server/audit';
import { createAccounts, createSessions, createSignInCodes, newSetupCode } from '#server/auth';
import { createCourseManagement, createCourses, fillTimeZones } from '#server/course';
import type { Db } from '#server/db';
import { createEvents } from '#server/events';
import { createDrafts, createExercises, createLibrary, createRevisionJobs } from '#server/exercise';
import type { FileStore } from '#server/files';
import { createGradebooks } from '#server/gradebook';
import { NO_FRONT, type Front } from '#server/http';
import { createAtlases, createPrinter, createQueue, createStudies, type Atlases, type Runner } from '#server/jobs';
import { createNews } from '#server/news';
import { createPractice } from '#server/practice';
import { createQuestions } from '#server/question';
import { createReviews } from '#server/review';
import { createRosters } from '#server/roster';
import { createScoring } from '#server/score';
import { createReferences } from '#server/reference';
import { createRetention } from '#server/retention';
import { createMetrics } from '#server/service';
import { createStudentGroups } from '#server/student-group';

export interface ServerParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly runner: Runner;
  readonly log: Logger;
  readonly now: () => Date;
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
  /** Whether mail is sent to those who want it. */
  readonly isMailSent?: boolean;
  /** Whoever comes looks at everything as this person, and nobody changes anything: an archive is shown. */
  readonly readOnlyAs?: number;
  /** How the sites of schools are asked; that of Node where nothing is said. */
  readonly fetch?: typeof fetch;
}

/** What measures and grades, with whom it tells of it. */
function gradingServices(parts: ServerParts) {
  const { db, files, runner, log, now } = parts;
  const events = createEvents();
  const references = createReferences(files);
  const scoring = createScoring(db, references);
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
  const studies = createStudies({ db, runner, queue, log });
  const reviews = createReviews({
    db,
    audit: createAudit(db, now),
    now,
    rescore: (attemptId, change) => scoring.rescoreAttempt(attemptId, change),
    onChanged: ({ attemptId, assignmentId, studentId, courseId }) => {
      events.publish({ event: { attemptId, assignmentId, state: 'graded', stage: null }, studentId, courseId });
    },
  });
  const practice = createPractice({ ...parts, references });
  const attempts = createAttempts({ db, files, queue, now, reviewOf: reviews.reviewOf, practice });
  return { events, references, scoring, queue, metrics, atlases, studies, reviews, attempts, practice };
}

/** Who is known, and what they may: accounts, courses and class lists. */
function peopleServices({ db, now }: ServerParts, web: WebOptions) {
  const sessions = createSessions(db, now);
  const timeZone = web.timeZone ?? machineZone();
  fillTimeZones(db, timeZone);
  const audit = createAudit(db, now);
  const codes = createSignInCodes(db, now);
  const setupCode = web.setupCode ?? newSetupCode();
  return {
    sessions,
    timeZone,
    audit,
    setupCode,
    accounts: createAccounts({ db, codes, sessions, audit, now, setupCode }),
    courses: createCourses(db, timeZone),
    management: createCourseManagement({ db, audit, codes, now }),
    rosters: createRosters({ db, audit, codes, now }),
  };
}

/** All services, and who tells whom of what. */
export function createServices(parts: ServerParts, web: WebOptions) {
  const { db, files, runner, log, now } = parts;
  const people = peopleServices(parts, web);
  const grading = gradingServices(parts);
  const exercises = createExercises({
    db,
    files,
    runner,
    now,
    onRevision: (revisionId) => {
      grading.atlases.plan(revisionId);
      grading.studies.plan(revisionId);
    },
  });
  const groups = createStudentGroups({ db, audit: people.audit, now });
  const changes = createAssignmentChanges({ db, audit: people.audit, groups, now });
  const corrections = createCorrections({ db, audit: people.audit, queue: grading.queue, now });
  const drafts = createDrafts(db, now);
  return {
    ...people,
    ...grading,
    front: web.front ?? NO_FRONT,
    printer: createPrinter(runner, files),
    exercises,
    drafts,
    library: createLibrary({ db, exercises, drafts, audit: people.audit, now }),
    revisionJobs: createRevisionJobs({ db, exercises, log, now }),
    changes,
    groups,
    corrections,
    assignments: createAssignments({ db, changes, corrections, now }),
    gradebooks: createGradebooks(db, now),
    news: createNews(db, now),
    retention: createRetention({ db, audit: people.audit, log, now }),
    questions: createQuestions({ db, attempts: grading.attempts, audit: people.audit, now }),
  };
}

export type AllServices = ReturnType<typeof createServices>;
