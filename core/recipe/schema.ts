import * as v from 'valibot';

import { OutlineSchema, PointSchema } from '#core/outline';
import { DrawingUnitSchema, ExpressionSchema } from '#core/quantity';

const NameSchema = v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]{0,39}$/, 'lower case letters, digits and dashes'));
/** A surface named by step and role, such as "base.end" or "bores.2.wall". */
export const SurfaceNameSchema = v.pipe(v.string(), v.maxLength(120), v.regex(/^[a-z][a-z0-9-]*(\.[a-z0-9-]+){1,8}$/));
const SurfaceNamesSchema = v.pipe(v.array(SurfaceNameSchema), v.minLength(1), v.maxLength(100), v.readonly());

/** A point of the part, x, y, z. */
const SpacePointSchema = v.pipe(v.tuple([ExpressionSchema, ExpressionSchema, ExpressionSchema]), v.readonly());

const offset = { offset: v.optional(ExpressionSchema) };
/** Where a step draws: a base plane, a flat surface of an earlier step, or a plane made by a step; moved along its normal. */
export const PlaneSchema = v.union([
  v.strictObject({ base: v.picklist(['XY', 'XZ', 'YZ']), ...offset }),
  v.strictObject({ surface: SurfaceNameSchema, ...offset }),
  v.strictObject({ plane: NameSchema, ...offset }),
]);
export type PlaneReference = v.InferOutput<typeof PlaneSchema>;

/** A direction with a place: an axis of the part, of a round surface, or made by a step. */
export const AxisSchema = v.union([
  v.strictObject({ base: v.picklist(['X', 'Y', 'Z']) }),
  v.strictObject({ surface: SurfaceNameSchema }),
  v.strictObject({ axis: NameSchema }),
]);
export type AxisReference = v.InferOutput<typeof AxisSchema>;

const OutlinesSchema = v.pipe(v.array(OutlineSchema), v.minLength(1), v.maxLength(60), v.readonly());

const ExtentSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('depth'), depth: ExpressionSchema }),
  /** Half of the depth to each side of the plane. */
  v.strictObject({ kind: v.literal('symmetric'), depth: ExpressionSchema }),
  /** `depth` the usual way, `back` the other. */
  v.strictObject({ kind: v.literal('two-sided'), depth: ExpressionSchema, back: ExpressionSchema }),
  v.strictObject({ kind: v.literal('through') }),
  v.strictObject({ kind: v.literal('to-next') }),
  v.strictObject({ kind: v.literal('to-surface'), surface: SurfaceNameSchema, offset: v.optional(ExpressionSchema) }),
]);
export type Extent = v.InferOutput<typeof ExtentSchema>;

const ModeSchema = v.picklist(['add', 'cut']);
export type Mode = v.InferOutput<typeof ModeSchema>;

const SkipSchema = v.optional(
  v.pipe(v.array(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(400))), v.readonly()),
);

const PlacementSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('points'), points: v.pipe(v.array(PointSchema), v.minLength(1), v.readonly()) }),
  v.strictObject({
    kind: v.literal('bolt-circle'),
    center: PointSchema,
    diameter: ExpressionSchema,
    count: ExpressionSchema,
    startAngle: v.optional(ExpressionSchema),
    /** Positions without a hole, from 1. */
    skip: SkipSchema,
  }),
  /** On the axes of round surfaces that are square to the plane. */
  v.strictObject({ kind: v.literal('concentric'), with: SurfaceNamesSchema }),
]);

const HoleDepthSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('through') }),
  /** Through the first wall only. */
  v.strictObject({ kind: v.literal('wall') }),
  v.strictObject({
    kind: v.literal('blind'),
    /** Of the round wall. */
    depth: ExpressionSchema,
    bottom: v.optional(v.picklist(['flat', 'drill-point'])),
    /** Whole angle of the drill point, 118 where nothing is said. */
    pointAngle: v.optional(ExpressionSchema),
  }),
]);

/** Designation of a thread such as "M8x1.25" or "3/8-16". The part is modeled without it. */
const ThreadSchema = v.strictObject({
  designation: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(30)),
  fit: v.optional(v.pipe(v.string(), v.maxLength(10))),
  /** As long as the wall where nothing is said. */
  length: v.optional(ExpressionSchema),
});

const EdgeSelectorSchema = v.union([
  /** Where two named surfaces meet. */
  v.strictObject({ between: v.pipe(v.tuple([SurfaceNameSchema, SurfaceNameSchema]), v.readonly()) }),
  /** All around a surface. */
  v.strictObject({ around: SurfaceNameSchema, joint: v.optional(v.picklist(['convex', 'concave'])) }),
  /** The edge that passes nearest to a point of the part. */
  v.strictObject({ near: SpacePointSchema }),
  /** Straight edges along an axis of the part; with `count`, any other number of them refuses. */
  v.strictObject({
    along: v.picklist(['x', 'y', 'z']),
    joint: v.optional(v.picklist(['convex', 'concave'])),
    count: v.optional(ExpressionSchema),
  }),
  /** Every edge of the part, save those of some surfaces. */
  v.strictObject({
    every: v.picklist(['convex', 'concave', 'edge']),
    except: v.optional(SurfaceNamesSchema),
  }),
]);
export type EdgeSelector = v.InferOutput<typeof EdgeSelectorSchema>;
const EdgesSchema = v.pipe(v.array(EdgeSelectorSchema), v.minLength(1), v.maxLength(100), v.readonly());

const common = {
  id: NameSchema,
  label: v.optional(v.pipe(v.string(), v.maxLength(120))),
  /** A step that is switched off is left out. */
  off: v.optional(v.boolean()),
};
const StepsSchema = v.pipe(v.array(NameSchema), v.minLength(1), v.maxLength(60), v.readonly());
const copying = { ...common, steps: StepsSchema, skip: SkipSchema };

export const StepSchema = v.variant('op', [
  v.strictObject({
    ...common,
    op: v.literal('extrude'),
    mode: ModeSchema,
    plane: PlaneSchema,
    outlines: OutlinesSchema,
    extent: ExtentSchema,
    /** Material is added along the normal and cut against it; reversed the other way. */
    reversed: v.optional(v.boolean()),
    /** Where it begins, as a distance from the plane in the direction of the extrusion. */
    start: v.optional(ExpressionSchema),
  }),
  v.strictObject({
    ...common,
    op: v.literal('revolve'),
    mode: ModeSchema,
    plane: PlaneSchema,
    outlines: OutlinesSchema,
    /** The turning axis: an axis of the plane, or a line through two points of it. */
    axis: v.union([v.picklist(['u', 'v']), v.strictObject({ from: PointSchema, to: PointSchema })]),
    /** All the way round where nothing is said. */
    angle: v.optional(ExpressionSchema),
  }),
  v.strictObject({
    ...common,
    op: v.literal('hole'),
    plane: PlaneSchema,
    at: PlacementSchema,
    diameter: ExpressionSchema,
    depth: HoleDepthSchema,
    counterbore: v.optional(v.strictObject({ diameter: ExpressionSchema, depth: ExpressionSchema })),
    /** Whole angle, 90 where nothing is said. */
    countersink: v.optional(v.strictObject({ diameter: ExpressionSchema, angle: v.optional(ExpressionSchema) })),
    tapped: v.optional(ThreadSchema),
  }),
  v.strictObject({ ...common, op: v.literal('fillet'), radius: ExpressionSchema, edges: EdgesSchema }),
  /** The middle surface of three becomes one round that is tangent to all of them. */
  v.strictObject({
    ...common,
    op: v.literal('full-round'),
    sides: v.pipe(v.tuple([SurfaceNameSchema, SurfaceNameSchema]), v.readonly()),
    middle: SurfaceNameSchema,
  }),
  v.strictObject({
    ...common,
    op: v.literal('chamfer'),
    /** On both faces; with `other` or `angle`, on the face `on`, or the first surface of the edge. */
    size: ExpressionSchema,
    other: v.optional(ExpressionSchema),
    /** From the face that `size` lies on. */
    angle: v.optional(ExpressionSchema),
    on: v.optional(SurfaceNameSchema),
    edges: EdgesSchema,
  }),
  /** A thin wall that fills the corner of the part on one side of a line, half of its thickness to each side of the plane. */
  v.strictObject({
    ...common,
    op: v.literal('rib'),
    plane: PlaneSchema,
    from: PointSchema,
    to: PointSchema,
    thickness: ExpressionSchema,
    /** The material lies to the left of the line from `from` to `to`, or to the right. */
    side: v.picklist(['left', 'right']),
  }),
  v.strictObject({
    ...common,
    op: v.literal('loft'),
    mode: ModeSchema,
    plane: PlaneSchema,
    outline: OutlineSchema,
    /** On a plane at this distance along the normal. */
    distance: ExpressionSchema,
    to: OutlineSchema,
  }),
  /** Copies steps to the other side of a plane; without `steps`, the whole body. */
  v.strictObject({ ...common, op: v.literal('mirror'), plane: PlaneSchema, steps: v.optional(StepsSchema) }),
  v.strictObject({
    ...copying,
    op: v.literal('linear-pattern'),
    direction: AxisSchema,
    count: ExpressionSchema,
    spacing: ExpressionSchema,
    second: v.optional(v.strictObject({ direction: AxisSchema, count: ExpressionSchema, spacing: ExpressionSchema })),
  }),
  v.strictObject({
    ...copying,
    op: v.literal('circular-pattern'),
    axis: AxisSchema,
    count: ExpressionSchema,
    /** From the first to the last copy; evenly all round where nothing is said. */
    angle: v.optional(ExpressionSchema),
  }),
  v.strictObject({
    ...common,
    op: v.literal('plane'),
    by: v.variant('kind', [
      v.strictObject({ kind: v.literal('offset'), from: PlaneSchema, distance: ExpressionSchema }),
      /** Turned about the line where two flat surfaces meet. */
      v.strictObject({
        kind: v.literal('angled'),
        from: SurfaceNameSchema,
        about: SurfaceNameSchema,
        angle: ExpressionSchema,
      }),
      v.strictObject({
        kind: v.literal('middle'),
        between: v.pipe(v.tuple([SurfaceNameSchema, SurfaceNameSchema]), v.readonly()),
      }),
      /** Touches a round surface where its outside looks along the normal of a plane. */
      v.strictObject({ kind: v.literal('tangent'), to: SurfaceNameSchema, facing: PlaneSchema }),
    ]),
  }),
  v.strictObject({
    ...common,
    op: v.literal('axis'),
    by: v.variant('kind', [
      v.strictObject({ kind: v.literal('of'), surface: SurfaceNameSchema }),
      v.strictObject({
        kind: v.literal('meeting'),
        between: v.pipe(v.tuple([PlaneSchema, PlaneSchema]), v.readonly()),
      }),
      v.strictObject({ kind: v.literal('square'), to: PlaneSchema, at: PointSchema }),
    ]),
  }),
  /** An external thread on a round surface: shown and called out, never cut. */
  v.strictObject({ ...common, op: v.literal('thread'), on: SurfaceNameSchema, thread: ThreadSchema }),
]);
export type Step = Readonly<v.InferOutput<typeof StepSchema>>;
export type Operation = Step['op'];
export type StepOf<Op extends Operation> = Extract<Step, { op: Op }>;

const ParameterSchema = v.strictObject({
  name: v.pipe(v.string(), v.regex(/^[A-Za-z][A-Za-z0-9_]{0,19}$/)),
  value: ExpressionSchema,
  label: v.optional(v.pipe(v.string(), v.maxLength(80))),
});
export type Parameter = v.InferOutput<typeof ParameterSchema>;

export const RECIPE_VERSION = 2;
export const RecipeSchema = v.pipe(
  v.strictObject({
    format: v.literal('zorvet-recipe'),
    version: v.literal(RECIPE_VERSION),
    name: v.pipe(v.string(), v.minLength(1), v.maxLength(80)),
    unit: DrawingUnitSchema,
    parameters: v.pipe(v.array(ParameterSchema), v.maxLength(60), v.readonly()),
    steps: v.pipe(v.array(StepSchema), v.maxLength(100), v.readonly()),
  }),
  v.check((recipe) => new Set(recipe.steps.map((step) => step.id)).size === recipe.steps.length, 'step ids repeat'),
  v.check(
    (recipe) => new Set(recipe.parameters.map(({ name }) => name)).size === recipe.parameters.length,
    'parameter names repeat',
  ),
  v.readonly(),
);
/** How a part is built: parameters and build steps. */
export type Recipe = v.InferOutput<typeof RecipeSchema>;
