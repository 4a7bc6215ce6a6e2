import type { Named } from '#core/outline';
import { ExpressionSchema } from '#core/quantity';

import { numbered, type Context, type Outcome } from '../context.ts';
import { newBetween, newRounds, onSharpEdges } from '../dress.ts';
import { selectEdges } from '../edges.ts';
import { EdgesSchema } from '../entries.ts';
import { EDGES, length } from '../form.ts';
import { defineOperation, type StepWith } from '../operation.ts';
import { firstEdge } from '../start.ts';
import { filletBetween, sameSurface } from '../surfaces.ts';
import { describeEdges } from '../words.ts';

const fields = { radius: ExpressionSchema, edges: EdgesSchema };

function build(step: StepWith<typeof fields>, context: Context): Outcome {
  const body = context.body();
  const radius = context.values.sizeMm(step.radius, 'radius');
  const chosen = step.edges.map((selector) => selectEdges(body, selector, context));
  const ids = [...new Set(chosen.flatMap(({ edges }) => edges.map(({ id }) => id)))];
  const rounded = context.keep(context.kernel.fillet(body, ids, radius));
  const rounds = step.edges.every((selector) => 'between' in selector) ? [] : newRounds(body, rounded, radius, context);
  const surfaces = step.edges.flatMap((selector, i): Named[] => {
    if (!('between' in selector)) return [];
    const [a, b] = selector.between;
    const round =
      filletBetween(context.surface(a), context.surface(b), radius, chosen[i]?.side ?? 'convex') ??
      newBetween(body, rounded, [a, b], context);
    return round === null ? [] : [[numbered(i, step.edges.length, 'fillet'), round]];
  });
  const named = surfaces.map(([, surface]) => surface);
  const others = rounds.filter((round) => !named.some((surface) => sameSurface(surface, round)));
  return {
    kind: 'body',
    body: rounded,
    surfaces: [...surfaces, ...others.map((round, k): Named => [`round-${String(k + 1)}`, round])],
  };
}

/** A constant fillet on chosen edges. */
export const fillet = defineOperation({
  op: 'fillet',
  name: 'Fillet',
  searchWords: 'round radius soften edges',
  logWords:
    /\bfillet(s|ed)?\b|\brounds\b|\bround(ed|ing)?\b.*\b(edges?|corners?|rims?|off)\b|^round(ed|ing)?( r ?\d.*)?$|\bedge radi(us|i)\b/,
  fields,
  surfaces: ['fillet', '1.fillet', 'round-1'],
  effect: () => 'dresses',
  build,
  sentence: ({ radius, edges }) => `fillet R ${radius}, ${describeEdges(edges)}`,
  form: [length('radius', 'Radius'), EDGES],
  start: ({ freeId, surfaces }): StepWith<typeof fields> => ({
    id: freeId('fillet'),
    radius: '2',
    edges: [{ between: firstEdge(surfaces) }],
  }),
  mistakes: onSharpEdges,
  leaves: { features: ['fillet', 'full-round'], absent: 'the model has no filleted edge' },
  ownFeature: 'fillet',
  makerOf: { feature: 'fillet', words: 'filleted edges' },
});
