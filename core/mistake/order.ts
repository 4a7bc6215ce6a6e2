import { operationOf, type Effect, type Step } from '#core/recipe';

import { nameOf, type Subject } from './subject.ts';

const effectOf = (step: Step): Effect => operationOf(step.op).effect(step);

/** A cut before the material that fills it again; fillets and chamfers after holes whose rims they then take in. */
export function misordered(subject: Subject, step: Step, place: number): void {
  const effect = effectOf(step);
  const before = subject.steps[place - 1];
  if (effect === 'cuts') {
    const added = subject.steps.slice(1, place).findLast((other) => effectOf(other) === 'adds');
    if (added !== undefined)
      subject.put({
        kind: 'wrong-order',
        key: `${step.id}<${added.id}`,
        edits: [{ kind: 'move', stepId: step.id, before: added.id }],
        summary: `${nameOf(step)} before ${nameOf(added)}`,
        message: `${nameOf(step)} was made before ${nameOf(added)}, which fills it again. Cut after all material is there.`,
      });
  } else if (effect === 'dresses' && before !== undefined) {
    const later = subject.steps.slice(place + 1).findLast((other) => ['adds', 'cuts'].includes(effectOf(other)));
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
