/** An exercise as a document: the part, its check plan, material, notes, variants, and what the student types. */
export * from './schema.ts';
export * from './sheet.ts';
export { migrateExercise, parseExercise } from './migrate.ts';
export { blankExercise } from './blank.ts';
export { exerciseOfStage, parametersChangedBy, stageCount } from './stage.ts';
export { checksByStep, meansSurface, surfacesByCheck } from './step-checks.ts';
