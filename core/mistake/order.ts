import type { Step } from '#core/recipe';

import { nameOf, type Subject } from './subject.ts';

/** A cut before the material that fills it again; rounds after holes whose rims they then take in. */
export function misordered(subject: Subject, step: Step, place: number): void {
  const isCut = step.op === 'hole' || ('mode' in step && step.mode === 'cut');
  const before = subject.steps[place - 1];
  if (isCut) {
    const added = subject.steps.slice(1, place).findLast((other) => 'mode' in other && other.mode === 'add');
    if (added !== undefined)
      subject.put({
        kind: 'wrong-order',
        key: `${step.id}<${added.id}`,
        edits: [{ kind: 'move', stepId: step.id, before: added.id }],
        summary: `${nameOf(step)} before ${nameOf(added)}`,
        message: `${nameOf(step)} was made before ${nameOf(added)}, which fills it again. Cut after all material is there.`,
      });
  } else if ((step.op === 'fillet' || step.op === 'chamfer') && before !== undefined) {
    const later = subject.steps.slice(place + 1).findLast(({ op }) => op === 'hole' || op === 'extrude');
    const after = later && subject.steps[subject.steps.indexOf(later) + 1];
    if (later !== undefined && after !== undefined)
      subject.put({
        kind: 'wrong-order',
        key: `${step.id}>${later.id}`,
        edits: [{ kind: 'move', stepId: step.id, before: after.id }],
        summary: `${nameOf(step)} after ${nameOf(later)}`,
        message: `${nameOf(step)} was made after ${nameOf(later)}, and takes in edges that the sheet leaves sharp.`,
      });
  }
}
