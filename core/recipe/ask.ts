import type { Outline } from '#core/outline';

import type { FieldPath } from './form.ts';
import { operationOf, type Operation, type Step } from './operations/index.ts';

/** What instructors and students read for an operation. */
export const operationName = (op: Operation): string => operationOf(op).name;

/** What a step does, with its numbers, such as "cut 8 deep, slot 60 x 10". */
export const describeStep = (step: Step): string => operationOf(step.op).sentence(step);

/** Every outline of a step, also within others, with where it stands. */
export function outlinesIn(step: Step): readonly { readonly path: FieldPath; readonly outline: Outline }[] {
  const found: { path: FieldPath; outline: Outline }[] = [];
  const walk = (outline: Outline, path: FieldPath): void => {
    found.push({ path, outline });
    if ('of' in outline) walk(outline.of, [...path, 'of']);
    if ('parts' in outline) outline.parts.forEach((part, i) => walk(part, [...path, 'parts', i]));
  };
  if ('outlines' in step) step.outlines.forEach((outline, i) => walk(outline, ['outlines', i]));
  for (const { path, outline } of operationOf(step.op).otherOutlines?.(step) ?? []) walk(outline, path);
  return found;
}
