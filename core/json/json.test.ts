import { expect, it } from 'vitest';

import { parseJson } from '#core/json';

const codeOf = (text: string): string => {
  const parsed = parseJson(text);
  return parsed.ok ? '' : parsed.problem.code;
};

it('is read as it is, brackets and quotes inside of its texts included', () => {
  const value = { a: [1, { b: '[[[{{{"\\' }], c: '[['.repeat(200) };
  expect(parseJson(JSON.stringify(value))).toEqual({ ok: true, value });
});

it('may be a hundred deep and no deeper', () => {
  const nested = (depth: number): string => `${'['.repeat(depth)}${']'.repeat(depth)}`;
  expect(codeOf(nested(100))).toBe('');
  expect(codeOf(nested(101))).toBe('bad-json');
  expect(codeOf('{"a":'.repeat(1_000_000))).toBe('bad-json');
});

it.each(['', '{', 'nonsense', '{"a":1}}'])('is told from what is none: %j', (text) => {
  expect(codeOf(text)).toBe('bad-json');
});
