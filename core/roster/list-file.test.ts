import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';

import { unwrap } from '#core/problem';
import { readListFile } from '#core/roster';

const LIST = 'Name;Mail\nBj\u00f8rn Bitt;bjorn@saltmarsh.example\n';
const ascii = (text: string): number[] => Array.from(text, (letter) => letter.charCodeAt(0));
/** Every letter of the list is below U+0100, where a unit of UTF-16 is the code of Latin-1 and a zero byte. */
const utf16 = (isLittle: boolean): Uint8Array =>
  new Uint8Array([
    ...(isLittle ? [0xff, 0xfe] : [0xfe, 0xff]),
    ...ascii(LIST).flatMap((code) => (isLittle ? [code, 0] : [0, code])),
  ]);

describe('a list of students from a file', () => {
  it.each([
    ['UTF-8', strToU8(LIST)],
    ['UTF-8 with a mark at the start', new Uint8Array([0xef, 0xbb, 0xbf, ...strToU8(LIST)])],
    ['UTF-16, low byte first', utf16(true)],
    ['UTF-16, high byte first', utf16(false)],
    ['one byte a letter, as older programs write', new Uint8Array(ascii(LIST))],
  ])('keeps its letters in %s', (_, bytes) => {
    expect(unwrap(readListFile(bytes))).toEqual({ kind: 'list', text: LIST });
  });

  it('is a package of class lists whatever its name', () => {
    const bytes = zipSync({
      'users.csv': strToU8('sourcedId'),
      'classes.csv': strToU8('sourcedId,title\nc1,Morning bench'),
      'enrollments.csv': strToU8('sourcedId'),
    });
    expect(unwrap(readListFile(bytes))).toEqual({
      kind: 'classes',
      classes: [{ id: 'c1', title: 'Morning bench', students: [] }],
    });
  });

  it.each([
    ['a workbook', zipSync({ 'xl/workbook.xml': strToU8('<workbook/>') }), 'This is the workbook of a program'],
    [
      'a picture',
      new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13]),
      'This file is no text.',
    ],
    ['another zip', zipSync({ 'a.txt': strToU8('a') }), 'The package has no users.csv.'],
  ])('is not %s, and the sentence says what to do', (_, bytes, start) => {
    const read = readListFile(bytes);
    expect(read.ok ? null : read.problem.message.startsWith(start)).toBe(true);
  });
});
