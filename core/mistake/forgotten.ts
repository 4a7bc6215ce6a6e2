import { operationOf, outlinesIn, type Effect, type FieldPath, type Repeat, type Step } from '#core/recipe';

import { nameOf, type Subject } from './subject.ts';

/** Effects of steps that make something of the part, which can be forgotten. */
const VISIBLE = new Set<Effect>(['adds', 'cuts', 'dresses', 'copies']);

/** A step that is left out, and one of several things in it; places that are filled though the sheet leaves them free. */
export function forgottenIn(subject: Subject, step: Step): void {
  const { id } = step;
  const name = nameOf(step);
  const operation = operationOf(step.op);
  const place = subject.steps.indexOf(step);
  // Of a recipe the first step is the part itself; one that was read from a file is there without its steps.
  const isFeature = place > 0 || subject.isFromFile;
  if (isFeature && VISIBLE.has(operation.effect(step)))
    subject.put({
      kind: 'feature-forgotten',
      key: id,
      edits: [{ kind: 'drop', stepId: id }],
      summary: name,
      message: `${name}: missing. The sheet shows it, the model does not have it.`,
    });
  listed(subject, step, { list: ['outlines'], length: 'outlines' in step ? step.outlines.length : 0, name });
  listed(subject, step, { list: ['edges'], length: 'edges' in step ? step.edges.length : 0, name });
  for (const repeat of operation.repeats?.(step) ?? []) {
    if (repeat.kind === 'list') listed(subject, step, { list: repeat.path, length: repeat.length, name });
    else places(subject, step, repeat, name);
  }
  for (const { path, outline } of outlinesIn(step)) {
    if (outline.shape === 'polar' || outline.shape === 'row')
      places(
        subject,
        step,
        { kind: 'places', path: [...path, 'skip'], skip: outline.skip ?? [], count: outline.count, first: 1 },
        name,
      );
    if (outline.shape === 'union' || outline.shape === 'difference')
      outline.parts.forEach((_, i) => {
        if (i > 0 && outline.parts.length > 2) drop(subject, step, { at: [...path, 'parts', i], number: i + 1, name });
      });
  }
}

function listed(
  subject: Subject,
  step: Step,
  { list, length, name }: { readonly list: FieldPath; readonly length: number; readonly name: string },
): void {
  if (length > 1) for (let i = 0; i < length; i++) drop(subject, step, { at: [...list, i], number: i + 1, name });
}

function drop(
  subject: Subject,
  step: Step,
  { at, number, name }: { readonly at: FieldPath; readonly number: number; readonly name: string },
): void {
  const path = at;
  subject.put({
    kind: 'one-forgotten',
    key: `${step.id}/${path.join('/')}`,
    edits: [{ kind: 'set', stepId: step.id, path, value: null }],
    summary: `${name}, number ${String(number)}`,
    message: `${name}: number ${String(number)} is missing. Count them on the sheet.`,
  });
}

/** Copies at places that can be skipped: one that is left out, and one that is filled though the sheet skips it. */
function places(subject: Subject, step: Step, repeat: Extract<Repeat, { kind: 'places' }>, name: string): void {
  const { skip, count, first } = repeat;
  const { path } = repeat;
  const total = subject.valueOf(count) ?? 0;
  for (let number = first; number <= Math.min(total, 24); number++) {
    if (skip.includes(number)) continue;
    subject.put({
      kind: 'one-forgotten',
      key: `${step.id}/${path.join('/')}/${String(number)}`,
      edits: [{ kind: 'set', stepId: step.id, path, value: [...skip, number] }],
      summary: `${name}, number ${String(number)}`,
      message: `${name}: number ${String(number)} of ${String(total - skip.length)} is missing. Count them on the sheet.`,
    });
  }
  for (const number of skip)
    subject.put({
      kind: 'one-too-many',
      key: `${step.id}/${path.join('/')}/${String(number)}`,
      edits: [{ kind: 'set', stepId: step.id, path, value: skip.filter((other) => other !== number) }],
      summary: `${name}, number ${String(number)}`,
      message: `${name}: there is one at a place that the sheet leaves free (number ${String(number)} of ${String(total)}).`,
      factor: 2,
    });
}
