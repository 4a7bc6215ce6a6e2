import { refuse, succeed, type Result } from '#core/problem';
import { readTable } from '#core/table';

/** One person of a list. */
export interface RosterLine {
  /** From 1, counted without empty lines. */
  readonly line: number;
  readonly name: string;
  readonly email: string | null;
  /** The sign-in name that the list gives. */
  readonly login: string | null;
  /** What the records of the school call the person. */
  readonly schoolId: string | null;
}

export interface RosterReading {
  readonly lines: readonly RosterLine[];
  /** Lines that name nobody, and why. */
  readonly skipped: readonly { readonly line: number; readonly text: string; readonly why: string }[];
}

type Column = 'name' | 'given' | 'family' | 'email' | 'login' | 'schoolId';

/** What schools call their columns, in small letters; the first that fits wins. */
const HEADINGS: Readonly<Record<Column, RegExp>> = {
  email: /^(e-?mail|mail)( ?address)?$/,
  login: /^(user ?name|login|sign-?in( name)?|account|user)$/,
  schoolId: /^(sourced ?id|(school|student)[ _-]?(id|number))$/,
  given: /^(given|first|fore)[ _-]?names?$/,
  family: /^(family|last|sur)[ _-]?names?$|^surname$/,
  name: /^(full |student |display )?name$|^student$/,
};

const EMAIL = /^[^\s@,;]+@[^\s@,;]+\.[^\s@,;]+$/;
const LOGIN = /^[\p{L}\p{N}._-]{1,80}$/u;
const MOST_LINES = 2000;
const LONGEST_NAME = 120;
const LONGEST_SCHOOL_ID = 255;

const columnOf = (heading: string): Column | null => {
  const plain = heading.toLowerCase().trim();
  return (Object.keys(HEADINGS) as Column[]).find((column) => HEADINGS[column].test(plain)) ?? null;
};

/** Names of people hold letters; numbers of a list do not. */
const isName = (cell: string): boolean => /\p{L}/u.test(cell) && !cell.includes('@');

/** The columns of a list without headings: what looks like mail is mail; one or two cells with letters are the name. */
function guessedColumns(rows: readonly (readonly string[])[]): readonly (Column | null)[] {
  const width = Math.max(0, ...rows.map((row) => row.length));
  const share = (column: number, test: (cell: string) => boolean): number =>
    rows.filter((row) => test(row[column] ?? '')).length / rows.length;
  const columns = Array.from({ length: width }, (_, i): Column | null =>
    share(i, (cell) => EMAIL.test(cell)) >= 0.5 ? 'email' : null,
  );
  const names = columns.flatMap((column, i) => (column === null && share(i, isName) >= 0.5 ? [i] : []));
  const [first, second] = names;
  if (first !== undefined) columns[first] = second === undefined ? 'name' : 'given';
  if (second !== undefined) columns[second] = 'family';
  return columns;
}

/** "Brody, Ansel" is Ansel Brody; blanks are single. */
function plainName(text: string): string {
  const [family = '', given] = text.split(',').map((part) => part.trim());
  return (given === undefined || given === '' ? family : `${given} ${family}`).replaceAll(/\s+/g, ' ');
}

/**
 * Reads a list that was pasted from a spreadsheet or read from a delimited file: with headings in any order, or without
 * where the cells say what they are. Refuses with `bad-roster` for what holds no names.
 */
export function readRoster(text: string): Result<RosterReading> {
  // A list of names alone, one a line, may hold commas.
  const isPlain =
    !/[\t;]/.test(text) && !text.includes('@') && columnOf(text.split(/\r?\n/, 1)[0]?.split(',')[0] ?? '') === null;
  const { rows } = isPlain
    ? {
        rows: text
          .split(/\r?\n/)
          .map((line) => [line.trim()])
          .filter(([line]) => line !== ''),
      }
    : readTable(text);
  if (rows.length > MOST_LINES) return refuse('bad-roster', `This list has more than ${String(MOST_LINES)} lines.`);
  const headed = (rows[0] ?? []).map(columnOf);
  const hasHeadings = headed.some((column) => column !== null);
  const columns = hasHeadings ? headed : guessedColumns(rows);
  const hasNames = columns.includes('name') || columns.includes('family') || columns.includes('given');
  if (rows.length === 0 || !hasNames)
    return refuse(
      'bad-roster',
      'No names were found in this list. Paste one student a line, with a heading such as "Name" or "Given name" and "Family name" where there are several columns.',
    );
  return succeed(peopleOf(rows.slice(hasHeadings ? 1 : 0), columns));
}

function peopleOf(rows: readonly (readonly string[])[], columns: readonly (Column | null)[]): RosterReading {
  const lines: RosterLine[] = [];
  const skipped: RosterReading['skipped'][number][] = [];
  const seen = new Set<string>();
  for (const [i, row] of rows.entries()) {
    const cell = (column: Column): string => row[columns.indexOf(column)] ?? '';
    const name = plainName(cell('name') || [cell('given'), cell('family')].filter(Boolean).join(' '));
    const [email, login] = [cell('email').toLowerCase(), cell('login')];
    const skip = (why: string): void => {
      skipped.push({ line: i + 1, text: row.filter(Boolean).join(' '), why });
    };
    const who = `${name.toLowerCase()} ${email} ${login.toLowerCase()}`;
    if (!isName(name) || name.length > LONGEST_NAME) skip('There is no name in it.');
    else if (email !== '' && !EMAIL.test(email)) skip(`"${email}" is no mail address.`);
    else if (login !== '' && !LOGIN.test(login)) skip(`"${login}" cannot be a sign-in name.`);
    else if (seen.has(who)) skip('It is in the list twice.');
    else
      lines.push({
        line: i + 1,
        name,
        email: email || null,
        login: login || null,
        schoolId: cell('schoolId').slice(0, LONGEST_SCHOOL_ID) || null,
      });
    seen.add(who);
  }
  return { lines, skipped };
}
