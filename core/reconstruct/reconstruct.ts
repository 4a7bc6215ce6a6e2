import { nameSurfaces } from '#core/feature';
import type { Kernel, Shape } from '#core/kernel';
import { attempt, unwrap } from '#core/problem';
import type { DrawingUnit } from '#core/quantity';
import { RECIPE_VERSION, RecipeBuilder, type Recipe, type Start, type Step } from '#core/recipe';
import { farthest, fingerprintOf, SAME_SHARE, scalesOf, type MassProperties, type Solid } from '#core/solid';

import { blendCandidates } from './blends.ts';
import type { Candidate, Naming } from './candidate.ts';
import { holeCandidates } from './holes.ts';
import { prismCandidates, wallCandidates } from './prisms.ts';

/** A model as a body to begin with and the steps that make the model of it. */
export interface Reconstruction {
  /** The body is freed with `free`. */
  readonly start: Start;
  /** In the order in which they are built. */
  readonly steps: readonly Step[];
  /** The body to begin with, analyzed. */
  readonly solid: Solid;
  readonly free: () => void;
}

const SOURCE = { format: 'step', declaredUnit: 'mm', productName: null, originatingSystem: null } as const;
/** Fine enough for the corners and middles of edges. */
const COARSE = { toleranceMm: 0.2, angleRad: 0.3 } as const;
/** Volumes agree to this share of the part; areas, which are known less well where curves cut each other, to the other. */
const VOLUME_SHARE = 1e-7;
const AREA_SHARE = 1e-5;
/** Parts with more faces stay as they are: taking them apart would take minutes. */
const MOST_FACES = 2000;
/** So many features are tried, those of the earlier rounds first. */
const MOST_TRIED = 120;
/** Features of one round: those that hide others are undone first. */
const ROUNDS = 2;

/**
 * Undoes the recognized features of a body one after the other: rounds and chamfers, holes, then what was extruded. A
 * feature counts only where the body without it is flush, and the step of it gives back the very body as it was; all
 * others stay in the body that is begun with. `shape` stays with its owner.
 */
export function reconstruct(kernel: Kernel, shape: Shape, solid: Solid, unit: DrawingUnit): Reconstruction {
  const naming: Naming = { unit, surfaces: nameSurfaces(solid) };
  const peeling = new Peeling(kernel, shape, naming);
  if (solid.faces.length > MOST_FACES) return peeling.result(solid);
  try {
    for (let round = 0; round < ROUNDS; round++) {
      const before = peeling.steps.length;
      for (const alternatives of blendCandidates(kernel, peeling.solid(solid), naming)) peeling.undoFirst(alternatives);
      for (const candidate of holeCandidates(kernel, peeling.solid(solid), naming)) peeling.undo(candidate);
      for (const candidate of prismCandidates(kernel, peeling.solid(solid), naming)) peeling.undo(candidate);
      if (peeling.steps.length === before) break;
    }
    for (const candidate of wallCandidates(kernel, peeling.solid(solid), naming)) peeling.undo(candidate);
    return peeling.result(solid);
  } catch (error) {
    peeling.free();
    throw error;
  }
}

/** A body that loses one feature after the other. */
class Peeling {
  /** The last one undone is the first to be built. */
  steps: readonly Step[] = [];
  private readonly kernel: Kernel;
  private readonly naming: Naming;
  private body: Shape;
  private analyzed: Solid | null = null;
  private readonly ids = new Set<string>();
  private tried = 0;

  constructor(kernel: Kernel, shape: Shape, naming: Naming) {
    this.kernel = kernel;
    this.naming = naming;
    this.body = kernel.handle(shape);
  }

  /** The body as it is now; `first` is what is known of it as it was read. */
  solid(first: Solid): Solid {
    if (this.steps.length === 0) return first;
    this.analyzed ??= unwrap(this.kernel.analyze(this.body, SOURCE, COARSE));
    return this.analyzed;
  }

  /** Undoes all of the first, or else each of the others that can be undone. */
  undoFirst([whole, ...singles]: readonly Candidate[]): void {
    if (whole === undefined || this.undo(whole)) return;
    for (const single of singles) this.undo(single);
  }

  /** Undoes a feature where that can be proved right; says whether it did. */
  undo(candidate: Candidate): boolean {
    if (++this.tried > MOST_TRIED) return false;
    const undone = this.safely(() => this.without(candidate));
    if (undone === null) return false;
    const proven = candidate.steps
      .map((step) => ({ ...step, id: this.freeId(step.id) }))
      .find((step) => this.safely(() => this.gives(undone, step)) === true);
    if (proven === undefined) {
      undone.free();
      return false;
    }
    this.ids.add(proven.id);
    this.steps = [proven, ...this.steps];
    this.body.free();
    this.body = undone;
    this.analyzed = null;
    return true;
  }

  result(first: Solid): Reconstruction {
    const { body, steps } = this;
    return {
      start: { key: 'model', body, surfaces: this.naming.surfaces },
      steps,
      solid: this.solid(first),
      free: () => {
        body.free();
      },
    };
  }

  free(): void {
    this.body.free();
  }

  /** The body without a feature; null where the tools do not fill or take away just what they should. */
  private without({ undoneBy, tools, openMm2 }: Candidate): Shape | null {
    const made = tools();
    try {
      const before = this.kernel.massProperties(this.body);
      const parts = made.map((tool) => this.kernel.massProperties(tool));
      const volume = parts.reduce((sum, { volumeMm3 }) => sum + volumeMm3, 0);
      const area = parts.reduce((sum, { areaMm2 }) => sum + areaMm2, 0);
      const undone = undoneBy === 'filling' ? this.kernel.fuse(this.body, made) : this.kernel.cut(this.body, made);
      const after = this.kernel.massProperties(undone);
      const sign = undoneBy === 'filling' ? 1 : -1;
      const isFlush =
        Math.abs(after.volumeMm3 - before.volumeMm3 - sign * volume) < VOLUME_SHARE * before.volumeMm3 &&
        (openMm2 === null ||
          Math.abs(after.areaMm2 - before.areaMm2 + area - 2 * openMm2(area)) < AREA_SHARE * before.areaMm2) &&
        this.kernel.bodyCount(undone) === 1;
      if (isFlush) return undone;
      undone.free();
      return null;
    } finally {
      for (const tool of made) tool.free();
    }
  }

  /** Whether a step makes the body as it is now of one without the feature. */
  private gives(undone: Shape, step: Step): boolean {
    const { unit, surfaces } = this.naming;
    const builder = new RecipeBuilder(this.kernel, { key: 'undone', body: undone, surfaces });
    try {
      const built = builder.build(recipeOf(unit, [step]));
      if (!built.ok) return false;
      const same = samePart(this.kernel.massProperties(built.value.shape), this.kernel.massProperties(this.body));
      built.value.shape.free();
      return same;
    } finally {
      builder.free();
    }
  }

  private freeId(id: string): string {
    let free = id;
    for (let n = 2; this.ids.has(free); n++) free = `${id}-${String(n)}`;
    return free;
  }

  /** What cannot be made is no feature that can be undone; anything else that is thrown is a fault of the program. */
  private safely<T>(work: () => T): T | null {
    try {
      const done = attempt(work);
      return done.ok ? done.value : null;
    } catch (error) {
      if (this.kernel.explain(error) !== null) return null;
      throw error;
    }
  }
}

/** A recipe of some steps alone. */
export const recipeOf = (unit: DrawingUnit, steps: readonly Step[]): Recipe => ({
  format: 'zorvet-recipe',
  version: RECIPE_VERSION,
  name: 'Part',
  unit,
  parameters: [],
  steps,
});

function samePart(a: MassProperties, b: MassProperties): boolean {
  const [one, other] = [fingerprintOf(a), fingerprintOf(b)];
  return farthest(one, other, scalesOf(other)) < SAME_SHARE;
}
