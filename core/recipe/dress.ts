import type { Shape } from '#core/kernel';
import { roundingMm, type Surface } from '#core/solid';
import { SAME_SIZE_MM } from '#core/tolerance';

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

/** More rounds than that are not told one by one. */
const MOST_ROUNDS = 100;

/** The rounds of a radius that the new body has and the old one had not, each surface once. */
export function newRounds(before: Shape, after: Shape, radiusMm: number, context: Context): readonly Surface[] {
  const old = context.tables(before).faces;
  const isRound = (surface: Surface): boolean => {
    const radius = roundingMm(surface);
    return radius !== null && Math.abs(radius - radiusMm) < SAME_SIZE_MM;
  };
  const found: Surface[] = [];
  for (const { surface } of context.tables(after).faces) {
    const isKnown = [...old.map((face) => face.surface), ...found].some((one) => sameSurface(one, surface));
    if (isRound(surface) && !isKnown && found.length < MOST_ROUNDS) found.push(surface);
  }
  return found;
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
