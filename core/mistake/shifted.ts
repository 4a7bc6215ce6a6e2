import type { Step } from '#core/recipe';

import type { Edit } from './edit.ts';
import { nameOf, written, type Subject } from './subject.ts';

const DIRECTIONS = [
  { coordinate: 0, words: 'across' },
  { coordinate: 1, words: 'up' },
] as const;
/** Other edges that a pattern may have been measured from: the nearest sizes of the sheet. */
const MOST_EDGES = 2;

/** What lies as a whole beside its place: all of a pattern, an offset that was forgotten, a rib beside its middle. */
export function shiftedIn(subject: Subject, step: Step): void {
  patternShifted(subject, step);
  offsetForgotten(subject, step);
  if (step.op === 'rib') {
    ribBesideMiddle(subject, step);
    legsSwapped(subject, step);
  }
}

/** All points of a step off by one size in one direction: the whole pattern was measured from another edge. */
function patternShifted(subject: Subject, step: Step): void {
  if (step.op !== 'hole' || step.at.kind !== 'points' || step.at.points.length < 2) return;
  const { points } = step.at;
  const sizes = [...subject.onSheet].sort((a, b) => a - b).slice(0, MOST_EDGES);
  for (const { coordinate, words } of DIRECTIONS)
    for (const size of sizes)
      for (const sign of ['+', '-'] as const) {
        const [first, ...others] = points.map((point, i): Edit => ({
          kind: 'set',
          stepId: step.id,
          path: ['at', 'points', i, coordinate],
          value: `(${point[coordinate]}) ${sign} ${written(size)}`,
        }));
        if (first === undefined) continue;
        subject.put({
          kind: 'wrong-edge',
          key: `${step.id}/all/${words}${sign}${written(size)}`,
          edits: [first, ...others],
          summary: `${nameOf(step)}, all of them ${words}`,
          message: `${nameOf(step)}: all of them lie ${subject.words(size, 'width')} off their place. Was the whole pattern measured from another edge than the sheet shows?`,
          factor: 0.5,
        });
      }
}

/** An offset of the plane, or of where the material begins, that was left out. */
function offsetForgotten(subject: Subject, step: Step): void {
  const offsets = [
    { path: ['start'], value: 'start' in step && typeof step.start === 'string' ? step.start : null },
    { path: ['plane', 'offset'], value: 'plane' in step ? (step.plane.offset ?? null) : null },
  ];
  for (const { path, value } of offsets) {
    const size = value === null ? null : subject.valueOf(value);
    if (size === null || size === 0) continue;
    subject.put({
      kind: 'offset-forgotten',
      key: `${step.id}/${path.join('/')}`,
      edits: [{ kind: 'set', stepId: step.id, path, value: null }],
      summary: nameOf(step),
      message: `${nameOf(step)}: it begins in the plane itself; the sheet shows it ${subject.words(Math.abs(size), 'offset')} away from it.`,
    });
  }
}

/** A rib with all of its thickness on one side of its line. */
function ribBesideMiddle(subject: Subject, step: Extract<Step, { op: 'rib' }>): void {
  for (const sign of ['+', '-'] as const)
    subject.put({
      kind: 'one-sided',
      key: `${step.id}/plane${sign}`,
      edits: [
        {
          kind: 'set',
          stepId: step.id,
          path: ['plane', 'offset'],
          value: `(${step.plane.offset ?? '0'}) ${sign} (${step.thickness})/2`,
        },
      ],
      summary: `${nameOf(step)}, to one side`,
      message: `${nameOf(step)}: all of its thickness lies on one side of its line; the sheet shows it in the middle of it.`,
      factor: 0.5,
    });
}

/** A rib whose leg along one face has the length of that along the other. */
function legsSwapped(subject: Subject, step: Extract<Step, { op: 'rib' }>): void {
  const [fromU = 0, fromV = 0, toU = 0, toV = 0] = [...step.from, ...step.to].map(
    (expression) => subject.valueOf(expression) ?? Number.NaN,
  );
  const [across, up] = [toU - fromU, fromV - toV];
  const isTold = Math.min(Math.abs(across), Math.abs(up), Math.abs(Math.abs(across) - Math.abs(up))) > 1e-6;
  if (!isTold) return;
  subject.put({
    kind: 'legs-swapped',
    key: step.id,
    edits: [
      {
        kind: 'set',
        stepId: step.id,
        path: ['from', 1],
        value: written(toV + Math.sign(up) * Math.abs(across)),
      },
      { kind: 'set', stepId: step.id, path: ['to', 0], value: written(fromU + Math.sign(across) * Math.abs(up)) },
    ],
    summary: nameOf(step),
    message: `${nameOf(step)}: its two legs are the wrong way round: ${subject.words(Math.abs(across), 'width')} and ${subject.words(Math.abs(up), 'width')} are swapped.`,
  });
}
