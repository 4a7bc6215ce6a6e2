/** Groups of students, their members and their dates in the database. */
import { JOIN_ISSUED, type Db } from '#server/db';

export interface GroupRow {
  readonly id: number;
  readonly name: string;
  readonly sectionId: number;
  readonly courseId: number;
}

export interface DateRow {
  readonly groupId: number;
  readonly name: string;
  readonly students: number;
  readonly dueAt: string | null;
  readonly by: string | null;
}

export interface AssignedRow {
  readonly exercise: string;
  readonly courseId: number;
  readonly sectionId: number;
  readonly opensAt: string;
}

export const groupStatements = (db: Db) => ({
  ofSection: db.prepare<[number], GroupRow>(
    `SELECT student_groups.id, student_groups.name, section_id AS sectionId, course_id AS courseId
     FROM student_groups JOIN sections ON sections.id = section_id WHERE section_id = ? ORDER BY student_groups.name`,
  ),
  one: db.prepare<[number], GroupRow>(
    `SELECT student_groups.id, student_groups.name, section_id AS sectionId, course_id AS courseId
     FROM student_groups JOIN sections ON sections.id = section_id WHERE student_groups.id = ?`,
  ),
  members: db
    .prepare<[number], number>('SELECT student_id FROM student_group_members WHERE group_id = ? ORDER BY student_id')
    .pluck(),
  courseOf: db.prepare<[number], number>('SELECT course_id FROM sections WHERE id = ?').pluck(),
  students: db.prepare<[number], number>('SELECT user_id FROM enrollments WHERE section_id = ?').pluck(),
  taken: db.prepare<[number, string, number], 1>(
    'SELECT 1 FROM student_groups WHERE section_id = ? AND name = ? AND id <> ?',
  ),
  add: db.prepare<[number, string]>('INSERT INTO student_groups (section_id, name) VALUES (?, ?)'),
  rename: db.prepare<[string, number]>('UPDATE student_groups SET name = ? WHERE id = ?'),
  remove: db.prepare<[number]>('DELETE FROM student_groups WHERE id = ?'),
  addMember: db.prepare<[number, number, string]>(
    'INSERT INTO student_group_members (group_id, student_id, added_at) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  ),
  dropMember: db.prepare<[number, number]>('DELETE FROM student_group_members WHERE group_id = ? AND student_id = ?'),
  assignment: db.prepare<[number], AssignedRow>(
    `SELECT exercises.number AS exercise, sections.course_id AS courseId, section_id AS sectionId, opens_at AS opensAt
     FROM assignments ${JOIN_ISSUED} JOIN sections ON sections.id = section_id WHERE assignments.id = ?`,
  ),
  datesOf: db.prepare<[number], DateRow>(
    `SELECT student_groups.id AS groupId, student_groups.name, group_dates.due_at AS dueAt, users.name AS "by",
            (SELECT count(*) FROM student_group_members WHERE group_id = student_groups.id) AS students
     FROM assignments JOIN student_groups ON student_groups.section_id = assignments.section_id
     LEFT JOIN group_dates ON group_dates.assignment_id = assignments.id AND group_dates.group_id = student_groups.id
     LEFT JOIN users ON users.id = made_by WHERE assignments.id = ? ORDER BY student_groups.name`,
  ),
  setDate: db.prepare<[number, number, string, number, string]>(
    `INSERT INTO group_dates (assignment_id, group_id, due_at, made_by, made_at) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT DO UPDATE SET due_at = excluded.due_at, made_by = excluded.made_by, made_at = excluded.made_at`,
  ),
  moveDate: db.prepare<[string, string, number, number]>(
    'UPDATE group_dates SET due_at = ?, made_at = ? WHERE assignment_id = ? AND group_id = ?',
  ),
  dropDate: db.prepare<[number, number]>('DELETE FROM group_dates WHERE assignment_id = ? AND group_id = ?'),
  assignmentsOf: db
    .prepare<[number], number>('SELECT assignment_id FROM group_dates WHERE group_id = ? ORDER BY assignment_id')
    .pluck(),
  /** Takes all extensions by groups of an assignment back ... */
  forget: db.prepare<[number]>('DELETE FROM extensions WHERE assignment_id = ? AND group_id IS NOT NULL'),
  /** ... and gives each member who has no extension of the own the latest due time of the own groups. */
  derive: db.prepare<[number]>(
    `INSERT INTO extensions (assignment_id, student_id, due_at, reason, made_by, made_at, group_id)
     SELECT assignment_id, student_id, max(due_at), 'Group ' || student_groups.name, made_by, max(made_at, added_at), group_id
     FROM group_dates JOIN student_group_members USING (group_id) JOIN student_groups ON student_groups.id = group_id
     WHERE assignment_id = ? GROUP BY student_id
     ON CONFLICT DO NOTHING`,
  ),
});
