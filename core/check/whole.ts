import type { Found } from './kind.ts';

/** A value of the whole part, which no face is marked for. */
export const ofWhole = (measured: number | null): Found => ({ measured, faceIds: [], referenceFaceIds: [] });
