/**
 * Sensible parts at random, from seeds: what plans, sheets and verdicts are measured on, for nobody tuned anything for
 * them. No family copies a part of the demo.
 */
import { blankExercise, type Exercise } from '#core/exercise';

import { Dice } from './dice.ts';
import { adapter } from './families/adapter.ts';
import { bracket } from './families/bracket.ts';
import { cover } from './families/cover.ts';
import { fork } from './families/fork.ts';
import { housing } from './families/housing.ts';
import { plate } from './families/plate.ts';
import { profile } from './families/profile.ts';
import { ring } from './families/ring.ts';
import { slantedLug } from './families/slanted-lug.ts';
import { steppedBlock } from './families/stepped-block.ts';
import { turned } from './families/turned.ts';
import { twoStage } from './families/two-stage.ts';
import { Sketch } from './sketch.ts';

export { planned, type PlannedPart } from './planned.ts';

const FAMILIES = {
  plate,
  'stepped block': steppedBlock,
  bracket,
  turned,
  housing,
  adapter,
  ring,
  fork,
  'slanted lug': slantedLug,
  profile,
  cover,
  'two stages': twoStage,
} as const satisfies Readonly<Record<string, (sketch: Sketch) => void>>;

export type Family = keyof typeof FAMILIES;
export const FAMILY_NAMES = Object.keys(FAMILIES) as readonly Family[];

/** The part of a seed, from 1, as an exercise that has no check plan yet: its family changes with each seed. */
export function generatedPart(seed: number): Exercise {
  const family = FAMILY_NAMES[(seed - 1) % FAMILY_NAMES.length] ?? 'plate';
  const sketch = new Sketch(new Dice(seed));
  FAMILIES[family](sketch);
  const { unit, letters, steps, notes, stages } = sketch;
  const blank = blankExercise(`G-${String(seed)}`, `Generated ${family} ${String(seed)}`, unit);
  return {
    ...blank,
    brief: 'Model the part as drawn.',
    recipe: { ...blank.recipe, parameters: letters, steps },
    origin: 'as drawn',
    notes,
    stages: stages.map((stage, i) => ({ title: `Stage ${String(i + 2)}`, brief: '', ...stage })),
    typedValues: [],
  };
}
