/** Letters of a name without their marks, as they can be typed on any keyboard. */
const plain = (text: string): string =>
  text
    .normalize('NFD')
    .replaceAll(/\p{M}/gu, '')
    .toLowerCase()
    .replaceAll('ß', 'ss')
    .replaceAll('æ', 'ae')
    .replaceAll('ø', 'o')
    .replaceAll('ł', 'l')
    .replaceAll(/[^a-z0-9]+/g, '');

/**
 * A sign-in name for somebody that is not taken: the given name, with letters of the family name as far as needed, and a
 * number in the end.
 */
export function loginFor(name: string, isTaken: (login: string) => boolean): string {
  const parts = name.split(/\s+/).map(plain).filter(Boolean);
  const given = parts[0] ?? 'student';
  const family = parts.at(-1) ?? '';
  const wishes = [
    given,
    ...(parts.length > 1 ? Array.from({ length: family.length }, (_, i) => `${given}.${family.slice(0, i + 1)}`) : []),
  ];
  const free = wishes.find((login) => !isTaken(login));
  if (free !== undefined) return free;
  const longest = wishes.at(-1) ?? given;
  let number = 2;
  while (isTaken(`${longest}${String(number)}`)) number++;
  return `${longest}${String(number)}`;
}
