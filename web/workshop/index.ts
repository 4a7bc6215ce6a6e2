/** Builds parts in a worker while their author types. */
export { openWorkshop, SUPERSEDED, WorkshopClient } from './client.ts';
export type { Answers, BuiltAnswer, OutlineAnswer, PartPreview, ReadAnswer, SheetAnswer } from './protocol.ts';
