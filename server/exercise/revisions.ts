import type { RevisionSummary } from '#api';
import { exerciseOfStage, parseExercise as parseDocument, stageCount, type Exercise } from '#core/exercise';
import type { ParameterValues } from '#core/recipe';
import { refuse, succeed, unwrap, type Result } from '#core/problem';
import { joinStaff, staffMay } from '#server/auth';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import type { Prepared, Runner } from '#server/jobs';

interface RevisionRow {
  readonly id: number;
  readonly revisionId: number;
  readonly revision: number;
  readonly documentJson: string;
  readonly createdAt: string;
  readonly referenceSha256: string;
  readonly sheetSha256: string;
  readonly partSha256: string;
  readonly assignments: number;
}

interface DraftRow {
  readonly id: number;
  readonly revision: null;
  readonly documentJson: string;
  readonly assignments: number;
}

export interface Exercises {
  /** Prepares the reference and stores the exercise as a new revision. Refuses a document whose reference fails it. */
  save(
    courseId: number,
    document: Exercise,
  ): Promise<Result<{ readonly exerciseId: number; readonly revisionId: number }>>;
  listFor(instructorId: number): RevisionRow[];
  /** Exercises that have a draft and no revision yet. */
  draftsFor(instructorId: number): readonly DraftRow[];
  /** The sheets of a revision besides that of the first stage as drawn; variant -1 is as drawn, stages count from 1. */
  furtherSheetsOf(
    revisionId: number,
  ): readonly { readonly variant: number; readonly stage: number; readonly sha256: string }[];
  /** All revisions, the newest first. */
  revisionsOf(exerciseId: number): readonly RevisionSummary[];
  /** The document of one revision. */
  documentOf(exerciseId: number, revision: number): Exercise | null;
  /** The course that an instructor teaches, where new exercises go. */
  courseOf(instructorId: number): number | null;
  courseOfExercise(exerciseId: number): number;
  /** The newest revision, if the instructor teaches its course. */
  findFor(exerciseId: number, instructorId: number): RevisionRow | null;
}

const LATEST = `
  SELECT exercises.id, exercise_revisions.id AS revisionId, exercise_revisions.number AS revision,
         document_json AS documentJson, exercise_revisions.created_at AS createdAt,
         reference_sha256 AS referenceSha256, sheet_sha256 AS sheetSha256, part_sha256 AS partSha256,
         (SELECT count(*) FROM assignments JOIN exercise_revisions AS r ON r.id = assignments.revision_id
          WHERE r.exercise_id = exercises.id) AS assignments
  FROM exercises
  JOIN exercise_revisions ON exercise_revisions.exercise_id = exercises.id
   AND exercise_revisions.number = (SELECT max(number) FROM exercise_revisions WHERE exercise_id = exercises.id)
  ${joinStaff('exercises.course_id', 'read-course')}
  WHERE course_staff.user_id = ?`;

export interface ExercisesParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly runner: Runner;
  readonly now: () => Date;
  /** A new revision is stored. */
  readonly onRevision?: (revisionId: number) => void;
}

export function createExercises({ db, files, runner, now, onRevision = () => undefined }: ExercisesParts): Exercises {
  const list = db.prepare<[number], RevisionRow>(`${LATEST} ORDER BY exercises.number`);
  const find = db.prepare<[number, number], RevisionRow>(`${LATEST} AND exercises.id = ?`);
  const drafts = db.prepare<[number], DraftRow>(
    `SELECT exercises.id, NULL AS revision, exercise_drafts.document_json AS documentJson, 0 AS assignments
     FROM exercises JOIN exercise_drafts ON exercise_drafts.exercise_id = exercises.id
     ${joinStaff('exercises.course_id', 'read-course')}
     WHERE course_staff.user_id = ?
       AND NOT EXISTS (SELECT 1 FROM exercise_revisions WHERE exercise_id = exercises.id)
     ORDER BY exercises.number`,
  );
  const revisions = db.prepare<[number], RevisionSummary>(
    `SELECT number, created_at AS createdAt,
            (SELECT count(*) FROM assignments WHERE revision_id = exercise_revisions.id) AS assignments
     FROM exercise_revisions WHERE exercise_id = ? ORDER BY number DESC`,
  );
  const documents = db.prepare<[number, number], { documentJson: string }>(
    'SELECT document_json AS documentJson FROM exercise_revisions WHERE exercise_id = ? AND number = ?',
  );
  const course = db.prepare<[number], { id: number }>(
    `SELECT course_id AS id FROM course_staff WHERE user_id = ? AND ${staffMay('edit-exercises')} ORDER BY course_id LIMIT 1`,
  );
  const known = db.prepare<[number, string], { id: number }>(
    'SELECT id FROM exercises WHERE course_id = ? AND number = ?',
  );
  const putPart = db.prepare<[number, number, number, string, string]>(
    'INSERT INTO revision_parts (revision_id, variant, stage, reference_sha256, sheet_sha256) VALUES (?, ?, ?, ?, ?)',
  );
  const furtherSheets = db.prepare<[number], { variant: number; stage: number; sha256: string }>(
    `SELECT variant, stage, sheet_sha256 AS sha256 FROM revision_parts
     WHERE revision_id = ? ORDER BY stage, variant`,
  );
  const putSize = db.prepare<[string, number, number]>(
    'INSERT INTO part_sizes (reference_sha256, volume_mm3, area_mm2) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  );
  /** Builds and measures the part with some values; a part that fails its own plan is refused. */
  async function prepare(document: Exercise, stage = 1, values?: ParameterValues): Promise<Result<Prepared>> {
    const outcome = await runner.prepare({
      exercise: document,
      stage,
      ...(values === undefined ? {} : { values }),
      ...(document.model === undefined ? {} : { modelPath: files.pathOf(document.model.sha256) }),
    });
    if (outcome.kind === 'refused') return { ok: false, problem: outcome.problem };
    if (outcome.kind !== 'done')
      return refuse('not-prepared', 'The part could not be built. Try again; if it fails again, simplify the recipe.');
    const { failing } = outcome.value;
    return failing.length > 0
      ? refuse('reference-fails', `The reference itself fails these checks: ${failing.join(', ')}.`)
      : succeed(outcome.value);
  }
  /** Every part of an exercise besides the first stage as drawn, with what to call it. */
  function* furtherParts(document: Exercise) {
    for (let stage = 1; stage <= stageCount(document); stage++) {
      const staged = exerciseOfStage(document, stage);
      const title = document.stages[stage - 2]?.title;
      const inStage = title === undefined ? '' : `Stage "${title}"`;
      if (stage > 1) yield { variant: -1, stage, what: inStage, made: prepare(document, stage) };
      for (const [variant, { name, values }] of staged.variants.entries())
        yield {
          variant,
          stage,
          what: [`Variant ${name}`, inStage].filter(Boolean).join(', '),
          made: prepare(document, stage, values),
        };
    }
  }
  return {
    furtherSheetsOf: (revisionId) => furtherSheets.all(revisionId),
    listFor: (instructorId) => list.all(instructorId),
    draftsFor: (instructorId) => drafts.all(instructorId),
    revisionsOf: (exerciseId) => revisions.all(exerciseId),
    documentOf(exerciseId, revision) {
      const row = documents.get(exerciseId, revision);
      return row === undefined ? null : parseExercise(row.documentJson);
    },
    courseOf: (instructorId) => course.get(instructorId)?.id ?? null,
    courseOfExercise: (exerciseId) =>
      db.prepare<[number], { id: number }>('SELECT course_id AS id FROM exercises WHERE id = ?').get(exerciseId)?.id ??
      0,
    findFor: (exerciseId, instructorId) => find.get(instructorId, exerciseId) ?? null,
    async save(courseId, document) {
      if (document.checks.every(({ off }) => off === true))
        return refuse('no-checks', 'The check plan is empty. Add checks, or let Zorvet suggest a plan.');
      if (document.model?.unit === null)
        return refuse('unit-unconfirmed', 'Say first what the numbers of the model file are in, and confirm its size.');
      const prepared = await prepare(document);
      if (!prepared.ok) return prepared;
      const parts = await Promise.all(
        [...furtherParts(document)].map(async (part) => ({ ...part, made: await part.made })),
      );
      const stored: { variant: number; stage: number; reference: string; sheet: string; size: Prepared['size'] }[] = [];
      for (const { variant, stage, what, made } of parts) {
        if (!made.ok) return refuse(made.problem.code, `${what}: ${made.problem.message}`);
        stored.push({
          variant,
          stage,
          reference: (await files.put(Buffer.from(made.value.referenceJson))).sha256,
          sheet: (await files.put(Buffer.from(made.value.sheetJson))).sha256,
          size: made.value.size,
        });
      }
      const { referenceJson, sheetJson, part, size } = prepared.value;
      const [reference, sheet, model] = [
        await files.put(Buffer.from(referenceJson)),
        await files.put(Buffer.from(sheetJson)),
        await files.put(part),
      ];
      const revision = db.transaction(() => {
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
                 (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
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
        for (const made of [{ reference: reference.sha256, size }, ...stored])
          putSize.run(made.reference, made.size.volumeMm3, made.size.areaMm2);
        for (const one of stored) putPart.run(revisionId, one.variant, one.stage, one.reference, one.sheet);
        return { exerciseId, revisionId };
      })();
      onRevision(revision.revisionId);
      return succeed(revision);
    },
  };
}

/** A stored document, of whatever version wrote it. */
export const parseExercise = (json: string): Exercise => unwrap(parseDocument(JSON.parse(json)));
