import { dictionary } from '@zxcvbn-ts/language-common';

import { refuse, succeed, type Result } from '#core/problem';

const SHORTEST = 8;
const common = new Set<string>(dictionary['passwords-common']);

/** Whether a password may be taken by somebody: long enough, not among the common ones, not their own name. */
export function checkPassword(
  password: string,
  { login, name }: { readonly login: string; readonly name: string },
): Result<null> {
  const plain = password.normalize('NFKC').toLowerCase();
  const bad = (why: string) =>
    refuse('weak-password', `${why} Choose another one; three words that do not belong together are good.`);
  if (plain.length < SHORTEST) return bad(`A password has ${String(SHORTEST)} or more characters.`);
  // Also with digits and signs put behind, as people do who are asked for them.
  if (common.has(plain) || common.has(plain.replace(/[^\p{L}]+$/u, '')))
    return bad('This password is one of the first that would be tried.');
  const own = [login, ...name.split(/\s+/)].map((part) => part.toLowerCase()).filter((part) => part.length > 3);
  if (own.some((part) => plain.includes(part))) return bad('This password holds your name.');
  if (new Set(plain).size < 4) return bad('This password repeats itself.');
  return succeed(null);
}
