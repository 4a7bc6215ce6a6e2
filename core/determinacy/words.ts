import { AXIS_WORDS } from '#core/chain';
import type { Check } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { PlanBasis } from '#core/plan';
import { operationOf, type Field, type NumberRole, labelOf, stepOfSurface as stepOf, surfaceWords } from '#core/recipe';
import { SAME_PLACE_MM } from '#core/tolerance';
import type { Vec3 } from '#core/vector';

import type { DeterminacyStudy, Freedom } from './determine.ts';
import { displacementMm, shiftMm } from './displacement.ts';
import { isTurned, type Moved } from './ideas.ts';
import { proposalFor, type Asked, type Known } from './propose.ts';

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

/** Says what a freedom leaves open. */
function openSizeOf(freedom: Freedom, known: Known, asked: Asked): OpenSize {
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
    proposal: proposalFor(freedom, known, { moved, still, isTurn: freedom.variable.argument.role === 'angle' }, asked),
  };
}

const isOf = ({ sample }: Moved, stepId: string): boolean => stepOf(sample.name) === stepId;

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
  const inWords = (freedoms: readonly Freedom[], asked: Asked): readonly OpenSize[] => {
    const sizes = freedoms.map((freedom) => openSizeOf(freedom, known, asked));
    return sizes.filter(({ what }, i) => sizes.findIndex((other) => other.what === what) === i);
  };
  return {
    undetermined: inWords(undetermined, 'to say'),
    unchecked: inWords(unchecked, 'to check'),
    needed: [...needed],
  };
}
