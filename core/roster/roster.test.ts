import { describe, expect, it } from 'vitest';

import { compareRoster, loginFor, readRoster, type KnownPerson } from '#core/roster';
import { unwrap } from '#core/problem';

const people = (text: string) =>
  unwrap(readRoster(text)).lines.map(({ name, email, login }) => [name, email, login].filter(Boolean).join(' | '));
const codeOf = (text: string): string => {
  const read = readRoster(text);
  return read.ok ? '' : read.problem.code;
};

describe('a list of students', () => {
  it.each([
    ['names alone, one a line', 'Ansel Brody\nBettina Crane\n', ['Ansel Brody', 'Bettina Crane']],
    ['names with the family name first', 'Brody, Ansel\nCrane, Bettina Maria', ['Ansel Brody', 'Bettina Maria Crane']],
    [
      'columns in any order, with headings',
      'E-mail\tSurname\tFirst name\tUsername\na@x.org\tBrody\tAnsel\tabrody\n\tCrane\tBettina\t',
      ['Ansel Brody | a@x.org | abrody', 'Bettina Crane'],
    ],
    ['a file with semicolons', 'Name;Mail\nAnsel Brody;A@X.org\n', ['Ansel Brody | a@x.org']],
    [
      'cells that say what they are, without headings',
      '1\tAnsel\tBrody\ta@x.org\n2\tBettina\tCrane\tb@x.org',
      ['Ansel Brody | a@x.org', 'Bettina Crane | b@x.org'],
    ],
    ['quoted cells', 'name,email\n"Brody, Ansel",a@x.org\n', ['Ansel Brody | a@x.org']],
    ['letters of all tongues', 'Name\nŁucja Ødegård\n', ['Łucja Ødegård']],
  ])('is read from %s', (_what, text, expected) => {
    expect(people(text)).toEqual(expected);
  });

  it('says which lines name nobody, and why', () => {
    const { lines, skipped } = unwrap(
      readRoster('Name\tMail\nAnsel Brody\tno address\n17\t\nFia Garrow\t\nFia Garrow\t\n'),
    );
    expect(lines.map(({ name }) => name)).toEqual(['Fia Garrow']);
    expect(skipped.map(({ line, why }) => `${String(line)} ${why}`)).toEqual([
      '1 "no address" is no mail address.',
      '2 There is no name in it.',
      '4 It is in the list twice.',
    ]);
  });

  it.each(['', '   \n', '1\t2\n3\t4', 'a@x.org\nb@x.org'])('that names nobody is refused: %j', (text) => {
    expect(codeOf(text)).toBe('bad-roster');
  });
});

describe('compared with who is there', () => {
  const person = (id: number, name: string, email: string | null = null, login = `u${String(id)}`): KnownPerson => ({
    id,
    name,
    email,
    login,
  });
  const compare = (
    text: string,
    section: readonly KnownPerson[],
    elsewhere: readonly KnownPerson[] = [],
    staffLogins: readonly string[] = [],
  ) => {
    const { entries, gone } = compareRoster(unwrap(readRoster(text)).lines, section, elsewhere, staffLogins);
    return { kinds: entries.map(({ kind }) => kind), gone: gone.map(({ id }) => id), entries };
  };

  it('somebody is new, the same, or gone', () => {
    const { kinds, gone } = compare('Ansel Brody\nFia Garrow', [person(1, 'Ansel Brody'), person(2, 'Gil Hesper')]);
    expect([kinds, gone]).toEqual([['same', 'new'], [2]]);
  });

  it('a changed name is known by its address, and an address that was lacking by the name', () => {
    const text = 'Name\tMail\nFia Marsh\tfia@x.org\nAnsel Brody\ta@x.org';
    expect(compare(text, [person(1, 'Fia Garrow', 'fia@x.org'), person(2, 'Ansel Brody')]).kinds).toEqual([
      'changed',
      'changed',
    ]);
  });

  it('one name with another address is left to a person to decide', () => {
    const { entries, gone } = compare('Name\tMail\nAnsel Brody\tnew@x.org', [person(1, 'Ansel Brody', 'old@x.org')]);
    expect(entries[0]).toMatchObject({
      kind: 'doubtful',
      person: { id: 1 },
      why: expect.stringContaining('old@x.org') as string,
    });
    expect(gone).toEqual([]);
  });

  it('somebody with an account elsewhere joins by address, and by the name alone only if a person says so', () => {
    const elsewhere = [person(7, 'Ivo Jarrow', 'ivo@x.org'), person(8, 'Juno Kestle')];
    expect(compare('Name\tMail\nIvo Jarrow\tivo@x.org\nJuno Kestle\t', [], elsewhere).kinds).toEqual([
      'joins',
      'doubtful',
    ]);
  });

  it('nobody of the staff is meant by a list, even by their sign-in name', () => {
    const { entries } = compare('Name\tLogin\nOrla Fenn\torla', [], [], ['Orla']);
    expect(entries).toMatchObject([{ kind: 'new', login: 'orla.f' }]);
  });

  it('two of one name are two people', () => {
    const { entries } = compare('Nils Osprey\nNils Osprey the younger', [person(1, 'Nils Osprey', null, 'nils')]);
    expect(entries.map(({ kind }) => kind)).toEqual(['same', 'new']);
    expect(entries[1]).toMatchObject({ login: 'nils.y' });
  });
});

it('a sign-in name can be typed everywhere, and is nobody else’s', () => {
  const taken = new Set(['ansel', 'ansel.b']);
  const isTaken = (login: string) => taken.has(login);
  expect(loginFor('Łucja Ødegård', isTaken)).toBe('lucja');
  expect(loginFor('Ansel Brody', isTaken)).toBe('ansel.br');
  expect(loginFor('Ansel', isTaken)).toBe('ansel2');
  expect(loginFor('李 小龍', isTaken)).toBe('student');
});
