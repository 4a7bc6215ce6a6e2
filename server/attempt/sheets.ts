/** The drawings of an assignment: which of them a student has, and what their title blocks say. */
import type { User } from '#api';
import { exerciseOfStage, type Exercise, type Variant } from '#core/exercise';
import type { SheetFields } from '#core/sheet';
import { dayIn } from '#core/time';
import { documentOf, type AssignmentRow, type VariantStore } from '#server/assignment';
import type { Db } from '#server/db';

import type { Access } from './access.ts';
import type { AttemptStore } from './rows.ts';
import { openStage, stageTitle } from './stages.ts';

/** A stored drawing, and what its title block says. */
export interface StudentSheet {
  readonly sha256: string;
  readonly number: string;
  /** Hash of the part that it was drawn of: not for students. */
  readonly referenceSha256: string;
  readonly fields: SheetFields;
  /** As it is in the stage that the sheet is of. */
  readonly exercise: Exercise;
  /** What the student's variant gives the letters; none where there are no variants. */
  readonly values: Variant['values'];
}

export interface Sheets {
  /** The drawing of a student in one stage of the work, the last open one where none is asked for. */
  sheetOf(assignmentId: number, studentId: number, stage?: number): StudentSheet | null;
  /** The sheet that an attempt was made from, for whoever may see the attempt. */
  sheetOfAttempt(attemptId: number, user: User): StudentSheet | null;
  /** The drawing of a stage of an assignment as staff looks at it: of the first variant where there are some. */
  sheetOfAssignment(assignmentId: number, stage: number, user: User): StudentSheet | null;
  /** The sheets of all students of an assignment, for whoever teaches it. */
  printPack(
    assignmentId: number,
    user: User,
  ): { readonly name: string; readonly sheets: readonly StudentSheet[] } | null;
}

export interface SheetsParts {
  readonly db: Db;
  readonly store: AttemptStore;
  readonly access: Access;
  readonly variants: VariantStore;
}

export function createSheets({ db, store, access, variants }: SheetsParts): Sheets {
  const partSheet = db.prepare<[number, number, number], Pick<StudentSheet, 'sha256' | 'referenceSha256'>>(
    `SELECT revision_parts.sheet_sha256 AS sha256, revision_parts.reference_sha256 AS referenceSha256 FROM revision_parts
     JOIN assignments ON assignments.revision_id = revision_parts.revision_id
     WHERE assignments.id = ? AND revision_parts.variant = ? AND revision_parts.stage = ?`,
  );
  const asDrawn = db.prepare<[number], Pick<StudentSheet, 'sha256' | 'referenceSha256'>>(
    `SELECT sheet_sha256 AS sha256, reference_sha256 AS referenceSha256 FROM exercise_revisions
     JOIN assignments ON assignments.revision_id = exercise_revisions.id WHERE assignments.id = ?`,
  );
  const sectionStudents = db.prepare<[number], { id: number; name: string }>(
    `SELECT users.id, users.name FROM enrollments JOIN users ON users.id = enrollments.user_id
     WHERE enrollments.section_id = ? ORDER BY users.name`,
  );

  function sheetFor(row: AssignmentRow, studentId: number, stage: number): StudentSheet | null {
    return sheetOfVariant(row, variants.of(row.id, studentId), stage);
  }

  function sheetOfVariant(row: AssignmentRow, place: number | null, stage: number): StudentSheet | null {
    const part = place === null && stage === 1 ? asDrawn.get(row.id) : partSheet.get(row.id, place ?? -1, stage);
    if (part === undefined) return null;
    const document = documentOf(row);
    const variant = place === null ? undefined : document.variants[place]?.name;
    const fields = {
      course: row.course,
      revision: String(row.revision),
      date: dayIn(row.opensAt, row.timeZone),
      variant: [variant, stage > 1 ? stageTitle(document, stage) : null]
        .filter((part) => typeof part === 'string')
        .join(', '),
    };
    const values = place === null ? {} : (document.variants[place]?.values ?? {});
    return { ...part, number: row.exerciseNumber, fields, exercise: exerciseOfStage(document, stage), values };
  }

  const withStudent = (sheet: StudentSheet | null, student: string): StudentSheet | null =>
    sheet && { ...sheet, fields: { ...sheet.fields, student } };

  return {
    sheetOf(assignmentId, studentId, asked) {
      const row = store.work(studentId, assignmentId);
      if (row === null || !access.isOpenYet(row)) return null;
      const open = openStage(store, row, studentId, asked);
      return open && sheetFor(row, studentId, open.stage);
    },

    sheetOfAttempt(attemptId, user) {
      const record = access.visible(attemptId, user);
      const row = record && store.assignment(record.assignmentId);
      return record && row && withStudent(sheetFor(row, record.studentId, record.stage), record.student);
    },

    sheetOfAssignment(assignmentId, stage, user) {
      const row = store.assignment(assignmentId);
      if (row === null || !access.teaches(assignmentId, user)) return null;
      return sheetOfVariant(row, documentOf(row).variants.length > 0 ? 0 : null, stage);
    },

    printPack(assignmentId, user) {
      const row = store.assignment(assignmentId);
      if (row === null || !access.teaches(assignmentId, user)) return null;
      return {
        name: `${row.exerciseNumber} ${row.section}`,
        sheets: sectionStudents
          .all(row.sectionId)
          .map(({ id, name }) => withStudent(sheetFor(row, id, 1), name))
          .filter((sheet) => sheet !== null),
      };
    },
  };
}
