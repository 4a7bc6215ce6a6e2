import { cylinderAlong } from '#core/fit';
import type { Recipe, Step } from '#core/recipe';
import type { Axis, Cylinder } from '#core/solid';
import { BUILT_PARALLEL_SINE, SAME_PLACE_MM } from '#core/tolerance';
import { add, cross, distanceToLine, dot, length, perpendicular, scale, subtract, type Vec3 } from '#core/vector';

import { cylindersOf, type Anchor } from './anchors.ts';

type Round = Anchor<Cylinder>;

/** Rounds that a step repeats about a center, at equal angles; some may be left out. */
export interface Ring {
  /** The step that repeats them. */
  readonly stepId: string;
  /** One list for each round of what is repeated, as both ends of a slot, in the order of their numbers. */
  readonly roles: readonly (readonly Round[])[];
  /** A wall that is not one of them, about the same center. */
  readonly about: Round | null;
  readonly center: Axis;
  readonly spacingDegrees: number;
}

const LEAST = 3;
const SAME_DEGREES = 1e-3;

/** Whether a step repeats something about a center, in its outline, by its places or as a whole. */
const repeatsAbout = (step: Step): boolean =>
  step.op === 'circular-pattern' || /"(shape":"polar|kind":"bolt-circle)"/.test(JSON.stringify(step));

/** What a step repeats: the round that a name is of, and its number; null for another step's. */
function memberOf(name: string, step: Step): { readonly role: string; readonly index: number } | null {
  const [own, number, ...rest] = name.split('.');
  if (own === step.id && number !== undefined && /^\d+$/.test(number))
    return { role: rest.join('.'), index: Number(number) };
  const isOriginal = step.op === 'circular-pattern' && step.steps.some((id) => id === own);
  return isOriginal ? { role: name, index: 1 } : null;
}

/** The rings of rounds that steps of a recipe repeat at equal angles. */
export function ringsOf({ steps }: Recipe, anchors: readonly Anchor[]): readonly Ring[] {
  const rounds = cylindersOf(anchors);
  return steps.filter(repeatsAbout).flatMap((step): Ring[] => {
    const byRole = new Map<string, { readonly index: number; readonly round: Round }[]>();
    for (const round of rounds) {
      const member = memberOf(round.name, step);
      if (member !== null)
        byRole.set(member.role, [...(byRole.get(member.role) ?? []), { index: member.index, round }]);
    }
    const roles = [...byRole.values()]
      .map((members) => members.sort((a, b) => a.index - b.index).map(({ round }) => round))
      .filter((members) => members.length >= LEAST);
    const turned = roles.map((members) => turnOf(members));
    const [first] = turned;
    const isOne = turned.every(
      (one) =>
        one !== null &&
        first !== null &&
        first !== undefined &&
        Math.abs(one.spacingDegrees - first.spacingDegrees) < SAME_DEGREES &&
        distanceToLine(one.center.origin, first.center.origin, first.center.direction) < SAME_PLACE_MM,
    );
    if (!isOne || first === null || first === undefined) return [];
    const about = rounds.find(
      (round) => !roles.some((members) => members.includes(round)) && isAbout(round, first.center),
    );
    return [{ stepId: step.id, roles, about: about ?? null, ...first }];
  });
}

const isAbout = ({ surface }: Round, { origin, direction }: Ring['center']): boolean =>
  length(cross(surface.direction, direction)) < BUILT_PARALLEL_SINE &&
  distanceToLine(surface.origin, origin, direction) < SAME_PLACE_MM;

/** The center that rounds lie about at equal angles, and the angle; null where they do not. */
function turnOf(members: readonly Round[]): Pick<Ring, 'center' | 'spacingDegrees'> | null {
  const [first] = members;
  if (first === undefined) return null;
  const { direction } = first.surface;
  const places = members.map(({ surface }) => surface.origin);
  const isParallel = members.every(({ surface }) => length(cross(surface.direction, direction)) < BUILT_PARALLEL_SINE);
  const circle = isParallel ? cylinderAlong(direction, places) : null;
  const center = circle?.shape.kind === 'cylinder' ? circle.shape : null;
  if (center === null || (circle?.residual ?? 0) > SAME_PLACE_MM) return null;
  const u = perpendicular(direction);
  const w = cross(direction, u);
  const turns = places
    .map((place) => subtract(place, center.origin))
    .map((arm) => (Math.atan2(dot(arm, w), dot(arm, u)) * 180) / Math.PI)
    .sort((a, b) => a - b);
  const gaps = turns.map((turn, i) => ((turns[(i + 1) % turns.length] ?? turn) - turn + 360) % 360);
  const spacingDegrees = Math.min(...gaps);
  const isEven = gaps.every((gap) => Math.abs(gap / spacingDegrees - Math.round(gap / spacingDegrees)) < SAME_DEGREES);
  return isEven ? { center, spacingDegrees } : null;
}

/** The axis of the part along which the first of what is repeated lies from the center; null where it lies aslant. */
export function axisOfFirst({ roles, center }: Ring): 'x' | 'y' | 'z' | null {
  const firsts = roles.flatMap(([round]) => (round === undefined ? [] : [round.surface.origin]));
  const middle = firsts.reduce<Vec3>((sum, p) => add(sum, scale(p, 1 / firsts.length)), [0, 0, 0]);
  const arm = subtract(middle, center.origin);
  const flat = subtract(arm, scale(center.direction, dot(arm, center.direction)));
  const along = (['x', 'y', 'z'] as const).filter((_, i) => Math.abs(flat[i] ?? 0) > SAME_PLACE_MM);
  return along.length === 1 ? (along[0] ?? null) : null;
}
