import type { User } from '#api';
import { unwrap } from '#core/problem';
import { ASSISTANT, GROUP, INSTRUCTOR, QUESTIONS } from '#demo/course';
import type { Services } from '#server/app';
import type { Db } from '#server/db';

import type { People } from './people.ts';

const assignmentOf = (db: Db, exercise: string, sectionId: number): number | undefined =>
  db
    .prepare<[string, number], number>(
      `SELECT assignments.id FROM assignments
       JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
       JOIN exercises ON exercises.id = exercise_revisions.exercise_id
       WHERE exercises.number = ? AND assignments.section_id = ?`,
    )
    .pluck()
    .get(exercise, sectionId);

/** What students ask about their sheets, and what the assistant answers. */
export function makeQuestions(db: Db, { questions }: Pick<Services, 'questions'>, people: People): void {
  const id = db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(ASSISTANT.login) ?? 0;
  const assistant: User = { ...ASSISTANT, id, role: 'assistant', administers: false };
  for (const { exercise, student, text, at, answer } of QUESTIONS) {
    const assignmentId = assignmentOf(db, exercise, people.sectionIds.morning);
    if (assignmentId === undefined) continue;
    const place = { page: 1, at: [at[0], at[1]] satisfies [number, number] };
    unwrap(questions.ask(assignmentId, people.studentIds.get(student) ?? 0, { stage: 1, text, place }));
    const asked = questions.ofAssignment(assignmentId, assistant)?.questions.find((one) => one.text === text);
    if (answer !== null && asked !== undefined) unwrap(questions.answer(asked.id, assistant, { answer, toAll: true }));
  }
}

/** Some students of the evening, who have another due time. */
export function makeGroup(db: Db, { groups }: Pick<Services, 'groups'>, people: People): void {
  const { instructorId, sectionIds, studentIds } = people;
  const by: User = { ...INSTRUCTOR, id: instructorId, role: 'instructor', administers: false };
  const members = GROUP.students.map((name) => studentIds.get(name) ?? 0);
  const groupId = unwrap(groups.add(sectionIds.evening, by, { name: GROUP.name, studentIds: members }));
  const assignmentId = assignmentOf(db, GROUP.exercise, sectionIds.evening);
  if (assignmentId === undefined) return;
  const due = db.prepare<[number], string>('SELECT due_at FROM assignments WHERE id = ?').pluck().get(assignmentId);
  if (due === undefined) return;
  const later = new Date(new Date(due).getTime() + GROUP.laterHours * 3_600_000).toISOString();
  unwrap(groups.setDue(assignmentId, groupId, by, later));
}
