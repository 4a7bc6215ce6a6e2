import * as v from 'valibot';

import type { NewCode, Roster, RosterApply, RosterChange, RosterPreview, RosterStudent, User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { compareRoster, readRoster, type KnownPerson, type RosterEntry } from '#core/roster';
import type { Audit } from '#server/audit';
import type { SignInCodes } from '#server/auth';
import type { Db } from '#server/db';

export interface Rosters {
  of(sectionId: number): Roster | null;
  /** What a list would change. */
  preview(sectionId: number, text: string): Result<RosterPreview>;
  /** Does what was looked at; nothing where the list cannot be read. */
  apply(sectionId: number, by: User, wanted: RosterApply): Result<RosterChange>;
  /** Takes back the last list of a section. */
  undo(sectionId: number, by: User, changeId: number): Result<null>;
  /** New codes for those students of a section who are named, or who never signed in. */
  newCodes(
    sectionId: number,
    by: User,
    studentIds: readonly number[] | null,
  ): readonly (NewCode & { readonly name: string })[];
}

/** What a list changed. */
const ChangesSchema = v.object({
  created: v.array(v.number()),
  enrolled: v.array(v.number()),
  changed: v.array(v.object({ id: v.number(), name: v.string(), email: v.nullable(v.string()) })),
  removed: v.array(v.number()),
});
type Changes = v.InferOutput<typeof ChangesSchema>;

export interface RostersParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly codes: SignInCodes;
  readonly now: () => Date;
}

interface ChangeRow {
  readonly id: number;
  readonly at: string;
  readonly by: string;
  readonly changesJson: string;
}

const summaryOf = ({ changesJson, ...row }: ChangeRow): RosterChange => {
  const { created, enrolled, changed, removed } = v.parse(ChangesSchema, JSON.parse(changesJson));
  return {
    ...row,
    created: created.length,
    enrolled: enrolled.length,
    changed: changed.length,
    removed: removed.length,
  };
};

export function createRosters({ db, audit, codes, now }: RostersParts): Rosters {
  const rows = rosterRows(db);

  const compared = (
    sectionId: number,
    text: string,
  ): Result<{
    readonly entries: readonly RosterEntry[];
    readonly gone: readonly KnownPerson[];
    readonly skipped: RosterPreview['skipped'];
  }> => {
    const read = readRoster(text);
    if (!read.ok) return read;
    const comparison = compareRoster(
      read.value.lines,
      rows.inSection.all(sectionId),
      rows.elsewhere.all(sectionId),
      rows.staffLogins.all(),
    );
    return succeed({ ...comparison, skipped: [...read.value.skipped] });
  };

  /** Makes what an entry asks for, and notes it. */
  function take(sectionId: number, entry: RosterEntry, isSame: boolean, changes: Changes): void {
    const { line } = entry;
    const enroll = (userId: number): void => {
      if (rows.enroll.run(sectionId, userId).changes > 0) changes.enrolled.push(userId);
    };
    const correct = ({ id, name, email }: KnownPerson): void => {
      const after = { name: line.name, email: line.email ?? email };
      if (after.name === name && after.email === email) return;
      changes.changed.push({ id, name, email });
      rows.setPerson.run(after.name, after.email, id);
    };
    const known = entry.kind !== 'new' && (entry.kind !== 'doubtful' || isSame) ? entry.person.id : null;
    if (known !== null && line.schoolId !== null) rows.setSchoolId.run(line.schoolId, known);
    if (entry.kind === 'same') return;
    if (entry.kind === 'new' || (entry.kind === 'doubtful' && !isSame)) {
      const userId = Number(rows.addUser.run(entry.login, line.name, line.email, now().toISOString()).lastInsertRowid);
      changes.created.push(userId);
      if (line.schoolId !== null) rows.setSchoolId.run(line.schoolId, userId);
      enroll(userId);
      return;
    }
    // Whoever comes from another section is called there as before.
    if (entry.kind !== 'joins') correct(entry.person);
    enroll(entry.person.id);
  }

  return {
    of(sectionId) {
      const section = rows.section.get(sectionId);
      if (section === undefined) return null;
      const last = rows.lastChange.get(sectionId);
      return {
        section,
        students: rows.students.all({ sectionId }),
        lastChange: last === undefined ? null : summaryOf(last),
      };
    },
    preview(sectionId, text) {
      const comparison = compared(sectionId, text);
      if (!comparison.ok) return comparison;
      const { entries, gone, skipped } = comparison.value;
      return succeed({ entries: [...entries], gone: [...gone], skipped });
    },
    apply: (sectionId, by, { text, sameLines, remove, classId }) =>
      db.transaction((): Result<RosterChange> => {
        const comparison = compared(sectionId, text);
        const section = rows.section.get(sectionId);
        if (!comparison.ok) return comparison;
        if (section === undefined) return refuse('not-found', 'There is no such section.');
        const changes: Changes = { created: [], enrolled: [], changed: [], removed: [] };
        for (const entry of comparison.value.entries)
          take(sectionId, entry, sameLines.includes(entry.line.line), changes);
        for (const userId of remove) if (rows.leave.run(sectionId, userId).changes > 0) changes.removed.push(userId);
        if (classId !== null) rows.setClassId.run(classId, sectionId);
        const id = Number(
          rows.addChange.run(sectionId, now().toISOString(), by.id, JSON.stringify(changes)).lastInsertRowid,
        );
        const summary = summaryOf({ id, at: now().toISOString(), by: by.name, changesJson: JSON.stringify(changes) });
        audit.note({ by, courseId: section.courseId, what: 'list of students', subject: section.name, after: changes });
        return succeed(summary);
      })(),
    undo: (sectionId, by, changeId) =>
      db.transaction((): Result<null> => {
        const last = rows.lastChange.get(sectionId);
        const section = rows.section.get(sectionId);
        if (last?.id !== changeId || section === undefined)
          return refuse('roster-changed', 'Only the last list of a section can be taken back, once.');
        const { created, enrolled, changed, removed } = v.parse(ChangesSchema, JSON.parse(last.changesJson));
        for (const userId of enrolled) rows.leave.run(sectionId, userId);
        for (const { id, name, email } of changed) rows.setPerson.run(name, email, id);
        for (const userId of removed) rows.enroll.run(sectionId, userId);
        // Who has done something meanwhile keeps the account.
        for (const userId of created) rows.removeUnused.run(userId);
        rows.setUndone.run(now().toISOString(), changeId);
        audit.note({ by, courseId: section.courseId, what: 'list of students taken back', subject: section.name });
        return succeed(null);
      })(),
    newCodes: (sectionId, by, studentIds) =>
      db.transaction(() => {
        const section = rows.section.get(sectionId);
        const wanted = rows.students
          .all({ sectionId })
          .filter(({ id, signedInAt }) => (studentIds === null ? signedInAt === null : studentIds.includes(id)));
        if (section !== undefined && wanted.length > 0)
          audit.note({
            by,
            courseId: section.courseId,
            what: 'sign-in codes',
            subject: wanted.map(({ login }) => login).join(', '),
          });
        return wanted.map(({ id, name, login }) => ({ name, login, code: codes.make(id) }));
      })(),
  };
}

function rosterRows(db: Db) {
  const PERSON = 'users.id, users.name, users.email, users.login';
  return {
    section: db.prepare<[number], Roster['section']>(
      `SELECT sections.id, sections.name, courses.title AS course, courses.id AS courseId
       FROM sections JOIN courses ON courses.id = sections.course_id WHERE sections.id = ?`,
    ),
    students: db.prepare<[{ sectionId: number }], RosterStudent>(
      `SELECT ${PERSON}, users.signed_in_at AS signedInAt,
              (SELECT count(*) FROM attempts JOIN assignments ON assignments.id = attempts.assignment_id
               WHERE attempts.student_id = users.id AND assignments.section_id = @sectionId) AS attempts
       FROM enrollments JOIN users ON users.id = enrollments.user_id AND users.role = 'student'
       WHERE section_id = @sectionId ORDER BY users.name`,
    ),
    inSection: db.prepare<[number], KnownPerson>(
      `SELECT ${PERSON} FROM enrollments JOIN users ON users.id = enrollments.user_id AND users.role = 'student'
       WHERE section_id = ? ORDER BY users.name`,
    ),
    elsewhere: db.prepare<[number], KnownPerson>(
      `SELECT ${PERSON} FROM users
       WHERE role = 'student' AND id NOT IN (SELECT user_id FROM enrollments WHERE section_id = ?)`,
    ),
    // Whoever is enrolled can be given a new code: nobody gets at the account of a colleague by a list.
    staffLogins: db.prepare<[], string>("SELECT login FROM users WHERE role <> 'student'").pluck(),
    addUser: db.prepare<[string, string, string | null, string]>(
      "INSERT INTO users (login, name, email, role, password_hash, created_at) VALUES (?, ?, ?, 'student', '', ?)",
    ),
    setPerson: db.prepare<[string, string | null, number]>('UPDATE users SET name = ?, email = ? WHERE id = ?'),
    setSchoolId: db.prepare<[string, number]>('UPDATE users SET school_id = ? WHERE id = ?'),
    setClassId: db.prepare<[string, number]>('UPDATE sections SET school_id = ? WHERE id = ?'),
    enroll: db.prepare<[number, number]>(
      'INSERT INTO enrollments (section_id, user_id) VALUES (?, ?) ON CONFLICT DO NOTHING',
    ),
    leave: db.prepare<[number, number]>('DELETE FROM enrollments WHERE section_id = ? AND user_id = ?'),
    removeUnused: db.prepare<[number]>(
      `DELETE FROM users WHERE id = ? AND role = 'student' AND signed_in_at IS NULL
         AND NOT EXISTS (SELECT 1 FROM attempts WHERE student_id = users.id)
         AND NOT EXISTS (SELECT 1 FROM enrollments WHERE user_id = users.id)
         AND NOT EXISTS (SELECT 1 FROM assigned_variants WHERE student_id = users.id)`,
    ),
    addChange: db.prepare<[number, string, number, string]>(
      'INSERT INTO roster_changes (section_id, made_at, made_by, changes_json) VALUES (?, ?, ?, ?)',
    ),
    lastChange: db.prepare<[number], ChangeRow>(
      `SELECT roster_changes.id, made_at AS "at", users.name AS "by", changes_json AS changesJson
       FROM roster_changes JOIN users ON users.id = made_by
       WHERE section_id = ? AND undone_at IS NULL ORDER BY roster_changes.id DESC LIMIT 1`,
    ),
    setUndone: db.prepare<[string, number]>('UPDATE roster_changes SET undone_at = ? WHERE id = ?'),
  };
}
