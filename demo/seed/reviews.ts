import type { User } from '#api';
import { unwrap } from '#core/problem';
import { INSTRUCTOR, JUDGED, loginOf, REMARKS, REPLIES } from '#demo/course';
import type { Services } from '#server/app';
import type { Db } from '#server/db';

import type { People } from './people.ts';

/** What the instructor made of some attempts, and what students said. */
export async function makeReviews(db: Db, { reviews }: Services, people: People): Promise<void> {
  const { courseId, instructorId } = people;
  const instructor: User = {
    id: instructorId,
    login: INSTRUCTOR.login,
    name: INSTRUCTOR.name,
    role: 'instructor',
    administers: false,
  };
  const newest = db.prepare<[string, string], { id: number; assignmentId: number; studentId: number }>(
    `SELECT attempts.id, attempts.assignment_id AS assignmentId, attempts.student_id AS studentId FROM attempts
     JOIN users ON users.id = attempts.student_id JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     JOIN exercises ON exercises.id = exercise_revisions.exercise_id
     WHERE exercises.number = ? AND users.name = ? AND attempts.state = 'graded' ORDER BY attempts.id DESC LIMIT 1`,
  );
  const attemptBy = (exercise: string, student: string) => {
    const found = newest.get(exercise, student);
    if (found === undefined) throw new Error(`no attempt of ${exercise} by ${student}`);
    return found;
  };
  for (const text of REMARKS) reviews.addToCollection(courseId, instructorId, text);
  for (const judged of JUDGED) {
    const { id, assignmentId } = attemptBy(judged.exercise, judged.student);
    if ('override' in judged) {
      const { version } = reviews.reviewOf(id, false);
      unwrap(await reviews.change(id, instructor, { version, action: { kind: 'override', ...judged.override } }));
    }
    const group = { attemptIds: [id] };
    const text: string = REMARKS[judged.remark];
    unwrap(await reviews.changeGroup(assignmentId, instructor, { ...group, action: { kind: 'remark', text } }));
    unwrap(await reviews.changeGroup(assignmentId, instructor, { ...group, action: { kind: 'accept' } }));
  }
  for (const { exercise, student, text, wantsLook } of REPLIES) {
    const { id, studentId } = attemptBy(exercise, student);
    const user: User = { id: studentId, login: loginOf(student), name: student, role: 'student', administers: false };
    unwrap(reviews.reply(id, user, { text, wantsLook }));
  }
}
