import type { Context, Hono } from 'hono';

import { GradingInputSchema, NewNoteSchema, type GradebookAnswer, type GradingAnswer, type StudentRecord } from '#api';
import { gradebookAsCsv, sharesInWords, type Gradebook } from '#core/gradebook';
import {
  allow,
  fileHeaders,
  idParam,
  jsonBody,
  notFound,
  pdfBody,
  refuseProblem,
  refuseWith,
  safeFileName,
  userOf,
  type AppEnv,
} from '#server/http';
import type { Printer } from '#server/jobs';

import type { FoundGradebook, Gradebooks } from './books.ts';
import type { Grading } from './grading.ts';
import type { StudentNotes } from './notes.ts';
import { printedRecord } from './printed.ts';

const schemeAnswer = ({ groups, letters }: Gradebook['scheme']): GradebookAnswer['scheme'] => ({
  groups: [...groups],
  letters: [...letters],
});

/** The gradebook as its page gets it: each row has the cells of its own section alone. */
function answerOf({ course, sections, book }: FoundGradebook): GradebookAnswer {
  const { assignments, scheme, rows } = book;
  return {
    course,
    sections: [...sections],
    scheme: schemeAnswer(scheme),
    assignments: [...assignments],
    rows: rows.map((row) => ({
      id: row.id,
      name: row.name,
      login: row.login,
      section: row.section,
      total: row.total,
      letter: row.letter,
      shares: [...sharesInWords(row)],
      left: row.shares.flatMap(({ left }) => left),
      cells: [...row.cells].map(([assignmentId, cell]) => ({ assignmentId, ...cell })),
    })),
  };
}

/** Of the id of a grading period. */
const MOST_PERIOD = 255;

export interface GradebookRouteParts {
  readonly gradebooks: Gradebooks;
  readonly grading: Grading;
  readonly notes: StudentNotes;
  readonly printer: Pick<Printer, 'workbook' | 'record' | 'results'>;
}

export function gradebookRoutes(app: Hono<AppEnv>, parts: GradebookRouteParts): void {
  bookRoutes(app, parts);
  studentRoutes(app, parts);
  fileRoutes(app, parts);
}

function bookRoutes(app: Hono<AppEnv>, { gradebooks, grading }: GradebookRouteParts): void {
  app.get('/api/courses/:id/gradebook', allow('read-course'), (c) => {
    const asked = Number(c.req.query('section'));
    const sectionId = Number.isSafeInteger(asked) && asked > 0 ? asked : undefined;
    const found = gradebooks.of(idParam(c) ?? 0, userOf(c).id, sectionId);
    return found === null ? notFound(c) : c.json(answerOf(found));
  });

  app.get('/api/courses/:id/grading', allow('read-course'), (c) => {
    const found = gradebooks.gradingOf(idParam(c) ?? 0, userOf(c).id);
    if (found === null) return notFound(c);
    return c.json({
      scheme: schemeAnswer(found.scheme),
      assignments: [...found.assignments],
    } satisfies GradingAnswer);
  });

  app.put('/api/courses/:id/grading', allow('manage-course'), jsonBody(GradingInputSchema), (c) => {
    const set = grading.set(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    if (set === null) return notFound(c);
    return set.ok ? c.json({}) : refuseProblem(c, set.problem);
  });
}

/** The page of a student, what staff notes there, and the page for a talk. */
function studentRoutes(app: Hono<AppEnv>, { gradebooks, notes, printer }: GradebookRouteParts): void {
  const recordOf = (c: Context<AppEnv>) =>
    gradebooks.student(idParam(c) ?? 0, idParam(c, 'studentId') ?? 0, userOf(c).id);

  app.get('/api/courses/:id/students/:studentId', allow('read-course'), (c) => {
    const record = recordOf(c);
    return record === null ? notFound(c) : c.json(record satisfies StudentRecord);
  });

  app.get('/api/courses/:id/students/:studentId/record.pdf', allow('read-course'), async (c) => {
    const record = recordOf(c);
    if (record === null) return notFound(c);
    const pdf = await printer.record(printedRecord(record));
    return pdf.ok ? pdfBody(c, pdf.value, `${record.name} ${record.course}.pdf`) : refuseProblem(c, pdf.problem);
  });

  app.post('/api/courses/:id/students/:studentId/notes', allow('review'), jsonBody(NewNoteSchema), (c) => {
    const { text } = c.req.valid('json');
    const isAdded = notes.add(idParam(c) ?? 0, idParam(c, 'studentId') ?? 0, userOf(c), text);
    return isAdded ? c.json({}, 201) : notFound(c);
  });

  app.delete('/api/courses/:id/students/:studentId/notes/:note', allow('review'), (c) => {
    const [courseId, studentId, noteId] = [idParam(c), idParam(c, 'studentId'), idParam(c, 'note')];
    return notes.remove(courseId ?? 0, studentId ?? 0, userOf(c), noteId ?? 0) ? c.json({}) : notFound(c);
  });
}

/** Grades as files for other programs. */
function fileRoutes(app: Hono<AppEnv>, { gradebooks, printer }: GradebookRouteParts): void {
  // The mark in front tells spreadsheets that names are in UTF-8.
  const csv = (book: Gradebook): string => `\uFEFF${gradebookAsCsv(book)}`;
  app.get('/api/courses/:id/gradebook.csv', allow('read-course'), (c) => {
    const found = gradebooks.of(idParam(c) ?? 0, userOf(c).id);
    if (found === null) return notFound(c);
    return c.body(
      csv(found.book),
      200,
      fileHeaders(safeFileName(`${found.course} grades.csv`), 'text/csv; charset=utf-8'),
    );
  });

  app.get('/api/courses/:id/gradebook.xlsx', allow('read-course'), async (c) => {
    const found = gradebooks.of(idParam(c) ?? 0, userOf(c).id);
    if (found === null) return notFound(c);
    const type = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
    const workbook = await printer.workbook(found.book);
    if (!workbook.ok) return refuseProblem(c, workbook.problem);
    return c.body(new Uint8Array(workbook.value), 200, fileHeaders(safeFileName(`${found.course} grades.xlsx`), type));
  });

  app.get('/api/courses/:id/results', allow('read-course'), (c) => {
    const found = gradebooks.results(idParam(c) ?? 0, userOf(c).id, '');
    return found === null ? notFound(c) : c.json(found.readiness);
  });

  app.get('/api/courses/:id/results.zip', allow('read-course'), async (c) => {
    const gradingPeriod = (c.req.query('period') ?? '').trim().slice(0, MOST_PERIOD);
    const found = gradebooks.results(idParam(c) ?? 0, userOf(c).id, gradingPeriod);
    if (found === null) return notFound(c);
    if (gradingPeriod === '')
      return refuseWith(c, 'bad-input', 'Say which grading period of the school the grades belong to.');
    const zip = await printer.results(found.results);
    if (!zip.ok) return refuseProblem(c, zip.problem);
    return c.body(
      new Uint8Array(zip.value),
      200,
      fileHeaders(safeFileName(`${found.course} results.zip`), 'application/zip'),
    );
  });
}
