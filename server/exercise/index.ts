/** Exercises and their revisions, for instructors. */
import type { Hono } from 'hono';
import * as v from 'valibot';

import type { ExerciseDetail, ExerciseSummary } from '#api';
import { ReferenceSchema } from '#core/check';
import { ExerciseSchema, type Exercise } from '#core/exercise';
import { findMaterial } from '#core/material';
import { refuse, succeed, unwrap, type Result } from '#core/problem';
import { evaluateParameters } from '#core/quantity';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import { allow, idParam, notFound, userOf, type AppEnv } from '#server/http';
import type { Runner } from '#server/jobs';

interface RevisionRow {
  readonly id: number;
  readonly revisionId: number;
  readonly revision: number;
  readonly documentJson: string;
  readonly createdAt: string;
  readonly referenceSha256: string;
  readonly sheetSha256: string;
  readonly stepSha256: string;
  readonly assignments: number;
}

export interface Exercises {
  /** Prepares the reference and stores the exercise as a new revision. Refuses a document whose reference fails it. */
  save(
    courseId: number,
    document: Exercise,
  ): Promise<Result<{ readonly exerciseId: number; readonly revisionId: number }>>;
  listFor(instructorId: number): RevisionRow[];
  /** The newest revision, if the instructor teaches its course. */
  findFor(exerciseId: number, instructorId: number): RevisionRow | null;
}

const LATEST = `
  SELECT exercises.id, exercise_revisions.id AS revisionId, exercise_revisions.number AS revision,
         document_json AS documentJson, exercise_revisions.created_at AS createdAt,
         reference_sha256 AS referenceSha256, sheet_sha256 AS sheetSha256, step_sha256 AS stepSha256,
         (SELECT count(*) FROM assignments JOIN exercise_revisions AS r ON r.id = assignments.revision_id
          WHERE r.exercise_id = exercises.id) AS assignments
  FROM exercises
  JOIN exercise_revisions ON exercise_revisions.exercise_id = exercises.id
   AND exercise_revisions.number = (SELECT max(number) FROM exercise_revisions WHERE exercise_id = exercises.id)
  JOIN course_instructors ON course_instructors.course_id = exercises.course_id
  WHERE course_instructors.user_id = ?`;

export function createExercises(db: Db, files: FileStore, runner: Runner, now: () => Date): Exercises {
  const list = db.prepare<[number], RevisionRow>(`${LATEST} ORDER BY exercises.number`);
  const find = db.prepare<[number, number], RevisionRow>(`${LATEST} AND exercises.id = ?`);
  const known = db.prepare<[number, string], { id: number }>(
    'SELECT id FROM exercises WHERE course_id = ? AND number = ?',
  );
  return {
    listFor: (instructorId) => list.all(instructorId),
    findFor: (exerciseId, instructorId) => find.get(instructorId, exerciseId) ?? null,
    async save(courseId, document) {
      const outcome = await runner.prepare({ exercise: document });
      if (outcome.kind === 'refused') return { ok: false, problem: outcome.problem };
      if (outcome.kind !== 'done')
        return refuse(
          'not-prepared',
          'The part could not be built. Try again; if it fails again, simplify the recipe.',
        );
      const { failing, referenceJson, sheetSvg, step } = outcome.value;
      if (failing.length > 0)
        return refuse('reference-fails', `The reference itself fails these checks: ${failing.join(', ')}.`);
      const [reference, sheet, model] = [
        await files.put(Buffer.from(referenceJson)),
        await files.put(Buffer.from(sheetSvg)),
        await files.put(step),
      ];
      return succeed(
        db.transaction(() => {
          const exerciseId =
            known.get(courseId, document.number)?.id ??
            Number(
              db
                .prepare('INSERT INTO exercises (course_id, number, title) VALUES (?, ?, ?)')
                .run(courseId, document.number, document.title).lastInsertRowid,
            );
          const { last } = db
            .prepare<[number], { last: number | null }>(
              'SELECT max(number) AS last FROM exercise_revisions WHERE exercise_id = ?',
            )
            .get(exerciseId) ?? { last: null };
          const revisionId = Number(
            db
              .prepare(
                `INSERT INTO exercise_revisions
                 (exercise_id, number, document_json, reference_sha256, sheet_sha256, step_sha256, created_at)
                 VALUES (?, ?, ?, ?, ?, ?, ?)`,
              )
              .run(
                exerciseId,
                (last ?? 0) + 1,
                JSON.stringify(document),
                reference.sha256,
                sheet.sha256,
                model.sha256,
                now().toISOString(),
              ).lastInsertRowid,
          );
          return { exerciseId, revisionId };
        })(),
      );
    },
  };
}

export const parseExercise = (json: string): Exercise => v.parse(ExerciseSchema, JSON.parse(json));

export function exerciseRoutes(app: Hono<AppEnv>, exercises: Exercises, files: FileStore): void {
  app.get('/api/exercises', allow('instructor'), (c) => {
    const rows = exercises.listFor(userOf(c).id);
    const summaries = rows.map((row): ExerciseSummary => {
      const document = parseExercise(row.documentJson);
      return {
        id: row.id,
        number: document.number,
        title: document.title,
        level: document.level,
        unit: document.recipe.unit,
        material: findMaterial(document.material)?.name ?? document.material,
        revision: row.revision,
        checks: document.checks.length,
        steps: document.recipe.steps.length,
        assignments: row.assignments,
      };
    });
    return c.json({ exercises: summaries });
  });

  app.get('/api/exercises/:id', allow('instructor'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const document = parseExercise(row.documentJson);
    const reference = v.parse(ReferenceSchema, JSON.parse((await files.read(row.referenceSha256)).toString('utf8')));
    return c.json({
      id: row.id,
      revision: row.revision,
      revisionId: row.revisionId,
      createdAt: row.createdAt,
      document,
      materialName: findMaterial(document.material)?.name ?? document.material,
      densityGPerCm3: reference.densityGPerCm3,
      targets: [...reference.targets],
      massProperties: reference.solid.massProperties,
      values: { ...unwrap(evaluateParameters(document.recipe.parameters, document.recipe.unit)) },
    } satisfies ExerciseDetail);
  });

  app.get('/api/exercises/:id/model', allow('instructor'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const reference = v.parse(ReferenceSchema, JSON.parse((await files.read(row.referenceSha256)).toString('utf8')));
    return c.json({ bounds: reference.solid.bounds, mesh: reference.solid.mesh });
  });

  app.get('/api/exercises/:id/sheet.svg', allow('instructor'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    return c.body((await files.read(row.sheetSha256)).toString('utf8'), 200, { 'Content-Type': 'image/svg+xml' });
  });

  app.get('/api/exercises/:id/reference.step', allow('instructor'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const { number } = parseExercise(row.documentJson);
    return c.body(new Uint8Array(await files.read(row.stepSha256)), 200, {
      'Content-Type': 'model/step',
      'Content-Disposition': `attachment; filename="${number}-reference.step"`,
    });
  });
}
