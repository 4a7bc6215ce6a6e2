/** How the grades of a course come about, as those who teach it set it. */
import * as v from 'valibot';

import type { GradingInput, User } from '#api';
import { GradingSchemeSchema, PLAIN_SCHEME, type GradingScheme } from '#core/gradebook';
import { refuse, succeed, type Result } from '#core/problem';
import type { Audit } from '#server/audit';
import { staffMay } from '#server/auth';
import type { Db } from '#server/db';

/** The scheme of a course, as its row stores it. */
export const schemeOf = (json: string | null): GradingScheme =>
  json === null ? PLAIN_SCHEME : v.parse(GradingSchemeSchema, JSON.parse(json));

/** The group of each assignment of a course, of withdrawn ones too. */
export function groupsOfAssignments(db: Db): (courseId: number) => ReadonlyMap<number, string | null> {
  const groups = db.prepare<[number], { id: number; groupId: string | null }>(
    `SELECT assignments.id, grade_group AS groupId FROM assignments
     JOIN sections ON sections.id = assignments.section_id WHERE sections.course_id = ?`,
  );
  return (courseId) => new Map(groups.all(courseId).map(({ id, groupId }) => [id, groupId]));
}

export interface Grading {
  /** Sets scheme and groups of assignments; what is not named keeps its group. Null for who may not. */
  set(courseId: number, by: User, grading: GradingInput): Result<null> | null;
}

export function createGrading(db: Db, audit: Audit): Grading {
  const find = db.prepare<[number, number], { title: string; gradingJson: string | null }>(
    `SELECT courses.title, courses.grading_json AS gradingJson
     FROM course_staff JOIN courses ON courses.id = course_staff.course_id
     WHERE course_id = ? AND user_id = ? AND ${staffMay('manage-course')}`,
  );
  const groupsOf = groupsOfAssignments(db);
  const save = db.prepare('UPDATE courses SET grading_json = ? WHERE id = ?');
  const put = db.prepare('UPDATE assignments SET grade_group = ? WHERE id = ?');
  return {
    set(courseId, by, { scheme, groupOf }) {
      return db.transaction((): Result<null> | null => {
        const course = find.get(courseId, by.id);
        if (course === undefined) return null;
        const before = groupsOf(courseId);
        const known = new Set(scheme.groups.map(({ id }) => id));
        for (const { assignmentId, groupId } of groupOf) {
          if (!before.has(assignmentId))
            return refuse('bad-input', 'One of the assignments is not of this course. Load the page again.');
          if (groupId !== null && !known.has(groupId))
            return refuse('bad-input', 'An assignment names a group that is not there. Choose one of the groups.');
        }
        const after = new Map(before);
        for (const { assignmentId, groupId } of groupOf) after.set(assignmentId, groupId);
        save.run(JSON.stringify(scheme), courseId);
        for (const [id, groupId] of after) if (groupId !== before.get(id)) put.run(groupId, id);
        audit.note({
          by,
          courseId,
          what: 'how grades come about',
          subject: course.title,
          before: { scheme: schemeOf(course.gradingJson), groups: Object.fromEntries(before) },
          after: { scheme, groups: Object.fromEntries(after) },
        });
        return succeed(null);
      })();
    },
  };
}
