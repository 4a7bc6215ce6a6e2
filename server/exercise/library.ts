/** The exercises of a school as a library: what there is, put away, sorted by words, copied and deleted. */
import type { Hono } from 'hono';
import * as v from 'valibot';

import {
  ArrangeExerciseSchema,
  CopyExerciseSchema,
  TagsSchema,
  type ArrangeExercise,
  type CopyExercise,
  type ExerciseSummary,
  type User,
} from '#api';
import type { Exercise } from '#core/exercise';
import { massOf } from '#core/material';
import { refuse, succeed, type Result } from '#core/problem';
import { describeStep, operationName } from '#core/recipe';
import type { Audit } from '#server/audit';
import { joinStaff } from '#server/auth';
import type { Db } from '#server/db';
import { allow, idParam, jsonBody, notFound, refuseProblem, userOf, type AppEnv } from '#server/http';

import type { Drafts } from './drafts.ts';
import type { DraftRow, RevisionRow } from './revision-rows.ts';
import { parseExercise, type Exercises } from './revisions.ts';

export interface Library {
  /** All exercises that somebody may read, by number. */
  of(userId: number): readonly ExerciseSummary[];
  /** Puts an exercise away or takes it out again, and sets its words. Null for who may not. */
  arrange(exerciseId: number, by: User, change: ArrangeExercise): Result<null> | null;
  /** The newest state of an exercise as a draft of a new one, with its files. Refuses with `number-taken`. */
  copy(exerciseId: number, by: User, to: CopyExercise): Result<number> | null;
  /** Deletes an exercise that was never issued, with all that belongs to it. Refuses with `exercise-issued`. */
  remove(exerciseId: number, by: User): Result<null> | null;
}

export interface LibraryParts {
  readonly db: Db;
  readonly exercises: Pick<Exercises, 'listFor' | 'draftsFor' | 'courseOf'>;
  readonly drafts: Pick<Drafts, 'find' | 'adopt'>;
  readonly audit: Audit;
  readonly now: () => Date;
}

const tagsOf = (json: string): string[] => v.parse(TagsSchema, JSON.parse(json));

/** What a search finds an exercise by besides its facts: the words of its steps and checks, each once. */
const wordsOf = ({ recipe, checks }: Exercise): string[] => {
  const steps = recipe.steps.filter(({ off }) => off !== true);
  const sentences = [
    ...steps.flatMap((step) => [step.label ?? '', describeStep(step)]),
    ...checks.filter(({ off }) => off !== true).map(({ label }) => label),
  ];
  return [
    ...new Set(
      sentences
        .join(' ')
        .toLowerCase()
        .match(/[a-z][a-z-]{3,}/g) ?? [],
    ),
  ];
};

function summaryOf(row: RevisionRow | DraftRow): ExerciseSummary {
  const document = parseExercise(row.documentJson);
  const { recipe, material } = document;
  return {
    id: row.id,
    number: document.number,
    title: document.title,
    level: document.level,
    unit: recipe.unit,
    material: material.name,
    revision: row.revision,
    checks: document.checks.length,
    steps: recipe.steps.length,
    assignments: row.assignments,
    courseId: row.courseId,
    course: row.course,
    archivedAt: row.archivedAt,
    tags: tagsOf(row.tagsJson),
    letters: recipe.parameters.map(({ name }) => name),
    operations: [...new Set(recipe.steps.filter(({ off }) => off !== true).map(({ op }) => operationName(op)))],
    words: wordsOf(document),
    massG: row.volumeMm3 === null ? null : massOf(row.volumeMm3, material.densityGPerCm3),
  };
}

export function createLibrary({ db, exercises, drafts, audit, now }: LibraryParts): Library {
  const find = db.prepare<
    [number, number],
    { title: string; number: string; courseId: number; archivedAt: string | null; tagsJson: string }
  >(
    `SELECT exercises.title, exercises.number, exercises.course_id AS courseId, exercises.archived_at AS archivedAt,
            exercises.tags_json AS tagsJson
     FROM exercises ${joinStaff('exercises.course_id', 'edit-exercises')}
     WHERE exercises.id = ? AND course_staff.user_id = ?`,
  );
  const issued = db
    .prepare<[number], number>(
      `SELECT count(*) FROM assignments JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
       WHERE exercise_revisions.exercise_id = ?`,
    )
    .pluck();
  const inWork = db
    .prepare<[number], 1>("SELECT 1 FROM revision_jobs WHERE exercise_id = ? AND state = 'running'")
    .pluck();
  const arrangeRow = db.prepare('UPDATE exercises SET archived_at = ?, tags_json = ? WHERE id = ?');
  const copyFiles = db.prepare(
    `INSERT INTO exercise_files (exercise_id, sha256, file_name, uploaded_at)
     SELECT ?, sha256, file_name, uploaded_at FROM exercise_files WHERE exercise_id = ?`,
  );
  const dropRevisions = db.prepare('DELETE FROM exercise_revisions WHERE exercise_id = ?');
  const drop = db.prepare('DELETE FROM exercises WHERE id = ?');
  return {
    of: (userId) =>
      [...exercises.listFor(userId), ...exercises.draftsFor(userId)]
        .map(summaryOf)
        .sort((a, b) => a.number.localeCompare(b.number, 'en', { numeric: true })),
    arrange: (exerciseId, by, { archived, tags }) =>
      db.transaction((): Result<null> | null => {
        const before = find.get(exerciseId, by.id);
        if (before === undefined) return null;
        const archivedAt =
          archived === undefined ? before.archivedAt : archived ? (before.archivedAt ?? now().toISOString()) : null;
        arrangeRow.run(archivedAt, tags === undefined ? before.tagsJson : JSON.stringify(tags), exerciseId);
        return succeed(null);
      })(),
    copy(exerciseId, by, { courseId, number, title }) {
      const draft = drafts.find(exerciseId, by.id, 'read-course');
      const course = draft === null ? null : exercises.courseOf(by.id, courseId);
      if (draft === null || course === null) return null;
      return db.transaction((): Result<number> => {
        const made = drafts.adopt(course, by.id, { ...draft.document, number, title });
        if (made.ok) copyFiles.run(made.value, exerciseId);
        return made;
      })();
    },
    remove: (exerciseId, by) =>
      db.transaction((): Result<null> | null => {
        const before = find.get(exerciseId, by.id);
        if (before === undefined) return null;
        const times = issued.get(exerciseId) ?? 0;
        if (times > 0)
          return refuse(
            'exercise-issued',
            `${before.number} was issued ${times === 1 ? 'once' : `${String(times)} times`}, and its attempts belong to it. Put it away instead: then it is out of sight, and nothing is lost.`,
          );
        if (inWork.get(exerciseId) !== undefined)
          return refuse(
            'revision-running',
            'A revision of it is being made. Wait until it is done, and delete it then.',
          );
        dropRevisions.run(exerciseId);
        drop.run(exerciseId);
        audit.note({
          by,
          courseId: before.courseId,
          what: 'exercise deleted',
          subject: `${before.number} ${before.title}`,
        });
        return succeed(null);
      })(),
  };
}

export function libraryRoutes(app: Hono<AppEnv>, library: Library): void {
  app.get('/api/exercises', allow('read-course'), (c) => c.json({ exercises: [...library.of(userOf(c).id)] }));

  app.patch('/api/exercises/:id', allow('edit-exercises'), jsonBody(ArrangeExerciseSchema), (c) => {
    const done = library.arrange(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    if (done === null) return notFound(c);
    return done.ok ? c.json({}) : refuseProblem(c, done.problem);
  });

  app.post('/api/exercises/:id/copy', allow('edit-exercises'), jsonBody(CopyExerciseSchema), (c) => {
    const made = library.copy(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    if (made === null) return notFound(c);
    return made.ok ? c.json({ id: made.value }, 201) : refuseProblem(c, made.problem);
  });

  app.delete('/api/exercises/:id', allow('edit-exercises'), (c) => {
    const done = library.remove(idParam(c) ?? 0, userOf(c));
    if (done === null) return notFound(c);
    return done.ok ? c.json({}) : refuseProblem(c, done.problem);
  });
}
