import * as v from 'valibot';

import { ExerciseSchema } from '#core/exercise';
import { DrawingUnitSchema } from '#core/quantity';
import { BoxSchema, DisplayMeshSchema, MassPropertiesSchema } from '#core/solid';
import { TargetSchema } from '#core/check';

export const ExerciseSummarySchema = v.object({
  id: v.number(),
  number: v.string(),
  title: v.string(),
  level: v.string(),
  unit: DrawingUnitSchema,
  material: v.string(),
  revision: v.number(),
  checks: v.number(),
  steps: v.number(),
  assignments: v.number(),
});
export type ExerciseSummary = v.InferOutput<typeof ExerciseSummarySchema>;
export const ExerciseListSchema = v.object({ exercises: v.array(ExerciseSummarySchema) });

export const ExerciseDetailSchema = v.object({
  id: v.number(),
  revision: v.number(),
  revisionId: v.number(),
  createdAt: v.string(),
  document: ExerciseSchema,
  materialName: v.string(),
  densityGPerCm3: v.number(),
  targets: v.array(TargetSchema),
  massProperties: MassPropertiesSchema,
  values: v.record(v.string(), v.number()),
});
export type ExerciseDetail = v.InferOutput<typeof ExerciseDetailSchema>;

/** What the 3D viewer shows. */
export const DisplayModelSchema = v.object({
  bounds: BoxSchema,
  mesh: DisplayMeshSchema,
});
export type DisplayModel = v.InferOutput<typeof DisplayModelSchema>;
