import * as v from 'valibot';

/** Typed numbers before they are handed in, kept by the browser so that a reload loses nothing. */
const DraftSchema = v.record(v.string(), v.object({ text: v.string(), unit: v.string() }));
export type Draft = v.InferOutput<typeof DraftSchema>;

const keyOf = (place: string, userId: number): string => `zorvet.typed.${String(userId)}.${place}`;

export function loadDraft(place: string, userId: number): Draft {
  const stored = localStorage.getItem(keyOf(place, userId));
  const parsed = v.safeParse(v.pipe(v.string(), v.parseJson(), DraftSchema), stored);
  return parsed.success ? parsed.output : {};
}

export const saveDraft = (place: string, userId: number, draft: Draft): void => {
  localStorage.setItem(keyOf(place, userId), JSON.stringify(draft));
};

export const dropDraft = (place: string, userId: number): void => {
  localStorage.removeItem(keyOf(place, userId));
};
