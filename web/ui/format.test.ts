import { expect, it } from 'vitest';

import { fileSize, plural } from './format.ts';

it('one attempt, two attempts', () => {
  expect([plural(1, 'attempt'), plural(2, 'attempt'), plural(0, 'body', 'bodies')]).toEqual([
    '1 attempt',
    '2 attempts',
    '0 bodies',
  ]);
});

it('file sizes in steps that people know', () => {
  expect(fileSize(84_992)).toBe('83 KB');
  expect(fileSize(25 * 1024 * 1024)).toBe('25.0 MB');
});
