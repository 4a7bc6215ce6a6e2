import { useMemo, useState } from 'react';

import type { AttemptDetail, Pin } from '#api';
import { tells, type Report } from '#core/grade';
import { usePageKeys } from '#web/ui';

/** What is chosen: a check, a cause, or a face; each lights up the others that belong to it. */
export type Choice =
  | { readonly kind: 'check'; readonly checkId: string }
  | { readonly kind: 'cause'; readonly message: string }
  | { readonly kind: 'faces'; readonly faceIds: readonly number[] }
  | null;

function facesOf(report: Report, choice: Choice): Set<number> {
  if (choice?.kind === 'faces') return new Set(choice.faceIds);
  const checkIds =
    choice?.kind === 'check'
      ? [choice.checkId]
      : (report.causes.find((cause) => choice?.kind === 'cause' && cause.message === choice.message)?.checkIds ?? []);
  return new Set(report.lines.filter((line) => checkIds.includes(line.checkId)).flatMap((line) => line.faceIds));
}

/** What an instructor or student looks at in a report, and how to look at something else. */
export interface Looking {
  readonly choice: Choice;
  readonly setChoice: (choice: Choice) => void;
  /** The check that is chosen, and how another is. */
  readonly chosen: string | null;
  readonly choose: (checkId: string | null) => void;
  readonly pickFace: (faceId: number | null) => void;
  readonly failing: Report['lines'];
  readonly failedFaces: ReadonlySet<number>;
  readonly pickedFaces: ReadonlySet<number>;
  /** Whether the numbers may be told, and whether they are shown. */
  readonly canTell: boolean;
  readonly asked: boolean;
  readonly ask: () => void;
  /** Whether missing and extra material is shown in the model. */
  readonly shown: boolean;
  readonly setShown: (shown: boolean) => void;
  /** How much the reference covers the model, 0 to 1. */
  readonly share: number;
  readonly setShare: (share: number) => void;
}

/** Looks at the report of an attempt; begins anew with another attempt. */
export function useLooking(
  attempt: AttemptDetail,
  report: Report,
  reviewing?: { readonly onChosen: (checkId: string | null) => void },
): Looking {
  const [choice, setChoice] = useState<Choice>(null);
  const failing = useMemo(() => report.lines.filter((line) => line.verdict !== 'right'), [report]);
  // A student first looks at what is wrong and where the sheet says it, and then by how much.
  const startAsked = reviewing !== undefined || failing.length === 0;
  const [asked, setAsked] = useState(startAsked);
  const [shown, setShown] = useState(false);
  const [share, setShare] = useState(0);
  const failedFaces = useMemo(
    () => new Set(failing.filter((line) => line.quantity !== 'count').flatMap((line) => line.faceIds)),
    [failing],
  );
  const pickedFaces = useMemo(() => facesOf(report, choice), [report, choice]);
  const [of, setOf] = useState(attempt.id);
  if (of !== attempt.id) {
    setOf(attempt.id);
    setChoice(null);
    setAsked(startAsked);
    setShown(false);
    setShare(0);
  }
  const chosen = choice?.kind === 'check' ? choice.checkId : null;
  const choose = (checkId: string | null): void => {
    setChoice(checkId === null ? null : { kind: 'check', checkId });
    reviewing?.onChosen(checkId);
  };
  useFailingKeys(
    failing.map(({ checkId }) => checkId),
    chosen,
    choose,
  );
  const pickFace = (faceId: number | null): void => {
    const on = (line: Report['lines'][number]) => faceId !== null && line.faceIds.includes(faceId);
    const line = failing.find(on) ?? report.lines.find(on);
    choose(line?.checkId ?? null);
  };
  const ask = (): void => {
    setAsked(true);
  };
  const canTell = tells(report.detail, 'numbers');
  return {
    ...{ choice, setChoice, chosen, choose, pickFace, failing, failedFaces, pickedFaces, canTell },
    ...{ asked, ask, shown, setShown, share, setShare },
  };
}

/** The places of remarks with the numbers of their remarks, on the model and on the sheet. */
export function usePins(attempt: AttemptDetail) {
  const { remarks } = attempt.review;
  return useMemo(() => {
    const pinned = <On extends Pin['on']>(on: On) =>
      remarks.flatMap(({ pin }, i) =>
        pin?.on === on ? [{ label: String(i + 1), pin: pin as Extract<Pin, { on: On }> }] : [],
      );
    return {
      model: pinned('model').map(({ label, pin: { at } }) => ({ label, at })),
      sheet: pinned('sheet').map(({ label, pin: { page, at } }) => ({ label, page, at })),
    };
  }, [remarks]);
}

/** J and K go through the checks that are not right. */
function useFailingKeys(failing: readonly string[], chosen: string | null, choose: (checkId: string) => void): void {
  const go = (by: 1 | -1) => (): void => {
    const at = chosen === null ? (by > 0 ? -1 : 0) : failing.indexOf(chosen);
    const checkId = failing[(at + by + failing.length) % failing.length];
    if (checkId === undefined) return;
    choose(checkId);
    document.querySelector(`tr[data-check="${CSS.escape(checkId)}"]`)?.scrollIntoView({ block: 'nearest' });
  };
  usePageKeys({ j: go(1), k: go(-1) });
}
