import * as v from 'valibot';

export const TYPED_VALUES = ['mass', 'volume', 'x', 'y', 'z'] as const;
export const TypedValueNameSchema = v.picklist(TYPED_VALUES);
/** Numbers that a student reads off the model: mass, volume, and the center of mass. */
export type TypedValueName = v.InferOutput<typeof TypedValueNameSchema>;
