import * as v from 'valibot';

import { featuresOf, findHoles } from '#core/feature';
import { attempt, ProblemError, type Result } from '#core/problem';
import { DrawingUnitSchema, evaluateExpression, LENGTH_UNITS, type DrawingUnit, type Scope } from '#core/quantity';
import { BuildRuleSchema, facesOn, type BuildRule, type NamedSurfaces } from '#core/recipe';
import { SolidSchema, type Solid, type Surface } from '#core/solid';
import { SAME_PLACE_MM } from '#core/tolerance';

import { isOnSheet } from './ask.ts';
import type { Tolerance } from './entries.ts';
import type { PrepareContext } from './kind.ts';
import { kindOf, TargetSchema, type Check, type Target } from './kinds/index.ts';
import { TypedValueNameSchema, type TypedValueName } from './typed-value.ts';

/** References that were stored by earlier programs call the quality of the model its hygiene. */
const StoredTargetSchema = v.pipe(
  v.looseObject({ group: v.string() }),
  v.transform((target) => (target.group === 'hygiene' ? { ...target, group: 'model-quality' } : target)),
  TargetSchema,
);

/** All that measuring and grading need of the reference: plain data, made once for each revision. */
export const ReferenceSchema = v.object({
  solid: SolidSchema,
  targets: v.pipe(v.array(StoredTargetSchema), v.readonly()),
  unit: DrawingUnitSchema,
  /** Values of the parameters in the drawing unit. */
  scope: v.record(v.string(), v.number()),
  decimals: v.number(),
  materialId: v.string(),
  densityGPerCm3: v.number(),
  rules: v.optional(v.pipe(v.array(BuildRuleSchema), v.readonly()), []),
  /** Numbers that the student is asked to type. */
  typedValues: v.pipe(v.array(TypedValueNameSchema), v.readonly()),
});
export type Reference = Readonly<v.InferOutput<typeof ReferenceSchema>>;

/** What an exercise says of how its part is checked. */
export interface CheckedPart {
  readonly checks: readonly Check[];
  readonly recipe: { readonly unit: DrawingUnit };
  readonly material: { readonly id: string; readonly densityGPerCm3: number };
  readonly decimals: number;
  readonly rules: readonly BuildRule[];
  readonly typedValues: readonly TypedValueName[];
}

/**
 * Prepares the reference of an exercise: evaluates the check plan and ties every check to faces of the solid.
 * Refuses with `check-anchor` when a surface of a check is not on the part, with `bad-tolerance` where limits are the wrong
 * way round, and with the problems of expressions.
 */
export function prepareReference(
  part: CheckedPart,
  solid: Solid,
  surfaces: NamedSurfaces,
  scope: Scope,
): Result<Reference> {
  return attempt(() => {
    const { material, checks } = part;
    const source = { part, solid, surfaces, scope };
    return {
      solid,
      targets: checks.filter(({ off }) => off !== true).map((check) => targetOf(check, source)),
      unit: part.recipe.unit,
      scope: { ...scope },
      decimals: part.decimals,
      materialId: material.id,
      densityGPerCm3: material.densityGPerCm3,
      rules: part.rules,
      typedValues: part.typedValues,
    };
  });
}

interface Source {
  readonly part: CheckedPart;
  readonly solid: Solid;
  readonly surfaces: NamedSurfaces;
  readonly scope: Scope;
}

function targetOf(check: Check, source: Source): Target {
  const definition = kindOf(check.kind);
  return {
    checkId: check.id,
    label: check.label,
    group: groupOf(check),
    weight: check.weight,
    ...(isOnSheet(check) ? {} : { offSheet: true }),
    ...definition.prepare(check, contextOf(check, source)),
    kind: check.kind,
  } as Target;
}

/** The group that a check is shown and weighed in. */
export const groupOf = ({ kind, group }: Pick<Check, 'kind' | 'group'>): Target['group'] => group ?? kindOf(kind).group;

function contextOf(check: Check, { part, solid, surfaces, scope }: Source): PrepareContext {
  const { unit } = part.recipe;
  const refuse = (what: string): never => {
    throw new ProblemError('check-anchor', `Check "${check.label}": ${what}`);
  };
  const number = (expression: string): number => {
    const value = evaluateExpression(expression, scope, unit);
    if (!value.ok) throw new ProblemError(value.problem.code, `Check "${check.label}": ${value.problem.message}`);
    return value.value;
  };
  const lengthMm = (expression: string): number => number(expression) * LENGTH_UNITS[unit];
  const limited = (tolerance: Tolerance, convert: (expression: string) => number) => {
    if (typeof tolerance === 'string') return { tolerance: convert(tolerance) };
    const limits = { lower: convert(tolerance.lower), upper: convert(tolerance.upper) };
    if (limits.upper < limits.lower)
      throw new ProblemError('bad-tolerance', `Check "${check.label}": the upper deviation lies below the lower one.`);
    return { tolerance: Math.max(Math.abs(limits.lower), Math.abs(limits.upper)), limits };
  };
  const valued =
    (convert: (expression: string) => number): PrepareContext['size'] =>
    ({ nominal, tolerance }) => ({
      expression: nominal,
      nominal: convert(nominal),
      ...limited(tolerance, convert),
    });
  const named = (name: string): readonly number[] => {
    const surface = surfaces.get(name);
    return surface === undefined ? [] : nearest(solid, facesOn(solid.faces, surface), surface);
  };
  return {
    solid,
    densityGPerCm3: part.material.densityGPerCm3,
    checksFrame: part.checks.some(({ kind }) => kind === 'frame'),
    number,
    lengthMm,
    faceIds: (name) => {
      const found = named(name);
      return found.length === 0 ? refuse(`the surface "${name}" is not on the part.`) : found;
    },
    named,
    checks: part.checks,
    holes: () => findHoles(solid),
    chamfers: () => featuresOf(solid, 'chamfer'),
    size: valued(lengthMm),
    angle: valued(number),
    property: (nominal, tolerancePercent) => ({
      nominal,
      tolerance: Math.abs(nominal) * (tolerancePercent / 100),
    }),
    refuse,
  };
}

/** Of faces that lie in one plane, such as the sides of two slots, those where the named surface itself begins. */
function nearest(solid: Solid, faceIds: readonly number[], surface: Surface | undefined): readonly number[] {
  if (surface?.kind !== 'plane' || faceIds.length < 2) return faceIds;
  const { origin } = surface;
  const holding = faceIds.filter((id) => {
    const bounds = solid.faces[id]?.bounds;
    return (
      bounds &&
      ([0, 1, 2] as const).every(
        (axis) => origin[axis] > bounds.min[axis] - SAME_PLACE_MM && origin[axis] < bounds.max[axis] + SAME_PLACE_MM,
      )
    );
  });
  return holding.length > 0 ? holding : faceIds;
}
