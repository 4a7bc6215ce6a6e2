import { offsetPlane, pointOn, type WorkPlane } from '#core/kernel';
import { contourOf, cylinder, OutlineSchema, prismCaps, type Named, type Outline, type Region } from '#core/outline';
import { ProblemError } from '#core/problem';
import { ExpressionSchema } from '#core/quantity';
import { add, scale } from '#core/vector';

import type { Context, Outcome } from '../context.ts';
import { faced, regionsOf } from '../drawn.ts';
import { ModeSchema, PlaneSchema } from '../entries.ts';
import { length, MODE, PLANE } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';
import { seat } from '../start.ts';
import { describeOutline } from '../words.ts';

const fields = {
  mode: ModeSchema,
  plane: PlaneSchema,
  outline: OutlineSchema,
  /** Of the second outline, along the normal. */
  distance: ExpressionSchema,
  to: OutlineSchema,
};
type Loft = StepWith<typeof fields>;

function build(step: Loft, context: Context): Outcome {
  const { kernel, values, keep } = context;
  const plane = context.plane(step.plane);
  const distance = values.lengthMm(step.distance, 'distance of the outlines');
  if (Math.abs(distance) < 1e-9)
    throw new ProblemError('size-not-positive', 'The two outlines must lie on different planes.');
  const [first, second] = [step.outline, step.to].map((outline) => {
    const regions = regionsOf(outline, context);
    const [region] = regions;
    if (region === undefined || regions.length > 1 || region.holes.length > 0)
      throw new ProblemError('loft-outline', 'Only outlines in one piece and without holes can be joined.');
    return region;
  });
  if (first === undefined || second === undefined) throw new ProblemError('loft-outline', 'An outline is missing.');
  const end = offsetPlane(plane, distance);
  const body = keep(
    kernel.loft({ plane, contour: contourOf(first.outer) }, { plane: end, contour: contourOf(second.outer) }),
  );
  return {
    kind: 'parts',
    parts: [{ mode: step.mode, tools: [body] }],
    surfaces: faced(step.mode, [...prismCaps(plane, 0, distance), ...coneBetween(plane, first, second, distance)]),
  };
}

/** Between two circles on one axis the wall is a cone, or a cylinder. */
function coneBetween(plane: WorkPlane, first: Region, second: Region, distance: number): readonly Named[] {
  const [a, b] = [first.outer[0], second.outer[0]];
  if (a?.kind !== 'circle' || b?.kind !== 'circle') return [];
  if (Math.hypot(a.center[0] - b.center[0], a.center[1] - b.center[1]) > 1e-9) return [];
  const base = pointOn(plane, a.center);
  if (Math.abs(a.radiusMm - b.radiusMm) < 1e-9) return [['wall', cylinder(base, plane.normal, a.radiusMm, 'convex')]];
  const opening = Math.sign((b.radiusMm - a.radiusMm) * distance);
  return [
    [
      'wall',
      {
        kind: 'cone',
        origin: base,
        direction: scale(plane.normal, opening),
        radiusMm: a.radiusMm,
        halfAngleRad: Math.atan2(Math.abs(b.radiusMm - a.radiusMm), Math.abs(distance)),
        apex: add(base, scale(plane.normal, (distance * a.radiusMm) / (a.radiusMm - b.radiusMm))),
        side: 'convex',
      },
    ],
  ];
}

const circle = (diameter: string): Outline => ({ shape: 'circle', center: ['0', '0'], diameter });

/** A body between two outlines on parallel planes, added to the part or cut from it. */
export const loft = defineOperation({
  op: 'loft',
  name: 'Loft',
  searchWords: 'transition taper cone between outlines',
  logWords: /\bloft(ed|s)?\b|\bblend between\b|\btransition between\b/,
  fields,
  surfaces: ['start', 'end', 'wall'],
  effect: ({ mode }) => (mode === 'add' ? 'adds' : 'cuts'),
  build,
  sentence: (step) =>
    `${step.mode} from ${describeOutline(step.outline)} to ${describeOutline(step.to)}, ${step.distance} apart`,
  form: [
    MODE,
    PLANE,
    length('distance', 'Distance of the outlines'),
    { kind: 'outline', path: ['outline'], label: 'First outline' },
    { kind: 'outline', path: ['to'], label: 'Second outline' },
  ],
  start: ({ freeId, surfaces }): Loft => ({
    id: freeId('loft'),
    mode: 'add',
    plane: seat(surfaces),
    outline: circle('20'),
    distance: '20',
    to: circle('12'),
  }),
  otherOutlines: ({ outline, to }) => [
    { path: ['outline'], outline },
    { path: ['to'], outline: to },
  ],
});
