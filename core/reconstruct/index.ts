/** A recipe for a model that no recipe built: what is left when its features are undone, and steps that make them anew. */
export { expressionOf } from './candidate.ts';
export { cutAt, stretchAt, type Span, type Stretchable } from './gap.ts';
export { isWallStep } from './prisms.ts';
export { reconstruct, type Reconstruction } from './reconstruct.ts';
export { placedAlong, planeBefore, stretchedRecipe, stretchedStart, type Stretch } from './stretch.ts';
