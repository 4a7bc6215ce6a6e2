import type { DrawingUnit } from '#core/quantity';
import type { Parameter, Step } from '#core/recipe';

import { text, type Dice } from './dice.ts';

/** What a stage after the first asks for. */
export interface LaterStage {
  readonly values: Readonly<Record<string, string>>;
  readonly adds: readonly string[];
}

/** A part as a family makes it up: letters with values, and steps. */
export class Sketch {
  readonly dice: Dice;
  readonly letters: Parameter[] = [];
  readonly steps: Step[] = [];
  readonly notes: string[] = [];
  readonly stages: LaterStage[] = [];

  constructor(dice: Dice) {
    this.dice = dice;
  }

  get unit(): DrawingUnit {
    return this.dice.unit;
  }

  /** A letter for a size: its name, to be written in expressions. */
  letter(label: string, value: number): string {
    const name = 'ABCDEFGHJKLMNPQRSTUVW'.charAt(this.letters.length);
    this.letters.push({ name, value: text(value), label });
    return name;
  }

  add(...steps: readonly Step[]): void {
    this.steps.push(...steps);
  }
}

type Extrude = Extract<Step, { op: 'extrude' }>;
type Hole = Extract<Step, { op: 'hole' }>;

/** An outline raised from a base plane or a face; `change` replaces what is usual. */
export const raised = (
  id: string,
  outlines: Extrude['outlines'],
  depth: string,
  change: Partial<Extrude> = {},
): Extrude => ({
  id,
  op: 'extrude',
  mode: 'add',
  plane: { base: 'XY' },
  outlines,
  extent: { kind: 'depth', depth },
  ...change,
});

/** An outline cut into a face; all the way through where no depth is given. */
export const cutInto = (id: string, surface: string, outlines: Extrude['outlines'], depth?: string): Extrude => ({
  id,
  op: 'extrude',
  mode: 'cut',
  plane: { surface },
  outlines,
  extent: depth === undefined ? { kind: 'through' } : { kind: 'depth', depth },
});

/** Holes through from a face. */
export const drilled = (id: string, surface: string, at: Hole['at'], diameter: number): Hole => ({
  id,
  op: 'hole',
  plane: { surface },
  at,
  diameter: text(diameter),
  depth: { kind: 'through' },
});

export const points = (...places: readonly (readonly [string, string])[]): Hole['at'] => ({
  kind: 'points',
  points: places.map(([u, v]) => [u, v]),
});
