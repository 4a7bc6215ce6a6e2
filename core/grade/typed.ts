import * as v from 'valibot';

import { type Measurement, type Reference, TypedValueNameSchema, type TypedValueName } from '#core/check';
import { massOf, MATERIALS, UNSET_DENSITY_G_PER_CM3 } from '#core/material';
import { attempt, ProblemError, type Result } from '#core/problem';
import { parseTyped, type QuantityKind } from '#core/quantity';
import type { Vec3 } from '#core/vector';

import type { TypedLine } from './report.ts';

export const TypedInputSchema = v.strictObject({
  name: TypedValueNameSchema,
  text: v.pipe(v.string(), v.trim(), v.maxLength(60)),
  unit: v.pipe(v.string(), v.maxLength(8)),
});
/** A number as the student typed it, and the unit chosen beside it. */
export type TypedInput = Readonly<v.InferOutput<typeof TypedInputSchema>>;

export const TYPED_LABELS: Readonly<Record<TypedValueName, string>> = {
  mass: 'Mass',
  volume: 'Volume',
  x: 'Center of mass X',
  y: 'Center of mass Y',
  z: 'Center of mass Z',
};

/** What a typed number measures: a mass, a volume, or a coordinate of the center of mass. */
export const quantityOf = (name: TypedValueName): QuantityKind =>
  name === 'mass' ? 'mass' : name === 'volume' ? 'volume' : 'length';

/** Refuses the first typed number that cannot be read; the sentence names its field. */
export function checkTyped(inputs: readonly TypedInput[]): Result<readonly TypedInput[]> {
  return attempt(() => {
    const given = inputs.filter((input) => input.text !== '');
    for (const input of given) {
      const parsed = parseTyped(input.text, quantityOf(input.name), input.unit);
      if (!parsed.ok)
        throw new ProblemError(parsed.problem.code, `${TYPED_LABELS[input.name]}: ${parsed.problem.message}`);
      if ((input.name === 'mass' || input.name === 'volume') && parsed.value.value <= 0)
        throw new ProblemError('not-positive', `${TYPED_LABELS[input.name]} must be greater than zero.`);
    }
    return given;
  });
}

/** A typed number belongs to a file when it agrees with it to this share, or to the last digit that was typed. */
const OF_FILE_SHARE = 2e-4;
const OF_FILE_LENGTH_MM = 0.01;

const AXIS: Readonly<Partial<Record<TypedValueName, 0 | 1 | 2>>> = { x: 0, y: 1, z: 2 };

function toleranceOf(name: TypedValueName, reference: Reference): number {
  const kind = name === 'mass' || name === 'volume' ? name : 'center-of-mass';
  const target = reference.targets.find((candidate) => candidate.kind === kind);
  if (target !== undefined && 'tolerance' in target) return target.tolerance;
  const { volumeMm3 } = reference.solid.massProperties;
  if (name === 'volume') return volumeMm3 * 0.005;
  return name === 'mass' ? massOf(volumeMm3, reference.densityGPerCm3) * 0.005 : 0.1;
}

function valueOf(
  name: TypedValueName,
  properties: { readonly volumeMm3: number; readonly centroidMm: Vec3 },
  density: number,
): number {
  const axis = AXIS[name];
  if (axis !== undefined) return properties.centroidMm[axis];
  return name === 'volume' ? properties.volumeMm3 : massOf(properties.volumeMm3, density);
}

/** What of a measured model its typed numbers are compared with. */
export type OwnNumbers = Pick<Measurement, 'estimate'>;

/**
 * Whether a typed number is true of the student's own file, whose volume weighs `densityGPerCm3`; nothing of the reference
 * is in it. `value` is null where the text is no number.
 */
export function typedOfFile(
  input: TypedInput,
  own: OwnNumbers,
  densityGPerCm3: number,
): Pick<TypedLine, 'value' | 'unit' | 'file' | 'ofFile'> & { readonly resolution: number } {
  const { estimate } = own;
  const parsed = parseTyped(input.text, quantityOf(input.name), input.unit);
  const file = valueOf(input.name, estimate, densityGPerCm3);
  if (!parsed.ok) return { value: null, unit: input.unit, file, ofFile: 'no', resolution: 0 };
  const { value, resolution, unit } = parsed.value;
  const open =
    quantityOf(input.name) === 'length'
      ? OF_FILE_LENGTH_MM + estimate.centroidUncertaintyMm
      : Math.abs(file) * (OF_FILE_SHARE + estimate.volumeUncertaintyMm3 / estimate.volumeMm3);
  const belongs = Math.abs(value - file) <= Math.max(resolution * 1.001, open);
  const isOther = input.name === 'mass' && densityFor(value, resolution, own) !== null;
  return { value, unit, file, ofFile: belongs ? 'yes' : isOther ? 'other-material' : 'no', resolution };
}

/**
 * Judges the typed numbers twice: against the reference, and against the file they came with. A number that is wanted
 * and was not typed has an empty text.
 */
export function judgeTyped(
  inputs: readonly TypedInput[],
  reference: Reference,
  measurement: OwnNumbers,
  weight: number,
): TypedLine[] {
  return reference.typedValues.map((name) => {
    const input = inputs.find((candidate) => candidate.name === name) ?? { name, text: '', unit: '' };
    const right = valueOf(name, reference.solid.massProperties, reference.densityGPerCm3);
    const { resolution, ...own } = typedOfFile(input, measurement, reference.densityGPerCm3);
    const isRight =
      own.value !== null && Math.abs(own.value - right) <= toleranceOf(name, reference) + resolution * 1e-3;
    return { name, text: input.text, reference: right, weight, override: null, matchesReference: isRight, ...own };
  });
}

/** The material whose density turns the volume of the file into the typed mass, if one does. */
export function densityFor(
  massG: number,
  resolutionG: number,
  measurement: OwnNumbers,
): { readonly name: string; readonly densityGPerCm3: number } | null {
  const { volumeMm3 } = measurement.estimate;
  const candidates = [...MATERIALS, { name: 'no material (1 g/cm³)', densityGPerCm3: UNSET_DENSITY_G_PER_CM3 }];
  const found = candidates.find(({ densityGPerCm3 }) => {
    const mass = massOf(volumeMm3, densityGPerCm3);
    return Math.abs(massG - mass) <= Math.max(resolutionG, mass * 1e-3);
  });
  return found ?? null;
}
