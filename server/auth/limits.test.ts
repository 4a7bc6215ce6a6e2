import { describe, expect, it } from 'vitest';

import { createSignInLimits } from './limits.ts';

const MINUTE = 60_000;

/** Limits with a clock of their own, and what people do with them. */
function open() {
  let time = Date.parse('2026-05-04T08:00:00.000Z');
  const limits = createSignInLimits(() => new Date(time));
  const guess = (name: string, address: string, times = 1): void => {
    for (let i = 0; i < times; i++) limits.begin({ name, address });
  };
  const signIn = (name: string, address: string): void => {
    limits.begin({ name, address });
    limits.succeed({ name, address });
  };
  const wait = (name: string, address: string): number => limits.waitMs({ name, address }) / 1000;
  return { guess, signIn, wait, pass: (ms: number) => (time += ms) };
}

describe('who guesses a password', () => {
  it('has eight tries, and then waits ever longer for one more', () => {
    const { guess, wait, pass } = open();
    guess('orla', 'a', 7);
    expect(wait('orla', 'a')).toBe(0);
    const waits: number[] = [];
    for (let i = 0; i < 8; i++) {
      guess('orla', 'a');
      waits.push(wait('orla', 'a'));
      pass(wait('orla', 'a') * 1000);
      expect(wait('orla', 'a')).toBe(0);
    }
    // Twice as long each time, from 15 seconds to ten minutes.
    expect(waits).toEqual([15, 30, 60, 120, 240, 480, 600, 600]);
  });

  it('is forgotten after half an hour, and at once with the right one', () => {
    const { guess, wait, pass, signIn } = open();
    guess('orla', 'a', 9);
    pass(31 * MINUTE);
    guess('orla', 'a', 7);
    expect(wait('orla', 'a')).toBe(0);
    signIn('orla', 'a');
    guess('orla', 'a', 7);
    expect(wait('orla', 'a')).toBe(0);
  });

  it('from many addresses waits too', () => {
    const { guess, wait } = open();
    for (let i = 0; i < 60; i++) guess('orla', `address ${String(i)}`);
    expect(wait('orla', 'another')).toBeGreaterThan(0);
  });
});

describe('nobody is locked out by others', () => {
  it('a name that is guessed at elsewhere signs in where it has before, and elsewhere after half a minute', () => {
    const { guess, wait, signIn, pass } = open();
    signIn('ansel', 'school');
    for (let i = 0; i < 500; i++) guess('ansel', `address ${String(i)}`);
    expect(wait('ansel', 'school')).toBe(0);
    expect(wait('ansel', 'home')).toBeLessThanOrEqual(30);
    pass(30_000);
    expect(wait('ansel', 'home')).toBe(0);
  });

  it('a school behind one address goes on while somebody guesses there', () => {
    const { guess, wait, signIn, pass } = open();
    signIn('ansel', 'school');
    for (let i = 0; i < 1000; i++) guess(`made up ${String(i)}`, 'school');
    expect(wait('ansel', 'school')).toBe(0);
    expect(wait('fia', 'school')).toBeLessThanOrEqual(30);
    pass(30_000);
    expect(wait('fia', 'school')).toBe(0);
  });

  it('right sign-ins of a whole school are not counted', () => {
    const { wait, signIn } = open();
    for (let i = 0; i < 2000; i++) signIn(`student ${String(i)}`, 'school');
    expect(wait('new', 'school')).toBe(0);
  });
});
