import * as v from 'valibot';

import { cylinderAlong } from '#core/fit';
import { SurfaceNameSchema } from '#core/recipe';
import { axisOf, type Axis, type Face } from '#core/solid';
import { SAME_PLACE_MM } from '#core/tolerance';
import { angleBetween, cross, dot, length, nearestOnLine, perpendicular, subtract, type Vec3 } from '#core/vector';

import { FaceIdsSchema, MembersSchema, plannedAngle, SurfaceNamesSchema, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';

const FULL_TURN = 360;
/** Members of one ring lie so near to multiples of their spacing on the reference, degrees. */
const SAME_PHASE = 1e-3;
const degrees = (rad: number): number => (rad * 180) / Math.PI;

/** The axis that rounds lie about: that of a surface, or the middle of the circle through theirs. */
function centerOf(about: Face | null | undefined, members: readonly Face[]): Axis | null {
  if (about !== null && about !== undefined) return axisOf(about.surface);
  const axes = members.flatMap(({ surface }) => axisOf(surface) ?? []);
  const [first] = axes;
  if (first === undefined || axes.length < 3) return null;
  const circle = cylinderAlong(
    first.direction,
    axes.map(({ origin }) => origin),
  );
  return circle?.shape.kind === 'cylinder' ? circle.shape : null;
}

/** The way from a center to the axis of a round; null for what is not round. */
function armOf({ surface }: Face, { origin, direction }: Axis): Vec3 | null {
  const axis = axisOf(surface);
  return axis === null ? null : subtract(axis.origin, nearestOnLine(axis.origin, origin, direction));
}

interface Ring {
  readonly members: readonly (readonly number[])[];
  /** How many spacings lie between each member and the next. */
  readonly steps: readonly number[];
}

/** Members about a center, by rings: at one distance, whole spacings from each other, in their order going round. */
function ringsOf(
  members: readonly { readonly ids: readonly number[]; readonly arm: Vec3 }[],
  { direction }: Axis,
  spacing: number,
): readonly Ring[] {
  const u = perpendicular(direction);
  const w = cross(direction, u);
  const placed = members.map(({ ids, arm }) => ({
    ids,
    radiusMm: length(arm),
    turn: (degrees(Math.atan2(dot(arm, w), dot(arm, u))) + FULL_TURN) % FULL_TURN,
  }));
  const rings: (typeof placed)[] = [];
  for (const one of placed) {
    const ring = rings.find(([first]) => {
      if (first === undefined || Math.abs(first.radiusMm - one.radiusMm) > SAME_PLACE_MM) return false;
      const steps = (one.turn - first.turn) / spacing;
      return Math.abs(steps - Math.round(steps)) * spacing < SAME_PHASE;
    });
    if (ring === undefined) rings.push([one]);
    else ring.push(one);
  }
  return rings.map((ring) => {
    const sorted = ring.sort((a, b) => a.turn - b.turn);
    const gapAfter = (i: number): number =>
      ((sorted[(i + 1) % sorted.length]?.turn ?? 0) - (sorted[i]?.turn ?? 0) + FULL_TURN) % FULL_TURN;
    // A ring that is not full begins behind its widest gap.
    const widest = sorted.reduce((best, _, i) => (gapAfter(i) > gapAfter(best) + SAME_PHASE ? i : best), 0);
    const inTurn = sorted.map((_, i) => (widest + 1 + i) % sorted.length);
    return {
      members: inTurn.map((i) => sorted[i]?.ids ?? []),
      steps: inTurn.slice(0, -1).map((i) => Math.round(gapAfter(i) / spacing)),
    };
  });
}

/**
 * That rounds lie at equal angles about a center: of each ring, the angle between neighbors. Where some are left out,
 * neighbors are several spacings apart. Told is the spacing that is farthest off.
 */
export const spacing = defineKind({
  kind: 'spacing',
  group: 'dimensions',
  quantity: 'angle',
  check: { ...plannedAngle, of: SurfaceNamesSchema, about: v.optional(SurfaceNameSchema) },
  target: {
    ...targetSize,
    rings: v.pipe(
      v.array(
        v.pipe(v.object({ members: MembersSchema, steps: v.pipe(v.array(v.number()), v.readonly()) }), v.readonly()),
      ),
      v.readonly(),
    ),
    aboutFaceIds: FaceIdsSchema,
  },
  hangsOn: ['of', 'about'],
  gives: 'place',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const { faces } = context.solid;
    const aboutFaceIds = check.about === undefined ? [] : context.faceIds(check.about);
    const walls = check.of.flatMap((name) => {
      const ids = context.faceIds(name);
      const face = faces[ids[0] ?? -1];
      return face === undefined ? [] : [{ ids, face }];
    });
    const about = faces[aboutFaceIds[0] ?? -1];
    const center = centerOf(
      about,
      walls.map(({ face }) => face),
    );
    if (center === null) return context.refuse('no center was found that its members lie about.');
    const members = walls.flatMap(({ ids, face }) => {
      const arm = armOf(face, center);
      return arm === null ? [] : [{ ids, arm }];
    });
    const size = context.angle(check);
    const rings = ringsOf(members, center, Math.max(SAME_PHASE, size.nominal));
    if (members.length < check.of.length || rings.some((ring) => ring.members.length < 2))
      return context.refuse('its members are not round, or do not lie whole spacings apart about one center.');
    return { ...size, rings, aboutFaceIds };
  },
  measure: ({ rings, aboutFaceIds, nominal }, context) => {
    const referenceFaceIds = rings.flatMap(({ members }) => members.flat());
    const about = aboutFaceIds.length === 0 ? null : context.partner(aboutFaceIds);
    const found = rings.map(({ members, steps }) => ({ steps, faces: members.map((ids) => context.partner(ids)) }));
    const walls = found.flatMap(({ faces }) => faces.flatMap((face) => face ?? []));
    const told = { faceIds: walls.map(({ id }) => id), referenceFaceIds };
    const center = aboutFaceIds.length > 0 && about === null ? null : centerOf(about, walls);
    if (center === null) return { ...told, measured: null, reason: 'Their center is not on the model.' };
    const spacings = found.flatMap(({ steps, faces }) => {
      const arms = faces.map((face) => (face === null ? null : armOf(face, center)));
      return steps.flatMap((count, i) => {
        const [a, b] = [arms[i] ?? null, arms[i + 1] ?? null];
        if (a === null || b === null) return [];
        const between = degrees(angleBetween(a, b));
        return [(count * nominal > FULL_TURN / 2 ? FULL_TURN - between : between) / count];
      });
    });
    const [first] = spacings;
    if (first === undefined) return { ...told, measured: null, reason: 'No two neighbors of them are on the model.' };
    const measured = spacings.reduce((a, b) => (Math.abs(b - nominal) > Math.abs(a - nominal) ? b : a), first);
    const nearestMm = Math.min(...walls.map((face) => length(armOf(face, center) ?? [1, 0, 0])));
    const offMm = Math.max(...walls.map(({ uncertaintyMm }) => uncertaintyMm)) + (about?.uncertaintyMm ?? 0);
    return { ...told, measured, ...uncertain(degrees((2 * offMm) / Math.max(1e-6, nearestMm))) };
  },
  marks: ({ rings }) => rings.flatMap(({ members }) => members.flat()),
  chain: ({ rings }) => ({ tied: rings.map(({ members }) => members) }),
  drafting: ({ rings, nominal }) => ({
    form: 'spacing',
    faceIds: rings.flatMap(({ members }) => members.flat()),
    count: rings[0]?.members.length ?? 0,
    leftOut: (rings[0]?.steps ?? []).reduce((sum, steps) => sum + steps - 1, 0),
    isFull: rings.every(({ members }) => Math.abs(members.length * nominal - FULL_TURN) < SAME_PHASE),
  }),
});
