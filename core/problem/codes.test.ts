import { describe, expect, it } from 'vitest';

import { statusOf } from './codes.ts';

describe('a code of a failure', () => {
  it.each([
    ['bad-exercise', 400],
    ['signed-out', 401],
    ['not-allowed', 403],
    ['not-found', 404],
    ['conflict', 409],
    ['too-large', 413],
    ['division-by-zero', 422],
  ] as const)('%s is answered with %i', (code, status) => {
    expect(statusOf(code)).toBe(status);
  });
});
