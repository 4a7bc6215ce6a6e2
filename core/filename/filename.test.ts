import { describe, expect, it } from 'vitest';

import { isCalled, unknownWords, wantedFileName } from '#core/filename';

const work = { number: 'SB-102', name: 'Ansel Brody' };

describe('the name that a course wants a file to have', () => {
  it('is made from number and surname', () => {
    expect(wantedFileName('{number}-{surname}', work)).toBe('SB-102-Brody');
    expect(wantedFileName('{number} {name} part', work)).toBe('SB-102 Ansel Brody part');
    expect(wantedFileName('{surname}', { ...work, name: '  Ada ' })).toBe('Ada');
  });

  it.each(['SB-102-Brody.step', 'sb-102-brody.STL', 'SB-102-Brody'])('is kept by %s', (fileName) => {
    expect(isCalled(fileName, 'SB-102-Brody')).toBe(true);
  });
  it('takes blanks and underscores for each other', () => {
    expect(isCalled('SB-102_Ansel_Brody.step', 'SB-102 Ansel Brody')).toBe(true);
  });
  it.each(['SB-103-Brody.step', 'part1.step', 'SB-102-Brody-final.step'])('is not kept by %s', (fileName) => {
    expect(isCalled(fileName, 'SB-102-Brody')).toBe(false);
  });

  it('words that stand for nothing are found in a pattern', () => {
    expect(unknownWords('{number}-{family}-{ }')).toEqual(['{family}', '{ }']);
    expect(unknownWords('{number} {surname} {name}')).toEqual([]);
  });
});
