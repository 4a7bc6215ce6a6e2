import * as v from 'valibot';

import {
  BuildRuleSchema,
  groupOf,
  CHECK_GROUPS,
  HoleSizeSchema,
  TypedValueNameSchema,
  type Check,
  type Exercise,
  type Tolerance,
} from '#core/exercise';
import { FEATURE_KINDS, featuresOf, findHoles } from '#core/feature';
import { massOf } from '#core/material';
import { attempt, ProblemError, type Result } from '#core/problem';
import { evaluateExpression, LENGTH_UNITS, DrawingUnitSchema, type Scope } from '#core/quantity';
import { facesOn, type NamedSurfaces } from '#core/recipe';
import { SolidSchema, Vec3Schema, type Solid, type Surface } from '#core/solid';
import { symmetricAxes, type Mat3, type Vec3 } from '#core/vector';

const FaceIdsSchema = v.pipe(v.array(v.number()), v.readonly());

const common = { checkId: v.string(), label: v.string(), group: v.picklist(CHECK_GROUPS), weight: v.number() };
/** `nominal` and `tolerance` in mm, degrees, mm2, mm3 or g. */
const scalar = {
  ...common,
  nominal: v.number(),
  tolerance: v.number(),
  /** Signed limits of the deviation where they differ; `tolerance` is then the larger of the two. */
  limits: v.optional(v.pipe(v.object({ lower: v.number(), upper: v.number() }), v.readonly())),
};
const dimension = {
  ...scalar,
  /** The nominal as the check plan writes it, for working out what follows from a wrong size. */
  expression: v.string(),
};

/** A check with its expressions evaluated and its surfaces found on the reference. */
export const TargetSchema = v.variant('kind', [
  v.object({ ...dimension, kind: v.literal('distance'), fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema }),
  /** One list of faces for each of the rounds that share the dimension. */
  v.object({ ...dimension, kind: v.literal('diameter'), members: v.pipe(v.array(FaceIdsSchema), v.readonly()) }),
  v.object({ ...dimension, kind: v.literal('radius'), members: v.pipe(v.array(FaceIdsSchema), v.readonly()) }),
  v.object({ ...dimension, kind: v.literal('hole-position'), faceIds: FaceIdsSchema, fromFaceIds: FaceIdsSchema }),
  v.object({
    ...dimension,
    kind: v.literal('center-distance'),
    fromFaceIds: FaceIdsSchema,
    toFaceIds: FaceIdsSchema,
    along: v.optional(v.picklist([0, 1, 2])),
  }),
  v.object({ ...dimension, kind: v.literal('thickness'), fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema }),
  /** Nominal and tolerance in degrees. */
  v.object({ ...dimension, kind: v.literal('angle'), fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema }),
  v.object({ ...dimension, kind: v.literal('hole-size'), faceIds: FaceIdsSchema, size: HoleSizeSchema }),
  v.object({ ...dimension, kind: v.literal('countersink-angle'), faceIds: FaceIdsSchema }),
  /** Faces of the chamfer, and of the surface that it is measured on. */
  v.object({ ...dimension, kind: v.literal('chamfer-size'), faceIds: FaceIdsSchema, onFaceIds: FaceIdsSchema }),
  v.object({ ...dimension, kind: v.literal('bolt-circle'), members: v.pipe(v.array(FaceIdsSchema), v.readonly()) }),
  v.object({ ...scalar, kind: v.literal('concentric'), fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema }),
  v.object({ ...scalar, kind: v.literal('flush'), fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema }),
  v.object({ ...dimension, kind: v.literal('overall-size'), axis: v.picklist([0, 1, 2]) }),
  v.object({ ...scalar, kind: v.literal('hole-count'), diameterMm: v.number(), faceIds: FaceIdsSchema }),
  v.object({ ...scalar, kind: v.literal('feature-count'), feature: v.picklist(FEATURE_KINDS) }),
  v.object({ ...common, kind: v.literal('presence'), faceIds: FaceIdsSchema }),
  v.object({ ...common, kind: v.literal('symmetric'), axis: v.picklist([0, 1, 2]) }),
  /** Measured as the largest deviation of one of the three, in percent. */
  v.object({ ...scalar, kind: v.literal('principal-moments'), momentsMm5: Vec3Schema }),
  v.object({ ...scalar, kind: v.literal('volume') }),
  v.object({ ...scalar, kind: v.literal('area') }),
  v.object({ ...scalar, kind: v.literal('mass') }),
  v.object({
    ...common,
    kind: v.literal('center-of-mass'),
    nominalPoint: Vec3Schema,
    tolerance: v.number(),
    /** `file`, also where nothing is said: as the file has it; `part`: after the part was laid onto the reference. */
    frame: v.optional(v.picklist(['file', 'part'])),
  }),
  v.object({ ...common, kind: v.literal('single-body') }),
  v.object({ ...common, kind: v.literal('no-needless-edges') }),
  v.object({ ...common, kind: v.literal('unit') }),
  v.object({ ...common, kind: v.literal('frame') }),
  /** In g/cm3. */
  v.object({ ...scalar, kind: v.literal('material') }),
]);
export type Target = Readonly<v.InferOutput<typeof TargetSchema>>;

/** All that measuring and grading need of the reference: plain data, made once for each revision. */
export const ReferenceSchema = v.object({
  solid: SolidSchema,
  targets: v.pipe(v.array(TargetSchema), v.readonly()),
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

/**
 * Prepares the reference of an exercise: evaluates the check plan and ties every check to faces of the solid.
 * Refuses with `check-anchor` when a surface of a check is not on the part, and with the problems of expressions.
 */
export function prepareReference(
  exercise: Exercise,
  solid: Solid,
  surfaces: NamedSurfaces,
  scope: Scope,
): Result<Reference> {
  return attempt(() => {
    const { material } = exercise;
    const context = { exercise, solid, surfaces, scope, density: material.densityGPerCm3 };
    return {
      solid,
      targets: exercise.checks.filter(({ off }) => off !== true).map((check) => targetOf(check, context)),
      unit: exercise.recipe.unit,
      scope: { ...scope },
      decimals: exercise.decimals,
      materialId: material.id,
      densityGPerCm3: material.densityGPerCm3,
      rules: exercise.rules,
      typedValues: exercise.typedValues,
    };
  });
}

/** Of faces that lie in one plane, such as the sides of two slots, those where the named surface itself begins. */
function nearest(solid: Solid, faceIds: number[], surface: Surface | undefined): number[] {
  if (surface?.kind !== 'plane' || faceIds.length < 2) return faceIds;
  const holding = faceIds.filter((id) => {
    const bounds = solid.faces[id]?.bounds;
    return (
      bounds &&
      ([0, 1, 2] as const).every(
        (axis) =>
          surface.origin[axis] > bounds.min[axis] - ON_FACE_MM && surface.origin[axis] < bounds.max[axis] + ON_FACE_MM,
      )
    );
  });
  return holding.length > 0 ? holding : faceIds;
}

const ON_FACE_MM = 1e-3;

const AXES = { x: 0, y: 1, z: 2 } as const;

/** The three principal moments of inertia, the smallest first. */
export function principalMoments(inertiaMm5: Mat3): Vec3 {
  const [a, b, c] = symmetricAxes(inertiaMm5).map(({ value }) => value);
  return [a ?? 0, b ?? 0, c ?? 0];
}

interface Context {
  readonly exercise: Exercise;
  readonly solid: Solid;
  readonly surfaces: NamedSurfaces;
  readonly scope: Scope;
  readonly density: number;
}

function targetOf(check: Check, context: Context): Target {
  const { solid } = context;
  const number = (expression: string): number => {
    const value = evaluateExpression(expression, context.scope, context.exercise.recipe.unit);
    if (!value.ok) throw new ProblemError(value.problem.code, `Check "${check.label}": ${value.problem.message}`);
    return value.value;
  };
  const lengthMm = (expression: string): number => number(expression) * LENGTH_UNITS[context.exercise.recipe.unit];
  const faceIds = (name: string): number[] => {
    const surface = context.surfaces.get(name);
    const found = surface === undefined ? [] : facesOn(solid.faces, surface);
    if (found.length === 0)
      throw new ProblemError('check-anchor', `Check "${check.label}": the surface "${name}" is not on the part.`);
    return nearest(solid, found, surface);
  };
  const base = {
    checkId: check.id,
    label: check.label,
    group: check.group ?? groupOf(check.kind),
    weight: check.weight,
  };
  const percent = (nominal: number, tolerancePercent: number) => ({
    ...base,
    nominal,
    tolerance: Math.abs(nominal) * (tolerancePercent / 100),
  });
  const limited = (tolerance: Tolerance, convert: (expression: string) => number) => {
    if (typeof tolerance === 'string') return { tolerance: convert(tolerance) };
    const limits = { lower: convert(tolerance.lower), upper: convert(tolerance.upper) };
    if (limits.upper < limits.lower)
      throw new ProblemError('bad-tolerance', `Check "${check.label}": the upper deviation lies below the lower one.`);
    return { tolerance: Math.max(Math.abs(limits.lower), Math.abs(limits.upper)), limits };
  };
  const sized = (sizes: { nominal: string; tolerance: Tolerance }) => ({
    ...base,
    expression: sizes.nominal,
    nominal: lengthMm(sizes.nominal),
    ...limited(sizes.tolerance, lengthMm),
  });
  const angular = (sizes: { nominal: string; tolerance: Tolerance }) => ({
    ...base,
    expression: sizes.nominal,
    nominal: number(sizes.nominal),
    ...limited(sizes.tolerance, number),
  });
  const refusal = (what: string): ProblemError => new ProblemError('check-anchor', `Check "${check.label}": ${what}`);
  // For triangles, what the part would have if its facets were the round surfaces that they stand for.
  const { volumeMm3, areaMm2, centroidMm } = solid.estimate;
  switch (check.kind) {
    case 'distance':
    case 'thickness':
      return { ...sized(check), kind: check.kind, fromFaceIds: faceIds(check.from), toFaceIds: faceIds(check.to) };
    case 'center-distance':
      return {
        ...sized(check),
        kind: check.kind,
        fromFaceIds: faceIds(check.from),
        toFaceIds: faceIds(check.to),
        ...(check.along === undefined ? {} : { along: AXES[check.along] }),
      };
    case 'angle':
      return { ...angular(check), kind: check.kind, fromFaceIds: faceIds(check.from), toFaceIds: faceIds(check.to) };
    case 'concentric':
    case 'flush':
      return {
        ...base,
        kind: check.kind,
        nominal: 0,
        tolerance: lengthMm(check.tolerance),
        fromFaceIds: faceIds(check.from),
        toFaceIds: faceIds(check.to),
      };
    case 'hole-size':
    case 'countersink-angle': {
      const walls = faceIds(check.of);
      if (!findHoles(solid).some((hole) => hole.faceIds.some((id) => walls.includes(id))))
        throw refusal(`"${check.of}" is not the wall of a round hole.`);
      return check.kind === 'hole-size'
        ? { ...sized(check), kind: check.kind, faceIds: walls, size: check.size }
        : { ...angular(check), kind: check.kind, faceIds: walls };
    }
    case 'chamfer-size': {
      const [on, to] = [faceIds(check.on), faceIds(check.to)];
      const chamfer = featuresOf(solid, 'chamfer').find(
        ({ onFaceIds: [a, b] }) => (on.includes(a) && to.includes(b)) || (on.includes(b) && to.includes(a)),
      );
      if (chamfer === undefined) throw refusal(`there is no chamfer between "${check.on}" and "${check.to}".`);
      return { ...sized(check), kind: check.kind, faceIds: chamfer.faceIds, onFaceIds: on };
    }
    case 'bolt-circle':
      if (check.of.length < 3) throw refusal('a bolt circle needs at least three holes.');
      return { ...sized(check), kind: check.kind, members: check.of.map(faceIds) };
    case 'feature-count':
      return { ...base, kind: check.kind, nominal: number(check.nominal), tolerance: 0, feature: check.feature };
    case 'presence':
      return { ...base, kind: check.kind, faceIds: faceIds(check.of) };
    case 'symmetric':
      return { ...base, kind: check.kind, axis: AXES[check.axis] };
    case 'principal-moments':
      return {
        ...base,
        kind: check.kind,
        nominal: 0,
        tolerance: check.tolerancePercent,
        momentsMm5: principalMoments(solid.massProperties.inertiaMm5),
      };
    case 'no-needless-edges':
    case 'unit':
    case 'frame':
      return { ...base, kind: check.kind };
    case 'material':
      return { ...percent(context.density, check.tolerancePercent), kind: check.kind };
    case 'diameter':
    case 'radius':
      return { ...sized(check), kind: check.kind, members: check.of.map(faceIds) };
    case 'hole-position':
      return { ...sized(check), kind: check.kind, faceIds: faceIds(check.of), fromFaceIds: faceIds(check.from) };
    case 'overall-size':
      return { ...sized(check), kind: check.kind, axis: AXES[check.axis] };
    case 'hole-count': {
      const walls = faceIds(check.like);
      const like = findHoles(solid).find((hole) => hole.faceIds.some((id) => walls.includes(id)));
      if (like === undefined)
        throw new ProblemError(
          'check-anchor',
          `Check "${check.label}": "${check.like}" is not the wall of a round hole.`,
        );
      const alike = findHoles(solid).filter((hole) => Math.abs(hole.diameterMm - like.diameterMm) < 1e-4);
      return {
        ...base,
        kind: check.kind,
        nominal: number(check.nominal),
        tolerance: 0,
        diameterMm: like.diameterMm,
        faceIds: alike.flatMap((hole) => hole.faceIds),
      };
    }
    case 'volume':
      return { ...percent(volumeMm3, check.tolerancePercent), kind: check.kind };
    case 'area':
      return { ...percent(areaMm2, check.tolerancePercent), kind: check.kind };
    case 'mass':
      return { ...percent(massOf(volumeMm3, context.density), check.tolerancePercent), kind: check.kind };
    case 'center-of-mass':
      return {
        ...base,
        kind: check.kind,
        nominalPoint: centroidMm,
        tolerance: lengthMm(check.tolerance),
        frame: context.exercise.checks.some(({ kind }) => kind === 'frame') ? 'part' : 'file',
      };
    case 'single-body':
      return { ...base, kind: check.kind };
  }
}
