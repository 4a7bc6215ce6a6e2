import type { Reference, Target } from '#core/check';
import { circleThrough } from '#core/fit';
import type { Face } from '#core/solid';

import { placesAlong, touchingRounds, Chain, type AxisIndex, type Link } from './line.ts';

const AXES = [0, 1, 2] as const;

/** Where a face lies along an axis; null where it has no one place. */
function placeOf(face: Face | undefined, axis: AxisIndex): number | null {
  if (face === undefined) return null;
  const { surface } = face;
  if (surface.kind === 'plane') return Math.abs(surface.normal[axis]) > 1 - 1e-9 ? surface.origin[axis] : null;
  if (surface.kind === 'cylinder' || surface.kind === 'cone')
    return Math.abs(surface.direction[axis]) < 1e-6 ? surface.origin[axis] : null;
  return null;
}

/** What a dimension says along each axis of the part. */
export function linksOf(
  target: Target,
  { solid }: Pick<Reference, 'solid'>,
): readonly (Link & { readonly axis: AxisIndex })[] {
  const face = (ids: readonly number[]): Face | undefined => solid.faces[ids[0] ?? -1];
  const between = (a: Face | undefined, b: Face | undefined, axes: readonly AxisIndex[]) =>
    axes.flatMap((axis) => {
      const [from, to] = [placeOf(a, axis), placeOf(b, axis)];
      return from === null || to === null || Math.abs(from - to) < 1e-6
        ? []
        : [{ axis, from, to, checkId: target.checkId, valueMm: Math.abs(to - from) }];
    });
  switch (target.kind) {
    case 'distance':
    case 'thickness':
      return between(face(target.fromFaceIds), face(target.toFaceIds), AXES);
    case 'hole-position':
      return between(face(target.fromFaceIds), face(target.faceIds), AXES);
    case 'center-distance': {
      const [a, b] = [face(target.fromFaceIds), face(target.toFaceIds)];
      const links = between(a, b, target.along === undefined ? AXES : [target.along]);
      // A distance straight across two axes says one place only where it runs along one axis of the part.
      return target.along === undefined && links.length > 1 ? [] : links;
    }
    case 'overall-size': {
      const { axis } = target;
      const [from, to] = [solid.bounds.min[axis], solid.bounds.max[axis]];
      return [{ axis, from, to, checkId: target.checkId, valueMm: to - from }];
    }
    case 'bolt-circle': {
      const centers = target.members.map(face);
      return AXES.flatMap((axis) => {
        const places = centers.flatMap((one) => placeOf(one, axis) ?? []);
        if (places.length < 3) return [];
        const middle = circleMiddle(centers, axis);
        // Equal spacing about the middle of the circle places every hole.
        return middle === null
          ? []
          : places.map((at) => ({
              axis,
              from: middle,
              to: at,
              checkId: target.checkId,
              valueMm: Math.abs(at - middle),
            }));
      });
    }
    case 'hole-size': {
      if (target.size !== 'depth' && target.size !== 'counterbore-depth') return [];
      return depthLinks(target, solid.faces);
    }
    default:
      return [];
  }
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
  const flat = AXES.filter((i) => Math.abs(a.direction[i]) < 1e-6);
  const [u, v] = flat;
  if (u === undefined || v === undefined || (axis !== u && axis !== v)) return null;
  const [p, q, r] = [a, b, c].map(({ origin }) => [origin[u], origin[v]] as const);
  if (!p || !q || !r) return null;
  return circleThrough([p, q, r])?.center[axis === u ? 0 : 1] ?? null;
}

/** A depth ties the bottom of a hole to the face that it begins in. */
function depthLinks(target: Extract<Target, { kind: 'hole-size' }>, faces: readonly Face[]) {
  const wall = faces[target.faceIds[0] ?? -1];
  if (wall?.surface.kind !== 'cylinder') return [];
  const { direction } = wall.surface;
  const axis = AXES.find((i) => Math.abs(direction[i]) > 1 - 1e-9);
  if (axis === undefined) return [];
  const ends = [wall.bounds.min[axis], wall.bounds.max[axis]] as const;
  const places = faces.flatMap((face) => placeOf(face, axis) ?? []);
  // The wall lies between the bottom and the face that the hole begins in, which a recess may have moved away from it.
  return ends.flatMap((bottom, i) => {
    const other = ends[1 - i] ?? bottom;
    // The shoulder of a recess is where the narrow wall ends; its depth runs on from there.
    const recess = target.size === 'counterbore-depth';
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
): readonly [Chain, Chain, Chain] {
  const { solid } = reference;
  const given = new Map<number, string>();
  for (const target of targets)
    if (target.kind === 'diameter' || target.kind === 'radius')
      for (const id of target.members.flat()) given.set(id, target.checkId);
  const links = targets.flatMap((target) => linksOf(target, reference));
  const chains = AXES.map((axis) => {
    const chain = new Chain([...placesAlong(solid, axis)]);
    for (const link of touchingRounds(solid, axis, (id) => given.get(id) ?? null)) chain.add(link);
    for (const link of links) if (link.axis === axis) chain.add(link);
    return chain;
  });
  return chains as unknown as readonly [Chain, Chain, Chain];
}
