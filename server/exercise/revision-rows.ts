import type { RevisionSummary } from '#api';
import type { Exercise } from '#core/exercise';
import { joinStaff, staffMay } from '#server/auth';
import type { Db } from '#server/db';
import type { Prepared } from '#server/jobs';

/** What the library knows of an exercise beside its document. */
export interface Placed {
  readonly courseId: number;
  readonly course: string;
  readonly archivedAt: string | null;
  readonly tagsJson: string;
}

export interface RevisionRow extends Placed {
  readonly id: number;
  /** Of the part as drawn; null where it was not kept. */
  readonly volumeMm3: number | null;
  readonly revisionId: number;
  readonly revision: number;
  readonly documentJson: string;
  readonly createdAt: string;
  readonly referenceSha256: string;
  readonly sheetSha256: string;
  readonly partSha256: string;
  readonly assignments: number;
}

export interface DraftRow extends Placed {
  readonly id: number;
  readonly volumeMm3: null;
  readonly revision: null;
  readonly documentJson: string;
  readonly assignments: number;
}

/** A revision in a section. */
interface IssuedRow extends Omit<RevisionSummary['issued'][number], 'withdrawn'> {
  readonly revision: number;
  readonly withdrawn: 0 | 1;
}

/** A part of a revision besides the first stage as drawn; variant -1 is as drawn, stages count from 1. */
export interface FurtherPart {
  readonly variant: number;
  readonly stage: number;
  readonly referenceSha256: string;
  readonly sheetSha256: string;
  readonly size: Prepared['size'];
}

export interface NewRevision {
  readonly document: Exercise;
  readonly referenceSha256: string;
  readonly sheetSha256: string;
  readonly partSha256: string;
  readonly createdAt: string;
  readonly size: Prepared['size'];
  readonly further: readonly FurtherPart[];
}

const PLACED = `exercises.course_id AS courseId, courses.title AS course, exercises.archived_at AS archivedAt,
         exercises.tags_json AS tagsJson`;

const LATEST = `
  SELECT exercises.id, ${PLACED},
         (SELECT volume_mm3 FROM part_sizes WHERE reference_sha256 = exercise_revisions.reference_sha256) AS volumeMm3, exercise_revisions.id AS revisionId, exercise_revisions.number AS revision,
         document_json AS documentJson, exercise_revisions.created_at AS createdAt,
         reference_sha256 AS referenceSha256, sheet_sha256 AS sheetSha256, part_sha256 AS partSha256,
         (SELECT count(*) FROM assignments JOIN exercise_revisions AS r ON r.id = assignments.revision_id
          WHERE r.exercise_id = exercises.id) AS assignments
  FROM exercises JOIN courses ON courses.id = exercises.course_id
  JOIN exercise_revisions ON exercise_revisions.exercise_id = exercises.id
   AND exercise_revisions.number = (SELECT max(number) FROM exercise_revisions WHERE exercise_id = exercises.id)
  ${joinStaff('exercises.course_id', 'read-course')}
  WHERE course_staff.user_id = ?`;

/** Revisions in the database. */
export function createRevisionRows(db: Db) {
  return { ...readingOf(db), add: addingTo(db) };
}

function readingOf(db: Db) {
  const list = db.prepare<[number], RevisionRow>(`${LATEST} ORDER BY exercises.number`);
  const find = db.prepare<[number, number], RevisionRow>(`${LATEST} AND exercises.id = ?`);
  const drafts = db.prepare<[number], DraftRow>(
    `SELECT exercises.id, ${PLACED}, NULL AS volumeMm3, NULL AS revision,
            exercise_drafts.document_json AS documentJson, 0 AS assignments
     FROM exercises JOIN courses ON courses.id = exercises.course_id
     JOIN exercise_drafts ON exercise_drafts.exercise_id = exercises.id
     ${joinStaff('exercises.course_id', 'read-course')}
     WHERE course_staff.user_id = ?
       AND NOT EXISTS (SELECT 1 FROM exercise_revisions WHERE exercise_id = exercises.id)
     ORDER BY exercises.number`,
  );
  const revisions = db.prepare<[number], Omit<RevisionSummary, 'issued'>>(
    'SELECT number, created_at AS createdAt FROM exercise_revisions WHERE exercise_id = ? ORDER BY number DESC',
  );
  const issued = db.prepare<[number], IssuedRow>(
    `SELECT exercise_revisions.number AS revision, assignments.id AS assignmentId, sections.name AS section,
            opens_at AS opensAt, due_at AS dueAt, withdrawn_at IS NOT NULL AS withdrawn,
            (SELECT count(DISTINCT student_id) FROM attempts
             WHERE assignment_id = assignments.id AND state <> 'refused') AS handedIn
     FROM exercise_revisions JOIN assignments ON assignments.revision_id = exercise_revisions.id
     JOIN sections ON sections.id = assignments.section_id
     WHERE exercise_id = ? ORDER BY opens_at, assignments.id`,
  );
  const documents = db.prepare<[number, number], { documentJson: string }>(
    'SELECT document_json AS documentJson FROM exercise_revisions WHERE exercise_id = ? AND number = ?',
  );
  const course = db.prepare<[{ instructorId: number; wanted: number | null }], { id: number }>(
    `SELECT course_staff.course_id AS id FROM course_staff JOIN courses ON courses.id = course_staff.course_id
     WHERE user_id = @instructorId AND ${staffMay('edit-exercises')}
       AND (course_staff.course_id = @wanted OR (@wanted IS NULL AND courses.archived_at IS NULL))
     ORDER BY course_staff.course_id LIMIT 1`,
  );
  const furtherSheets = db.prepare<[number], { variant: number; stage: number; sha256: string }>(
    `SELECT variant, stage, sheet_sha256 AS sha256 FROM revision_parts
     WHERE revision_id = ? ORDER BY stage, variant`,
  );
  const courseOfExercise = db.prepare<[number], { id: number }>('SELECT course_id AS id FROM exercises WHERE id = ?');
  return { list, find, drafts, revisions, issued, documents, course, furtherSheets, courseOfExercise };
}

/** Writes a revision with all its parts, or nothing. */
function addingTo(db: Db) {
  const known = db.prepare<[number, string], { id: number }>(
    'SELECT id FROM exercises WHERE course_id = ? AND number = ?',
  );
  const putPart = db.prepare<[number, number, number, string, string]>(
    'INSERT INTO revision_parts (revision_id, variant, stage, reference_sha256, sheet_sha256) VALUES (?, ?, ?, ?, ?)',
  );
  const putSize = db.prepare<[string, number, number]>(
    'INSERT INTO part_sizes (reference_sha256, volume_mm3, area_mm2) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  );
  const putExercise = db.prepare<[number, string, string]>(
    'INSERT INTO exercises (course_id, number, title) VALUES (?, ?, ?)',
  );
  const lastOf = db.prepare<[number], { last: number | null }>(
    'SELECT max(number) AS last FROM exercise_revisions WHERE exercise_id = ?',
  );
  const putRevision = db.prepare<[number, number, string, string, string, string, string]>(
    `INSERT INTO exercise_revisions
       (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
     VALUES (?, ?, ?, ?, ?, ?, ?)`,
  );
  return db.transaction((courseId: number, revision: NewRevision) => {
    const { document, referenceSha256, sheetSha256, partSha256, createdAt, size, further } = revision;
    const exerciseId =
      known.get(courseId, document.number)?.id ??
      Number(putExercise.run(courseId, document.number, document.title).lastInsertRowid);
    const number = (lastOf.get(exerciseId)?.last ?? 0) + 1;
    const revisionId = Number(
      putRevision.run(exerciseId, number, JSON.stringify(document), referenceSha256, sheetSha256, partSha256, createdAt)
        .lastInsertRowid,
    );
    for (const made of [{ referenceSha256, size }, ...further])
      putSize.run(made.referenceSha256, made.size.volumeMm3, made.size.areaMm2);
    for (const one of further) putPart.run(revisionId, one.variant, one.stage, one.referenceSha256, one.sheetSha256);
    return { exerciseId, revisionId, number };
  });
}
