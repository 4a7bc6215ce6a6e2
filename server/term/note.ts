import * as v from 'valibot';

/** What the archive of a course says of itself; the first file of the zip. */
export const TermNoteSchema = v.object({
  format: v.literal('zorvet-term'),
  version: v.literal(1),
  madeAt: v.pipe(v.string(), v.isoTimestamp()),
  program: v.string(),
  /** Of the database. */
  schema: v.number(),
  course: v.object({ id: v.number(), title: v.string(), term: v.string(), school: v.string() }),
  files: v.number(),
});
export type TermNote = v.InferOutput<typeof TermNoteSchema>;

/** Names in the zip. */
export const NOTE = 'term.json';
export const DATABASE = 'zorvet.sqlite';
export const FILES = 'files';
export const ABOUT = 'read me.txt';

export const ABOUT_TEXT = `This is a course of Zorvet as it was when this file was made: its exercises, assignments, what was handed in, reports and grades.

To read it, with Zorvet installed on any machine:

  bin/zorvet open "this file.zip"

The address that it prints shows the course to whoever sits at that machine. Nothing can be changed. The database is SQLite and each file is named by its SHA-256, so that other programs can read them too. Passwords, sessions and sign-in codes are not in it; the answers of the exercises are.
`;
