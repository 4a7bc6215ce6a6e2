import { useMemo, useState } from 'react';

import type { Erratum, PaperPoint, WorkDetail, WorkQuestions } from '#api';
import { useWorkQuestionsQuery } from '#web/api';
import type { SheetPin } from '#web/sheet';

/** How the place of an erratum is called on a sheet: E1, E2. */
export const erratumLabel = (i: number): string => `E${String(i + 1)}`;
/** How the place of a question is called on a sheet: 1, 2. */
export const questionLabel = (i: number): string => String(i + 1);

/** A ring, so that what it is about stays in sight. */
export const pin = (label: string, place: PaperPoint | null): SheetPin[] =>
  place === null ? [] : [{ label, page: place.page, at: place.at, ring: true }];

/** Marks for what is asked and corrected, by the order in which they are listed. */
export const pinsOf = (
  questions: readonly { readonly place: PaperPoint | null }[],
  errata: readonly Pick<Erratum, 'place'>[],
): SheetPin[] => [
  ...errata.flatMap(({ place }, i) => pin(erratumLabel(i), place)),
  ...questions.flatMap(({ place }, i) => pin(questionLabel(i), place)),
];

export interface SheetQuestions {
  readonly asked: WorkQuestions | undefined;
  readonly error: unknown;
  /** What is marked on the sheet, the place of the question that is being written too. */
  readonly pins: readonly SheetPin[];
  /** Where the question that is being written points; null for nowhere. */
  readonly place: PaperPoint | null;
  readonly setPlace: (place: PaperPoint | null) => void;
  /** Whether a click on the sheet chooses that place. */
  readonly isPicking: boolean;
  readonly setPicking: (isPicking: boolean) => void;
}

/** What is asked about the sheet of a work, and the place that is being pointed at. */
export function useSheetQuestions({ id, stage }: Pick<WorkDetail, 'id' | 'stage'>): SheetQuestions {
  const { data: asked, error } = useWorkQuestionsQuery({ id, stage });
  const [place, setPlace] = useState<PaperPoint | null>(null);
  const [isPicking, setPicking] = useState(false);
  const pins = useMemo(
    () => [...pinsOf(asked?.questions ?? [], asked?.errata ?? []), ...pin('?', place)],
    [asked, place],
  );
  return { asked, error, pins, place, setPlace, isPicking, setPicking };
}
