import type { GroupDates, SetStudentGroup, StudentGroup, User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { shiftedBy } from '#core/schedule';
import type { Audit } from '#server/audit';
import type { Db } from '#server/db';

import { groupStatements, type GroupRow } from './rows.ts';

export interface StudentGroups {
  ofSection(sectionId: number): StudentGroup[];
  /** Makes a group; gives its number. */
  add(sectionId: number, by: User, group: SetStudentGroup): Result<number>;
  /** Gives the assignments in which somebody has another due time now. */
  change(sectionId: number, groupId: number, by: User, group: SetStudentGroup): Result<readonly number[]>;
  /** The members keep what was given to them alone. Gives the assignments as `change` does. */
  remove(sectionId: number, groupId: number, by: User): Result<readonly number[]>;
  datesOf(assignmentId: number): GroupDates['groups'];
  /** The due time of a group; null where that of the others holds. */
  setDue(assignmentId: number, groupId: number, by: User, dueAt: string | null): Result<null>;
  /** Works out anew who has which due time by a group, as after an extension of the own was taken back. */
  derive(assignmentId: number): void;
  /** Moves the due times of an assignment by days, at the same hours by the clocks of a place. */
  shift(assignmentId: number, days: number, timeZone: string): void;
}

export interface StudentGroupParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly now: () => Date;
}

const NO_GROUP = 'There is no such group in this section.';

/**
 * Groups of students with other dates. What a group has is written as an extension of each member, so that everything that
 * asks when somebody has to hand in reads one table; an extension of a student alone goes before, and of two groups the
 * later due time.
 */
export function createStudentGroups({ db, audit, now }: StudentGroupParts): StudentGroups {
  const rows = groupStatements(db);
  const found = (sectionId: number, groupId: number): GroupRow | null => {
    const group = rows.one.get(groupId);
    return group?.sectionId === sectionId ? group : null;
  };
  const derive = (assignmentId: number): void => {
    rows.forget.run(assignmentId);
    rows.derive.run(assignmentId);
  };
  const taken = (name: string) => refuse('number-taken', `The section has a group "${name}" already.`);

  /** Makes those the members who are named and belong to the section. */
  function setMembers({ id, sectionId }: Pick<GroupRow, 'id' | 'sectionId'>, studentIds: readonly number[]): void {
    const students = new Set(rows.students.all(sectionId));
    const wanted = new Set(studentIds.filter((studentId) => students.has(studentId)));
    for (const studentId of rows.members.all(id)) if (!wanted.has(studentId)) rows.dropMember.run(id, studentId);
    for (const studentId of wanted) rows.addMember.run(id, studentId, now().toISOString());
  }

  return {
    derive,
    shift(assignmentId, days, timeZone) {
      for (const { groupId, dueAt } of rows.datesOf.all(assignmentId))
        if (dueAt !== null)
          rows.moveDate.run(shiftedBy(dueAt, days, timeZone), now().toISOString(), assignmentId, groupId);
      derive(assignmentId);
    },
    datesOf: (assignmentId) => rows.datesOf.all(assignmentId),
    ofSection: (sectionId) =>
      rows.ofSection.all(sectionId).map(({ id, name }) => ({ id, name, studentIds: rows.members.all(id) })),

    add: (sectionId, by, { name, studentIds }) =>
      db.transaction((): Result<number> => {
        const courseId = rows.courseOf.get(sectionId);
        if (courseId === undefined) return refuse('not-found', 'There is no such section.');
        if (rows.taken.get(sectionId, name, 0) !== undefined) return taken(name);
        const id = Number(rows.add.run(sectionId, name).lastInsertRowid);
        setMembers({ id, sectionId }, studentIds);
        audit.note({ by, courseId, what: 'group of students', subject: name, after: { studentIds } });
        return succeed(id);
      })(),

    change: (sectionId, groupId, by, { name, studentIds }) =>
      db.transaction((): Result<readonly number[]> => {
        const group = found(sectionId, groupId);
        if (group === null) return refuse('not-found', NO_GROUP);
        if (rows.taken.get(sectionId, name, groupId) !== undefined) return taken(name);
        const before = { name: group.name, studentIds: rows.members.all(groupId) };
        rows.rename.run(name, groupId);
        setMembers(group, studentIds);
        const after = { name, studentIds: rows.members.all(groupId) };
        audit.note({ by, courseId: group.courseId, what: 'group of students', subject: name, before, after });
        const assignments = rows.assignmentsOf.all(groupId);
        assignments.forEach(derive);
        return succeed(assignments);
      })(),

    remove: (sectionId, groupId, by) =>
      db.transaction((): Result<readonly number[]> => {
        const group = found(sectionId, groupId);
        if (group === null) return refuse('not-found', NO_GROUP);
        const assignments = rows.assignmentsOf.all(groupId);
        rows.remove.run(groupId);
        assignments.forEach(derive);
        audit.note({ by, courseId: group.courseId, what: 'group of students removed', subject: group.name });
        return succeed(assignments);
      })(),

    setDue: (assignmentId, groupId, by, dueAt) =>
      db.transaction((): Result<null> => {
        const assignment = rows.assignment.get(assignmentId);
        const group = assignment && found(assignment.sectionId, groupId);
        if (assignment === undefined || !group) return refuse('not-found', NO_GROUP);
        const moment = dueAt === null ? null : new Date(dueAt).toISOString();
        if (moment !== null && moment <= assignment.opensAt)
          return refuse('bad-input', 'The due time must be after the opening.');
        const before = rows.datesOf.all(assignmentId).find((one) => one.groupId === groupId)?.dueAt ?? null;
        if (moment === null) rows.dropDate.run(assignmentId, groupId);
        else rows.setDate.run(assignmentId, groupId, moment, by.id, now().toISOString());
        derive(assignmentId);
        const subject = `${assignment.exercise}, ${group.name}`;
        const { courseId } = assignment;
        audit.note({
          by,
          courseId,
          what: 'due time of a group',
          subject,
          before: { dueAt: before },
          after: { dueAt: moment },
        });
        return succeed(null);
      })(),
  };
}
