import type { Named } from '#core/outline';
import { ProblemError } from '#core/problem';
import { placeSurface, type Axis } from '#core/solid';
import { multiply, subtract, type Mat3, type Placement, type Vec3 } from '#core/vector';

import type { Context, Outcome, Part } from './context.ts';
import { rotation } from './planes.ts';
import type { Repeat } from './operation.ts';

/** A placement that keeps sizes. */
export const placed = (rotation: Mat3, translation: Vec3): Placement => ({ rotation, scale: 1, translation });

/** The turn about an axis that carries a part onto its copy. */
export function turnAbout({ origin, direction }: Axis, angleRad: number): Placement {
  const turn = rotation(direction, angleRad);
  return placed(turn, subtract(origin, multiply(turn, origin)));
}

/** The first place is that of the original, so copies are numbered from 2. */
export function pattern(
  step: { readonly steps: readonly string[]; readonly skip?: readonly number[] | undefined },
  places: readonly Placement[],
  context: Context,
): Outcome {
  if (step.skip?.includes(1))
    throw new ProblemError('skips-original', 'Place 1 is the original itself and cannot be skipped.');
  const copies = places.flatMap((motion, i) =>
    i === 0 || step.skip?.includes(i + 1) ? [] : [{ motion, name: (role: string) => `${String(i + 1)}.${role}` }],
  );
  return copied(step.steps, copies, context);
}

interface Copy {
  readonly motion: Placement;
  readonly name: (role: string) => string;
}

/** All copies of what the steps made, in the order of the steps. Surfaces are named by copy, step and role. */
export function copied(stepIds: readonly string[], copies: readonly Copy[], context: Context): Outcome {
  const { kernel, keep } = context;
  const originals = stepIds.map((id) => ({ id, ...context.made(id) }));
  const parts = originals.flatMap(({ parts: own }) =>
    own.map(({ mode, tools }): Part => ({
      mode,
      tools: copies.flatMap(({ motion }) =>
        tools.map((tool) => keep(kernel.moved(tool, motion.rotation, motion.translation))),
      ),
    })),
  );
  const surfaces = originals.flatMap(({ id, surfaces: own }) =>
    copies.flatMap(({ motion, name }) =>
      own.map(([role, surface]): Named => [name(`${id}.${role}`), placeSurface(motion, surface)]),
    ),
  );
  return { kind: 'parts', parts, surfaces };
}

/** The places of a pattern; its first copy is the step itself, which stays. */
export const patternPlaces = ({
  skip = [],
  count,
}: {
  readonly skip?: readonly number[] | undefined;
  readonly count: string;
}): readonly Repeat[] => [{ kind: 'places', path: ['skip'], skip, count, first: 2 }];
