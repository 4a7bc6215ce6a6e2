/** Makes the demo course: exercises, assignments, and attempts that go through the real grading path. */
import { USUAL_AIDS } from '#api';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import type { ScoringPolicy, TypedInput } from '#core/grade';
import { unwrap } from '#core/problem';
import { withValues } from '#core/recipe';
import { ASSIGNMENTS, HISTORY, loginOf, WEEKS, type PlannedAttempt } from '#demo/course';
import { demoExercises } from '#demo/exercises';
import { LOG_STYLES, logLikeStudent, type HandIn, type Slip } from '#demo/workbench';
import type { Started } from '#server/app';
import { createAssignmentChanges, createAssignments, createCorrections } from '#server/assignment';
import { createPractice } from '#server/practice';
import { createReferences } from '#server/reference';
import { createStudentGroups } from '#server/student-group';
import { createAttempts } from '#server/attempt';
import { createAudit } from '#server/audit';
import { createExercises } from '#server/exercise';

import { makePeople, type People } from './people.ts';
import { makeGroup, makeQuestions } from './questions.ts';
import { makeReviews } from './reviews.ts';
import { registerStandIn } from './school-site.ts';

/** Exercises whose mistakes are built before they are handed in, so that causes are told from the first minute on. */
const MADE_FIRST = ['SB-101', 'SB-202'];
const RIGHT: Slip = { kind: 'none' };

export interface CourseOptions {
  readonly started: Started;
  /** Makes the model that a student hands in. */
  readonly model: (exercise: Exercise, slip: Slip) => Promise<HandIn>;
  readonly say: (line: string) => void;
  /** Makes no more than this, by the numbers of exercises: for tests. */
  readonly only?: {
    readonly issued: readonly string[];
    readonly notIssued: readonly string[];
    readonly mistakes: readonly string[];
    /** Checks that an author left out of a plan, by the number of the exercise: its mistakes pass unseen. */
    readonly without: Readonly<Record<string, readonly string[]>>;
  };
  /** Where the stand-in of the school's site is; left out where there is none. */
  readonly siteOrigin?: string;
  /** How many of the planned hand-ins are there. */
  readonly onProgress?: (done: number, total: number) => void;
}

type Plan = (typeof ASSIGNMENTS)[number];

/**
 * Makes what is not there yet of the demo course, so that an interrupted start is taken up again. Hand-ins lie in the
 * past, each at the time that its plan gives.
 */
export async function makeCourse(options: CourseOptions): Promise<void> {
  const { started, say } = options;
  const { db, services } = started;
  const startMs = Date.now();
  const people = await makePeople(db, () => new Date(startMs - BEGUN_HOURS * HOUR_MS));
  if (options.siteOrigin !== undefined) registerStandIn(db, options.siteOrigin);
  const maker = new CourseMaker(options, people, startMs);
  const { only } = options;
  for (const plan of ASSIGNMENTS) if (only?.issued.includes(plan.exercise) !== false) await maker.assignment(plan);
  if (only === undefined) for (const plan of HISTORY) await maker.assignment(plan);
  for (const { number } of demoExercises) if (only?.notIssued.includes(number) !== false) await maker.exercise(number);
  say('Measuring what was handed in ...');
  await services.queue.idle();
  say('Looking closer at what no single mistake explains ...');
  await services.atlases.lookAgain();
  say('Reviewing some of them ...');
  if (only?.issued.length !== 0) {
    await makeReviews(db, services, people);
    makeQuestions(db, services, people);
    makeGroup(db, services, people);
  }
}

const HOUR_MS = 3_600_000;
/** The course was set up in the week before its first exercise. */
const BEGUN_HOURS = (WEEKS + 1) * 168;

class CourseMaker {
  private readonly options: CourseOptions;
  private readonly people: People;
  private readonly startMs: number;
  private clock: Date;
  private readonly saved = new Map<string, { readonly exerciseId: number; readonly revisionId: number }>();
  private readonly exercises;
  private readonly assignments;
  private readonly attempts;
  private written = 0;
  private handedIn = 0;
  private readonly total = [...ASSIGNMENTS, ...HISTORY].reduce((sum, { attempts }) => sum + attempts.length, 0);

  constructor(options: CourseOptions, people: People, startMs: number) {
    const { db, files, runner, services } = options.started;
    this.options = options;
    this.people = people;
    this.startMs = startMs;
    this.clock = this.atHour(-BEGUN_HOURS);
    const now = (): Date => this.clock;
    this.exercises = createExercises({
      db,
      files,
      runner,
      now,
      onRevision: (id) => {
        services.atlases.plan(id);
      },
    });
    const audit = createAudit(db, now);
    const groups = createStudentGroups({ db, audit, now });
    this.assignments = createAssignments({
      db,
      changes: createAssignmentChanges({ db, audit, groups, now }),
      corrections: createCorrections({ db, audit, queue: services.queue, now }),
      now,
    });
    this.attempts = createAttempts({
      db,
      files,
      queue: services.queue,
      now,
      reviewOf: services.reviews.reviewOf,
      practice: createPractice({ db, files, runner, references: createReferences(files), now }),
    });
  }

  private atHour(hours: number): Date {
    return new Date(this.startMs + hours * HOUR_MS);
  }

  private documentOf(number: string): Exercise {
    const exercise = demoExercises.find((one) => one.number === number);
    if (exercise === undefined) throw new Error(`no exercise ${number}`);
    const without = this.options.only?.without[number] ?? [];
    return { ...exercise, checks: exercise.checks.filter(({ id }) => !without.includes(id)) };
  }

  /** The first revision of an exercise, made if it is not there. */
  async exercise(number: string): Promise<{ readonly exerciseId: number; readonly revisionId: number }> {
    const known =
      this.saved.get(number) ??
      this.options.started.db
        .prepare<[string], { exerciseId: number; revisionId: number }>(
          `SELECT exercises.id AS exerciseId, exercise_revisions.id AS revisionId FROM exercises
           JOIN exercise_revisions ON exercise_revisions.exercise_id = exercises.id AND exercise_revisions.number = 1
           WHERE exercises.number = ?`,
        )
        .get(number);
    if (known !== undefined) {
      this.saved.set(number, known);
      return known;
    }
    const document = this.documentOf(number);
    this.options.say(`Building ${number} ${document.title} ...`);
    this.clock = this.atHour(-BEGUN_HOURS);
    const made = unwrap(await this.save(document));
    this.saved.set(number, made);
    return made;
  }

  /** Where other work keeps the machine busy, a part may not be built in its time: it is tried again. */
  private async save(document: Exercise, tries = 5): ReturnType<ReturnType<typeof createExercises>['save']> {
    const made = await this.exercises.save(this.people.courseId, document);
    return made.ok || made.problem.code !== 'not-prepared' || tries <= 1 ? made : this.save(document, tries - 1);
  }

  async assignment(plan: Plan): Promise<void> {
    const entry = await this.exercise(plan.exercise);
    const document = this.documentOf(plan.exercise);
    const assignmentId = this.issued(plan, document, entry);
    const { say, started } = this.options;
    if (MADE_FIRST.includes(plan.exercise) && this.options.only?.mistakes.includes(plan.exercise) !== false) {
      say(`Building the mistakes of ${plan.exercise} ...`);
      await started.services.atlases.make(entry.revisionId);
    }
    if (plan.attempts.length > 0) say(`Handing in ${String(plan.attempts.length)} attempts of ${plan.exercise} ...`);
    await this.handInAll(plan, document, assignmentId);
  }

  private issued(
    plan: Plan,
    document: Exercise,
    { exerciseId, revisionId }: { exerciseId: number; revisionId: number },
  ): number {
    const { db } = this.options.started;
    const { sectionIds } = this.people;
    const sectionId = plan.evening === true ? sectionIds.evening : sectionIds.morning;
    const there = db
      .prepare<[number, number], { id: number }>('SELECT id FROM assignments WHERE revision_id = ? AND section_id = ?')
      .get(revisionId, sectionId);
    if (there !== undefined) return there.id;
    this.clock = this.atHour(plan.opensInHours);
    return db.transaction(() => {
      const id = this.assignments.issue(
        {
          exerciseId,
          sectionId,
          opensAt: this.atHour(plan.opensInHours).toISOString(),
          dueAt: this.atHour(plan.dueInHours).toISOString(),
          attemptsAllowed: plan.attemptsAllowed,
          answers: plan.answers,
          lateUntil:
            plan.lateForHours === undefined ? null : this.atHour(plan.dueInHours + plan.lateForHours).toISOString(),
          release: plan.release ?? 'automatic',
          feedback: [...(plan.feedback ?? (['overlay'] as const))],
          aids: { ...USUAL_AIDS, ...plan.aids },
        },
        revisionId,
      );
      if (plan.lateForHours !== undefined)
        db.prepare('UPDATE assignments SET policy_json = ? WHERE id = ?').run(
          JSON.stringify({
            ...document.scoring,
            late: { amount: 10, of: 'points', each: 'day', graceMinutes: 0, most: 50 },
          } satisfies ScoringPolicy),
          id,
        );
      return id;
    })();
  }

  /** Hands in one after the other; the next model is made while the last ones are measured. */
  private async handInAll(plan: Plan, document: Exercise, assignmentId: number): Promise<void> {
    const { started, onProgress } = this.options;
    const count = started.db.prepare<[number, number], { count: number }>(
      'SELECT count(*) AS count FROM attempts WHERE assignment_id = ? AND student_id = ?',
    );
    const before = new Map<number, number>();
    for (const planned of plan.attempts) {
      const studentId = this.people.studentIds.get(planned.student) ?? 0;
      const there = before.get(studentId) ?? count.get(assignmentId, studentId)?.count ?? 0;
      const buildLog = this.logOf(document, planned);
      // What an earlier start handed in is there; the first of a student that is not, is made.
      const isFurther = before.has(studentId);
      before.set(studentId, Math.max(0, there - 1));
      if (there === 0) await this.handIn(planned, { plan, document, assignmentId, buildLog, isFurther });
      this.handedIn++;
      onProgress?.(this.handedIn, this.total);
    }
  }

  private async handIn(
    planned: PlannedAttempt,
    {
      plan,
      document,
      assignmentId,
      buildLog,
      isFurther,
    }: {
      readonly plan: Plan;
      readonly document: Exercise;
      readonly assignmentId: number;
      readonly buildLog: string;
      readonly isFurther: boolean;
    },
  ): Promise<void> {
    const studentId = this.people.studentIds.get(planned.student) ?? 0;
    const { stage = 1 } = planned;
    // A further stage opens, and a second attempt is made, when what came before is measured; others need not wait.
    if (isFurther) await this.options.started.services.queue.idle();
    this.clock = this.atHour(plan.opensInHours + planned.afterHours);
    const variant = this.attempts.workDetail(assignmentId, studentId, stage)?.variant;
    const staged = exerciseOfStage(document, stage);
    const values = staged.variants.find((one) => one.name === variant)?.values ?? {};
    const own = { ...staged, recipe: unwrap(withValues(staged.recipe, values)) };
    const { name, content, typed } = await this.contentOf(own, planned.work);
    const fileName = name.endsWith('.step') ? `${loginOf(planned.student)} ${name}` : name;
    unwrap(
      await this.attempts.handIn({
        assignmentId,
        studentId,
        stage,
        fileName,
        content,
        fileUnit: null,
        typed,
        buildLog,
      }),
    );
  }

  private async contentOf(
    exercise: Exercise,
    work: PlannedAttempt['work'],
  ): Promise<{ name: string; content: Uint8Array; typed: readonly TypedInput[] }> {
    if (work === 'not-a-model')
      return { name: 'model photo.jpg', content: new TextEncoder().encode('A picture of the screen.'), typed: [] };
    if (typeof work === 'object' && work.kind === 'of-exercise')
      return this.contentOf(this.documentOf(work.number), RIGHT);
    const { step, typed } = await this.options.model(exercise, work === 'cut-short' ? RIGHT : work);
    return {
      name: `${exercise.number}.step`,
      content: work === 'cut-short' ? step.slice(0, Math.floor(step.length * 0.6)) : step,
      typed,
    };
  }

  /** Lists of build steps in turn in every style; every seventh student makes the holes too early, some write none. */
  private logOf(exercise: Exercise, { work }: PlannedAttempt): string {
    if (exercise.rules.length === 0 || typeof work === 'string') return '';
    this.written++;
    const style =
      work.kind === 'none' && this.written % 3 === 0 ? 'recipe' : LOG_STYLES[this.written % (LOG_STYLES.length + 1)];
    return style === undefined ? '' : logLikeStudent(exercise, style, this.written % 7 === 3);
  }
}
