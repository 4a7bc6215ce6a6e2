/** Builds parts in a worker while their author types. */
export { useAsked, type Asked } from './asked.ts';
export { openWorkshop, SUPERSEDED, WorkshopClient } from './client.ts';
export type { Answers, BuiltAnswer, OutlineAnswer, PartPreview, ReadAnswer, SheetAnswer } from './protocol.ts';
