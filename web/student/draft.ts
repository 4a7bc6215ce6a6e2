import * as v from 'valibot';

/** Typed numbers before they are handed in, kept by the browser so that a reload loses nothing. */
const DraftSchema = v.record(v.string(), v.object({ text: v.string(), unit: v.string() }));
export type Draft = v.InferOutput<typeof DraftSchema>;

const keyOf = (assignmentId: number, userId: number): string =>
  `zorvet.typed.${String(userId)}.${String(assignmentId)}`;

export function loadDraft(assignmentId: number, userId: number): Draft {
  const stored = localStorage.getItem(keyOf(assignmentId, userId));
  const parsed = v.safeParse(v.pipe(v.string(), v.parseJson(), DraftSchema), stored);
  return parsed.success ? parsed.output : {};
}

export const saveDraft = (assignmentId: number, userId: number, draft: Draft): void => {
  localStorage.setItem(keyOf(assignmentId, userId), JSON.stringify(draft));
};

export const dropDraft = (assignmentId: number, userId: number): void => {
  localStorage.removeItem(keyOf(assignmentId, userId));
};
