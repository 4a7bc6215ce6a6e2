/** Builds parts in a worker while their author types. */
export { useAsked, type Asked } from './asked.ts';
export { useOwnWorkshop } from './own.ts';
export { openMeasuring, openWorkshop, SUPERSEDED, WorkshopClient } from './client.ts';
export type {
  Answers,
  BuiltAnswer,
  InspectAnswer,
  OutlineAnswer,
  PartPreview,
  ReadAnswer,
  SheetAnswer,
} from './protocol.ts';
