import * as v from 'valibot';

import type { ChamferedEdge, Shape } from '#core/kernel';
import type { Named } from '#core/outline';
import { ProblemError } from '#core/problem';
import { ExpressionSchema } from '#core/quantity';

import { numbered, type Context, type Outcome } from '../context.ts';
import { newBetween, onSharpEdges } from '../dress.ts';
import { selectEdges } from '../edges.ts';
import { EdgesSchema, SurfaceNameSchema, type EdgeSelector } from '../entries.ts';
import { angle, EDGES, length } from '../form.ts';
import { defineOperation, type StepMistake, type StepWith } from '../operation.ts';
import { firstEdge } from '../start.ts';
import { facesOn } from '../surfaces.ts';
import { describeEdges } from '../words.ts';

const fields = {
  /** On both faces; with `other` or `angle`, on the face `on`, or the first surface of the edge. */
  size: ExpressionSchema,
  other: v.optional(ExpressionSchema),
  /** From the face that `size` lies on. */
  angle: v.optional(ExpressionSchema),
  on: v.optional(SurfaceNameSchema),
  edges: EdgesSchema,
};
type Chamfer = StepWith<typeof fields>;

function build(step: Chamfer, context: Context): Outcome {
  const { values, kernel } = context;
  const body = context.body();
  const sizeMm = values.sizeMm(step.size, 'chamfer size');
  if (step.other !== undefined && step.angle !== undefined)
    throw new ProblemError('chamfer-sizes', 'Give the chamfer a second size or an angle, not both.');
  const otherMm =
    step.other !== undefined
      ? values.sizeMm(step.other, 'second chamfer size')
      : step.angle !== undefined
        ? sizeMm * Math.tan(angleBelowRight(values.angleRad(step.angle, 'chamfer angle')))
        : undefined;
  const { faces } = context.tables(body);
  const edges = step.edges.flatMap((selector): ChamferedEdge[] => {
    const carrier = step.on ?? ('between' in selector ? selector.between[0] : undefined);
    const on = otherMm === undefined || carrier === undefined ? [] : facesOn(faces, context.surface(carrier));
    return selectEdges(body, selector, context).edges.map(({ id, faceIds }) => {
      if (otherMm === undefined) return { edgeId: id, sizeMm };
      const onFaceId = faceIds.find((face) => on.includes(face));
      if (onFaceId === undefined)
        throw new ProblemError(
          'chamfer-face',
          carrier === undefined
            ? 'Say which surface the first size of the chamfer lies on.'
            : `An edge of this chamfer does not lie on "${carrier}", which the first size is measured on.`,
        );
      return { edgeId: id, onFaceId, sizeMm, otherMm };
    });
  });
  const unique = edges.filter((edge, i) => edges.findIndex(({ edgeId }) => edgeId === edge.edgeId) === i);
  const chamfered = context.keep(kernel.chamfer(body, unique));
  return { kind: 'body', body: chamfered, surfaces: chamfersOf(step.edges, body, chamfered, context) };
}

function angleBelowRight(angleRad: number): number {
  if (!(angleRad > 1e-3 && angleRad < Math.PI / 2 - 1e-3))
    throw new ProblemError('bad-angle', 'The chamfer angle must lie between 0 and 90 degrees.');
  return angleRad;
}

const chamfersOf = (selectors: readonly EdgeSelector[], before: Shape, after: Shape, context: Context): Named[] =>
  selectors.flatMap((selector, i): Named[] => {
    const chamfer = 'between' in selector ? newBetween(before, after, selector.between, context) : null;
    return chamfer === null ? [] : [[numbered(i, selectors.length, 'chamfer'), chamfer]];
  });

function reversed({ size, other, angle: given }: Chamfer): readonly StepMistake[] {
  const bySizes: readonly StepMistake[] =
    other === undefined
      ? []
      : [
          {
            kind: 'chamfer-reversed',
            key: 'sizes',
            changes: [
              { path: ['size'], value: other },
              { path: ['other'], value: size },
            ],
            words: 'the two sizes are the wrong way round. Look on the sheet which of them lies on which face.',
            factor: 2,
          },
        ];
  const byAngle: readonly StepMistake[] =
    given === undefined
      ? []
      : [
          {
            kind: 'chamfer-reversed',
            key: 'angle',
            changes: [{ path: ['angle'], value: `90 - (${given})` }],
            words: 'the angle was taken from the other face.',
            factor: 2,
          },
        ];
  return [...bySizes, ...byAngle];
}

/** Edges that are cut off: by one size, by two, or by size and angle. */
export const chamfer = defineOperation({
  op: 'chamfer',
  name: 'Chamfer',
  searchWords: 'bevel edge break',
  logWords: /\bchamfer(s|ed)?\b|\bbevel(s|ed|led)?\b/,
  fields,
  surfaces: ['chamfer', '1.chamfer'],
  effect: () => 'dresses',
  build,
  sentence: ({ size, other, angle: given, edges }) =>
    `chamfer ${size}${other === undefined ? '' : ` x ${other}`}${given === undefined ? '' : ` x ${given} degrees`}, ${describeEdges(edges)}`,
  form: [
    length('size', 'Size'),
    length('other', 'Size on the other face', 'the same'),
    angle('angle', 'or angle', 'none'),
    { kind: 'optional-surface', path: ['on'], label: 'First size lies on' },
    EDGES,
  ],
  start: ({ freeId, surfaces }): Chamfer => ({
    id: freeId('chamfer'),
    size: '1',
    edges: [{ between: firstEdge(surfaces) }],
  }),
  mistakes: (step) => [...reversed(step), ...onSharpEdges(step)],
  numberRoles: { size: 'chamfer', other: 'chamfer' },
  leaves: { features: ['chamfer'], absent: 'the model has no chamfered edge' },
  ownFeature: 'chamfer',
  makerOf: { feature: 'chamfer', words: 'chamfered edges' },
});
