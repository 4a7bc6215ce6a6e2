import { openPages } from './writer.ts';

/** What a student has done in a course, for a talk. */
export interface PrintedRecord {
  readonly title: string;
  /** Label and value: course, section, grade. */
  readonly facts: readonly (readonly [label: string, value: string])[];
  /** How the grade comes about, a sentence a group. */
  readonly shares: readonly string[];
  readonly work: readonly {
    /** What counts of it: a score, or a word. */
    readonly counts: string;
    readonly exercise: string;
    readonly due: string;
    /** Of all attempts, the first one first. */
    readonly scores: string;
    /** Why there were other dates; empty where there were none. */
    readonly extension: string;
  }[];
  /** What went wrong, and in how many exercises. */
  readonly causes: readonly { readonly name: string; readonly exercises: number }[];
}

/** The work of a student on A4 pages: how it stands, each exercise by date, and what goes wrong again and again. */
export function renderRecord({ title, facts, shares, work, causes }: PrintedRecord): Promise<Uint8Array> {
  const page = openPages(title);
  page.heading(title, 15);
  page.columns(facts.map(([label, value]) => `${label}: ${value}`));
  for (const share of shares) page.paragraph(share);
  page.heading('Work, by date');
  if (work.length === 0) page.paragraph('Nothing was issued yet.');
  else page.row(['counts', 'exercise', 'due', 'all attempts']);
  for (const { counts, exercise, due, scores, extension } of work)
    page.row([counts, extension === '' ? exercise : `${exercise} (other dates: ${extension})`, due, scores]);
  page.heading('What went wrong, in the newest attempt of each exercise');
  if (causes.length === 0) page.paragraph('No cause of a mistake is known.');
  for (const { name, exercises } of causes)
    page.paragraph(`${name}: in ${String(exercises)} exercise${exercises === 1 ? '' : 's'}`);
  return page.close();
}
