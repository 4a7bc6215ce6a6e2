import * as v from 'valibot';

const PointSchema = v.pipe(v.tuple([v.number(), v.number()]), v.readonly());

/** Kinds of lines, each with its own weight and dash pattern. */
export const LINE_LAYERS = ['visible', 'hidden', 'center', 'thin', 'hatch', 'cutting', 'dimension', 'frame'] as const;
export type LineLayer = (typeof LINE_LAYERS)[number];

/** Width in mm, and lengths of dashes and gaps, of each kind of line. */
export const LINE_STYLES: Readonly<
  Record<LineLayer, { readonly widthMm: number; readonly dashesMm: readonly number[] }>
> = {
  visible: { widthMm: 0.5, dashesMm: [] },
  hidden: { widthMm: 0.25, dashesMm: [2.4, 1.2] },
  center: { widthMm: 0.18, dashesMm: [6, 1.2, 1.2, 1.2] },
  thin: { widthMm: 0.25, dashesMm: [] },
  hatch: { widthMm: 0.18, dashesMm: [] },
  cutting: { widthMm: 0.35, dashesMm: [8, 1.5, 1.5, 1.5] },
  dimension: { widthMm: 0.18, dashesMm: [] },
  frame: { widthMm: 0.25, dashesMm: [] },
};

/** What a text of the title block is filled with when the sheet is handed to somebody. */
export const SHEET_FIELDS = ['course', 'revision', 'student', 'variant', 'date'] as const;
export type SheetField = (typeof SHEET_FIELDS)[number];

/** What an element belongs to: the check whose dimension it is, the view it is part of. */
const belongs = { checkId: v.optional(v.string()), viewId: v.optional(v.string()) };
const line = { ...belongs, layer: v.picklist(LINE_LAYERS) };

const SheetTextSchema = v.object({
  ...belongs,
  kind: v.literal('text'),
  text: v.string(),
  /** On the base line. */
  at: PointSchema,
  /** Of capitals. */
  heightMm: v.number(),
  anchor: v.picklist(['start', 'middle', 'end']),
  /** Of the base line, rad; level where nothing is said. */
  angle: v.optional(v.number()),
  bold: v.optional(v.boolean()),
  /** The text is a place holder for this. */
  field: v.optional(v.picklist(SHEET_FIELDS)),
});
export type SheetText = Readonly<v.InferOutput<typeof SheetTextSchema>>;

/** An element of the sheet in paper millimeters, origin at the lower left corner, y up. Angles in rad, counterclockwise. */
const SheetEntitySchema = v.variant('kind', [
  v.object({ ...line, kind: v.literal('line'), from: PointSchema, to: PointSchema }),
  v.object({
    ...line,
    kind: v.literal('arc'),
    center: PointSchema,
    radius: v.number(),
    start: v.number(),
    sweep: v.number(),
  }),
  v.object({
    ...line,
    kind: v.literal('ellipse'),
    center: PointSchema,
    /** Half axes; the first lies at `turn`. */
    radii: PointSchema,
    turn: v.number(),
    /** Of the parameter, from the first half axis. */
    start: v.number(),
    sweep: v.number(),
  }),
  v.object({ ...line, kind: v.literal('polyline'), points: v.pipe(v.array(PointSchema), v.readonly()) }),
  /** A filled arrowhead with its tip at `tip`, pointing along `angle`. */
  v.object({ ...belongs, kind: v.literal('arrow'), tip: PointSchema, angle: v.number() }),
  SheetTextSchema,
  /** A picture that is kept as a file of its own, with its lower left corner at `at`. */
  v.object({
    ...belongs,
    kind: v.literal('picture'),
    sha256: v.string(),
    at: PointSchema,
    widthMm: v.number(),
    heightMm: v.number(),
  }),
  /** A toned picture under the lines of a view, as PNG in base64, with its lower left corner at `at`. */
  v.object({
    ...belongs,
    kind: v.literal('shade'),
    png: v.string(),
    at: PointSchema,
    widthMm: v.number(),
    heightMm: v.number(),
  }),
]);
export type SheetEntity = Readonly<v.InferOutput<typeof SheetEntitySchema>>;

/** Where a view stands on its page, for whoever wants to move it. */
const DirectionSchema = v.pipe(v.tuple([v.number(), v.number(), v.number()]), v.readonly());
const PlacedViewSchema = v.object({
  viewId: v.string(),
  page: v.number(),
  /** Paper size over part size. */
  scale: v.number(),
  /** Lower left and upper right corner with dimensions, paper mm. */
  min: PointSchema,
  max: PointSchema,
  /** Same number: moved together, left and right, or up and down. */
  column: v.number(),
  row: v.number(),
  /** How the part lies in a view that shows its sizes true: where its origin is on the paper, and what is right and up. */
  lies: v.optional(v.object({ origin: PointSchema, right: DirectionSchema, up: DirectionSchema })),
});
export type PlacedView = Readonly<v.InferOutput<typeof PlacedViewSchema>>;

/** Where a dimension stands: row and side of a linear one, text from target of a leader; paper mm. */
const PlacedOffsetSchema = v.object({
  id: v.string(),
  viewId: v.string(),
  offset: PointSchema,
  /** Direction of a linear one, rad; null for others. */
  angle: v.nullable(v.number()),
  /** Size of the view across a linear one: how far it is from one side to the other. */
  acrossMm: v.number(),
  /** Ends that are measured to lines which are hidden in the view. */
  hiddenEnds: v.optional(v.number()),
});
export type PlacedOffset = Readonly<v.InferOutput<typeof PlacedOffsetSchema>>;

const SheetPageSchema = v.object({
  widthMm: v.number(),
  heightMm: v.number(),
  entities: v.pipe(v.array(SheetEntitySchema), v.readonly()),
});
export type SheetPage = Readonly<v.InferOutput<typeof SheetPageSchema>>;

/** A drawing of one or more pages. */
export const SheetSchema = v.object({
  title: v.string(),
  /** Paper size over part size of the principal views. */
  scale: v.number(),
  pages: v.pipe(v.array(SheetPageSchema), v.readonly()),
  views: v.pipe(v.array(PlacedViewSchema), v.readonly()),
  dimensions: v.pipe(v.array(PlacedOffsetSchema), v.readonly()),
  /** What could not be drawn as wanted, in words. */
  warnings: v.pipe(v.array(v.string()), v.readonly()),
});
export type Sheet = Readonly<v.InferOutput<typeof SheetSchema>>;

/** "1:2", "1:1", "2:1". */
export const scaleText = (scale: number): string => {
  const short = (value: number): string => String(Number(value.toPrecision(3)));
  return scale >= 1 ? `${short(scale)}:1` : `1:${short(1 / scale)}`;
};
