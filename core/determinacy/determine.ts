import { LRUCache } from 'lru-cache';

import {
  draftingOf,
  isOnSheet,
  kindOf,
  measureInPlace,
  prepareReference,
  saysWhere,
  type Reference,
  type Target,
} from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { soundChecks, withSlightChanges, type PlanBasis } from '#core/plan';
import { unwrap } from '#core/problem';
import { facesOn, type ParameterValues, stepOfSurface as stepOf } from '#core/recipe';
import type { Solid } from '#core/solid';
import { SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
import { boxDiagonal } from '#core/vector';

import { chamferAngles, conventionsOf, type Convention } from './conventions.ts';
import { changeMm, sampled, turnsAsWhole, type Sampled } from './displacement.ts';
import { nullCombinations } from './linear.ts';
import { saidByNote } from './notes.ts';
import { variablesOf, Variations, type Changes, type Variable, type VariedPart } from './variation.ts';

/** A way in which the part can be another one, and nothing of what was asked shows it. */
export interface Freedom {
  /** The number of the recipe that says most of it. */
  readonly variable: Variable;
  readonly changes: Changes;
  /** How far the part changes with them, mm. */
  readonly changeMm: number;
  /** The part with the change. */
  readonly part: VariedPart;
}

/** What the sheet leaves open, and what no check of the plan that says where would notice. */
export interface Determinacy {
  readonly undetermined: readonly Freedom[];
  readonly unchecked: readonly Freedom[];
  /** Written checks that say what no other does: without one of them more would be open. The others are said twice. */
  readonly needed: ReadonlySet<string>;
}

/** A variation that was built, and how far it changes the part, mm. */
interface Column {
  readonly variable: Variable;
  readonly part: VariedPart;
  readonly changeMm: number;
  /** To one side nothing changes: what is cut across the whole part cannot be cut farther. */
  readonly isOneSided: boolean;
}

/** A column with what each check, and each convention, sees of it: per mm of change. */
interface Seen extends Column {
  readonly byChecks: readonly number[];
  readonly byDrawing: readonly number[];
  /** Of these, what no check has to decide. */
  readonly byItself: readonly number[];
  /** Whether it changes the faces that a view shows, and not only where two bodies make one face. */
  readonly showsFaces: boolean;
  /** Of what callouts print besides what their check measures. */
  readonly byCallouts: readonly number[];
}

/** A combination of numbers that was built; null where the part does not change, or cannot be built. */
interface Combination {
  readonly changed: { readonly part: VariedPart; readonly changeMm: number } | null;
}

/** Combinations that are kept for the next plan: their parts have triangles. */
const MOST_COMBINATIONS = 80;

/** A part changes when a point of it moves so far: half of what the finest general tolerance of a sheet allows. */
const MOVED_MM = 0.004;

/** What no check has to decide: where the whole part lies is judged by itself. */
const NEEDS_NO_CHECK: ReadonlySet<Convention['name']> = new Set(['origin']);

/** Conventions that a coincidence of numbers looks like. */
const BY_PLACE: ReadonlySet<Convention['name']> = new Set(['about-center', 'on-center-line', 'aligned', 'symmetric']);

/** The faces of a chamfer that a target is about, and those that it is measured on. */
function chamferOf(target: Target) {
  const drafting = draftingOf(target);
  return drafting?.form === 'chamfer' ? [drafting] : [];
}

/** Whether a check is written on the sheet as a dimension or in a callout. */
const isWritten = ({ checks }: Exercise, target: Target): boolean =>
  draftingOf(target) !== null && checks.some((check) => check.id === target.checkId && isOnSheet(check));

/** What the targets of a plan measure on a part, in their order. */
type Values = readonly (number | null)[];

/** What each target measures on a part, in mm, a degree as the length by which it moves the end of the part. */
function measuredOn(reference: Reference, solid: Solid): Values {
  const perDegree = (boxDiagonal(reference.solid.bounds) / 2) * (Math.PI / 180);
  const checks = measureInPlace(reference, solid);
  return reference.targets.map(({ kind }, i) => {
    const value = checks[i]?.measured ?? null;
    return value === null ? null : kindOf(kind).quantity === 'angle' ? value * perDegree : value;
  });
}

/**
 * Whether what is written determines a part. Every number of its recipe is varied a little, the part is built, and all
 * that is written on the sheet is measured again. A combination of numbers that changes the part and nothing written
 * (of the null space of these derivatives) is a size that the sheet does not say; one that changes no check that says
 * where is a size that nobody would notice. What looks free is built once more and measured before it is believed.
 *
 * The variations are built once for a part, and asked for one check plan after the other. To be freed by its owner.
 */
export class DeterminacyStudy {
  private readonly variations: Variations;
  private readonly basis: Omit<PlanBasis, 'exercise'>;
  readonly samples: readonly Sampled[];
  private readonly recipe: Exercise['recipe'];
  private columns: readonly Column[] = [];
  private isBuilt = false;
  private others: readonly Omit<PlanBasis, 'exercise'>[] | null = null;
  private readonly combinations = new LRUCache<string, Combination>({ max: MOST_COMBINATIONS });

  constructor(kernel: Kernel, { exercise, ...basis }: PlanBasis, values: ParameterValues = {}) {
    this.basis = basis;
    this.recipe = exercise.recipe;
    this.samples = sampled(basis.solid, basis.surfaces);
    this.variations = new Variations(kernel, exercise.recipe, values);
  }

  /** Builds the variations, one after each `next`, and yields how many of how many are built. */
  *build(): Generator<readonly [done: number, total: number], void> {
    if (this.isBuilt) return;
    const variables = variablesOf(this.recipe, this.basis.scope);
    const columns: Column[] = [];
    for (const [i, variable] of variables.entries()) {
      const part = this.varied(variable);
      const change = part === null ? 0 : this.changeOf(part);
      if (part !== null && change >= MOVED_MM / 4) {
        if (!this.onlyTurns(variable, part)) columns.push({ variable, part, changeMm: change, isOneSided: false });
      } else columns.push(...this.otherWay(variable));
      yield [i + 1, variables.length];
    }
    // What elimination leaves over is the last of what could be: angles and places sooner than the sizes of things.
    this.columns = columns.sort((a, b) => rankOf(a.variable) - rankOf(b.variable));
    this.isBuilt = true;
  }

  /** The same part with one letter changed a little in each: they show how a size follows the letters. */
  withOtherLetters(exercise: Exercise): readonly PlanBasis[] {
    return this.partsWithOtherLetters().map((part) => ({ ...part, exercise }));
  }

  private partsWithOtherLetters(): readonly Omit<PlanBasis, 'exercise'>[] {
    return (this.others ??= withSlightChanges(this.recipe, this.basis.scope, (values) =>
      this.variations.withLetters(values),
    ));
  }

  /** What a plan and its notes leave open. Refuses as `prepareReference` does. */
  determine(exercise: Exercise): Determinacy {
    for (const _ of this.build());
    const { solid, surfaces, scope } = this.basis;
    const { sound } = soundChecks({ ...this.basis, exercise });
    const reference = unwrap(prepareReference({ ...exercise, checks: sound }, solid, surfaces, scope));
    const own = measuredOn(reference, solid);
    const columns = this.seen(reference, own, exercise.notes);
    const noted = columns.map(({ variable }) => saidByNote(exercise.notes, variable.argument, exercise.recipe.unit));
    const targetsThat = (counts: (target: Target) => boolean): readonly number[] =>
      reference.targets.flatMap((target, k) => (counts(target) ? [k] : []));
    const only = (isSaid: (column: number) => boolean): readonly (readonly number[])[] =>
      columns.flatMap((_, i) => (isSaid(i) ? [columns.map((__, k) => Number(k === i))] : []));
    const rowsOf = (pick: (column: Seen) => readonly number[]): readonly (readonly number[])[] =>
      (columns[0] === undefined ? [] : pick(columns[0])).map((_, k) => columns.map((column) => pick(column)[k] ?? 0));
    const notedRows = only((i) => noted[i] === true);
    // Printed or seen, whether a check decides it or not: angles behind chamfers, and how many there are in a view.
    const shownRows = [
      ...rowsOf(({ byDrawing }) => byDrawing),
      ...notedRows,
      ...rowsOf(({ byCallouts }) => byCallouts),
      ...only((i) => columns[i]?.variable.argument.role === 'count'),
      ...only((i) => columns[i]?.showsFaces === true),
    ];
    const leftBy = (asked: readonly number[], seen: readonly (readonly number[])[]) =>
      nullCombinations([...asked.map((k) => columns.map(({ byChecks }) => byChecks[k] ?? 0)), ...seen], columns.length);
    const left = (asked: readonly number[], seen: readonly (readonly number[])[]): readonly Freedom[] =>
      leftBy(asked, seen).flatMap((shares) => this.confirmed(shares, columns, { reference, own, asked }));
    const written = targetsThat((target) => isWritten(exercise, target));
    const open = leftBy(written, shownRows).length;
    return {
      undetermined: left(written, shownRows),
      unchecked: left(
        targetsThat((target) => saysWhere(kindOf(target.kind)) && !this.isSharedExtent(target)),
        rowsOf(({ byItself }) => byItself),
      ),
      needed: new Set(
        written
          .filter(
            (k) =>
              leftBy(
                written.filter((other) => other !== k),
                shownRows,
              ).length > open,
          )
          .flatMap((k) => reference.targets[k]?.checkId ?? []),
      ),
    };
  }

  free(): void {
    this.variations.free();
  }

  /**
   * Whether a target is the size of the whole part where several steps end: one of them can end earlier, and the part is as
   * large as before.
   */
  private isSharedExtent(target: Target): boolean {
    if (target.kind !== 'overall-size') return false;
    const { bounds } = this.basis.solid;
    const { axis } = target;
    const stepsAt = (at: number): ReadonlySet<string> =>
      new Set(
        [...this.basis.surfaces].flatMap(([name, surface]) =>
          surface.kind === 'plane' &&
          Math.abs(surface.normal[axis]) > SAME_DIRECTION_COSINE &&
          Math.abs(surface.origin[axis] - at) < SAME_PLACE_MM &&
          facesOn(this.basis.solid.faces, surface).length > 0
            ? [stepOf(name)]
            : [],
        ),
      );
    return [bounds.min[axis], bounds.max[axis]].some((at) => stepsAt(at).size > 1);
  }

  private changeOf(part: VariedPart): number {
    return changeMm({ solid: this.basis.solid, samples: this.samples }, part);
  }

  /**
   * The part with one number varied: to the side on which it keeps its faces. Where bodies touch, a gap opens to one side,
   * and to the other nothing changes.
   */
  private varied(variable: Variable): VariedPart | null {
    return (
      this.keepingFaces([{ variable, steps: 1 }]) ??
      this.variations.with([{ variable, steps: 1 }]) ??
      this.variations.with([{ variable, steps: -1 }])
    );
  }

  /** Whether an angle turns all that is not round about its axis: no reader can tell, and no check needs to. */
  private onlyTurns({ argument: { role } }: Variable, { surfaces }: VariedPart): boolean {
    return role === 'angle' && turnsAsWhole(this.samples, surfaces, this.basis.solid.faces.length);
  }

  /** What cuts across the whole part changes it only when it is made smaller, or larger: it then leaves a wall. */
  private otherWay(variable: Variable): readonly Column[] {
    return [-1, 1]
      .flatMap((steps) => {
        const part = this.variations.with([{ variable, steps }]);
        const change = part === null ? 0 : this.changeOf(part);
        return part === null || change < MOVED_MM / 4 ? [] : [{ variable, part, changeMm: change, isOneSided: true }];
      })
      .slice(0, 1);
  }

  /** One number varied, where its variation alone changed the faces. */
  private changingFaces(changes: Changes): VariedPart | null {
    const [change, ...more] = changes;
    const column = this.columns.find(({ variable }) => variable === change?.variable);
    const isOther = column !== undefined && column.part.solid.faces.length !== this.basis.solid.faces.length;
    return isOther && more.length === 0 ? column.part : null;
  }

  /** A variation to either side, as long as the part has the same faces; what is counted may have others. */
  private keepingFaces(changes: Changes): VariedPart | null {
    const faces = this.basis.solid.faces.length;
    const isCount = changes.some(({ variable }) => variable.argument.role === 'count');
    for (const sign of [1, -1]) {
      const part = this.variations.with(changes.map((change) => ({ ...change, steps: sign * change.steps })));
      if (part !== null && (part.solid.faces.length === faces || isCount)) return part;
    }
    return null;
  }

  /** The part with several numbers varied, where it changes; built once for all plans that are asked about. */
  private combined(changes: Changes): Combination['changed'] {
    const key = changes
      .map(({ variable: { argument }, steps }) => `${argument.stepId}/${argument.path.join('/')} ${steps.toFixed(3)}`)
      .join('\n');
    const known = this.combinations.get(key);
    if (known !== undefined) return known.changed;
    const part = this.changingFaces(changes) ?? this.keepingFaces(changes);
    const changeMm = part === null ? 0 : this.changeOf(part);
    const changed = part === null || changeMm < MOVED_MM ? null : { part, changeMm };
    this.combinations.set(key, { changed });
    return changed;
  }

  private seen(reference: Reference, own: Values, notes: readonly string[]): readonly Seen[] {
    const { solid, surfaces } = this.basis;
    const conventions = this.believed(conventionsOf({ solid, surfaces, samples: this.samples }, notes));
    const settled = conventions.filter(({ name }) => NEEDS_NO_CHECK.has(name));
    const callouts = chamferAngles(this.samples, reference.targets.flatMap(chamferOf), boxDiagonal(solid.bounds) / 2);
    const joined = conventions.filter(({ name }) => name === 'one-face');
    const [byDrawing, byItself, byCallouts, byJoint] = [conventions, settled, callouts, joined].map((list) => {
      const rests = list.map(({ values }) => values(surfaces, solid));
      return ({ part, changeMm: change }: Column): readonly number[] =>
        list.flatMap(({ values }, k) => {
          const now = values(part.surfaces, part.solid);
          return (rests[k] ?? []).map((rest, n) => ((now[n] ?? rest) - rest) / change);
        });
    });
    return this.columns.map((column) => ({
      ...column,
      byChecks: measuredOn(reference, column.part.solid).map((value, k) => {
        const before = own[k] ?? null;
        return value === null || before === null ? Number(value !== before) : (value - before) / column.changeMm;
      }),
      byDrawing: byDrawing?.(column) ?? [],
      byItself: byItself?.(column) ?? [],
      byCallouts: byCallouts?.(column) ?? [],
      showsFaces:
        column.isOneSided ||
        (column.part.solid.faces.length !== solid.faces.length &&
          (byJoint?.(column) ?? []).every((change) => Math.abs(change) < SAME_PLACE_MM)),
    }));
  }

  /** Of what a drawing would say by where things lie, what still holds when a letter changes: the rest holds by chance. */
  private believed(conventions: readonly Convention[]): readonly Convention[] {
    const { solid, surfaces } = this.basis;
    const others = this.partsWithOtherLetters();
    return conventions.filter(
      ({ name, values }) =>
        !BY_PLACE.has(name) ||
        others.every((other) => {
          const then = values(other.surfaces, other.solid);
          return values(surfaces, solid).every((rest, n) => Math.abs((then[n] ?? rest) - rest) < SAME_PLACE_MM);
        }),
    );
  }

  /** Builds a combination that looks free; it is, when the part changes and what was asked does not. */
  private confirmed(
    shares: readonly number[],
    columns: readonly Column[],
    {
      reference,
      own,
      asked,
    }: { readonly reference: Reference; readonly own: Values; readonly asked: readonly number[] },
  ): readonly Freedom[] {
    const main = columns[shares.findLastIndex((share) => share !== 0)];
    if (main === undefined) return [];
    // Shares are per mm of change of each: a change of all together that is as large as one step of the first.
    const changes = columns.flatMap(({ variable, changeMm: change }, k): Changes => {
      const share = shares[k] ?? 0;
      return share === 0 ? [] : [{ variable, steps: (share * main.changeMm) / change }];
    });
    const combined = this.combined(changes);
    if (combined === null) return [];
    const { part, changeMm: change } = combined;
    const now = measuredOn(reference, part.solid);
    const shows = asked.some((k) => {
      const [value, before] = [now[k] ?? null, own[k] ?? null];
      return value === null || before === null ? value !== before : Math.abs(value - before) > change / 10;
    });
    return shows ? [] : [{ variable: main.variable, changes, changeMm: change, part }];
  }
}

const RANKS: readonly (readonly string[])[] = [
  ['width', 'diameter'],
  ['depth', 'hole-depth'],
  ['radius', 'chamfer'],
  ['position', 'offset', 'spacing'],
  ['angle'],
  ['count'],
];
const rankOf = ({ argument }: Variable): number => RANKS.findIndex((roles) => roles.includes(argument.role));
