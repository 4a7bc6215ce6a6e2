/** What the schemas of several operations have in common. */
import * as v from 'valibot';

import { OutlineSchema } from '#core/outline';
import { ExpressionSchema } from '#core/quantity';

export const NameSchema = v.pipe(
  v.string(),
  v.regex(/^[a-z][a-z0-9-]{0,39}$/, 'lower case letters, digits and dashes'),
);
/** A surface named by step and role, such as "base.end" or "bores.2.wall". */
export const SurfaceNameSchema = v.pipe(v.string(), v.maxLength(120), v.regex(/^[a-z][a-z0-9-]*(\.[a-z0-9-]+){1,8}$/));
export const SurfaceNamesSchema = v.pipe(v.array(SurfaceNameSchema), v.minLength(1), v.maxLength(100), v.readonly());

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

export const OutlinesSchema = v.pipe(v.array(OutlineSchema), v.minLength(1), v.maxLength(60), v.readonly());

export const ExtentSchema = v.variant('kind', [
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

export const ModeSchema = v.picklist(['add', 'cut']);
export type Mode = v.InferOutput<typeof ModeSchema>;

export const SkipSchema = v.optional(
  v.pipe(v.array(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(400))), v.readonly()),
);

/** Designation of a thread such as "M8x1.25" or "3/8-16". The part is modeled without it. */
export const ThreadSchema = v.strictObject({
  designation: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(30)),
  fit: v.optional(v.pipe(v.string(), v.maxLength(10))),
  /** As long as the wall where nothing is said. */
  length: v.optional(ExpressionSchema),
});

const EdgeSelectorSchema = v.union([
  /** Where two named surfaces meet. */
  v.strictObject({ between: v.pipe(v.tuple([SurfaceNameSchema, SurfaceNameSchema]), v.readonly()) }),
  /** All around a surface. */
  v.strictObject({ around: SurfaceNameSchema, convexity: v.optional(v.picklist(['convex', 'concave'])) }),
  /** The edge that passes nearest to a point of the part. */
  v.strictObject({ near: SpacePointSchema }),
  /** Straight edges along an axis of the part; with `count`, any other number of them refuses. */
  v.strictObject({
    along: v.picklist(['x', 'y', 'z']),
    convexity: v.optional(v.picklist(['convex', 'concave'])),
    count: v.optional(ExpressionSchema),
  }),
  /** Every edge of the part, save those of some surfaces. */
  v.strictObject({
    every: v.picklist(['convex', 'concave', 'edge']),
    except: v.optional(SurfaceNamesSchema),
  }),
]);
export type EdgeSelector = v.InferOutput<typeof EdgeSelectorSchema>;
export const EdgesSchema = v.pipe(v.array(EdgeSelectorSchema), v.minLength(1), v.maxLength(100), v.readonly());

/** Fields that every step has. */
export const stepFields = {
  id: NameSchema,
  label: v.optional(v.pipe(v.string(), v.maxLength(120))),
  /** A step that is switched off is left out. */
  off: v.optional(v.boolean()),
};
export const StepsSchema = v.pipe(v.array(NameSchema), v.minLength(1), v.maxLength(60), v.readonly());
