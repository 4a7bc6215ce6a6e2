import { AXIS_WORDS } from '#core/chain';
import {
  checkFromSurfaces,
  freeCheckId,
  isOnSheet,
  kindOf,
  measureInPlace,
  prepareReference,
  subjectOf,
  usualTolerance,
  type Check,
  type CheckKind,
} from '#core/check';
import type { Exercise } from '#core/exercise';
import { circleCover } from '#core/feature';
import { writtenAs, type PlanBasis } from '#core/plan';
import { operationOf, type Field, type NumberRole, type Step } from '#core/recipe';
import { directionOf, type Solid, type Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE, SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
import { cross, dot, length, subtract, type Vec3 } from '#core/vector';

import type { DeterminacyStudy, Freedom } from './determine.ts';
import { displacementMm, shiftMm, type Sampled } from './displacement.ts';

/** What is open, in words, the faces that it is about, and the check that would settle it. */
export interface OpenSize {
  /** "the place of Bolts along X", "the thickness of Rib": after "Nothing on the sheet says". */
  readonly what: string;
  /** Faces of the part that move. */
  readonly faceIds: readonly number[];
  /** A dimension that says it; null where no kind of check measures it. */
  readonly proposal: Check | null;
}

/** A share of the largest movement from which on a face moves with it, and one below which it stays. */
const [MOVES, STAYS] = [0.2, 0.02] as const;
const AXES = [0, 1, 2] as const;

interface Moved {
  readonly sample: Sampled;
  readonly then: Surface;
  readonly byMm: number;
}

/** The part as drawn, and with one letter changed in each of the others. */
interface Known {
  readonly basis: PlanBasis;
  readonly others: readonly PlanBasis[];
  readonly samples: readonly Sampled[];
}

/** Says what a freedom leaves open. */
function openSizeOf(freedom: Freedom, known: Known): OpenSize {
  const { basis, samples } = known;
  const all = samples.flatMap((sample): Moved[] => {
    const then = freedom.part.surfaces.get(sample.name);
    const byMm = displacementMm(sample, then);
    return then === undefined || !Number.isFinite(byMm) ? [] : [{ sample, then, byMm }];
  });
  const most = Math.max(0, ...all.map(({ byMm }) => byMm));
  const { stepId } = freedom.variable.argument;
  const moved = all
    .filter(({ byMm }) => byMm > MOVES * most)
    .sort((a, b) => Number(isOf(b, stepId)) - Number(isOf(a, stepId)) || b.byMm - a.byMm);
  const still = all.filter(({ byMm }) => byMm < STAYS * most).map(({ sample }) => sample);
  return {
    what: wordsFor(freedom, basis.exercise, moved[0]),
    faceIds: moved.flatMap(({ sample }) => sample.faceIds),
    proposal: proposalFor(freedom, known, { moved, still }),
  };
}

const stepOf = (name: string): string => name.split('.')[0] ?? name;
const isOf = ({ sample }: Moved, stepId: string): boolean => stepOf(sample.name) === stepId;

function labelOf(step: Step | undefined, id: string): string {
  if (step?.label !== undefined) return step.label;
  const words = id.replace(/[-_]+/g, ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

const PLACES: ReadonlySet<NumberRole> = new Set(['position', 'offset', 'spacing']);
const SIZES: ReadonlySet<NumberRole> = new Set(['width', 'depth']);

/** The axis of the part along which something moves, where it moves along one. */
function mainAxis(shift: Vec3): 0 | 1 | 2 | null {
  const [axis = 0] = [...AXES].sort((a, b) => Math.abs(shift[b]) - Math.abs(shift[a]));
  return Math.abs(shift[axis]) < SAME_PLACE_MM ? null : axis;
}

function wordsFor({ variable: { argument } }: Freedom, exercise: Exercise, main: Moved | undefined): string {
  const step = exercise.recipe.steps.find(({ id }) => id === argument.stepId);
  const label = labelOf(step, argument.stepId);
  const shift = main === undefined ? null : shiftMm(main.sample.surface, main.then);
  if (argument.role === 'count') return `the number of ${label}`;
  if (argument.role === 'angle') return `the angle of ${label}`;
  if (main !== undefined && PLACES.has(argument.role) && isTurned(main.sample.surface, main.then))
    return `the angle and the place of ${surfaceWords(main.sample.name, label)}`;
  const axis = shift === null ? null : mainAxis(shift);
  if (axis !== null && PLACES.has(argument.role))
    return `the place of ${surfaceWords(main?.sample.name ?? '', label)} along ${AXIS_WORDS[axis]}`;
  if (axis !== null && main?.sample.surface.kind === 'plane' && SIZES.has(argument.role))
    return `the size of ${label} along ${AXIS_WORDS[axis]}`;
  const field = step === undefined ? null : fieldLabel(operationOf(step.op).form, argument.path);
  return `the ${field ?? ROLE_WORDS[argument.role]} of ${label}`;
}

const ROLE_WORDS: Readonly<Record<NumberRole, string>> = {
  diameter: 'diameter',
  radius: 'radius',
  chamfer: 'size',
  width: 'width',
  depth: 'depth',
  'hole-depth': 'depth',
  offset: 'offset',
  spacing: 'spacing',
  position: 'place',
  angle: 'angle',
  count: 'number',
};

/** "Bolts 2" for "bolts.2.wall": the feature with its number, and the side of it where it has several flat ones. */
function surfaceWords(name: string, label: string): string {
  const [, ...roles] = name.split('.');
  const words = roles.filter((role) => role !== 'wall').join(' ');
  return words === '' ? label : /^\d+$/.test(words) ? `${label} ${words}` : `${label} (${words})`;
}

/** A surface as a check on it is called: "Bolts 2", "Foot upper". */
const surfaceLabel = (name: string, steps: readonly Step[]): string => {
  const label = labelOf(
    steps.find(({ id }) => id === stepOf(name)),
    stepOf(name),
  );
  return surfaceWords(name, label).replace(/[()]/g, '');
};

/** How the form of a step calls one of its numbers. */
function fieldLabel(form: readonly Field[], path: readonly (string | number)[]): string | null {
  for (const field of form) {
    if (field.path.length > path.length || field.path.some((part, i) => part !== path[i])) continue;
    const rest = path.slice(field.path.length);
    if (rest.length === 0) return field.label.toLowerCase();
    if (field.kind === 'choice')
      for (const { fields } of field.choices) {
        const inner = fieldLabel(fields, rest);
        if (inner !== null) return inner;
      }
  }
  return null;
}

interface Sides {
  readonly moved: readonly Moved[];
  readonly still: readonly Sampled[];
}

/** The first check, of those that could, that measures the change; one that is planned but not on the sheet before others. */
function proposalFor(freedom: Freedom, { basis, others }: Known, sides: Sides): Check | null {
  const { exercise } = basis;
  const there = new Set(exercise.checks.filter(isOnSheet).map(subjectOf));
  const hidden = exercise.checks.filter((check) => check.off !== true && !isOnSheet(check));
  const ideas = [...hidden, ...ideasFor(exercise, basis.solid, sides)].filter((check) => !there.has(subjectOf(check)));
  for (const idea of ideas) {
    const [now, then] = [measuredBy(idea, basis, basis.solid), measuredBy(idea, basis, freedom.part.solid)];
    if (now === null || then === null || now < SAME_PLACE_MM) continue;
    const reach = kindOf(idea.kind).quantity === 'angle' ? 1e-3 : freedom.changeMm / 4;
    if (Math.abs(then - now) < reach) continue;
    if (hidden.includes(idea)) return { ...idea, onSheet: true } as Check;
    return { ...idea, nominal: nominalFor(now, idea, basis, others) } as Check;
  }
  return null;
}

function measuredBy(
  check: Check,
  { exercise, solid, surfaces, scope }: PlanBasis,
  on: PlanBasis['solid'],
): number | null {
  const reference = prepareReference({ ...exercise, checks: [check] }, solid, surfaces, scope);
  return reference.ok ? (measureInPlace(reference.value, on)[0]?.measured ?? null) : null;
}

const MOST_IDEAS = 40;

/** Checks on what moves, from what stays: sizes before places, and places from the nearest parallel face. */
function ideasFor({ decimals, checks, recipe }: Exercise, solid: Solid, { moved, still }: Sides): readonly Check[] {
  const taken = new Set(checks.map(({ id }) => id));
  const tolerance = usualTolerance(decimals);
  const idea = (kind: CheckKind, names: readonly string[], label: string): Check =>
    checkFromSurfaces(kind, names, { id: freeCheckId(label, taken), label, tolerance, weight: 1 });
  return moved
    .flatMap(({ sample, then }): Check[] => {
      const { name, surface } = sample;
      const words = surfaceLabel(name, recipe.steps);
      const found: Check[] = [];
      if (surface.kind === 'cylinder' && then.kind === 'cylinder' && surface.radiusMm !== then.radiusMm) {
        // An arc of less than half a turn is dimensioned by its radius.
        const kinds: readonly CheckKind[] = isHalfTurn(sample, solid) ? ['diameter', 'radius'] : ['radius', 'diameter'];
        found.push(...kinds.map((kind) => idea(kind, [name], `${words} ${kind}`)));
      }
      const shift = shiftMm(surface, then);
      for (const [on, from] of edgesOf(sample, still, solid))
        found.push(
          idea(
            'edge-distance',
            [name, on.name, from.name],
            `Edge of ${words} and ${surfaceLabel(on.name, recipe.steps)} from ${surfaceLabel(from.name, recipe.steps)}`,
          ),
        );
      if (isTurned(surface, then))
        for (const other of still.filter(({ surface: one }) => leans(one, surface)))
          found.push(idea('angle', [other.name, name], `Angle of ${words}`));
      else
        for (const other of nearestFirst(sample, still)) {
          const label = `${words} from ${surfaceLabel(other.name, recipe.steps)}`;
          if (surface.kind === 'plane') found.push(idea('distance', [other.name, name], label));
          else if (other.surface.kind === 'cylinder') found.push(idea('center-distance', [other.name, name], label));
          else if (
            other.surface.kind === 'plane' &&
            shift !== null &&
            Math.abs(dot(shift, other.surface.normal)) > SAME_PLACE_MM
          )
            found.push(idea('hole-position', [name, other.name], label));
        }
      return found;
    })
    .slice(0, MOST_IDEAS);
}

function isTurned(from: Surface, to: Surface): boolean {
  const [a, b] = [directionOf(from), directionOf(to)];
  return a !== null && b !== null && length(cross(a, b)) > BUILT_PARALLEL_SINE;
}

const isHalfTurn = ({ faceIds }: Sampled, solid: Solid): boolean =>
  faceIds.reduce((cover, id) => cover + (solid.faces[id] ? circleCover(solid, solid.faces[id]) : 0), 0) >= 0.5;

/** Edges of a slanting face with faces that stay, each with flat faces that stay and that the edge runs along. */
function edgesOf(
  { surface, faceIds }: Sampled,
  still: readonly Sampled[],
  solid: Solid,
): readonly (readonly [on: Sampled, from: Sampled])[] {
  const isSlanting =
    surface.kind === 'cone' ||
    (surface.kind === 'plane' && AXES.every((i) => Math.abs(surface.normal[i]) < SAME_DIRECTION_COSINE));
  if (!isSlanting) return [];
  const meets = (other: Sampled): boolean =>
    solid.edges.some(
      (edge) =>
        edge.faceIds.some((id) => faceIds.includes(id)) && edge.faceIds.some((id) => other.faceIds.includes(id)),
    );
  const flat = still.filter(({ surface: one }) => one.kind === 'plane');
  return flat.filter(meets).flatMap((on) =>
    flat
      .filter(({ surface: one }) => {
        const [a, b] = [directionOf(one), directionOf(on.surface)];
        return a !== null && b !== null && Math.abs(dot(a, b)) < BUILT_PARALLEL_SINE;
      })
      .map((from) => [on, from] as const),
  );
}

/** Whether a face lies so that an angle to it is one that a view shows. */
function leans(from: Surface, to: Surface): boolean {
  const [a, b] = [directionOf(from), directionOf(to)];
  const cosine = a === null || b === null ? 1 : Math.abs(dot(a, b));
  return from.kind === 'plane' && cosine > 0.05 && cosine < SAME_DIRECTION_COSINE;
}

/** What a face or axis could be measured from: parallel faces, then axes, the nearest first. */
function nearestFirst({ surface }: Sampled, still: readonly Sampled[]): readonly Sampled[] {
  const own = directionOf(surface);
  const at = surface.kind === 'plane' || surface.kind === 'cylinder' ? surface.origin : null;
  if (own === null || at === null) return [];
  return still
    .flatMap((other) => {
      const direction = directionOf(other.surface);
      if (direction === null || (other.surface.kind !== 'plane' && other.surface.kind !== 'cylinder')) return [];
      const isFlat = other.surface.kind === 'plane';
      const cosine = Math.abs(dot(own, direction));
      const fits =
        isFlat === (surface.kind === 'plane') ? cosine > SAME_DIRECTION_COSINE : cosine < BUILT_PARALLEL_SINE;
      const apart = isFlat ? Math.abs(dot(subtract(at, other.surface.origin), direction)) : 1e6;
      return fits ? [{ other, apart }] : [];
    })
    .sort((a, b) => a.apart - b.apart)
    .map(({ other }) => other);
}

/** A measured length as it follows from the letters, or any other value as a number. */
function nominalFor(measured: number, check: Check, basis: PlanBasis, others: readonly PlanBasis[]): string {
  if (kindOf(check.kind).quantity !== 'length') return String(Number(measured.toFixed(4)));
  const values = others.map((other) => measuredBy(check, other, other.solid) ?? undefined);
  return writtenAs(measured, values, basis, others);
}

/** What the sheet does not say, and what no check that says where would notice; the same words once. */
export interface OpenSizes {
  readonly undetermined: readonly OpenSize[];
  readonly unchecked: readonly OpenSize[];
  /** Checks that the sheet needs: each says what no other does. */
  readonly needed: readonly string[];
}

/** Asks a study about a plan, in words. Refuses as `DeterminacyStudy.determine` does. */
export function openSizesOf(study: DeterminacyStudy, basis: PlanBasis): OpenSizes {
  const { undetermined, unchecked, needed } = study.determine(basis.exercise);
  const isOpen = undetermined.length + unchecked.length > 0;
  const known = { basis, others: isOpen ? study.withOtherLetters(basis.exercise) : [], samples: study.samples };
  const inWords = (freedoms: readonly Freedom[]): readonly OpenSize[] => {
    const sizes = freedoms.map((freedom) => openSizeOf(freedom, known));
    return sizes.filter(({ what }, i) => sizes.findIndex((other) => other.what === what) === i);
  };
  return { undetermined: inWords(undetermined), unchecked: inWords(unchecked), needed: [...needed] };
}
