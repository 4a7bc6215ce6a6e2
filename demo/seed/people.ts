import {
  ASSISTANT,
  COURSE,
  EVENING,
  EVENING_STUDENTS,
  INSTRUCTOR,
  loginOf,
  OTHER_COURSE,
  OTHER_INSTRUCTOR,
  SCHOOL,
  SECTION,
  STUDENT_PASSWORD,
  STUDENTS,
} from '#demo/course';
import { hashPassword } from '#server/auth';
import type { Db } from '#server/db';

/** Ids of what belongs to the demo course. */
export interface People {
  readonly courseId: number;
  readonly instructorId: number;
  readonly sectionIds: { readonly morning: number; readonly evening: number };
  readonly studentIds: ReadonlyMap<string, number>;
}

/** Students who have never signed in. */
const NEVER_SEEN: ReadonlySet<string> = new Set(['Nils Osprey']);

/** The school, its sections and people; those that are there already are only looked up. */
export async function makePeople(db: Db, now: () => Date): Promise<People> {
  if (db.prepare('SELECT 1 FROM courses').get() === undefined) {
    // One hash for all students of the demo: they share a password that everybody knows.
    const [instructorHash, studentHash] = await Promise.all([
      hashPassword(INSTRUCTOR.password),
      hashPassword(STUDENT_PASSWORD),
    ]);
    db.transaction(() => insertPeople(db, now().toISOString(), instructorHash, studentHash))();
  }
  const idOf = (sql: string, value: string): number => db.prepare<[string], { id: number }>(sql).get(value)?.id ?? 0;
  const userId = (login: string): number => idOf('SELECT id FROM users WHERE login = ?', login);
  return {
    courseId: idOf('SELECT id FROM courses WHERE title = ?', COURSE),
    instructorId: userId(INSTRUCTOR.login),
    sectionIds: {
      morning: idOf('SELECT id FROM sections WHERE name = ?', SECTION),
      evening: idOf('SELECT id FROM sections WHERE name = ?', EVENING),
    },
    studentIds: new Map([...STUDENTS, ...EVENING_STUDENTS].map((name) => [name, userId(loginOf(name))])),
  };
}

function insertPeople(db: Db, at: string, instructorHash: string, studentHash: string): void {
  const insert = (sql: string, ...values: unknown[]): number => Number(db.prepare(sql).run(...values).lastInsertRowid);
  const addUser = (login: string, name: string, role: string, hash: string): number =>
    insert(
      'INSERT INTO users (login, name, role, password_hash, created_at) VALUES (?, ?, ?, ?, ?)',
      login,
      name,
      role,
      hash,
      at,
    );
  const courseId = insert('INSERT INTO courses (title, school) VALUES (?, ?)', COURSE, SCHOOL);
  const addSection = (name: string): number =>
    insert('INSERT INTO sections (course_id, name) VALUES (?, ?)', courseId, name);
  const [morning, evening] = [addSection(SECTION), addSection(EVENING)];
  const instructorId = addUser(INSTRUCTOR.login, INSTRUCTOR.name, 'instructor', instructorHash);
  const addStaff = (course: number, userId: number, role: 'instructor' | 'assistant'): number =>
    insert('INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, ?)', course, userId, role);
  addStaff(courseId, instructorId, 'instructor');
  addStaff(courseId, addUser(ASSISTANT.login, ASSISTANT.name, 'assistant', instructorHash), 'assistant');
  const otherId = insert('INSERT INTO courses (title, school) VALUES (?, ?)', OTHER_COURSE, SCHOOL);
  insert('INSERT INTO sections (course_id, name) VALUES (?, ?)', otherId, 'Afternoon bench');
  const otherInstructorId = addUser(OTHER_INSTRUCTOR.login, OTHER_INSTRUCTOR.name, 'instructor', instructorHash);
  addStaff(otherId, otherInstructorId, 'instructor');
  db.prepare('UPDATE users SET administers = 1 WHERE id = ?').run(otherInstructorId);
  for (const [sectionId, names] of [
    [morning, STUDENTS],
    [evening, EVENING_STUDENTS],
  ] as const)
    for (const name of names) {
      const studentId = addUser(loginOf(name), name, 'student', studentHash);
      insert('INSERT INTO enrollments (section_id, user_id) VALUES (?, ?)', sectionId, studentId);
      db.prepare('UPDATE users SET email = ?, signed_in_at = ? WHERE id = ?').run(
        `${loginOf(name)}@saltmarsh.example`,
        NEVER_SEEN.has(name) ? null : at,
        studentId,
      );
    }
}
