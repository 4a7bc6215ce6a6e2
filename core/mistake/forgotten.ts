import type { Step } from '#core/recipe';

import type { Path } from './edit.ts';
import { nameOf, type Subject } from './subject.ts';

/** A step that is left out, and one of several things in it; places that are filled though the sheet leaves them free. */
export function forgottenIn(subject: Subject, step: Step): void {
  const { id } = step;
  const name = nameOf(step);
  const place = subject.steps.indexOf(step);
  // Of a recipe the first step is the part itself; one that was read from a file is there without its steps.
  const isFeature = place > 0 || subject.isFromFile;
  if (isFeature && step.op !== 'plane' && step.op !== 'axis' && step.op !== 'thread')
    subject.put({
      kind: 'step-forgotten',
      key: id,
      edits: [{ kind: 'drop', stepId: id }],
      summary: name,
      message: `${name}: missing. The sheet shows it, the model does not have it.`,
    });
  listed(subject, step, 'outlines', 'outlines' in step ? step.outlines.length : 0, name);
  listed(subject, step, 'edges', 'edges' in step ? step.edges.length : 0, name);
  if (step.op !== 'hole') {
    if ('skip' in step || step.op === 'circular-pattern' || step.op === 'linear-pattern')
      skips(subject, step, ['skip'], name);
    for (const { path, outline } of outlinesIn(step)) {
      if (outline.shape === 'polar' || outline.shape === 'row') skips(subject, step, [...path, 'skip'], name, outline);
      if (outline.shape === 'union' || outline.shape === 'difference')
        outline.parts.forEach((_, i) => {
          if (i > 0 && outline.parts.length > 2) drop(subject, step, [...path, 'parts', i], i + 1, name);
        });
    }
    return;
  }
  if (step.at.kind === 'bolt-circle') skips(subject, step, ['at', 'skip'], name, step.at);
  else {
    const list = step.at.kind === 'points' ? 'points' : 'with';
    const { length } = step.at.kind === 'points' ? step.at.points : step.at.with;
    if (length > 1) for (let i = 0; i < length; i++) drop(subject, step, ['at', list, i], i + 1, name);
  }
}

function listed(subject: Subject, step: Step, list: 'outlines' | 'edges', length: number, name: string): void {
  if (length > 1) for (let i = 0; i < length; i++) drop(subject, step, [list, i], i + 1, name);
}

function drop(subject: Subject, step: Step, path: Path, number: number, name: string): void {
  subject.put({
    kind: 'one-forgotten',
    key: `${step.id}/${path.join('/')}`,
    edits: [{ kind: 'set', stepId: step.id, path, value: null }],
    summary: `${name}, number ${String(number)}`,
    message: `${name}: number ${String(number)} is missing. Count them on the sheet.`,
  });
}

/** Copies at places that can be skipped: one that is left out, and one that is filled though the sheet skips it. */
function skips(subject: Subject, step: Step, path: Path, name: string, of: object = step): void {
  const { skip = [], count } = of as { readonly skip?: readonly number[] | undefined; readonly count?: string };
  const total = count === undefined ? 0 : (subject.valueOf(count) ?? 0);
  // The first copy of a pattern is the step itself, which stays.
  const first = step.op === 'circular-pattern' || step.op === 'linear-pattern' ? 2 : 1;
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
type AnyOutline = Extract<Step, { op: 'extrude' }>['outlines'][number];

/** Every outline of a step, also within others, with where it stands. */
function outlinesIn(
  step: Step,
): readonly { readonly path: readonly (string | number)[]; readonly outline: AnyOutline }[] {
  const found: { path: readonly (string | number)[]; outline: AnyOutline }[] = [];
  const walk = (outline: AnyOutline, path: readonly (string | number)[]): void => {
    found.push({ path, outline });
    if ('of' in outline) walk(outline.of, [...path, 'of']);
    if ('parts' in outline) outline.parts.forEach((part, i) => walk(part, [...path, 'parts', i]));
  };
  if ('outlines' in step) step.outlines.forEach((outline, i) => walk(outline, ['outlines', i]));
  if (step.op === 'loft') {
    walk(step.outline, ['outline']);
    walk(step.to, ['to']);
  }
  return found;
}
