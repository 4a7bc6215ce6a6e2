import { chainRoleOf, spanOf, type AxisIndex, type Reference, type Span, type Target } from '#core/check';
import { circleThrough } from '#core/fit';
import type { Face, Solid, Surface } from '#core/solid';
import { ARITHMETIC_MM, BUILT_PARALLEL_SINE, SAME_DIRECTION_COSINE } from '#core/tolerance';

import { placesAlong, touchingCylinders, Chain, type Link } from './line.ts';

const AXES = [0, 1, 2] as const;

/** Where a surface lies along an axis of the part, mm; null where it has no one place. */
export function placeOf(surface: Surface | undefined, axis: AxisIndex): number | null {
  if (surface === undefined) return null;
  if (surface.kind === 'plane')
    return Math.abs(surface.normal[axis]) > SAME_DIRECTION_COSINE ? surface.origin[axis] : null;
  if (surface.kind === 'cylinder' || surface.kind === 'cone')
    return Math.abs(surface.direction[axis]) < BUILT_PARALLEL_SINE ? surface.origin[axis] : null;
  return null;
}

/** What a dimension says along each axis of the part; with `ties`, also what it only ties together without a length. */
export function linksOf(
  target: Target,
  { solid }: Pick<Reference, 'solid'>,
  { ties = false }: { readonly ties?: boolean } = {},
): readonly (Link & { readonly axis: AxisIndex })[] {
  const span = spanOf(target);
  const { circles = [], tied = [], depth } = chainRoleOf(target);
  return [
    ...(span === null ? [] : spanLinks(target.checkId, span, solid)),
    ...[...circles, ...(ties ? tied : [])].flatMap((members) => circleLinks(target.checkId, members, solid)),
    ...(depth === undefined || !('nominal' in target) ? [] : depthLinks(target, depth, solid.faces)),
  ];
}

const firstFace = (solid: Solid, ids: readonly number[]): Face | undefined => solid.faces[ids[0] ?? -1];

type AxisLink = Link & { readonly axis: AxisIndex };

function spanLinks(checkId: string, span: Span<readonly number[]>, solid: Solid): readonly AxisLink[] {
  if (span.kind === 'extent') {
    const { axis } = span;
    const [from, to] = [solid.bounds.min[axis], solid.bounds.max[axis]];
    return [{ axis, from, to, checkId, valueMm: to - from }];
  }
  const [a, b] = [firstFace(solid, span.from.at), firstFace(solid, span.to.at)];
  const links = (span.along === undefined ? AXES : [span.along]).flatMap((axis): AxisLink[] => {
    const [from, to] = [placeOf(a?.surface, axis), placeOf(b?.surface, axis)];
    return from === null || to === null || Math.abs(from - to) < ARITHMETIC_MM
      ? []
      : [{ axis, from, to, checkId, valueMm: Math.abs(to - from) }];
  });
  // A distance straight across two axes says one place only where it runs along one axis of the part.
  const isBetweenAxes = span.from.on === 'axis' && span.to.on === 'axis';
  return isBetweenAxes && links.length > 1 ? [] : links;
}

/** Equal spacing about the middle of the circle places every hole. */
function circleLinks(checkId: string, members: readonly (readonly number[])[], solid: Solid): readonly AxisLink[] {
  const holes = members.map((ids) => firstFace(solid, ids));
  return AXES.flatMap((axis) => {
    const places = holes.flatMap((one) => placeOf(one?.surface, axis) ?? []);
    const middle = places.length < 3 ? null : circleMiddle(holes, axis);
    return middle === null
      ? []
      : places.map((at) => ({ axis, from: middle, to: at, checkId, valueMm: Math.abs(at - middle) }));
  });
}

/** The middle of the circle through axes, along an axis of the part. */
function circleMiddle(faces: readonly (Face | undefined)[], axis: AxisIndex): number | null {
  const points = faces.flatMap((face) =>
    face !== undefined && 'origin' in face.surface && 'direction' in face.surface
      ? [{ origin: face.surface.origin, direction: face.surface.direction }]
      : [],
  );
  const [a, b, c] = points;
  if (!a || !b || !c) return null;
  const flat = AXES.filter((i) => Math.abs(a.direction[i]) < BUILT_PARALLEL_SINE);
  const [u, v] = flat;
  if (u === undefined || v === undefined || (axis !== u && axis !== v)) return null;
  const [p, q, r] = [a, b, c].map(({ origin }) => [origin[u], origin[v]] as const);
  if (!p || !q || !r) return null;
  return circleThrough([p, q, r])?.center[axis === u ? 0 : 1] ?? null;
}

/** A depth ties the bottom of a hole to the face that it begins in. */
function depthLinks(
  target: Extract<Target, { nominal: number }>,
  { faceIds, of }: NonNullable<ReturnType<typeof chainRoleOf>['depth']>,
  faces: readonly Face[],
): readonly AxisLink[] {
  const wall = faces[faceIds[0] ?? -1];
  if (wall?.surface.kind !== 'cylinder') return [];
  const { direction } = wall.surface;
  const axis = AXES.find((i) => Math.abs(direction[i]) > SAME_DIRECTION_COSINE);
  if (axis === undefined) return [];
  const ends = [wall.bounds.min[axis], wall.bounds.max[axis]] as const;
  const places = faces.flatMap((face) => placeOf(face.surface, axis) ?? []);
  // The wall lies between the bottom and the face that the hole begins in, which a recess may have moved away from it.
  return ends.flatMap((bottom, i) => {
    const other = ends[1 - i] ?? bottom;
    // The shoulder of a recess is where the narrow wall ends; its depth runs on from there.
    const recess = of === 'recess';
    const entry = bottom + (recess ? -1 : 1) * Math.sign(other - bottom) * target.nominal;
    const spans = recess || Math.abs(entry - bottom) > Math.abs(other - bottom) - 1e-3;
    return spans && places.some((at) => Math.abs(at - entry) < 1e-3)
      ? [{ axis, from: entry, to: bottom, checkId: target.checkId, valueMm: target.nominal }]
      : [];
  });
}

/** The three chains of a part with what a set of dimensions says; `rounds` are those whose diameter or radius is given. */
export function chainsOf(
  reference: Pick<Reference, 'solid'>,
  targets: readonly Target[],
  options: { readonly ties?: boolean } = {},
): readonly [Chain, Chain, Chain] {
  const { solid } = reference;
  const given = new Map<number, string>();
  for (const target of targets)
    if ('members' in target) for (const id of chainRoleOf(target).sized ?? []) given.set(id, target.checkId);
  const links = targets.flatMap((target) => linksOf(target, reference, options));
  const chains = AXES.map((axis) => {
    const chain = new Chain([...placesAlong(solid, axis)]);
    for (const link of touchingCylinders(solid, axis, (id) => given.get(id) ?? null)) chain.add(link);
    for (const link of links) if (link.axis === axis) chain.add(link);
    return chain;
  });
  return chains as unknown as readonly [Chain, Chain, Chain];
}
