import type { BuildLog } from '#core/buildlog';
import type { Measurement } from '#core/check';
import { operationName, operationOf, OPERATIONS } from '#core/recipe';

/**
 * Where a list of build steps and the model do not fit together: it names what the model does not show, or keeps silent
 * about what it shows. These are questions to the student, never a proof.
 */
export function questionsOf(log: BuildLog | null, { evidence, replay }: Measurement): string[] {
  const features = evidence?.features ?? null;
  const other = replay?.sameAsFile === false ? ['The recipe gives another part than the file that came with it.'] : [];
  if (log === null || log.steps.length === 0 || features === null) return other;
  const has = (kinds: readonly string[]): boolean => kinds.some((kind) => (features[kind] ?? 0) > 0);
  const named = OPERATIONS.flatMap((operation) => log.steps.find((step) => step.operation === operation) ?? []);
  const claimed = named.flatMap(({ operation, line, text }) => {
    const { leaves } = operationOf(operation);
    return leaves === undefined || has(leaves.features)
      ? []
      : [
          `Line ${String(line)} of the list, "${text}", is read as "${operationName(operation)}", but ${leaves.absent}.`,
        ];
  });
  const unnamed = new Map(
    OPERATIONS.flatMap((operation) => {
      const { makerOf } = operationOf(operation);
      return makerOf === undefined ? [] : [[makerOf.feature, makerOf.words] as const];
    }),
  );
  for (const { operation } of named) unnamed.delete(operationOf(operation).makerOf?.feature ?? 'hole');
  const silent = [...unnamed].flatMap(([feature, words]) =>
    has([feature])
      ? [
          `The model has ${words}, and no step of the list makes them; they may be part of an outline, or the list may not be complete.`,
        ]
      : [],
  );
  return [...other, ...claimed, ...silent];
}
