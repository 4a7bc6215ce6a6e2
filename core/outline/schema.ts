import * as v from 'valibot';

import { ExpressionSchema } from '#core/quantity';

/** A point of the work plane: u to the right, v up. */
export const PointSchema = v.pipe(v.tuple([ExpressionSchema, ExpressionSchema]), v.readonly());

/** A name for one side of a path, so that checks stay attached when sides are inserted before it. */
const SideNameSchema = v.optional(v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]{0,29}$/)));
const side = { name: SideNameSchema };

/** One move along a path. `to` is a point of the plane, `by` a step from where the path is. */
export const MoveSchema = v.variant('move', [
  v.strictObject({ ...side, move: v.literal('line'), to: PointSchema }),
  v.strictObject({ ...side, move: v.literal('line-by'), by: PointSchema }),
  /** A line of a length in a direction, in degrees from u. */
  v.strictObject({ ...side, move: v.literal('line-at'), length: ExpressionSchema, angle: ExpressionSchema }),
  v.strictObject({ ...side, move: v.literal('arc'), through: PointSchema, to: PointSchema }),
  v.strictObject({ ...side, move: v.literal('arc-by'), through: PointSchema, by: PointSchema }),
  /** Goes on in the direction of the move before. */
  v.strictObject({ ...side, move: v.literal('tangent-arc'), to: PointSchema }),
  v.strictObject({ ...side, move: v.literal('tangent-arc-by'), by: PointSchema }),
  /** Around a center, by an angle in degrees: positive counterclockwise. */
  v.strictObject({ ...side, move: v.literal('arc-around'), center: PointSchema, angle: ExpressionSchema }),
  /** A line back to the start. */
  v.strictObject({ ...side, move: v.literal('close') }),
]);
export type Move = Readonly<v.InferOutput<typeof MoveSchema>>;

const rectangle = { width: ExpressionSchema, height: ExpressionSchema };
const BASIC = [
  /** By its middle. */
  v.strictObject({ shape: v.literal('rectangle'), center: PointSchema, ...rectangle }),
  /** By its lower left corner. */
  v.strictObject({ shape: v.literal('corner-rectangle'), corner: PointSchema, ...rectangle }),
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
    shape: v.literal('polygon'),
    center: PointSchema,
    sides: ExpressionSchema,
    size: ExpressionSchema,
    across: v.picklist(['flats', 'corners']),
    /** Of the middle of the first side, from u. */
    angle: v.optional(ExpressionSchema),
  }),
  v.strictObject({
    shape: v.literal('path'),
    start: PointSchema,
    segments: v.pipe(v.array(MoveSchema), v.minLength(2), v.maxLength(200), v.readonly()),
  }),
  /** Two circles and the two outer lines that touch both. */
  v.strictObject({
    shape: v.literal('hull'),
    first: v.strictObject({ center: PointSchema, diameter: ExpressionSchema }),
    second: v.strictObject({ center: PointSchema, diameter: ExpressionSchema }),
  }),
] as const;
type Basic = Readonly<v.InferOutput<(typeof BASIC)[number]>>;

/** A line of the plane: an axis of it, or through a point at an angle from u. */
const MirrorLineSchema = v.union([
  v.picklist(['u', 'v']),
  v.strictObject({ through: PointSchema, angle: ExpressionSchema }),
]);
export type MirrorLine = v.InferOutput<typeof MirrorLineSchema>;

type Point = v.InferOutput<typeof PointSchema>;
interface Corners {
  readonly of: Outline;
  readonly size: string;
  /** Numbers of the corners in order, from 1; all where nothing is said. */
  readonly corners?: readonly number[] | undefined;
}
/** A closed outline, built of shapes with sizes; sizes are expressions in the drawing unit, angles in degrees. */
export type Outline =
  | Basic
  | ({ readonly shape: 'filleted' } & Corners)
  | ({ readonly shape: 'chamfered' } & Corners)
  | { readonly shape: 'offset'; readonly of: Outline; readonly by: string }
  | { readonly shape: 'turned'; readonly of: Outline; readonly center: Point; readonly angle: string }
  | { readonly shape: 'mirrored'; readonly of: Outline; readonly about: MirrorLine; readonly keep: boolean }
  | {
      readonly shape: 'polar';
      readonly of: Outline;
      readonly center: Point;
      readonly count: string;
      readonly angle?: string | undefined;
      readonly skip?: readonly number[] | undefined;
    }
  | {
      readonly shape: 'row';
      readonly of: Outline;
      readonly by: Point;
      readonly count: string;
      readonly skip?: readonly number[] | undefined;
    }
  | { readonly shape: 'union' | 'difference' | 'intersection'; readonly parts: readonly Outline[] };

const Nested: v.GenericSchema<Outline> = v.lazy(() => OutlineSchema);
const NumbersSchema = v.optional(
  v.pipe(v.array(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(400))), v.readonly()),
);
const corners = { of: Nested, size: ExpressionSchema, corners: NumbersSchema };
const PartsSchema = v.pipe(v.array(Nested), v.minLength(2), v.maxLength(40), v.readonly());

export const OutlineSchema: v.GenericSchema<Outline> = v.variant('shape', [
  ...BASIC,
  v.strictObject({ shape: v.literal('filleted'), ...corners }),
  v.strictObject({ shape: v.literal('chamfered'), ...corners }),
  /** Moved outward by a distance; inward when it is negative. */
  v.strictObject({ shape: v.literal('offset'), of: Nested, by: ExpressionSchema }),
  v.strictObject({ shape: v.literal('turned'), of: Nested, center: PointSchema, angle: ExpressionSchema }),
  /** With `keep`, the outline and its mirror image together. */
  v.strictObject({ shape: v.literal('mirrored'), of: Nested, about: MirrorLineSchema, keep: v.boolean() }),
  /** Copies around a center, evenly over an angle (all round where nothing is said); numbers to skip count from 1. */
  v.strictObject({
    shape: v.literal('polar'),
    of: Nested,
    center: PointSchema,
    count: ExpressionSchema,
    angle: v.optional(ExpressionSchema),
    skip: NumbersSchema,
  }),
  v.strictObject({
    shape: v.literal('row'),
    of: Nested,
    by: PointSchema,
    count: ExpressionSchema,
    skip: NumbersSchema,
  }),
  v.strictObject({ shape: v.literal('union'), parts: PartsSchema }),
  /** The first part less all others. */
  v.strictObject({ shape: v.literal('difference'), parts: PartsSchema }),
  v.strictObject({ shape: v.literal('intersection'), parts: PartsSchema }),
]);

export const OUTLINE_SHAPES = [
  'rectangle',
  'corner-rectangle',
  'circle',
  'slot',
  'polygon',
  'path',
  'hull',
  'filleted',
  'chamfered',
  'offset',
  'turned',
  'mirrored',
  'polar',
  'row',
  'union',
  'difference',
  'intersection',
] as const satisfies readonly Outline['shape'][];
