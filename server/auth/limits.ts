/** How often somebody may try a password: slows down guessing, and locks nobody out for long. */
import { LRUCache } from 'lru-cache';

/** Wrong passwords for one name from one address before the first wait. */
const FREE_TRIES = 8;
/** The first wait; each that follows is twice as long. */
const FIRST_WAIT_MS = 15_000;
const LONGEST_WAIT_MS = 10 * 60_000;
/** After so long without a wrong password, nothing is held against anybody any more. */
const FORGET_MS = 30 * 60_000;
/** Wrong passwords for one name from all addresses, and from one address for all names, within the time above. */
const FREE_TRIES_OF_NAME = 60;
const FREE_TRIES_OF_ADDRESS = 300;
/** What others do with a name or from an address holds somebody up no longer than this. */
const LONGEST_WAIT_BY_OTHERS_MS = 30_000;
const MOST_KEPT = 50_000;

interface Count {
  readonly wrong: number;
  readonly lastAtMs: number;
}

export interface Try {
  readonly name: string;
  readonly address: string;
}

export interface SignInLimits {
  /** How long a try has to wait, in ms; 0 where it may be made. */
  waitMs(one: Try): number;
  /** Notes a try before its password is looked at, so that many at once are counted too. */
  begin(one: Try): void;
  /** The password was right: nothing is held against the name at this address, and it is known there from now on. */
  succeed(one: Try): void;
}

/**
 * Counts wrong passwords by name and address together, and more loosely by each alone. A name that has signed in from an
 * address before is not held up by what strangers do elsewhere with the name, or beside it behind the same address.
 */
export function createSignInLimits(now: () => Date): SignInLimits {
  const counts = () => new LRUCache<string, Count>({ max: MOST_KEPT });
  const [ofPair, ofName, ofAddress] = [counts(), counts(), counts()];
  const known = new LRUCache<string, true>({ max: MOST_KEPT });
  const pairOf = ({ name, address }: Try): string => `${address} ${name}`;

  const countOf = (cache: LRUCache<string, Count>, key: string): Count => {
    const count = cache.get(key);
    return count === undefined || now().getTime() - count.lastAtMs > FORGET_MS ? { wrong: 0, lastAtMs: 0 } : count;
  };
  const add = (cache: LRUCache<string, Count>, key: string, wrong: number): void => {
    const count = countOf(cache, key);
    cache.set(key, { wrong: Math.max(0, count.wrong + wrong), lastAtMs: now().getTime() });
  };
  /** Waits grow with what is wrong beyond the free tries: one try after each wait. */
  const left = ({ wrong, lastAtMs }: Count, free: number, longestMs: number): number => {
    if (wrong < free) return 0;
    const waitMs = Math.min(longestMs, FIRST_WAIT_MS * 2 ** Math.min(wrong - free, 20));
    return Math.max(0, lastAtMs + waitMs - now().getTime());
  };

  return {
    waitMs(one) {
      const own = left(countOf(ofPair, pairOf(one)), FREE_TRIES, LONGEST_WAIT_MS);
      if (known.has(pairOf(one))) return own;
      return Math.max(
        own,
        left(countOf(ofName, one.name), FREE_TRIES_OF_NAME, LONGEST_WAIT_BY_OTHERS_MS),
        left(countOf(ofAddress, one.address), FREE_TRIES_OF_ADDRESS, LONGEST_WAIT_BY_OTHERS_MS),
      );
    },
    begin(one) {
      add(ofPair, pairOf(one), 1);
      add(ofName, one.name, 1);
      add(ofAddress, one.address, 1);
    },
    succeed(one) {
      ofPair.delete(pairOf(one));
      add(ofName, one.name, -1);
      add(ofAddress, one.address, -1);
      known.set(pairOf(one), true);
    },
  };
}
