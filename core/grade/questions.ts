import type { BuildLog } from '#core/buildlog';
import type { Measurement } from '#core/check';
import { OPERATION_NAMES, type Operation } from '#core/recipe';

/** What an operation leaves on a model, and how that is called; one of the kinds must be there. */
const LEAVES: readonly (readonly [Operation, readonly string[], string])[] = [
  ['revolve', ['turned-body', 'boss', 'groove'], 'nothing on the model is turned'],
  ['hole', ['hole', 'slotted-hole', 'thread'], 'the model has no hole'],
  ['fillet', ['fillet', 'full-round'], 'the model has no rounded edge'],
  ['full-round', ['full-round', 'fillet'], 'the model has no full round'],
  ['chamfer', ['chamfer'], 'the model has no beveled edge'],
  ['rib', ['rib'], 'the model has no rib'],
];

/** Traces that only one operation leaves, so that the list should name it. */
const ONLY_BY: readonly (readonly [kind: string, words: string, operations: readonly Operation[]])[] = [
  ['fillet', 'rounded edges', ['fillet', 'full-round']],
  ['chamfer', 'beveled edges', ['chamfer']],
];

/**
 * Where a list of build steps and the model do not fit together: it names what the model does not show, or keeps silent
 * about what it shows. These are questions to the student, never a proof.
 */
export function questionsOf(log: BuildLog | null, { evidence, replay }: Measurement): string[] {
  const features = evidence?.features ?? null;
  const other = replay?.sameAsFile === false ? ['The recipe gives another part than the file that came with it.'] : [];
  if (log === null || log.steps.length === 0 || features === null) return other;
  const has = (kinds: readonly string[]): boolean => kinds.some((kind) => (features[kind] ?? 0) > 0);
  const claimed = LEAVES.flatMap(([operation, kinds, words]) => {
    const step = log.steps.find((one) => one.operation === operation);
    return step === undefined || has(kinds)
      ? []
      : [
          `Line ${String(step.line)} of the list, "${step.text}", is read as "${OPERATION_NAMES[operation]}", but ${words}.`,
        ];
  });
  const silent = ONLY_BY.flatMap(([kind, words, operations]) => {
    const count = features[kind] ?? 0;
    return count === 0 || log.steps.some(({ operation }) => operations.includes(operation))
      ? []
      : [
          `The model has ${words}, and no step of the list makes them; they may be part of an outline, or the list may not be complete.`,
        ];
  });
  return [...other, ...claimed, ...silent];
}
