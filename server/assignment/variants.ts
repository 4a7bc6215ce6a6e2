import { assignVariants } from '#core/variant';
import type { Db } from '#server/db';

/** Who has which variant of an assignment's exercise. */
export interface VariantStore {
  /** Gives every student of the section a variant; call when the assignment is issued. */
  give(assignmentId: number): void;
  /** The place of a student's variant in the document's list, from 0; null where the exercise has none. */
  of(assignmentId: number, studentId: number): number | null;
}

interface Facts {
  readonly exerciseId: number;
  readonly sectionId: number;
  readonly count: number;
  /** Assignments of the same exercise to the same section before this one. */
  readonly earlier: number;
}

/** Variants are given by the exercise, the section and the number of the retake alone, so that they can be told again. */
export function createVariants(db: Db): VariantStore {
  const facts = db.prepare<[number], Facts>(
    `SELECT exercise_revisions.exercise_id AS exerciseId, assignments.section_id AS sectionId,
            (SELECT count(DISTINCT variant) FROM revision_parts
             WHERE revision_id = assignments.revision_id AND variant >= 0) AS count,
            (SELECT count(*) FROM assignments AS other
             JOIN exercise_revisions AS revision ON revision.id = other.revision_id
             WHERE revision.exercise_id = exercise_revisions.exercise_id
               AND other.section_id = assignments.section_id AND other.id < assignments.id) AS earlier
     FROM assignments JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     WHERE assignments.id = ?`,
  );
  const students = db.prepare<[number], { id: number }>(
    'SELECT user_id AS id FROM enrollments WHERE section_id = ? ORDER BY user_id',
  );
  const put = db.prepare<[number, number, number]>(
    'INSERT INTO assigned_variants (assignment_id, student_id, variant) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  );
  const known = db.prepare<[number, number], { variant: number }>(
    'SELECT variant FROM assigned_variants WHERE assignment_id = ? AND student_id = ?',
  );
  const uses = db.prepare<[number], { variant: number; count: number }>(
    'SELECT variant, count(*) AS count FROM assigned_variants WHERE assignment_id = ? GROUP BY variant',
  );
  return {
    give(assignmentId) {
      const found = facts.get(assignmentId);
      if (found === undefined || found.count === 0) return;
      const ids = students.all(found.sectionId).map(({ id }) => id);
      for (const [student, variant] of assignVariants(ids, found.count, found.exerciseId, found.earlier))
        put.run(assignmentId, student, variant);
    },
    of(assignmentId, studentId) {
      const given = known.get(assignmentId, studentId);
      if (given !== undefined) return given.variant;
      const found = facts.get(assignmentId);
      if (found === undefined || found.count === 0) return null;
      // A student who came later gets the variant that the fewest have.
      const counts = new Map(uses.all(assignmentId).map(({ variant, count }) => [variant, count]));
      const order = Array.from({ length: found.count }, (_, i) => i);
      const [rarest = 0] = order.sort((a, b) => (counts.get(a) ?? 0) - (counts.get(b) ?? 0));
      put.run(assignmentId, studentId, rarest);
      return rarest;
    },
  };
}
