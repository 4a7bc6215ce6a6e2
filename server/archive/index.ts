/** Exercises as archives that people keep and send, and the kinds of files in them. */
export { extensionOf, packExercise, unpackExercise, type Unpacked } from './archive.ts';
export { bundle, type BundleEntry } from './bundle.ts';
export { drawingKind, soundPage } from './drawings.ts';
