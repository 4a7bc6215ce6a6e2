import * as v from 'valibot';

import { solve } from '#core/fit';
import { cylinder } from '#core/outline';
import { ProblemError } from '#core/problem';
import { BUILT_PARALLEL_SINE } from '#core/tolerance';
import { add, cross, dot, extremes, length, normalize, scale, type Vec2 } from '#core/vector';

import type { Context, Outcome } from '../context.ts';
import { SurfaceNameSchema } from '../entries.ts';
import { defineOperation, type StepWith } from '../operation.ts';
import { planeAt } from '../planes.ts';
import { facesOn } from '../surfaces.ts';

const fields = {
  sides: v.pipe(v.tuple([SurfaceNameSchema, SurfaceNameSchema]), v.readonly()),
  middle: SurfaceNameSchema,
};

/**
 * In a section square to all three surfaces, the circle that touches them has its center at depth r below each:
 * c . n + r = d for three planes, three equations for two coordinates and r. What lies outside the arc is cut off.
 */
function build(step: StepWith<typeof fields>, context: Context): Outcome {
  const [firstName, secondName] = step.sides;
  const planes = [firstName, step.middle, secondName].map((name) => {
    const surface = context.surface(name);
    if (surface.kind !== 'plane')
      throw new ProblemError('surface-not-flat', `"${name}" is not flat; a full round needs three flat surfaces.`);
    return surface;
  });
  const [side, middle, other] = planes;
  if (side === undefined || middle === undefined || other === undefined)
    throw new ProblemError('surface-not-flat', 'A full round needs three flat surfaces.');
  const direction = normalize(cross(side.normal, middle.normal));
  if (
    length(cross(side.normal, middle.normal)) < BUILT_PARALLEL_SINE ||
    Math.abs(dot(direction, other.normal)) > BUILT_PARALLEL_SINE
  )
    throw new ProblemError('not-one-direction', 'The three surfaces of a full round must run in one direction.');
  const plane = planeAt(scale(direction, 0), direction);
  const flat = (vector: readonly [number, number, number]): Vec2 => [dot(vector, plane.u), dot(vector, plane.v)];
  const [n1, n2, n3] = [flat(side.normal), flat(middle.normal), flat(other.normal)];
  const [d1, d2, d3] = [side, middle, other].map(({ origin, normal }) => dot(origin, normal)) as [
    number,
    number,
    number,
  ];
  const solved = solve(
    [n1, n2, n3].map(([u, v]) => [u, v, 1]),
    [d1, d2, d3],
  );
  const [cu = 0, cv = 0, radius = 0] = solved ?? [];
  if (radius <= 1e-6) throw new ProblemError('no-round', 'No circle inside the part touches these three surfaces.');
  const on = (n: Vec2): Vec2 => [cu + radius * n[0], cv + radius * n[1]];
  const corner = (n: Vec2, d: number): Vec2 => {
    const det = n[0] * n2[1] - n[1] * n2[0];
    return [(d * n2[1] - d2 * n[1]) / det + n2[0], (n[0] * d2 - n2[0] * d) / det + n2[1]];
  };
  const body = context.body();
  const { faces, edges } = context.tables(body);
  const ids = facesOn(faces, middle);
  const [fromMm, toMm] = extremes(
    edges
      .filter(({ faceIds }) => faceIds.some((id) => ids.includes(id)))
      .flatMap(({ start, end }) => [dot(start, direction), dot(end, direction)]),
  );
  if (!(toMm > fromMm))
    throw new ProblemError('no-edge', `Nothing is left of the surface "${step.middle}" at this step.`);
  const tool = context.keep(
    context.kernel.extrude(
      plane,
      {
        kind: 'path',
        start: on(n1),
        segments: [
          { kind: 'arc', through: on(n2), to: on(n3) },
          { kind: 'line', to: corner(n3, d3) },
          { kind: 'line', to: corner(n1, d1) },
          { kind: 'line', to: on(n1) },
        ],
      },
      fromMm,
      toMm,
    ),
  );
  const center = add(add(scale(plane.u, cu), scale(plane.v, cv)), scale(direction, fromMm));
  return {
    kind: 'body',
    body: context.keep(context.kernel.cut(body, [tool])),
    surfaces: [['round', cylinder(center, direction, radius, 'convex')]],
  };
}

/** The middle surface of three becomes one half cylinder that is tangent to all of them. */
export const fullRound = defineOperation({
  op: 'full-round',
  name: 'Full round',
  searchWords: 'fillet nose end',
  logWords: /\bfull[ -]?rounds?\b|\b(three|3)[ -]faces? (round|fillet)/,
  fields,
  surfaces: ['round'],
  effect: () => 'dresses',
  build,
  sentence: ({ middle }) => `full round in place of ${middle}`,
  form: [
    { kind: 'surface', path: ['sides', 0], label: 'One side' },
    { kind: 'surface', path: ['middle'], label: 'Middle' },
    { kind: 'surface', path: ['sides', 1], label: 'Other side' },
  ],
  start: ({ freeId }): StepWith<typeof fields> => ({
    id: freeId('round'),
    sides: ['base.left', 'base.right'],
    middle: 'base.upper',
  }),
  leaves: { features: ['full-round', 'fillet'], absent: 'the model has no full round' },
  ownFeature: 'full-round',
  makerOf: { feature: 'fillet', words: 'filleted edges' },
});
