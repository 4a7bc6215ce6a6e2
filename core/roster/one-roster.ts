/** Class lists in the open format that school information systems exchange: OneRoster 1.2, CSV binding. */
import { ArchiveFault, entriesOf, isZip, unpackWhole } from '#core/archive';
import { refuse, succeed, type Result } from '#core/problem';
import { readTable, writeTable } from '#core/table';

export interface RosterClass {
  readonly id: string;
  readonly title: string;
  readonly students: readonly {
    readonly id: string;
    readonly name: string;
    readonly login: string;
    readonly email: string;
  }[];
}

/** A file of a package unpacks to no more; that of a school with 100,000 enrollments has about 10 MB. */
const MOST_BYTES = 64_000_000;
/** Rows that a system keeps only to say that they are gone. */
const GONE = 'tobedeleted';

/** The part that every Office Open XML workbook has (ECMA-376-1, part 12.3.23). */
const WORKBOOK = 'xl/workbook.xml';

type Rows = readonly Readonly<Record<string, string>>[];

/** A table with headings as rows by heading, in small letters. */
function rowsOf(text: string): Rows {
  const [head = [], ...rows] = readTable(text.replace(/^\uFEFF/, '')).rows;
  const names = head.map((name) => name.toLowerCase());
  return rows.map((row) => Object.fromEntries(names.map((name, i) => [name, row[i] ?? ''])));
}

const isThere = ({ status = '' }: Rows[number]): boolean => status.toLowerCase() !== GONE;

/**
 * The classes of a package with their students, by title. Refuses with `bad-roster` what is no such package, and names the
 * table that it lacks or the workbook that it is.
 */
export function readOneRoster(bytes: Uint8Array): Result<readonly RosterClass[]> {
  if (!isZip(bytes)) return refuse('bad-roster', 'This is no zip file. Export the class lists as OneRoster CSV.');
  try {
    const entries = entriesOf(bytes);
    const table = (name: string): Rows | null => {
      const entry = entries.find((one) => one.name.toLowerCase().split('/').at(-1) === `${name}.csv`);
      return entry === undefined ? null : rowsOf(new TextDecoder().decode(unpackWhole(bytes, entry, MOST_BYTES)));
    };
    if (entries.some(({ name }) => name.toLowerCase() === WORKBOOK))
      return refuse(
        'bad-roster',
        'This is the workbook of a program for tables. Save its sheet as CSV, or copy the rows and paste them here.',
      );
    const [users, classes, enrollments] = [table('users'), table('classes'), table('enrollments')];
    const lacking = Object.entries({ users, classes, enrollments }).find(([, rows]) => rows === null)?.[0];
    if (users === null || classes === null || enrollments === null)
      return refuse(
        'bad-roster',
        `The package has no ${lacking ?? ''}.csv. Export users, classes and enrollments together.`,
      );
    return succeed(classesOf({ users, classes, enrollments }));
  } catch (error) {
    if (error instanceof ArchiveFault) return refuse('bad-roster', `The package cannot be read: ${error.why}.`);
    throw error;
  }
}

function classesOf({
  users,
  classes,
  enrollments,
}: {
  readonly users: Rows;
  readonly classes: Rows;
  readonly enrollments: Rows;
}): readonly RosterClass[] {
  const people = new Map(
    users
      .filter((row) => isThere(row) && row['enableduser']?.toLowerCase() !== 'false')
      .map((row) => [row['sourcedid'] ?? '', row]),
  );
  const members = new Map<string, RosterClass['students'][number][]>();
  for (const row of enrollments) {
    const person = people.get(row['usersourcedid'] ?? '');
    if (person === undefined || !isThere(row) || row['role']?.toLowerCase() !== 'student') continue;
    const { givenname = '', familyname = '', username = '', email = '' } = person;
    const classId = row['classsourcedid'] ?? '';
    const list = members.get(classId) ?? [];
    list.push({ id: person['sourcedid'] ?? '', name: `${givenname} ${familyname}`.trim(), login: username, email });
    members.set(classId, list);
  }
  return classes
    .filter(isThere)
    .map(({ sourcedid = '', title = '' }) => ({
      id: sourcedid,
      title,
      students: (members.get(sourcedid) ?? []).sort((a, b) => a.name.localeCompare(b.name)),
    }))
    .sort((a, b) => a.title.localeCompare(b.title, 'en', { numeric: true }));
}

/** The students of a class as the list that `readRoster` reads. */
export const listOfClass = ({ students }: RosterClass): string =>
  writeTable(
    [
      ['Name', 'Email', 'Username', 'School id'],
      ...students.map(({ id, name, login, email }) => [name, email, login, id]),
    ],
    '\t',
  );
