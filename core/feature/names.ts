import type { Face, Solid, Surface } from '#core/solid';
import { SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
import { add, scale, type Vec3 } from '#core/vector';

import type { Feature, FeatureKind } from './kinds.ts';

type NamedFace = readonly [name: string, faceId: number];

/** The six outer sides of a part, as a viewer from the front calls them. */
const SIDES = [
  ['left', 'right'],
  ['front', 'back'],
  ['bottom', 'top'],
] as const;

/** Features whose faces carry their name, the more telling ones first. */
const NAMED: readonly FeatureKind[] = [
  'slotted-hole',
  'hole',
  'full-round',
  'fillet',
  'chamfer',
  'boss',
  'groove',
  'rib',
  'slot',
  'pocket',
  'step',
];

/**
 * Names for the surfaces of a model that no recipe built, by the features that were recognized in it: "hole-1.2.wall",
 * "part.top", "fillet-1.round". The same file always gets the same names. Free-form faces have none.
 */
export function nameByFeatures(
  { faces, bounds }: Pick<Solid, 'faces' | 'bounds'>,
  features: readonly Feature[],
): ReadonlyMap<string, Surface> {
  const named = new Map<string, Surface>();
  const done = new Set<number>();
  const give = ([name, faceId]: NamedFace): void => {
    const face = faces[faceId];
    if (face === undefined || done.has(faceId) || face.surface.kind === 'freeform') return;
    let free = name;
    for (let n = 2; named.has(free); n++) free = `${name}-${String(n)}`;
    named.set(free, onFace(face));
    done.add(faceId);
  };
  faces.flatMap((face) => outerSide(face, bounds)).forEach(give);
  for (const kind of NAMED) {
    const alike = new Map<string, Feature[]>();
    for (const feature of features.filter((one) => one.kind === kind)) {
      const key = sizesOf(feature);
      alike.set(key, [...(alike.get(key) ?? []), feature]);
    }
    [...alike.values()].forEach((group, i) => {
      group.forEach((feature, k) => {
        const place = group.length === 1 ? '' : `.${String(k + 1)}`;
        for (const id of feature.faceIds) {
          const face = faces[id];
          if (face) give([`${kind}-${String(i + 1)}${place}.${roleOf(face, feature)}`, id]);
        }
      });
    });
  }
  const rest = { plane: 'flat', cylinder: 'round', cone: 'cone', sphere: 'ball', torus: 'ring' } as const;
  const counts: Record<string, number> = {};
  for (const { id, surface } of faces) {
    if (done.has(id) || surface.kind === 'freeform') continue;
    const word = rest[surface.kind];
    counts[word] = (counts[word] ?? 0) + 1;
    give([`${word}-${String(counts[word])}.face`, id]);
  }
  return named;
}

/** A flat surface with its origin on the face itself, which tells faces in one plane apart. */
const onFace = ({ surface, centroid }: Face): Surface =>
  surface.kind === 'plane' ? { ...surface, origin: onPlane(surface, centroid) } : surface;

function onPlane({ origin, normal }: Extract<Surface, { kind: 'plane' }>, point: Vec3): Vec3 {
  const off =
    (point[0] - origin[0]) * normal[0] + (point[1] - origin[1]) * normal[1] + (point[2] - origin[2]) * normal[2];
  return add(point, scale(normal, -off));
}

function outerSide({ id, surface, centroid }: Face, bounds: Solid['bounds']): NamedFace[] {
  if (surface.kind !== 'plane') return [];
  return ([0, 1, 2] as const).flatMap((axis): NamedFace[] => {
    const [low, high] = SIDES[axis];
    if (surface.normal[axis] > SAME_DIRECTION_COSINE && Math.abs(centroid[axis] - bounds.max[axis]) < SAME_PLACE_MM)
      return [[`part.${high}`, id]];
    if (surface.normal[axis] < -SAME_DIRECTION_COSINE && Math.abs(centroid[axis] - bounds.min[axis]) < SAME_PLACE_MM)
      return [[`part.${low}`, id]];
    return [];
  });
}

const short = (value: number): string => value.toFixed(3);

/** Features with the same sizes are numbered as one group, so that they can share a dimension. */
function sizesOf(feature: Feature): string {
  switch (feature.kind) {
    case 'hole':
      return [
        feature.diameterMm,
        feature.through ? 0 : feature.depthMm,
        feature.counterbore?.diameterMm ?? 0,
        feature.countersink?.diameterMm ?? 0,
      ]
        .map(short)
        .join(' ');
    case 'fillet':
      return `${short(feature.radiusMm)} ${feature.side}`;
    default:
      return JSON.stringify(feature.faceIds);
  }
}

function roleOf({ surface }: Face, feature: Feature): string {
  if (feature.kind === 'fillet' || feature.kind === 'full-round') return 'round';
  if (feature.kind === 'chamfer') return 'face';
  if (feature.kind === 'hole') {
    if (surface.kind === 'cylinder')
      return 2 * surface.radiusMm - feature.diameterMm > SAME_PLACE_MM ? 'counterbore' : 'wall';
    if (surface.kind === 'cone')
      return feature.countersink && Math.abs(2 * surface.halfAngleRad - feature.countersink.angleRad) < 1e-3
        ? 'countersink'
        : 'point';
    return surface.kind === 'plane' ? 'floor' : 'round';
  }
  return surface.kind === 'plane' ? 'side' : 'wall';
}
