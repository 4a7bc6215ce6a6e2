/** Stages of a long computation, for progress. */
export type Stage = 'reading' | 'measuring' | 'comparing' | 'scoring';
