import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';

import { unwrap } from '#core/problem';
import { listOfClass, readOneRoster, readRoster } from '#core/roster';

const USERS = `sourcedId,status,dateLastModified,enabledUser,username,userIds,givenName,familyName,middleName,identifier,email
u1,active,2026-08-01,true,ansel,,Ansel,Brody,,,ansel@saltmarsh.example
u2,active,2026-08-01,true,bettina,,Bettina,Crane,,,
u3,tobedeleted,2026-08-01,true,corin,,Corin,Dale,,,
u4,active,2026-08-01,false,dagny,,Dagny,Elm,,,
u5,active,2026-08-01,true,orla,,Orla,Fenwick,,,`;
const CLASSES = `sourcedId,status,title,classCode
c2,active,Evening bench,E
c1,active,Morning bench,M
c3,tobedeleted,Old bench,O`;
const ENROLLMENTS = `sourcedId,status,classSourcedId,schoolSourcedId,userSourcedId,role,primary
e1,active,c1,s,u2,student,false
e2,active,c1,s,u1,student,false
e3,active,c1,s,u3,student,false
e4,active,c1,s,u4,student,false
e5,active,c1,s,u5,teacher,true
e6,tobedeleted,c2,s,u1,student,false`;
const zipped = (files: Readonly<Record<string, string>>): Uint8Array =>
  zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])));
const PACKAGE = { 'manifest.csv': 'x', 'users.csv': USERS, 'classes.csv': CLASSES, 'enrollments.csv': ENROLLMENTS };

describe('class lists of a school information system', () => {
  it('are read by class: students who are there, without teachers and who is gone or switched off', () => {
    expect(unwrap(readOneRoster(zipped(PACKAGE)))).toEqual([
      { id: 'c2', title: 'Evening bench', students: [] },
      {
        id: 'c1',
        title: 'Morning bench',
        students: [
          { id: 'u1', name: 'Ansel Brody', login: 'ansel', email: 'ansel@saltmarsh.example' },
          { id: 'u2', name: 'Bettina Crane', login: 'bettina', email: '' },
        ],
      },
    ]);
  });

  it('become a list as one that was pasted', () => {
    const [, morning] = unwrap(readOneRoster(zipped(PACKAGE)));
    expect(morning && unwrap(readRoster(listOfClass(morning))).lines).toMatchObject([
      { name: 'Ansel Brody', email: 'ansel@saltmarsh.example', login: 'ansel', schoolId: 'u1' },
      { name: 'Bettina Crane', email: null, login: 'bettina' },
    ]);
  });

  it('lie in a folder of the package, or begin with a byte order mark, as some programs write them', () => {
    const inFolder = Object.fromEntries(
      Object.entries(PACKAGE).map(([name, text]) => [`export/${name.toUpperCase()}`, `\uFEFF${text}`]),
    );
    expect(unwrap(readOneRoster(zipped(inFolder)))[1]?.students).toHaveLength(2);
  });

  it.each([
    ['no zip', strToU8('name,mail'), 'This is no zip file. Export the class lists as OneRoster CSV.'],
    [
      'a package without enrollments',
      zipped({ 'users.csv': USERS, 'classes.csv': CLASSES }),
      'The package has no enrollments.csv. Export users, classes and enrollments together.',
    ],
    [
      'one that breaks off',
      zipped(PACKAGE).slice(0, 200),
      'The package cannot be read: its directory is missing, as when a copy breaks off.',
    ],
  ])('are refused: %s', (_, bytes, message) => {
    const read = readOneRoster(bytes);
    expect(read.ok ? null : read.problem.message).toBe(message);
  });
});
