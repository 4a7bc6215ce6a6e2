import * as v from 'valibot';

import { CheckSchema, TypedValueNameSchema } from '#core/check';
import { ExpressionSchema, LengthUnitSchema } from '#core/quantity';
import { BuildRuleSchema, RecipeSchema } from '#core/recipe';

import { SheetSettingsSchema } from './sheet.ts';

const IdSchema = v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]{0,39}$/));
const LabelSchema = v.pipe(v.string(), v.minLength(1), v.maxLength(80));

/** The material with the density that this exercise uses: the same name differs between programs. */
export const ExerciseMaterialSchema = v.strictObject({
  id: IdSchema,
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
  densityGPerCm3: v.pipe(v.number(), v.minValue(0.01), v.maxValue(30)),
  /** Where the density comes from. */
  source: v.pipe(v.string(), v.maxLength(120)),
});
export type ExerciseMaterial = Readonly<v.InferOutput<typeof ExerciseMaterialSchema>>;

/** Values of letters; letters that are not named keep that of the recipe. */
const ValuesSchema = v.record(v.pipe(v.string(), v.regex(/^[A-Za-z][A-Za-z0-9_]{0,19}$/)), ExpressionSchema);
const VariantSchema = v.strictObject({
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(20)),
  values: ValuesSchema,
});
export type Variant = Readonly<v.InferOutput<typeof VariantSchema>>;

/** The same part again with changed letters or more steps, asked for after the one before. */
const StageSchema = v.strictObject({
  title: LabelSchema,
  brief: v.pipe(v.string(), v.maxLength(500)),
  values: ValuesSchema,
  /** Steps that are switched off in the part and that this stage, and those after it, add. */
  adds: v.optional(v.pipe(v.array(v.string()), v.maxLength(60), v.readonly())),
});
export type ExerciseStage = Readonly<v.InferOutput<typeof StageSchema>>;

/** A model file that is the reference in place of a recipe. */
export const ModelFileSchema = v.strictObject({
  sha256: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)),
  fileName: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  /** What its numbers are in, as the author confirmed; null until then. */
  unit: v.nullable(LengthUnitSchema),
});
export type ModelFile = Readonly<v.InferOutput<typeof ModelFileSchema>>;

/** How measurements become points. */
export const ScoringSchema = v.strictObject({
  /** A deviation up to this many tolerances still earns part of the points. */
  partialReach: v.pipe(v.number(), v.minValue(1), v.maxValue(100)),
  /** Weight of each typed value; 0 reports it without points. */
  typedValueWeight: v.pipe(v.number(), v.minValue(0), v.maxValue(1000)),
  /** Highest score, in percent, of a model that is not one closed body. */
  notOneBodyCap: v.pipe(v.number(), v.minValue(0), v.maxValue(100)),
  /** What merely follows from a mistake whose cause was found earns its points. */
  rootCauseOnce: v.optional(v.boolean()),
  /** Weight of each build rule that could be judged; 0, or nothing said, reports them without points. */
  ruleWeight: v.optional(v.pipe(v.number(), v.minValue(0), v.maxValue(1000))),
  /** Checks that must be right: a score with one of them wrong is not higher than this. */
  gates: v.optional(
    v.pipe(
      v.array(v.strictObject({ checkId: IdSchema, most: v.pipe(v.number(), v.minValue(0), v.maxValue(100)) })),
      v.maxLength(20),
      v.readonly(),
    ),
  ),
  /** Step of the score, 0.1 where nothing is said. */
  roundTo: v.optional(v.picklist([0.1, 0.5, 1, 5])),
});

/** How much is asked of a student, the easiest first. */
export const LevelSchema = v.picklist(['introduction', 'basic', 'intermediate', 'advanced']);

export const EXERCISE_VERSION = 3;
export const ExerciseSchema = v.pipe(
  v.strictObject({
    format: v.literal('zorvet-exercise'),
    version: v.literal(EXERCISE_VERSION),
    number: v.pipe(v.string(), v.minLength(1), v.maxLength(20)),
    title: v.pipe(v.string(), v.minLength(1), v.maxLength(80)),
    level: LevelSchema,
    brief: v.pipe(v.string(), v.maxLength(1000)),
    recipe: RecipeSchema,
    /** The reference part itself, where it was not built here. */
    model: v.optional(ModelFileSchema),
    material: ExerciseMaterialSchema,
    /** How the sheet is drawn. */
    sheet: v.optional(SheetSettingsSchema),
    /** Where the origin is and how the part lies, in words, for the student. */
    origin: v.pipe(v.string(), v.maxLength(200)),
    projection: v.picklist(['first-angle', 'third-angle']),
    /** Decimals of lengths on the sheet and in reports. */
    decimals: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(4)),
    notes: v.pipe(v.array(v.pipe(v.string(), v.maxLength(2000))), v.maxLength(12), v.readonly()),
    checks: v.pipe(v.array(CheckSchema), v.maxLength(200), v.readonly()),
    variants: v.pipe(v.array(VariantSchema), v.maxLength(200), v.readonly()),
    stages: v.pipe(v.array(StageSchema), v.maxLength(4), v.readonly()),
    rules: v.pipe(v.array(BuildRuleSchema), v.maxLength(40), v.readonly()),
    typedValues: v.pipe(v.array(TypedValueNameSchema), v.readonly()),
    /** How often students make a kind of mistake, beside what is usual; 0 is never. Kinds that are not named are usual. */
    likelihoods: v.optional(v.record(IdSchema, v.pipe(v.number(), v.minValue(0), v.maxValue(10)))),
    scoring: ScoringSchema,
  }),
  v.check((exercise) => new Set(exercise.checks.map((c) => c.id)).size === exercise.checks.length, 'check ids repeat'),
  v.check(
    (exercise) => new Set(exercise.variants.map(({ name }) => name)).size === exercise.variants.length,
    'variant names repeat',
  ),
  v.check(
    ({ recipe, variants, stages }) =>
      [...variants, ...stages].every(({ values }) =>
        Object.keys(values).every((name) => recipe.parameters.some((parameter) => parameter.name === name)),
      ),
    'a variant or stage gives a value to a letter that the part does not have',
  ),
  v.check(
    ({ recipe, stages }) =>
      stages.every(({ adds }) => (adds ?? []).every((id) => recipe.steps.some((step) => step.id === id))),
    'a stage adds a step that the part does not have',
  ),
  v.check(
    ({ recipe, model, variants }) => model === undefined || (recipe.steps.length === 0 && variants.length === 0),
    'a part is either built by steps or read from a file, and a file has no variants',
  ),
  v.readonly(),
);
export type Exercise = v.InferOutput<typeof ExerciseSchema>;

/** A file that is kept beside the document of an exercise. */
export const FileOfExerciseSchema = v.object({ sha256: v.string(), fileName: v.string() });
export type FileOfExercise = Readonly<v.InferOutput<typeof FileOfExerciseSchema>>;

/** Files that belong to an exercise beside its document, by their SHA-256: model file, uploaded drawing and its pages. */
export const filesOf = ({ model, sheet }: Pick<Exercise, 'model' | 'sheet'>): readonly FileOfExercise[] => [
  ...(model === undefined ? [] : [model]),
  ...(sheet?.drawing === undefined
    ? []
    : [
        sheet.drawing,
        ...sheet.drawing.pages.map(({ sha256 }, i) => ({ sha256, fileName: `drawing-page-${String(i + 1)}.png` })),
      ]),
];

/** The path and text of the first thing that is wrong with a document, for people. */
export function describeIssues(issues: readonly v.BaseIssue<unknown>[]): string {
  const [first] = issues;
  if (first === undefined) return 'unknown fault';
  const path = v.getDotPath(first);
  return path === null ? first.message : `${path}: ${first.message}`;
}
