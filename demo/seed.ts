/** Makes the demo database: people, exercises, assignments, and attempts that go through the real grading path. */
import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';

import { pino } from 'pino';

import { MAX_GRADING_SECONDS, type User } from '#api';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import type { ScoringPolicy, TypedInput } from '#core/grade';
import { unwrap } from '#core/problem';
import { withValues } from '#core/recipe';
import {
  ASSIGNMENTS,
  COURSE,
  EVENING,
  EVENING_STUDENTS,
  INSTRUCTOR,
  JUDGED,
  loginOf,
  REMARKS,
  REPLIES,
  SCHOOL,
  SECTION,
  STUDENT_PASSWORD,
  STUDENTS,
  type PlannedAttempt,
} from '#demo/course';
import { demoExercises } from '#demo/exercises';
import { LOG_STYLES, logLikeStudent, modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';
import { createServer } from '#server/app';
import { hashPassword } from '#server/auth';
import { openDatabase } from '#server/db';
import { createFileStore } from '#server/files';
import { startPool } from '#server/jobs';

/** Exercises whose mistakes are told from the first minute on. */
const MADE_FIRST = ['SB-101', 'SB-202'];

const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};

const finalFolder = path.resolve(process.env['ZORVET_DATA'] ?? 'data');
if (existsSync(path.join(finalFolder, 'zorvet.sqlite'))) {
  say('The demo database is there already.');
  process.exit(0);
}
// Made beside its place and moved there when complete: an interrupted start leaves nothing half made.
const folder = `${finalFolder}.new`;
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });

const start = Date.now();
let clock = new Date(start);
const now = (): Date => clock;
const atHour = (hours: number): Date => new Date(start + hours * 3_600_000);

const log = pino({ level: 'warn' });
const db = openDatabase(path.join(folder, 'zorvet.sqlite'));
const files = createFileStore(path.join(folder, 'files'), db, now);
say('Starting the geometry kernel ...');
const runner = await startPool({
  workerUrl: new URL('./worker.js', import.meta.url),
  timeLimitMs: MAX_GRADING_SECONDS * 1000,
  log,
});
const workbench = await loadKernel();
const { exercises, assignments, attempts, reviews, queue, atlases } = createServer(
  { db, files, runner, log, now },
  { webRoot: null, secureCookie: false },
);

const insertUser = db.prepare<[string, string, string, string, string]>(
  'INSERT INTO users (login, name, role, password_hash, created_at) VALUES (?, ?, ?, ?, ?)',
);
const addUser = async (login: string, name: string, role: string, password: string): Promise<number> =>
  Number(insertUser.run(login, name, role, await hashPassword(password), now().toISOString()).lastInsertRowid);

say(`Making the ${SCHOOL} ...`);
const courseId = Number(
  db.prepare('INSERT INTO courses (title, school) VALUES (?, ?)').run(COURSE, SCHOOL).lastInsertRowid,
);
const addSection = (name: string): number =>
  Number(db.prepare('INSERT INTO sections (course_id, name) VALUES (?, ?)').run(courseId, name).lastInsertRowid);
const [morning, evening] = [addSection(SECTION), addSection(EVENING)];
const instructorId = await addUser(INSTRUCTOR.login, INSTRUCTOR.name, 'instructor', INSTRUCTOR.password);
db.prepare("INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, 'instructor')").run(
  courseId,
  instructorId,
);
const studentIds = new Map<string, number>();
for (const [sectionId, names] of [
  [morning, STUDENTS],
  [evening, EVENING_STUDENTS],
] as const)
  for (const name of names) {
    const id = await addUser(loginOf(name), name, 'student', STUDENT_PASSWORD);
    studentIds.set(name, id);
    db.prepare('INSERT INTO enrollments (section_id, user_id) VALUES (?, ?)').run(sectionId, id);
  }

clock = atHour(-300);
const saved = new Map<string, { exercise: Exercise; exerciseId: number; revisionId: number }>();
for (const exercise of demoExercises) {
  say(`Building ${exercise.number} ${exercise.title} ...`);
  saved.set(exercise.number, { exercise, ...unwrap(await exercises.save(courseId, exercise)) });
}

function contentOf(
  exercise: Exercise,
  work: PlannedAttempt['work'],
): { name: string; content: Uint8Array; typed: readonly TypedInput[] } {
  if (work === 'not-a-model')
    return { name: 'model photo.jpg', content: new TextEncoder().encode('A picture of the screen.'), typed: [] };
  if (typeof work === 'object' && work.kind === 'of-exercise') {
    const other = saved.get(work.number)?.exercise;
    if (other === undefined) throw new Error(`no exercise ${work.number}`);
    return contentOf(other, { kind: 'none' });
  }
  const handIn = unwrap(modelLikeStudent(workbench, exercise, work === 'cut-short' ? { kind: 'none' } : work));
  return {
    name: `${exercise.number}.step`,
    content: work === 'cut-short' ? handIn.step.slice(0, Math.floor(handIn.step.length * 0.6)) : handIn.step,
    typed: handIn.typed,
  };
}

/** Lists of build steps in turn in every style; every seventh student makes the holes too early, some write none. */
let written = 0;
function logOf(exercise: Exercise, { work }: PlannedAttempt): string {
  if (exercise.rules.length === 0 || typeof work === 'string') return '';
  written++;
  const style = work.kind === 'none' && written % 3 === 0 ? 'recipe' : LOG_STYLES[written % (LOG_STYLES.length + 1)];
  return style === undefined ? '' : logLikeStudent(exercise, style, written % 7 === 3);
}

for (const plan of ASSIGNMENTS) {
  const entry = saved.get(plan.exercise);
  if (entry === undefined) throw new Error(`no exercise ${plan.exercise}`);
  clock = atHour(plan.opensInHours);
  const assignmentId = assignments.issue(
    {
      exerciseId: entry.exerciseId,
      sectionId: plan.evening === true ? evening : morning,
      opensAt: atHour(plan.opensInHours).toISOString(),
      dueAt: atHour(plan.dueInHours).toISOString(),
      attemptsAllowed: plan.attemptsAllowed,
      answers: plan.answers,
      lateUntil: plan.lateForHours === undefined ? null : atHour(plan.dueInHours + plan.lateForHours).toISOString(),
      release: plan.release ?? 'automatic',
      feedback: [...(plan.feedback ?? (['overlay'] as const))],
    },
    entry.revisionId,
  );
  if (plan.lateForHours !== undefined)
    db.prepare('UPDATE assignments SET policy_json = ? WHERE id = ?').run(
      JSON.stringify({ ...entry.exercise.scoring, late: { perDay: 10, most: 50 } } satisfies ScoringPolicy),
      assignmentId,
    );
  // The others are made in the background once the server runs.
  if (MADE_FIRST.includes(plan.exercise)) {
    say(`Building the mistakes of ${plan.exercise} ...`);
    await atlases.make(entry.revisionId);
  }
  say(`Handing in and grading ${String(plan.attempts.length)} attempts of ${plan.exercise} ...`);
  for (const planned of plan.attempts) {
    clock = atHour(plan.opensInHours + planned.afterHours);
    const studentId = studentIds.get(planned.student) ?? 0;
    const { stage = 1 } = planned;
    const variant = attempts.workDetail(assignmentId, studentId, stage)?.variant;
    const staged = exerciseOfStage(entry.exercise, stage);
    const values = staged.variants.find((one) => one.name === variant)?.values ?? {};
    const own = { ...staged, recipe: unwrap(withValues(staged.recipe, values)) };
    const { name, content, typed } = contentOf(own, planned.work);
    const fileName = name.endsWith('.step') ? `${loginOf(planned.student)} ${name}` : name;
    const buildLog = logOf(entry.exercise, planned);
    unwrap(
      await attempts.handIn({ assignmentId, studentId, stage, fileName, content, fileUnit: null, typed, buildLog }),
    );
    await queue.idle();
  }
}
say('Looking closer at what no single mistake explains ...');
await atlases.lookAgain();

say('Reviewing some of them ...');
clock = atHour(-1);
const instructor: User = { id: instructorId, login: INSTRUCTOR.login, name: INSTRUCTOR.name, role: 'instructor' };
const newest = db.prepare<[string, string], { id: number; assignmentId: number; studentId: number }>(
  `SELECT attempts.id, attempts.assignment_id AS assignmentId, attempts.student_id AS studentId FROM attempts
   JOIN users ON users.id = attempts.student_id JOIN assignments ON assignments.id = attempts.assignment_id
   JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
   JOIN exercises ON exercises.id = exercise_revisions.exercise_id
   WHERE exercises.number = ? AND users.name = ? AND attempts.state = 'graded' ORDER BY attempts.id DESC LIMIT 1`,
);
const attemptBy = (exercise: string, student: string) => {
  const found = newest.get(exercise, student);
  if (found === undefined) throw new Error(`no attempt of ${exercise} by ${student}`);
  return found;
};
for (const text of REMARKS) reviews.addToCollection(courseId, instructorId, text);
for (const judged of JUDGED) {
  const { id, assignmentId } = attemptBy(judged.exercise, judged.student);
  if ('override' in judged) {
    const { version } = reviews.reviewOf(id, false);
    unwrap(await reviews.change(id, instructor, { version, action: { kind: 'override', ...judged.override } }));
  }
  const group = { attemptIds: [id] };
  const text: string = REMARKS[judged.remark];
  unwrap(await reviews.changeGroup(assignmentId, instructor, { ...group, action: { kind: 'remark', text } }));
  unwrap(await reviews.changeGroup(assignmentId, instructor, { ...group, action: { kind: 'accept' } }));
}
for (const { exercise, student, text, wantsLook } of REPLIES) {
  const { id, studentId } = attemptBy(exercise, student);
  const user: User = { id: studentId, login: loginOf(student), name: student, role: 'student' };
  unwrap(reviews.reply(id, user, { text, wantsLook }));
}
await runner.close();
db.pragma('wal_checkpoint(TRUNCATE)');
db.close();
renameSync(folder, finalFolder);
say(`Demo database made in ${((Date.now() - start) / 1000).toFixed(0)} s.`);
process.exit(0);
