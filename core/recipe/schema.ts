import * as v from 'valibot';

import { DrawingUnitSchema } from '#core/quantity';

/** An expression of the parameters in the drawing unit, such as "A/2 - 7.5" or "1 3/4". Angles are in degrees. */
export const ExpressionSchema = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(200));

const NameSchema = v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]{0,39}$/, 'lower case letters, digits and dashes'));
/** A surface named by step and role, such as "base.end" or "bores.2.wall". */
export const SurfaceNameSchema = v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]*(\.[a-z0-9-]+){1,3}$/));

const PointSchema = v.pipe(v.tuple([ExpressionSchema, ExpressionSchema]), v.readonly());

/** Where a step draws: a base plane, moved along its normal, or a flat surface of an earlier step. */
const PlaneSchema = v.union([
  v.strictObject({ base: v.picklist(['XY', 'XZ', 'YZ']), offset: v.optional(ExpressionSchema) }),
  v.strictObject({ surface: SurfaceNameSchema }),
]);
export type PlaneReference = v.InferOutput<typeof PlaneSchema>;

const OutlineSchema = v.variant('shape', [
  v.strictObject({
    shape: v.literal('rectangle'),
    /** Middle of the rectangle. */
    center: PointSchema,
    width: ExpressionSchema,
    height: ExpressionSchema,
  }),
  v.strictObject({ shape: v.literal('circle'), center: PointSchema, diameter: ExpressionSchema }),
  v.strictObject({
    shape: v.literal('slot'),
    center: PointSchema,
    /** Over the round ends. */
    length: ExpressionSchema,
    width: ExpressionSchema,
    /** Of the long direction, from u. */
    angle: v.optional(ExpressionSchema),
  }),
  v.strictObject({
    shape: v.literal('path'),
    start: PointSchema,
    segments: v.pipe(
      v.array(
        v.variant('move', [
          v.strictObject({ move: v.literal('line'), to: PointSchema }),
          v.strictObject({ move: v.literal('arc'), through: PointSchema, to: PointSchema }),
        ]),
      ),
      v.minLength(2),
      v.maxLength(200),
      v.readonly(),
    ),
  }),
]);
export type Outline = v.InferOutput<typeof OutlineSchema>;

const ExtentSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('depth'), depth: ExpressionSchema }),
  /** Half of the depth to each side of the plane. */
  v.strictObject({ kind: v.literal('symmetric'), depth: ExpressionSchema }),
  v.strictObject({ kind: v.literal('through') }),
]);

const ModeSchema = v.picklist(['add', 'cut']);

const PlacementSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('points'), points: v.pipe(v.array(PointSchema), v.minLength(1), v.readonly()) }),
  v.strictObject({
    kind: v.literal('bolt-circle'),
    center: PointSchema,
    diameter: ExpressionSchema,
    count: ExpressionSchema,
    startAngle: v.optional(ExpressionSchema),
  }),
]);

/** Edges where two named surfaces meet. */
const EdgeSelectorSchema = v.strictObject({
  between: v.pipe(v.tuple([SurfaceNameSchema, SurfaceNameSchema]), v.readonly()),
});
export type EdgeSelector = v.InferOutput<typeof EdgeSelectorSchema>;

const common = { id: NameSchema, label: v.optional(v.pipe(v.string(), v.maxLength(120))) };

export const StepSchema = v.variant('op', [
  v.strictObject({
    ...common,
    op: v.literal('extrude'),
    mode: ModeSchema,
    plane: PlaneSchema,
    outlines: v.pipe(v.array(OutlineSchema), v.minLength(1), v.readonly()),
    extent: ExtentSchema,
  }),
  v.strictObject({
    ...common,
    op: v.literal('revolve'),
    mode: ModeSchema,
    plane: PlaneSchema,
    outline: OutlineSchema,
    /** The turning axis is the u or the v axis of the plane. */
    axis: v.picklist(['u', 'v']),
  }),
  v.strictObject({
    ...common,
    op: v.literal('hole'),
    plane: PlaneSchema,
    at: PlacementSchema,
    diameter: ExpressionSchema,
    depth: v.variant('kind', [
      v.strictObject({ kind: v.literal('through') }),
      v.strictObject({ kind: v.literal('blind'), depth: ExpressionSchema }),
    ]),
    counterbore: v.optional(v.strictObject({ diameter: ExpressionSchema, depth: ExpressionSchema })),
  }),
  v.strictObject({
    ...common,
    op: v.literal('fillet'),
    radius: ExpressionSchema,
    edges: v.pipe(v.array(EdgeSelectorSchema), v.minLength(1), v.readonly()),
  }),
  v.strictObject({
    ...common,
    op: v.literal('chamfer'),
    size: ExpressionSchema,
    edges: v.pipe(v.array(EdgeSelectorSchema), v.minLength(1), v.readonly()),
  }),
]);
export type Step = Readonly<v.InferOutput<typeof StepSchema>>;
export type StepOf<Op extends Step['op']> = Extract<Step, { op: Op }>;

const ParameterSchema = v.strictObject({
  name: v.pipe(v.string(), v.regex(/^[A-Za-z][A-Za-z0-9_]{0,19}$/)),
  value: ExpressionSchema,
  label: v.optional(v.pipe(v.string(), v.maxLength(80))),
});

export const RecipeSchema = v.pipe(
  v.strictObject({
    format: v.literal('zorvet-recipe'),
    version: v.literal(1),
    name: v.pipe(v.string(), v.minLength(1), v.maxLength(80)),
    unit: DrawingUnitSchema,
    parameters: v.pipe(v.array(ParameterSchema), v.maxLength(60), v.readonly()),
    steps: v.pipe(v.array(StepSchema), v.minLength(1), v.maxLength(100), v.readonly()),
  }),
  v.check((recipe) => new Set(recipe.steps.map((step) => step.id)).size === recipe.steps.length, 'step ids repeat'),
  v.readonly(),
);
/** How a part is built: parameters and build steps. */
export type Recipe = v.InferOutput<typeof RecipeSchema>;
