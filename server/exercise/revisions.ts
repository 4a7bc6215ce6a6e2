import type { RevisionSummary } from '#api';
import { parseExercise as parseDocument, type Exercise } from '#core/exercise';
import { groupBy } from '#core/group';
import { refuse, succeed, unwrap, type Problem, type Result } from '#core/problem';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import type { Runner } from '#server/jobs';

import { createPreparing } from './preparing.ts';
import { createRevisionRows, type DraftRow, type RevisionRow } from './revision-rows.ts';

export interface Exercises {
  /** Why a document cannot become a revision, as far as can be seen without building it; null where nothing is in the way. */
  hindrance(document: Exercise): Problem | null;
  /** Prepares the reference and stores the exercise as a new revision. Refuses a document whose reference fails it. */
  save(
    courseId: number,
    document: Exercise,
    options?: SaveOptions,
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
  /** The course where new exercises of an instructor go: the wanted one where they may be made there, null otherwise. */
  courseOf(instructorId: number, wanted?: number): number | null;
  courseOfExercise(exerciseId: number): number;
  /** The newest revision, if the instructor teaches its course. */
  findFor(exerciseId: number, instructorId: number): RevisionRow | null;
}

export interface SaveOptions {
  /** Parts that are built, of how many. */
  readonly onProgress?: (done: number, total: number) => void;
  /** The revision is written, together with what this writes. */
  readonly onStored?: (revision: number) => void;
  /** Nothing is written any more. */
  readonly isStopped?: () => boolean;
}

export interface ExercisesParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly runner: Runner;
  readonly now: () => Date;
  /** A new revision is stored. */
  readonly onRevision?: (revisionId: number) => void;
}

export function createExercises({ db, files, runner, now, onRevision = () => undefined }: ExercisesParts): Exercises {
  const rows = createRevisionRows(db);
  const parts = createPreparing(files, runner);
  return {
    furtherSheetsOf: (revisionId) => rows.furtherSheets.all(revisionId),
    listFor: (instructorId) => rows.list.all(instructorId),
    draftsFor: (instructorId) => rows.drafts.all(instructorId),
    revisionsOf(exerciseId) {
      const issued = groupBy(rows.issued.all(exerciseId), ({ revision }) => revision);
      return rows.revisions.all(exerciseId).map((revision) => ({
        ...revision,
        issued: (issued.get(revision.number) ?? []).map(({ revision: _, withdrawn, ...one }) => ({
          ...one,
          withdrawn: withdrawn === 1,
        })),
      }));
    },
    documentOf(exerciseId, revision) {
      const row = rows.documents.get(exerciseId, revision);
      return row === undefined ? null : parseExercise(row.documentJson);
    },
    courseOf: (instructorId, wanted) => rows.course.get({ instructorId, wanted: wanted ?? null })?.id ?? null,
    courseOfExercise: (exerciseId) => rows.courseOfExercise.get(exerciseId)?.id ?? 0,
    findFor: (exerciseId, instructorId) => rows.find.get(instructorId, exerciseId) ?? null,
    hindrance,
    async save(courseId, document, { onProgress, onStored = () => undefined, isStopped = () => false } = {}) {
      const inTheWay = hindrance(document);
      if (inTheWay !== null) return { ok: false, problem: inTheWay };
      const total = 1 + parts.countFurther(document);
      const prepared = await parts.prepare(document);
      if (!prepared.ok) return prepared;
      onProgress?.(1, total);
      const further = await parts.storeFurther(document, (done) => onProgress?.(1 + done, total));
      if (!further.ok) return further;
      const { referenceJson, sheetJson, part, size } = prepared.value;
      const made = {
        document,
        referenceSha256: (await files.put(Buffer.from(referenceJson))).sha256,
        sheetSha256: (await files.put(Buffer.from(sheetJson))).sha256,
        partSha256: (await files.put(part)).sha256,
        createdAt: now().toISOString(),
        size,
        further: further.value,
      };
      if (isStopped()) return refuse('not-prepared', 'The server is closing.');
      const revision = db.transaction(() => {
        const { number, ...added } = rows.add(courseId, made);
        onStored(number);
        return added;
      })();
      onRevision(revision.revisionId);
      return succeed(revision);
    },
  };
}

function hindrance(document: Exercise): Problem | null {
  if (document.checks.every(({ off }) => off === true))
    return { code: 'no-checks', message: 'The check plan is empty. Add checks, or let Zorvet suggest a plan.' };
  if (document.model?.unit === null)
    return {
      code: 'unit-unconfirmed',
      message: 'Say first what the numbers of the model file are in, and confirm its size.',
    };
  return null;
}

/** A stored document, of whatever version wrote it. */
export const parseExercise = (json: string): Exercise => unwrap(parseDocument(JSON.parse(json)));
