import * as v from 'valibot';

import { BoxSchema, Vec3Schema } from '#core/solid';

const NumbersSchema = v.pipe(v.array(v.number()), v.readonly());

export const OverlayPieceSchema = v.object({
  kind: v.picklist(['missing', 'extra']),
  volumeMm3: v.number(),
  /** In the frame of the submission. */
  centerMm: Vec3Schema,
  bounds: BoxSchema,
  /** Faces that bound the piece. */
  referenceFaceIds: NumbersSchema,
  submissionFaceIds: NumbersSchema,
  positions: NumbersSchema,
  indices: NumbersSchema,
});
/** One connected piece of material that only one of the two parts has. */
export type OverlayPiece = Readonly<v.InferOutput<typeof OverlayPieceSchema>>;

export const OverlaySchema = v.object({
  missingMm3: v.number(),
  extraMm3: v.number(),
  pieces: v.pipe(v.array(OverlayPieceSchema), v.readonly()),
});
export type Overlay = Readonly<v.InferOutput<typeof OverlaySchema>>;

export const OverlaySummarySchema = v.object({
  missingMm3: v.number(),
  extraMm3: v.number(),
  pieces: v.pipe(
    v.array(v.object({ kind: OverlayPieceSchema.entries.kind, volumeMm3: v.number(), centerMm: Vec3Schema })),
    v.readonly(),
  ),
});
export type OverlaySummary = Readonly<v.InferOutput<typeof OverlaySummarySchema>>;
