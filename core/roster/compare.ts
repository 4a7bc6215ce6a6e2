import { loginFor } from './login.ts';
import type { RosterLine } from './read.ts';

/** Somebody who has an account. */
export interface KnownPerson {
  readonly id: number;
  readonly name: string;
  readonly email: string | null;
  readonly login: string;
}

/** What a line of a list means for a section. */
export type RosterEntry =
  /** Gets an account, and belongs to the section. */
  | { readonly kind: 'new'; readonly line: RosterLine; readonly login: string }
  /** Has an account already, and belongs to the section from now on. */
  | { readonly kind: 'joins'; readonly line: RosterLine; readonly person: KnownPerson }
  | { readonly kind: 'same'; readonly line: RosterLine; readonly person: KnownPerson }
  /** Is in the section under another name or address. */
  | { readonly kind: 'changed'; readonly line: RosterLine; readonly person: KnownPerson }
  /** May be somebody who is there, or somebody else: a person decides. */
  | {
      readonly kind: 'doubtful';
      readonly line: RosterLine;
      readonly person: KnownPerson;
      readonly why: string;
      readonly login: string;
    };

export interface RosterComparison {
  readonly entries: readonly RosterEntry[];
  /** In the section, and not in the list. */
  readonly gone: readonly KnownPerson[];
}

const sameText = (a: string, b: string): boolean => a.localeCompare(b, 'en', { sensitivity: 'base' }) === 0;

/**
 * Compares a list with who is in a section, and with all other students who have accounts. Somebody is known by sign-in name or mail
 * address; by the name alone only where neither contradicts it, and nobody else has it. Staff are nobody of a list: their
 * sign-in names are taken, and that is all.
 */
export function compareRoster(
  lines: readonly RosterLine[],
  section: readonly KnownPerson[],
  elsewhere: readonly KnownPerson[],
  staffLogins: readonly string[],
): RosterComparison {
  const everybody = [...section, ...elsewhere];
  const inSection = new Set(section.map(({ id }) => id));
  const taken = new Set([...everybody.map(({ login }) => login), ...staffLogins].map((login) => login.toLowerCase()));
  const found = new Set<number>();
  const newLogin = ({ name, login }: RosterLine): string => {
    const wanted = login !== null && !taken.has(login.toLowerCase()) ? login : null;
    const chosen = wanted ?? loginFor(name, (one) => taken.has(one));
    taken.add(chosen.toLowerCase());
    return chosen;
  };

  const entryOf = (line: RosterLine): RosterEntry => {
    const free = everybody.filter(({ id }) => !found.has(id));
    const surely =
      free.find(({ login }) => line.login !== null && sameText(login, line.login)) ??
      free.find(({ email }) => line.email !== null && email !== null && sameText(email, line.email));
    if (surely !== undefined) {
      found.add(surely.id);
      if (!inSection.has(surely.id)) return { kind: 'joins', line, person: surely };
      const isSame = surely.name === line.name && (line.email === null || surely.email === line.email);
      return { kind: isSame ? 'same' : 'changed', line, person: surely };
    }
    const [namesake, another] = free
      .filter(({ name }) => sameText(name, line.name))
      .sort((a, b) => Number(inSection.has(b.id)) - Number(inSection.has(a.id)));
    if (namesake === undefined) return { kind: 'new', line, login: newLogin(line) };
    const contradicts = line.email !== null && namesake.email !== null;
    const isAlone = another === undefined || !inSection.has(another.id);
    if (inSection.has(namesake.id) && !contradicts && isAlone) {
      found.add(namesake.id);
      return { kind: line.email === null ? 'same' : 'changed', line, person: namesake };
    }
    const why = contradicts
      ? `Somebody of this name has the address ${namesake.email}.`
      : inSection.has(namesake.id)
        ? 'There are several of this name in the section.'
        : 'Somebody of this name has an account in another section.';
    found.add(namesake.id);
    return { kind: 'doubtful', line, person: namesake, why, login: newLogin(line) };
  };

  const entries = lines.map(entryOf);
  return { entries, gone: section.filter(({ id }) => !found.has(id)) };
}
