import { cylinderAlong } from '#core/fit';
import { distanceToLine } from '#core/vector';

import { MembersSchema, plannedSize, SurfaceNamesSchema, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { membersOf } from '../pair.ts';
import { uncertain } from '../rulings.ts';

const LEAST_HOLES = 3;

/** Of the circle through the axes of holes. */
export const boltCircle = defineKind({
  kind: 'bolt-circle',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, of: SurfaceNamesSchema },
  target: { ...targetSize, members: MembersSchema },
  hangsOn: ['of'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    if (check.of.length < LEAST_HOLES) return context.refuse('a bolt circle needs at least three holes.');
    return { ...context.size(check), members: membersOf(check.of, context) };
  },
  measure: ({ members, nominal }, context) => {
    const walls = members.flatMap((ids) => context.partner(ids) ?? []);
    const axes = walls.flatMap(({ surface }) => (surface.kind === 'cylinder' ? [surface] : []));
    const [first] = axes;
    const about = { faceIds: walls.map(({ id }) => id), referenceFaceIds: members.flat() };
    if (first === undefined || axes.length < LEAST_HOLES)
      return { ...about, measured: null, reason: 'Fewer than three of its holes are on the model.' };
    const circle = cylinderAlong(
      first.direction,
      axes.map(({ origin }) => origin),
    );
    const center = circle?.shape.kind === 'cylinder' ? circle.shape : null;
    if (center === null) return { ...about, measured: null, reason: 'Its holes lie on a line.' };
    // A hole beside the circle shows as the diameter that is farthest off.
    const diameters = axes.map(({ origin }) => 2 * distanceToLine(origin, center.origin, center.direction));
    const measured = diameters.reduce((a, b) => (Math.abs(b - nominal) > Math.abs(a - nominal) ? b : a));
    return { ...about, measured, ...uncertain(2 * Math.max(...walls.map(({ uncertaintyMm }) => uncertaintyMm))) };
  },
  marks: ({ members }) => members.flat(),
  chain: ({ members }) => ({ circles: [members] }),
  drafting: ({ members }) => ({ form: 'bolt-circle', members }),
});
