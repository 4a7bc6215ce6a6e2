import type { Action, DraftDetail } from '#api';
import { blankExercise, parseExercise, type Exercise } from '#core/exercise';
import { refuse, succeed, unwrap, type Result } from '#core/problem';
import type { DrawingUnit } from '#core/quantity';
import { joinStaff } from '#server/auth';
import type { Db } from '#server/db';

/** Somebody else saved the draft in the meantime. */
export interface Conflict {
  readonly kind: 'conflict';
  readonly version: number;
  readonly updatedAt: string;
  readonly updatedBy: string;
}

export interface Drafts {
  /** A new exercise with a blank draft and no revision. Refuses with `number-taken`. */
  create(
    courseId: number,
    userId: number,
    start: { readonly number: string; readonly title: string; readonly unit: DrawingUnit },
  ): Result<number>;
  /** As `create`, from a whole document. */
  adopt(courseId: number, userId: number, document: Exercise): Result<number>;
  /** The draft of an exercise, for who may do something with it; made from the newest revision where there is none. */
  find(exerciseId: number, userId: number, action: 'read-course' | 'edit-exercises'): DraftDetail | null;
  /** Stores the draft if nobody saved it since `version`. */
  save(
    exerciseId: number,
    userId: number,
    version: number,
    document: Exercise,
  ): { readonly kind: 'saved'; readonly version: number; readonly updatedAt: string } | Conflict;
}

interface DraftRow {
  readonly version: number | null;
  readonly documentJson: string;
  readonly updatedAt: string;
  readonly updatedBy: string | null;
  readonly revision: number | null;
}

const draftFor = (action: Action): string => `
  SELECT exercise_drafts.version,
         coalesce(exercise_drafts.document_json, latest.document_json) AS documentJson,
         coalesce(exercise_drafts.updated_at, latest.created_at) AS updatedAt,
         users.name AS updatedBy, latest.number AS revision
  FROM exercises
  ${joinStaff('exercises.course_id', action)}
  LEFT JOIN exercise_drafts ON exercise_drafts.exercise_id = exercises.id
  LEFT JOIN users ON users.id = exercise_drafts.updated_by
  LEFT JOIN exercise_revisions AS latest ON latest.exercise_id = exercises.id
   AND latest.number = (SELECT max(number) FROM exercise_revisions WHERE exercise_id = exercises.id)
  WHERE exercises.id = ? AND course_staff.user_id = ?`;

/** Drafts of exercises, one each, saved as their authors type. */
export function createDrafts(db: Db, now: () => Date): Drafts {
  const find = {
    'read-course': db.prepare<[number, number], DraftRow>(draftFor('read-course')),
    'edit-exercises': db.prepare<[number, number], DraftRow>(draftFor('edit-exercises')),
  };
  const stored = db.prepare<[number], { version: number; updatedAt: string; updatedBy: string | null }>(
    `SELECT version, updated_at AS updatedAt, users.name AS updatedBy FROM exercise_drafts
     LEFT JOIN users ON users.id = exercise_drafts.updated_by WHERE exercise_id = ?`,
  );
  const put = db.prepare(
    `INSERT INTO exercise_drafts (exercise_id, version, document_json, updated_at, updated_by) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT (exercise_id) DO UPDATE SET version = excluded.version, document_json = excluded.document_json,
       updated_at = excluded.updated_at, updated_by = excluded.updated_by`,
  );
  const adopt: Drafts['adopt'] = (courseId, userId, document) => {
    const taken = db
      .prepare('SELECT 1 FROM exercises WHERE course_id = ? AND number = ?')
      .get(courseId, document.number);
    if (taken !== undefined)
      return refuse('number-taken', `The course already has an exercise ${document.number}. Choose another number.`);
    return succeed(
      db.transaction(() => {
        const id = Number(
          db
            .prepare('INSERT INTO exercises (course_id, number, title) VALUES (?, ?, ?)')
            .run(courseId, document.number, document.title).lastInsertRowid,
        );
        put.run(id, 1, JSON.stringify(document), now().toISOString(), userId);
        return id;
      })(),
    );
  };
  return {
    adopt,
    create: (courseId, userId, { number, title, unit }) => adopt(courseId, userId, blankExercise(number, title, unit)),
    find(exerciseId, userId, action) {
      const row = find[action].get(exerciseId, userId);
      if (row === undefined) return null;
      return {
        id: exerciseId,
        version: row.version ?? 0,
        document: unwrap(parseExercise(JSON.parse(row.documentJson))),
        updatedAt: row.updatedAt,
        updatedBy: row.updatedBy,
        revision: row.revision,
      };
    },
    save: (exerciseId, userId, version, document) =>
      db.transaction(() => {
        const before = stored.get(exerciseId);
        if ((before?.version ?? 0) !== version)
          return {
            kind: 'conflict' as const,
            version: before?.version ?? 0,
            updatedAt: before?.updatedAt ?? '',
            updatedBy: before?.updatedBy ?? 'somebody',
          };
        const updatedAt = now().toISOString();
        put.run(exerciseId, version + 1, JSON.stringify(document), updatedAt, userId);
        db.prepare('UPDATE exercises SET title = ? WHERE id = ?').run(document.title, exerciseId);
        return { kind: 'saved' as const, version: version + 1, updatedAt };
      })(),
  };
}
