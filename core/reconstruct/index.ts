/** A recipe for a model that no recipe built: what is left when its features are undone, and steps that make them anew. */
export { expressionOf } from './candidate.ts';
export { stretchAt, type Span } from './gap.ts';
export { reconstruct, type Reconstruction } from './reconstruct.ts';
export { stretchedRecipe, stretchedStart, type Stretch } from './stretch.ts';
