import { addMinutes } from 'date-fns';
import { createEmptyCard, fsrs, Rating, type CardInput } from 'ts-fsrs';

import type { Aids, ClassReading, ReadingQuestion, ReadingVerdict } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { isTopic, questionsOf, type Question, type Topic } from '#core/reading';
import { joinStaff } from '#server/auth';
import type { Db } from '#server/db';

import type { DrawnAs, FindLookalikes } from './lookalikes.ts';
import type { DrawnPart, ReadParts } from './parts.ts';
import type { WorkPlace } from './workings.ts';

type Part = DrawnPart & DrawnAs;

export interface Readings {
  /** What a student is asked of a sheet now: topics that are due come first, and what was never asked. */
  next(part: Part, place: WorkPlace, aids: Aids): Promise<ReadingQuestion[]>;
  answer(
    part: Part,
    place: WorkPlace,
    answer: { readonly questionId: string; readonly choice: number },
  ): Promise<Result<ReadingVerdict>>;
  /** Topics of a student that are due. */
  dueOf(studentId: number): Topic[];
  /** How the students of a course read, for whoever teaches it. */
  ofCourse(courseId: number, userId: number): ClassReading | null;
}

/** Questions of one sitting. */
const AT_ONCE = 8;
/** An answer within this time after another of its topic belongs to the same sitting, and moves no date. */
const SITTING_MINUTES = 30;

/** Whole days between repetitions: a sheet is not read every ten minutes. */
const scheduler = fsrs({ enable_short_term: false, enable_fuzz: false });

interface CardRow {
  readonly topic: string;
  readonly cardJson: string;
  readonly dueAt: string;
}

function statementsOf(db: Db) {
  return {
    cards: db.prepare<[number], CardRow>(
      'SELECT topic, card_json AS cardJson, due_at AS dueAt FROM reading_cards WHERE student_id = ?',
    ),
    putCard: db.prepare<[number, string, string, string]>(
      `INSERT INTO reading_cards (student_id, topic, card_json, due_at) VALUES (?, ?, ?, ?)
       ON CONFLICT DO UPDATE SET card_json = excluded.card_json, due_at = excluded.due_at`,
    ),
    answered: db.prepare<[number, number], { questionId: string; times: number; last: string }>(
      `SELECT question_id AS questionId, count(*) AS times, max(answered_at) AS last FROM reading_answers
       WHERE student_id = ? AND assignment_id = ? GROUP BY question_id`,
    ),
    lastOfTopic: db
      .prepare<[number, string], string | null>(
        'SELECT max(answered_at) FROM reading_answers WHERE student_id = ? AND topic = ?',
      )
      .pluck(),
    put: db.prepare<[number, number, string, string, 0 | 1, string]>(
      `INSERT INTO reading_answers (student_id, assignment_id, question_id, topic, is_right, answered_at)
       VALUES (?, ?, ?, ?, ?, ?)`,
    ),
    due: db
      .prepare<[number, string], string>(
        'SELECT topic FROM reading_cards WHERE student_id = ? AND due_at <= ? ORDER BY due_at',
      )
      .pluck(),
    teaches: db.prepare<[number, number]>(
      `SELECT 1 FROM courses ${joinStaff('courses.id', 'read-course')}
       WHERE courses.id = ? AND course_staff.user_id = ?`,
    ),
    ofCourse: db.prepare<[number], { topic: string; answers: number; right: number; students: number }>(
      `SELECT topic, count(*) AS answers, sum(is_right) AS "right", count(DISTINCT student_id) AS students
       FROM reading_answers JOIN assignments ON assignments.id = assignment_id
       JOIN sections ON sections.id = assignments.section_id WHERE sections.course_id = ?
       GROUP BY topic ORDER BY 1.0 * sum(is_right) / count(*), topic`,
    ),
  };
}

export interface ReadingsParts {
  readonly db: Db;
  readonly read: ReadParts;
  readonly lookalikesOf: FindLookalikes;
  readonly now: () => Date;
}

/** Reading practice: what is asked, what was answered, and when it comes back. */
export function createReadings({ db, read, lookalikesOf, now }: ReadingsParts): Readings {
  const rows = statementsOf(db);
  const known = new WeakMap<object, { readonly hasPictures: boolean; readonly questions: readonly Question[] }>();
  async function questionsFor(part: Part): Promise<readonly Question[]> {
    const found = await read(part);
    if (found === null) return [];
    const before = known.get(found);
    if (before?.hasPictures === true) return before.questions;
    const lookalikes = lookalikesOf(part);
    if (before !== undefined && lookalikes === null) return before.questions;
    const questions = questionsOf({ ...found, exercise: part.exercise, lookalikes });
    known.set(found, { hasPictures: lookalikes !== null, questions });
    return questions;
  }

  /** Notes an answer, and moves the date of its topic where it is the first of a sitting. */
  const note = db.transaction((place: WorkPlace, { id, topic }: Question, isRight: boolean): string => {
    const time = now();
    const last = rows.lastOfTopic.get(place.studentId, topic) ?? null;
    rows.put.run(place.studentId, place.assignmentId, id, topic, isRight ? 1 : 0, time.toISOString());
    const card = rows.cards.all(place.studentId).find((row) => row.topic === topic);
    if (card !== undefined && last !== null && addMinutes(last, SITTING_MINUTES) > time) return card.dueAt;
    const before = card === undefined ? createEmptyCard(time) : (JSON.parse(card.cardJson) as CardInput);
    const { card: after } = scheduler.next(before, time, isRight ? Rating.Good : Rating.Again);
    const dueAt = after.due.toISOString();
    rows.putCard.run(place.studentId, topic, JSON.stringify(after), dueAt);
    return dueAt;
  });

  return {
    async next(part, place, { reading }) {
      const questions = (await questionsFor(part)).filter(
        ({ topic }) => reading === 'all' || (typeof reading !== 'string' && reading.includes(topic)),
      );
      const due = new Map(rows.cards.all(place.studentId).map(({ topic, dueAt }) => [topic, dueAt]));
      const times = new Map(rows.answered.all(place.studentId, place.assignmentId).map((one) => [one.questionId, one]));
      const last = ({ id }: Question): string => times.get(id)?.last ?? '';
      // One of each topic in turn: the topic that is due longest, and of it what was asked longest ago.
      const topics = [...new Set(questions.map(({ topic }) => topic))].sort((a, b) =>
        (due.get(a) ?? '').localeCompare(due.get(b) ?? ''),
      );
      const byTopic = topics.map((topic) =>
        questions.filter((question) => question.topic === topic).sort((a, b) => last(a).localeCompare(last(b))),
      );
      const longest = Math.max(0, ...byTopic.map(({ length }) => length));
      return Array.from({ length: longest }, (_, i) => byTopic.flatMap((list) => list[i] ?? []))
        .flat()
        .slice(0, AT_ONCE)
        .map(({ id, topic, text, rings, checkId, page, options, pictures }) => ({
          id,
          topic,
          text,
          rings: rings.map(({ label, at }) => ({ label, at: { page: at.page, at: [at.at[0], at.at[1]] } })),
          checkId,
          page,
          options: [...options],
          pictures,
        }));
    },

    async answer(part, place, { questionId, choice }) {
      const question = (await questionsFor(part)).find(({ id }) => id === questionId);
      if (question === undefined || choice >= question.options.length)
        return refuse('not-found', 'There is no such question about this sheet any more. Load the page again.');
      const right = choice === question.answer;
      return succeed({ right, answer: question.answer, why: question.why, dueAt: note(place, question, right) });
    },

    dueOf: (studentId) => rows.due.all(studentId, now().toISOString()).filter(isTopic),

    ofCourse(courseId, userId) {
      if (rows.teaches.get(courseId, userId) === undefined) return null;
      return {
        topics: rows.ofCourse.all(courseId).flatMap((row) => (isTopic(row.topic) ? { ...row, topic: row.topic } : [])),
      };
    },
  };
}
