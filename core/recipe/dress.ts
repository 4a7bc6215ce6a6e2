import type { Shape } from '#core/kernel';
import type { Surface } from '#core/solid';

import type { Context } from './context.ts';
import type { EdgeSelector } from './entries.ts';
import type { StepMistake } from './operation.ts';
import { facesOn, sameSurface } from './surfaces.ts';

/** The surface that lies between two named ones in the new body and was not in the old one. */
export function newBetween(
  before: Shape,
  after: Shape,
  [a, b]: readonly [string, string],
  context: Context,
): Surface | null {
  const old = context.tables(before).faces;
  const { faces, edges } = context.tables(after);
  const [onA, onB] = [facesOn(faces, context.surface(a)), facesOn(faces, context.surface(b))];
  const beside = (id: number, ids: readonly number[]) =>
    edges.some(({ faceIds }) => faceIds.includes(id) && faceIds.some((other) => ids.includes(other)));
  const found = faces.find(
    ({ id, surface }) =>
      surface.kind !== 'freeform' &&
      beside(id, onA) &&
      beside(id, onB) &&
      !old.some((face) => sameSurface(face.surface, surface)),
  );
  return found?.surface ?? null;
}

/** Fillets and chamfers of every edge that left some out. */
export const onSharpEdges = ({ edges }: { readonly edges: readonly EdgeSelector[] }): readonly StepMistake[] =>
  edges.flatMap((selector, i): readonly StepMistake[] =>
    'every' in selector && selector.except !== undefined
      ? [
          {
            kind: 'edges-not-sharp',
            key: `except-${String(i)}`,
            changes: [{ path: ['edges', i, 'except'], value: null }],
            words: 'it is also on edges that the sheet leaves sharp.',
            factor: 2,
          },
        ]
      : [],
  );
