import { describe, expect, it } from 'vitest';

import type { NumericArgument } from '#core/mistake';

import { saidByNote } from './notes.ts';

const number = (role: NumericArgument['role'], value: number): NumericArgument => ({
  stepId: 'step',
  path: ['radius'],
  role,
  expression: String(value),
  value,
});
const radius = (value: number) => number('radius', value);

describe('a general note says', () => {
  it.each([
    ['a radius with its letter', ['Fillets R3 unless noted'], radius(3), true],
    ['a radius without it', ['All rounds 3 mm'], radius(3), true],
    ['a radius with its decimal, as the sheet writes it', ['Inside corners R3.0'], radius(3), true],
    ['a chamfer by leg and angle', ['Chamfers 1 x 45°'], number('chamfer', 1), true],
    ['an angle', ['Head turned 30° from the sheet'], number('angle', 30), true],
    ['an angle to the other side', ['Head turned 30°'], number('angle', -30), true],
    ['no other radius that begins with the number', ['Fillets R30'], radius(3), false],
    ['no other radius that ends with it', ['Fillets R1.3'], radius(3), false],
    ['no radius by a number of something else', ['Three holes, 3 deep'], radius(3), false],
    ['no chamfer by a radius', ['Fillets R1'], number('chamfer', 1), false],
    ['no width, whatever stands in it', ['Rounds R3, plate 10 wide'], number('width', 10), false],
    ['nothing where there is none', [], radius(3), false],
  ] as const)('%s', (_, notes, argument, said) => {
    expect(saidByNote(notes, argument, 'mm')).toBe(said);
  });

  it('inches as they are written there: without a zero before the point, to three places', () => {
    expect(saidByNote(['Rounds R.063'], radius(0.063), 'in')).toBe(true);
    // A sixteenth is 0.0625: three places say .063.
    expect(saidByNote(['Rounds R.063'], radius(0.0625), 'in')).toBe(true);
    expect(saidByNote(['Rounds R0.25'], radius(0.25), 'in')).toBe(true);
    expect(saidByNote(['Rounds R.125'], radius(0.0625), 'in')).toBe(false);
  });
});
