import type { Named } from '#core/outline';
import { ProblemError } from '#core/problem';
import { placeSurface, type Axis } from '#core/solid';
import {
  add,
  dot,
  IDENTITY,
  multiply,
  ORIGIN,
  scale,
  subtract,
  type Mat3,
  type Placement,
  type Vec3,
} from '#core/vector';

import type { Context, Outcome, Part } from './context.ts';
import { rotation } from './planes.ts';
import type { StepOf } from './schema.ts';

/** A placement that keeps sizes. */
const placed = (rotation: Mat3, translation: Vec3): Placement => ({ rotation, scale: 1, translation });

export function mirror(step: StepOf<'mirror'>, context: Context): Outcome {
  const plane = context.plane(step.plane);
  const [x, y, z] = plane.normal;
  const reflect = (n: number): Vec3 => [-2 * n * x, -2 * n * y, -2 * n * z];
  const motion = placed(
    [add([1, 0, 0], reflect(x)), add([0, 1, 0], reflect(y)), add([0, 0, 1], reflect(z))],
    scale(plane.normal, 2 * dot(plane.origin, plane.normal)),
  );
  if (step.steps !== undefined) return copied(step.steps, [{ motion, name: (role) => role }], context);
  const image = context.keep(context.kernel.moved(context.body(), motion.rotation, motion.translation));
  return {
    kind: 'parts',
    parts: [{ mode: 'add', tools: [image] }],
    surfaces: [...context.surfaces()].map(([name, surface]): Named => [name, placeSurface(motion, surface)]),
  };
}

export function linearPattern(step: StepOf<'linear-pattern'>, context: Context): Outcome {
  const { values } = context;
  const rows = [step, ...(step.second ? [step.second] : [])].map(({ direction, count, spacing }) => ({
    direction: context.axis(direction).direction,
    count: values.count(count, 'number of copies', { least: 1, most: 200 }),
    spacing: values.lengthMm(spacing, 'spacing'),
  }));
  const [first, second] = rows;
  if (first === undefined) throw new ProblemError('bad-count', 'A pattern needs a direction.');
  const columns = second?.count ?? 1;
  if (first.count * columns > 400) throw new ProblemError('bad-count', 'A pattern can have up to 400 places.');
  const places = Array.from({ length: first.count * columns }, (_, i): Placement => {
    const along = scale(first.direction, first.spacing * (i % first.count));
    const across = second ? scale(second.direction, second.spacing * Math.floor(i / first.count)) : ORIGIN;
    return placed(IDENTITY, add(along, across));
  });
  return pattern(step, places, context);
}

export function circularPattern(step: StepOf<'circular-pattern'>, context: Context): Outcome {
  const { values } = context;
  const axis = context.axis(step.axis);
  const count = values.count(step.count, 'number of copies', { least: 1, most: 200 });
  const whole = step.angle === undefined ? 2 * Math.PI : values.angleRad(step.angle, 'angle of the pattern');
  const closed = Math.abs(Math.abs(whole) - 2 * Math.PI) < 1e-9;
  const between = closed ? whole / count : count === 1 ? 0 : whole / (count - 1);
  return pattern(
    step,
    Array.from({ length: count }, (_, i) => turnAbout(axis, between * i)),
    context,
  );
}

function turnAbout({ origin, direction }: Axis, angleRad: number): Placement {
  const turn = rotation(direction, angleRad);
  return placed(turn, subtract(origin, multiply(turn, origin)));
}

/** The first place is that of the original, so copies are numbered from 2. */
function pattern(
  step: StepOf<'linear-pattern'> | StepOf<'circular-pattern'>,
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
function copied(stepIds: readonly string[], copies: readonly Copy[], context: Context): Outcome {
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
