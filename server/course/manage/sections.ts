import type { ChangeSection, User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { newJoinCode } from '#server/auth';

import type { ManagementParts } from './parts.ts';

export interface ManagingSections {
  addSection(courseId: number, by: User, name: string): Result<number>;
  changeSection(sectionId: number, by: User, change: ChangeSection): Result<null>;
  /** Refuses where somebody belongs to it or something was issued to it. */
  removeSection(sectionId: number, by: User): Result<null>;
}

/** The sections of courses. */
export function managingSections({ db, audit }: Pick<ManagementParts, 'db' | 'audit'>): ManagingSections {
  const section = db.prepare<[number], { courseId: number; name: string; joinCode: string | null }>(
    'SELECT course_id AS courseId, name, join_code AS joinCode FROM sections WHERE id = ?',
  );
  const sectionTaken = db.prepare<[number, string, number]>(
    'SELECT 1 FROM sections WHERE course_id = ? AND name = ? AND id <> ?',
  );
  const inUse = db.prepare<[number, number]>(
    'SELECT 1 FROM enrollments WHERE section_id = ? UNION SELECT 1 FROM assignments WHERE section_id = ?',
  );
  return {
    addSection: (courseId, by, name) =>
      db.transaction((): Result<number> => {
        if (sectionTaken.get(courseId, name, 0) !== undefined)
          return refuse('number-taken', `The course has a section "${name}" already.`);
        const id = Number(
          db.prepare('INSERT INTO sections (course_id, name) VALUES (?, ?)').run(courseId, name).lastInsertRowid,
        );
        audit.note({ by, courseId, what: 'section', subject: name });
        return succeed(id);
      })(),
    changeSection: (sectionId, by, { name, mayJoin }) =>
      db.transaction((): Result<null> => {
        const before = section.get(sectionId);
        if (before === undefined) return refuse('not-found', 'There is no such section.');
        const after = {
          ...before,
          name: name ?? before.name,
          joinCode: mayJoin === undefined ? before.joinCode : mayJoin ? (before.joinCode ?? newJoinCode()) : null,
        };
        if (sectionTaken.get(before.courseId, after.name, sectionId) !== undefined)
          return refuse('number-taken', `The course has a section "${after.name}" already.`);
        db.prepare('UPDATE sections SET name = ?, join_code = ? WHERE id = ?').run(
          after.name,
          after.joinCode,
          sectionId,
        );
        const told = ({ name: called, joinCode }: typeof after) => ({ name: called, mayJoin: joinCode !== null });
        audit.note({
          by,
          courseId: before.courseId,
          what: 'section',
          subject: after.name,
          before: told(before),
          after: told(after),
        });
        return succeed(null);
      })(),
    removeSection: (sectionId, by) =>
      db.transaction((): Result<null> => {
        const before = section.get(sectionId);
        if (before === undefined) return refuse('not-found', 'There is no such section.');
        if (inUse.get(sectionId, sectionId) !== undefined)
          return refuse('section-in-use', 'Students belong to this section, or something was issued to it. It stays.');
        db.prepare('DELETE FROM sections WHERE id = ?').run(sectionId);
        audit.note({ by, courseId: before.courseId, what: 'section removed', subject: before.name });
        return succeed(null);
      })(),
  };
}
