import * as v from 'valibot';

import { ExpressionSchema } from '#core/quantity';

/** The six principal views, named by the side that they look at. */
export const DIRECTION_NAMES = ['front', 'top', 'right', 'left', 'bottom', 'back'] as const;
export const DirectionSchema = v.picklist(DIRECTION_NAMES);
export type Direction = v.InferOutput<typeof DirectionSchema>;

export const PAPERS = ['A4', 'A3', 'A2', 'A1', 'letter', 'tabloid'] as const;
export const PaperSchema = v.picklist(PAPERS);
export type Paper = v.InferOutput<typeof PaperSchema>;

const ViewIdSchema = v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]{0,19}$/));
const LetterSchema = v.pipe(v.string(), v.regex(/^[A-Z]$/, 'one capital letter'));
const PointSchema = v.pipe(v.tuple([ExpressionSchema, ExpressionSchema]), v.readonly());

/**
 * A view of the sheet. Lengths in the drawing unit, in the axes of the part. Tangent edges are drawn thin where `tangent`
 * says so; with `ordinate`, sizes from one common face are written at the ends of their extension lines, from 0.
 */
export const SheetViewSchema = v.variant('kind', [
  v.strictObject({
    kind: v.literal('plain'),
    id: ViewIdSchema,
    direction: DirectionSchema,
    hidden: v.optional(v.boolean()),
    tangent: v.optional(v.boolean()),
    ordinate: v.optional(v.boolean()),
  }),
  v.strictObject({
    kind: v.literal('isometric'),
    id: ViewIdSchema,
    tangent: v.optional(v.boolean()),
    /** Faces toned by how they lie to the light. */
    shaded: v.optional(v.boolean()),
  }),
  /** The part without what lies between the viewer and a plane, which may be stepped, or go through half of it only. */
  v.strictObject({
    kind: v.literal('section'),
    id: ViewIdSchema,
    direction: DirectionSchema,
    letter: LetterSchema,
    /** Where the plane lies along the axis that the view looks along. */
    at: ExpressionSchema,
    /** Beyond a place across the view, from left to right, the plane lies elsewhere. */
    steps: v.optional(
      v.pipe(v.array(v.strictObject({ beyond: ExpressionSchema, at: ExpressionSchema })), v.maxLength(6), v.readonly()),
    ),
    /** Only what lies to the right of the middle is cut. */
    half: v.optional(v.boolean()),
    hidden: v.optional(v.boolean()),
    tangent: v.optional(v.boolean()),
    ordinate: v.optional(v.boolean()),
  }),
  /** A round piece of another view, drawn larger. */
  v.strictObject({
    kind: v.literal('detail'),
    id: ViewIdSchema,
    of: ViewIdSchema,
    letter: LetterSchema,
    /** Across and up in that view. */
    center: PointSchema,
    radius: ExpressionSchema,
    /** How many times larger than that view. */
    factor: v.pipe(v.number(), v.minValue(1.5), v.maxValue(20)),
  }),
]);
export type SheetView = Readonly<v.InferOutput<typeof SheetViewSchema>>;

/** One that looks along an axis of the part: it lines up with the others, and has marks and dimensions. */
export const isPrincipal = (view: SheetView): view is Extract<SheetView, { kind: 'plain' | 'section' }> =>
  view.kind === 'plain' || view.kind === 'section';

const Sha256Schema = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/));
const PictureMmSchema = v.pipe(v.number(), v.minValue(20), v.maxValue(2000));

/** A drawing that was made elsewhere, in place of the one that is made from the part. */
export const UploadedDrawingSchema = v.strictObject({
  sha256: Sha256Schema,
  fileName: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  /** A picture of each page, as PNG, with the size that it has on paper. */
  pages: v.pipe(
    v.array(v.strictObject({ sha256: Sha256Schema, widthMm: PictureMmSchema, heightMm: PictureMmSchema })),
    v.minLength(1),
    v.maxLength(12),
    v.readonly(),
  ),
});
export type UploadedDrawing = Readonly<v.InferOutput<typeof UploadedDrawingSchema>>;

const PaperMmSchema = v.pipe(v.number(), v.minValue(-2000), v.maxValue(2000));

/** How the sheet is drawn; what is not said is chosen. */
export const SheetSettingsSchema = v.strictObject({
  drawing: v.optional(UploadedDrawingSchema),
  paper: PaperSchema,
  /** Paper size over part size; chosen where nothing is said. */
  scale: v.optional(v.pipe(v.number(), v.minValue(1e-4), v.maxValue(1e4))),
  views: v.pipe(v.array(SheetViewSchema), v.maxLength(12), v.readonly()),
  /** Letters with a table of values, or the values in their place. */
  letters: v.optional(v.picklist(['table', 'values'])),
  /** Inches as decimals, or as fractions. */
  format: v.optional(v.picklist(['decimal', 'fraction'])),
  /** Dimensions that were put elsewhere by hand, by the id of their check: paper mm from where they are measured. */
  placed: v.optional(
    v.record(
      v.string(),
      v.strictObject({
        view: v.optional(ViewIdSchema),
        /** Shift along the line and distance of the row from the outline, or place of the text from what it points at. */
        offset: v.optional(v.pipe(v.tuple([PaperMmSchema, PaperMmSchema]), v.readonly())),
      }),
    ),
  ),
  /** Views that were moved by hand, paper mm. */
  moved: v.optional(v.record(v.string(), v.pipe(v.tuple([PaperMmSchema, PaperMmSchema]), v.readonly()))),
});
export type SheetSettings = Readonly<v.InferOutput<typeof SheetSettingsSchema>>;

/** Three views and a pictorial one. */
export const DEFAULT_VIEWS: readonly SheetView[] = [
  { kind: 'plain', id: 'front', direction: 'front' },
  { kind: 'plain', id: 'top', direction: 'top' },
  { kind: 'plain', id: 'right', direction: 'right' },
  { kind: 'isometric', id: 'isometric' },
];
export const DEFAULT_SHEET: SheetSettings = { paper: 'A3', views: DEFAULT_VIEWS };
