/** What is kept of a student, as files of a zip. */
import type { User } from '#api';
import type { BundleEntry } from '#server/archive';
import { printedOf, type Attempts } from '#server/attempt';
import { JOIN_ISSUED, type Db } from '#server/db';
import type { FileStore } from '#server/files';
import { safeFileName } from '#server/http';
import type { Printer } from '#server/jobs';

export interface Person {
  readonly id: number;
  readonly name: string;
  readonly login: string;
  readonly email: string | null;
  readonly createdAt: string;
  readonly signedInAt: string | null;
}

interface AttemptRow {
  readonly id: number;
  readonly number: string;
  readonly fileName: string;
  readonly handedInAt: string;
}

export interface CollectParts {
  readonly db: Db;
  readonly files: Pick<FileStore, 'read'>;
  readonly attempts: Pick<Attempts, 'detailFor' | 'filesFor'>;
  readonly printer: Pick<Printer, 'report'>;
}

const json = (value: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(value, null, 2));

/** What the first file of the bundle says. */
const ABOUT = `What Zorvet keeps of this person, as far as it is shown to whoever asked.

person.json     the account
work.json       sections, and one line for each hand-in
practice.json   what the person kept while working: parts built in the page, readings, sizes worked out,
                and in a bundle of one's own the time log
reading.json    what the person answered in reading practice
notes.json      what staff has noted of the person, in a bundle that staff makes
questions.json  what the person asked about sheets, and the answers
site.json       who the person is at the site of the school, and the grades that it was sent
attempts/       of each hand-in the file, and what its page shows as JSON and PDF

The log of a course keeps who changed a grade, a date or a role, with names, and is not part of this. Backups are kept for two weeks.
`;

/** Collects entries one at a time, as they are packed: to the degree that `viewer` sees them on the pages. */
export function createCollector({
  db,
  files,
  attempts,
  printer,
}: CollectParts): (student: Person, viewer: User) => Generator<BundleEntry> {
  const sections = db.prepare<[number], { course: string; section: string }>(
    `SELECT courses.title AS course, sections.name AS section FROM enrollments
     JOIN sections ON sections.id = enrollments.section_id JOIN courses ON courses.id = sections.course_id
     WHERE enrollments.user_id = ?`,
  );
  const handedIn = db.prepare<[number], AttemptRow>(
    `SELECT attempts.id, exercises.number, attempts.file_name AS fileName, handed_in_at AS handedInAt
     FROM attempts JOIN assignments ON assignments.id = attempts.assignment_id
     ${JOIN_ISSUED}
     WHERE student_id = ? ORDER BY attempts.id`,
  );
  const connections = db.prepare<[number], { site: string; subject: string }>(
    `SELECT school_sites.name AS site, subject FROM site_people JOIN school_sites ON school_sites.id = site_id
     WHERE user_id = ?`,
  );
  const kept = db.prepare<
    [number],
    { exercise: string; stage: number; kind: string; documentJson: string; at: string }
  >(
    `SELECT exercises.number AS exercise, stage, kind, workings.document_json AS documentJson, updated_at AS "at" FROM workings
     JOIN assignments ON assignments.id = workings.assignment_id
     ${JOIN_ISSUED} WHERE student_id = ? ORDER BY updated_at`,
  );
  const answers = db.prepare<[number], { exercise: string; topic: string; question: string; right: 0 | 1; at: string }>(
    `SELECT exercises.number AS exercise, topic, question_id AS question, is_right AS "right", answered_at AS "at"
     FROM reading_answers JOIN assignments ON assignments.id = reading_answers.assignment_id
     ${JOIN_ISSUED} WHERE student_id = ? ORDER BY answered_at`,
  );
  const asked = db.prepare<
    [number],
    { exercise: string; stage: number; text: string; at: string; answer: string | null }
  >(
    `SELECT exercises.number AS exercise, stage, text, asked_at AS "at", answer FROM questions
     JOIN assignments ON assignments.id = questions.assignment_id
     ${JOIN_ISSUED} WHERE student_id = ? ORDER BY questions.id`,
  );
  const noted = db.prepare<[number], { course: string; text: string; by: string; at: string }>(
    `SELECT courses.title AS course, text, users.name AS "by", made_at AS "at" FROM student_notes
     JOIN courses ON courses.id = student_notes.course_id JOIN users ON users.id = made_by
     WHERE student_id = ? ORDER BY student_notes.id`,
  );
  const sent = db.prepare<[number], { exercise: string; score: number; at: string }>(
    `SELECT exercises.number AS exercise, sent_grades.score, sent_at AS "at" FROM sent_grades
     JOIN assignments ON assignments.id = sent_grades.assignment_id
     ${JOIN_ISSUED} WHERE student_id = ? ORDER BY sent_at`,
  );
  return function* entriesOf(student: Person, viewer: User): Generator<BundleEntry> {
    const now = async (value: Uint8Array): Promise<Uint8Array> => Promise.resolve(value);
    const visible = handedIn
      .all(student.id)
      .flatMap((row) => (attempts.filesFor(row.id, viewer) === null ? [] : [row]));
    yield { name: 'about.txt', content: () => now(new TextEncoder().encode(ABOUT)) };
    yield { name: 'person.json', content: () => now(json(student)) };
    yield {
      name: 'work.json',
      content: () => now(json({ sections: sections.all(student.id), attempts: visible })),
    };
    yield {
      name: 'site.json',
      content: () => now(json({ connections: connections.all(student.id), gradesSent: sent.all(student.id) })),
    };
    yield {
      name: 'practice.json',
      content: () =>
        now(
          json(
            kept
              .all(student.id)
              // The time log is the student's own: whoever teaches reads no more than a sum, and only where it is asked for.
              .filter(({ kind }) => kind !== 'time' || viewer.id === student.id)
              .map(({ documentJson, ...rest }) => ({ ...rest, document: JSON.parse(documentJson) as unknown })),
          ),
        ),
    };
    yield { name: 'reading.json', content: () => now(json(answers.all(student.id))) };
    // Staff notes it for each other: whoever teaches hands it out, where the law asks for it.
    if (viewer.id !== student.id) yield { name: 'notes.json', content: () => now(json(noted.all(student.id))) };
    yield { name: 'questions.json', content: () => now(json(asked.all(student.id))) };
    for (const { id, number, fileName } of visible) {
      const [found, detail] = [attempts.filesFor(id, viewer), attempts.detailFor(id, viewer)];
      const at = `attempts/${String(id)} ${safeFileName(number)}`;
      if (found !== null)
        yield { name: `${at}/${safeFileName(fileName)}`, content: () => files.read(found.fileSha256) };
      if (detail === null) continue;
      yield { name: `${at}/report.json`, content: () => now(json(detail)) };
      const { report } = detail;
      if (report !== null)
        yield {
          name: `${at}/report.pdf`,
          content: async () => {
            const pdf = await printer.report(printedOf(detail, report));
            if (!pdf.ok) throw new Error(pdf.problem.message);
            return pdf.value;
          },
        };
    }
  };
}
