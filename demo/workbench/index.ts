/**
 * A simulated student: rebuilds the part of an exercise with a chosen mistake, reads the numbers off the result, and
 * writes the STEP file as a modeling program would.
 */
import type { TypedValueName } from '#core/check';
import type { Exercise } from '#core/exercise';
import { RecipeBuilder, type Built, type Recipe, type Step } from '#core/recipe';
import type { TypedInput } from '#core/grade';
import type { Kernel, Shape } from '#core/kernel';
import { findMaterial, massOf } from '#core/material';
import { applyEdits, mistakesOf, type Mistake } from '#core/mistake';
import type { MistakeKind } from '#core/cause';
import { attempt, ProblemError, unwrap, type Result } from '#core/problem';
import { formatFixed, LENGTH_UNITS, MASS_UNITS, propertyUnits, VOLUME_UNITS } from '#core/quantity';
import type { MassProperties } from '#core/solid';
import { IDENTITY, type Mat3, type Vec3 } from '#core/vector';

export { LOG_STYLES, logLikeStudent, type LogStyle } from './log.ts';

export type Slip =
  | { readonly kind: 'none' }
  /** Mistakes of the catalogue: of each kind, the one at a place (from 0) in the list of the part. */
  | { readonly kind: 'of-catalogue'; readonly mistakes: readonly (readonly [kind: MistakeKind, place?: number])[] }
  /** Built in a turned or mirrored frame. */
  | { readonly kind: 'wrong-plane' }
  | { readonly kind: 'wrong-hand' }
  /** The value of the radius went into a field for the diameter; in one hole only where `hole` (from 1) is given. */
  | { readonly kind: 'radius-for-diameter'; readonly step: string; readonly hole?: number }
  | { readonly kind: 'one-forgotten'; readonly step: string; readonly hole: number }
  | { readonly kind: 'size-wrong'; readonly parameter: string; readonly value: string }
  /** The numbers of the sheet typed in a model that is set to the other unit. */
  | { readonly kind: 'unit-swapped' }
  | { readonly kind: 'wrong-material'; readonly material: string }
  /** In the drawing unit. */
  | { readonly kind: 'origin-shifted'; readonly by: Vec3 };

export interface HandIn {
  readonly step: Uint8Array;
  readonly typed: readonly TypedInput[];
}

type HoleStep = Extract<Step, { op: 'hole' }>;

/** Rebuilds the part with the mistake. Refuses when the recipe has no such step, hole or parameter. */
export function modelLikeStudent(kernel: Kernel, exercise: Exercise, mistake: Slip): Result<HandIn> {
  return attempt(() => {
    const { built, recipe } = builtWith(kernel, exercise, mistake);
    const factor = LENGTH_UNITS[recipe.unit];
    const shape = placed(kernel, built.shape, mistake, factor);
    try {
      const material = mistake.kind === 'wrong-material' ? findMaterial(mistake.material) : exercise.material;
      return {
        step: signed(kernel.writeStep(shape, recipe.unit, exercise.title)),
        typed: readOff(exercise, kernel.massProperties(shape), material?.densityGPerCm3 ?? 1),
      };
    } finally {
      built.shape.free();
      shape.free();
    }
  });
}

/** The part as the student builds it. */
function builtWith(
  kernel: Kernel,
  exercise: Exercise,
  mistake: Slip,
): { readonly recipe: Recipe; readonly built: Built } {
  const builder = new RecipeBuilder(kernel);
  try {
    const recipe =
      mistake.kind === 'of-catalogue'
        ? fromCatalogue(kernel, builder, exercise, mistake.mistakes)
        : withMistake(exercise.recipe, mistake);
    return { recipe, built: unwrap(builder.build(recipe)) };
  } finally {
    builder.free();
  }
}

function placed(kernel: Kernel, shape: Shape, mistake: Slip, factor: number): Shape {
  switch (mistake.kind) {
    case 'origin-shifted':
      return kernel.moved(shape, IDENTITY, [mistake.by[0] * factor, mistake.by[1] * factor, mistake.by[2] * factor]);
    case 'wrong-plane':
      return kernel.moved(shape, UPRIGHT, [0, 0, 0]);
    case 'wrong-hand':
      return kernel.moved(shape, REFLECTED, [0, 0, 0]);
    default:
      return shape;
  }
}

/** A quarter turn about x, and a reflection along x. */
const UPRIGHT: Mat3 = [
  [1, 0, 0],
  [0, 0, -1],
  [0, 1, 0],
];
const REFLECTED: Mat3 = [
  [-1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** The part with mistakes of the catalogue; of a kind, those that give no part, or the right one, are passed over. */
function fromCatalogue(
  kernel: Kernel,
  builder: RecipeBuilder,
  exercise: Exercise,
  wanted: Extract<Slip, { kind: 'of-catalogue' }>['mistakes'],
): Recipe {
  const all = mistakesOf(exercise);
  const measured = (recipe: Recipe): readonly number[] | null => {
    const built = builder.build(recipe);
    if (!built.ok) return null;
    const { volumeMm3, areaMm2, centroidMm } = kernel.massProperties(built.value.shape);
    built.value.shape.free();
    return [volumeMm3, areaMm2, ...centroidMm];
  };
  const right = measured(exercise.recipe);
  const changesPart = ({ edits }: Mistake): boolean => {
    const edited = applyEdits(exercise.recipe, edits);
    const wrong = edited.ok ? measured(edited.value) : null;
    return wrong?.some((value, i) => Math.abs(value - (right?.[i] ?? 0)) > 1e-6 * (1 + Math.abs(value))) === true;
  };
  const edits = wanted.flatMap(([kind, place = 0]) => {
    let left = place;
    const mistake = all.find((one) => one.kind === kind && changesPart(one) && left-- === 0);
    if (mistake === undefined)
      throw new ProblemError('no-such-mistake', `The part has no mistake ${String(place)} of the kind "${kind}".`);
    return mistake.edits;
  });
  return unwrap(applyEdits(exercise.recipe, edits));
}

type RecipeSlip = Exclude<Slip, { kind: 'of-catalogue' }>;

function withMistake(recipe: Recipe, mistake: RecipeSlip): Recipe {
  switch (mistake.kind) {
    case 'none':
    case 'wrong-plane':
    case 'wrong-hand':
    case 'wrong-material':
    case 'origin-shifted':
      return recipe;
    case 'unit-swapped':
      return { ...recipe, unit: recipe.unit === 'mm' ? 'in' : 'mm' };
    case 'size-wrong':
      return {
        ...recipe,
        parameters: recipe.parameters.map((parameter) =>
          parameter.name === mistake.parameter ? { ...parameter, value: mistake.value } : parameter,
        ),
      };
    case 'radius-for-diameter':
      return onHoles(recipe, mistake.step, (step) => {
        const halved = `(${step.diameter})/2`;
        if (mistake.hole === undefined) return [{ ...step, diameter: halved }];
        const { kept, taken } = splitHoles(step, mistake.hole);
        return [
          { ...step, at: { kind: 'points', points: kept } },
          { ...step, id: `${step.id}-odd`, diameter: halved, at: { kind: 'points', points: [taken] } },
        ];
      });
    case 'one-forgotten':
      return onHoles(recipe, mistake.step, (step) => {
        const { kept } = splitHoles(step, mistake.hole);
        return kept.length === 0 ? [] : [{ ...step, at: { kind: 'points', points: kept } }];
      });
  }
}

function onHoles(recipe: Recipe, id: string, change: (step: HoleStep) => Step[]): Recipe {
  if (!recipe.steps.some((step) => step.id === id && step.op === 'hole'))
    throw new ProblemError('no-such-step', `The recipe has no hole step "${id}".`);
  return {
    ...recipe,
    steps: recipe.steps.flatMap((step) => (step.id === id && step.op === 'hole' ? change(step) : [step])),
  };
}

type Point = readonly [string, string];

function splitHoles(step: HoleStep, hole: number): { readonly kept: Point[]; readonly taken: Point } {
  if (step.at.kind === 'concentric')
    throw new ProblemError('no-such-hole', `The holes of "${step.id}" have no points of their own.`);
  const points = step.at.kind === 'points' ? [...step.at.points] : onCircle(step.at);
  const taken = points[hole - 1];
  if (taken === undefined) throw new ProblemError('no-such-hole', `The step "${step.id}" has no hole ${String(hole)}.`);
  return { kept: points.filter((point) => point !== taken), taken };
}

function onCircle(at: Extract<HoleStep['at'], { kind: 'bolt-circle' }>): Point[] {
  const count = Number(at.count);
  return Array.from({ length: count }, (_, i): Point => {
    const angle = `(${at.startAngle ?? '0'}) + ${String((360 * i) / count)}`;
    return [
      `(${at.center[0]}) + (${at.diameter})/2*cos(${angle})`,
      `(${at.center[1]}) + (${at.diameter})/2*sin(${angle})`,
    ];
  }).filter((_, i) => !at.skip?.includes(i + 1));
}

/** The numbers as a properties window shows them: in the drawing unit, to a usual number of digits. */
function readOff(exercise: Exercise, properties: MassProperties, densityGPerCm3: number): TypedInput[] {
  const units = propertyUnits(exercise.recipe.unit);
  const value = (name: TypedValueName): readonly [string, string] => {
    switch (name) {
      case 'mass':
        return [
          formatFixed(
            massOf(properties.volumeMm3, densityGPerCm3) / MASS_UNITS[units.mass],
            units.mass === 'g' ? 2 : 4,
          ),
          units.mass,
        ];
      case 'volume':
        return [
          formatFixed(properties.volumeMm3 / VOLUME_UNITS[units.volume], units.volume === 'mm³' ? 2 : 4),
          units.volume,
        ];
      default: {
        const axis = ({ x: 0, y: 1, z: 2 } as const)[name];
        const decimals = units.length === 'mm' ? 3 : 4;
        return [formatFixed(properties.centroidMm[axis] / LENGTH_UNITS[units.length], decimals), units.length];
      }
    }
  };
  return exercise.typedValues.map((name) => {
    const [text, unit] = value(name);
    return { name, text, unit };
  });
}

/** Names the simulated program in the header, as every exporter does. */
function signed(step: Uint8Array): Uint8Array {
  const text = new TextDecoder('latin1').decode(step);
  return Uint8Array.from(
    text.replace(/'Open CASCADE [^']*'/g, "'Saltmarsh training workbench'"),
    (character) => character.charCodeAt(0) & 0xff,
  );
}
