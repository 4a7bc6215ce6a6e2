/** Where an instructor builds an exercise: part, check plan, variants. Students who build in the page have its first part. */
export { EditorPage } from './page.tsx';
export { useDocument, type Stored } from './document.ts';
export { useValuesOf, ValuesProvider } from './form/context.ts';
export { PartTab } from './part-tab.tsx';
export { newStep } from './steps.ts';
export { usePreview, type Preview } from './preview.ts';
export { Leaving, Saving, UndoAndRedo, useHistoryKeys } from './saving.tsx';
