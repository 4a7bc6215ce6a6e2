import type { DrawingUnit } from '#core/quantity';
import type { Step, StepOf } from '#core/recipe';

import type { MistakeKind } from './catalogue.ts';
import type { Edit, Path } from './edit.ts';
import { nameOf, type Subject } from './subject.ts';

/** How a mistake of one step is made and noted. */
interface Choice {
  readonly unit: DrawingUnit;
  readonly set: (path: Path, value: unknown) => Edit;
  readonly put: (
    kind: MistakeKind,
    key: string,
    edits: readonly [Edit, ...Edit[]],
    why: string,
    factor?: number,
  ) => void;
}

/** What a step is set to, other than the sheet shows: depths, sides, recesses, bevels. */
export function choicesIn(subject: Subject, step: Step): void {
  const name = nameOf(step);
  const set = (path: Path, value: unknown): Edit => ({ kind: 'set', stepId: step.id, path, value });
  const put = (kind: MistakeKind, key: string, edits: readonly [Edit, ...Edit[]], why: string, factor = 1): void => {
    subject.put({ kind, key: `${step.id}/${key}`, edits, summary: name, message: `${name}: ${why}`, factor });
  };
  const choice: Choice = { unit: subject.recipe.unit, set, put };
  switch (step.op) {
    case 'hole':
      atHole(choice, step);
      break;
    case 'extrude':
      atExtrude(choice, step);
      break;
    case 'rib':
      put(
        'wrong-side',
        'side',
        [set(['side'], step.side === 'left' ? 'right' : 'left')],
        'the material lies on the other side of its line.',
      );
      break;
    case 'chamfer':
      if (step.other !== undefined)
        put(
          'bevel-reversed',
          'sizes',
          [set(['size'], step.other), set(['other'], step.size)],
          `the two sizes are the wrong way round. Look on the sheet which of them lies on which face.`,
          2,
        );
      if (step.angle !== undefined)
        put(
          'bevel-reversed',
          'angle',
          [set(['angle'], `90 - (${step.angle})`)],
          'the angle was taken from the other face.',
          2,
        );
      onRims(choice, step);
      break;
    case 'fillet':
      onRims(choice, step);
      break;
    default:
  }
}

function atHole({ unit, set, put }: Choice, step: StepOf<'hole'>): void {
  const { depth, counterbore, countersink } = step;
  if (step.at.kind === 'points' && step.at.points.length > 1)
    for (const [hole] of step.at.points.entries())
      put(
        'radius-for-diameter',
        `alone-${String(hole)}`,
        [{ kind: 'single', stepId: step.id, hole, path: ['diameter'], value: `(${step.diameter})/2` }],
        `number ${String(hole + 1)} has half of the diameter that the sheet gives, the others are right. Was the radius typed there?`,
        0.3,
      );
  const fallback = unit === 'mm' ? '10' : '0.5';
  if (depth.kind !== 'blind')
    put(
      'blind-for-through',
      'depth',
      [set(['depth'], { kind: 'blind', depth: fallback })],
      `the holes end inside the part (${fallback} ${unit} deep); the sheet shows them going through.`,
    );
  if (depth.kind === 'blind') {
    put(
      'through-for-blind',
      'depth',
      [set(['depth'], { kind: 'through' })],
      'the holes go through; the sheet gives them a depth.',
    );
    const other = depth.bottom === 'drill-point' ? 'flat' : 'drill-point';
    put(
      'drill-point',
      'bottom',
      [set(['depth', 'bottom'], other)],
      `the bottom is ${other === 'flat' ? 'flat' : 'a drill point'}; the sheet shows the other.`,
    );
  } else
    put(
      'wall-or-all',
      'walls',
      [set(['depth'], { kind: depth.kind === 'wall' ? 'through' : 'wall' })],
      depth.kind === 'wall'
        ? 'the hole goes through every wall; the sheet shows it in one only.'
        : 'the hole goes through the first wall only; the sheet shows it going through all.',
    );
  if (counterbore !== undefined) {
    put('recess-forgotten', 'counterbore', [set(['counterbore'], null)], 'the counterbore is missing.');
    put(
      'recess-swapped',
      'counterbore',
      [set(['counterbore'], { diameter: counterbore.depth, depth: counterbore.diameter })],
      'diameter and depth of the counterbore are swapped.',
    );
    put(
      'recess-kind',
      'countersink',
      [set(['counterbore'], null), set(['countersink'], { diameter: counterbore.diameter })],
      'there is a countersink where the sheet shows a counterbore.',
    );
  }
  if (countersink !== undefined) {
    put('recess-forgotten', 'countersink', [set(['countersink'], null)], 'the countersink is missing.');
    put(
      'recess-kind',
      'counterbore',
      [
        set(['countersink'], null),
        set(['counterbore'], { diameter: countersink.diameter, depth: `(${countersink.diameter})/4` }),
      ],
      'there is a counterbore where the sheet shows a countersink.',
    );
  }
}

function atExtrude({ unit, set, put }: Choice, step: StepOf<'extrude'>): void {
  const { extent, mode } = step;
  put(
    'wrong-side',
    'reversed',
    [set(['reversed'], step.reversed === true ? null : true)],
    `it was extruded to the other side of its plane.`,
  );
  if (extent.kind === 'symmetric') {
    put(
      'one-sided',
      'extent',
      [set(['extent'], { kind: 'depth', depth: extent.depth })],
      'it lies on one side of its plane; the sheet shows it symmetric.',
    );
    put(
      'one-sided',
      'extent-half',
      [set(['extent'], { kind: 'depth', depth: `(${extent.depth})/2` })],
      'only half of it is there; the sheet shows it symmetric about its plane.',
      0.5,
    );
  }
  if (extent.kind === 'depth')
    put(
      'one-sided',
      'extent',
      [set(['extent'], { kind: 'symmetric', depth: extent.depth })],
      'it is symmetric about its plane; the sheet shows it on one side.',
      0.7,
    );
  if (extent.kind === 'two-sided')
    put(
      'wrong-side',
      'swapped',
      [set(['extent'], { ...extent, depth: extent.back, back: extent.depth })],
      'its two depths are swapped.',
    );
  if (mode === 'cut' && extent.kind === 'through') {
    const fallback = unit === 'mm' ? '10' : '0.5';
    put(
      'blind-for-through',
      'extent',
      [set(['extent'], { kind: 'depth', depth: fallback })],
      `it ends after ${fallback} ${unit}; the sheet shows it going through.`,
    );
  }
  if (mode === 'cut' && extent.kind === 'depth')
    put(
      'through-for-blind',
      'extent',
      [set(['extent'], { kind: 'through' })],
      'it goes through; the sheet gives it a depth.',
    );
}

/** Rounds and bevels of every edge that left some out. */
function onRims({ set, put }: Choice, step: StepOf<'fillet' | 'chamfer'>): void {
  step.edges.forEach((selector, i) => {
    if ('every' in selector && selector.except !== undefined)
      put(
        'rounds-on-rims',
        `except-${String(i)}`,
        [set(['edges', i, 'except'], null)],
        'it is also on edges that the sheet leaves sharp.',
        2,
      );
  });
}
