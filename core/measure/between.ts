import { axisOf, type Axis, type Face, type Plane } from '#core/solid';
import { FITTED_PARALLEL_SINE, SAME_PLACE_MM } from '#core/tolerance';
import {
  angleBetween,
  cross,
  distance,
  distanceBetweenLines,
  distanceToLine,
  dot,
  length,
  nearestOnLine,
  subtract,
  type Vec3,
} from '#core/vector';

import { lineOf, type PickedEdge } from './edge.ts';
import { angleOf, lengthOf, words, type Reading } from './reading.ts';

/** What is measured from: the plane, axis or center of a face, the line of a straight edge, the axis of an arc; nothing of what is free-form. */
type Anchor =
  | { readonly kind: 'plane'; readonly plane: Plane; readonly at: Vec3 }
  | { readonly kind: 'axis'; readonly axis: Axis; readonly radiusMm: number | null; readonly name: 'axis' | 'edge' }
  | { readonly kind: 'center'; readonly at: Vec3 };

function anchorOf(picked: Face | PickedEdge): Anchor | null {
  if ('edge' in picked) {
    const axis = lineOf(picked);
    const name = picked.edge.curve === 'line' ? 'edge' : 'axis';
    return axis === null ? null : { kind: 'axis', axis, radiusMm: null, name };
  }
  const { surface, centroid } = picked;
  if (surface.kind === 'plane') return { kind: 'plane', plane: surface, at: centroid };
  if (surface.kind === 'sphere') return { kind: 'center', at: surface.center };
  const axis = axisOf(surface);
  return axis === null
    ? null
    : { kind: 'axis', axis, radiusMm: surface.kind === 'cylinder' ? surface.radiusMm : null, name: 'axis' };
}

type LineName = 'axis' | 'edge';
const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
/** "the axes", "the edges", "axis and edge". */
function both(a: LineName, b: LineName, article = 'the '): string {
  if (a !== b) return `${a} and ${b}`;
  return `${article}${a === 'axis' ? 'axes' : 'edges'}`;
}

const isParallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) <= FITTED_PARALLEL_SINE;
const isSquare = (a: Vec3, b: Vec3): boolean => Math.abs(dot(a, b)) <= FITTED_PARALLEL_SINE;
/** Between 0 and a right angle: an axis has no sense. */
const acute = (angleRad: number): number => Math.min(angleRad, Math.PI - angleRad);

const NAMES = ['X', 'Y', 'Z'] as const;

/** The parts of a distance along the axes of the model, where it runs along more than one. */
function alongAxes(from: Vec3, to: Vec3, uncertaintyMm: number): Reading[] {
  const parts = subtract(to, from)
    .map(Math.abs)
    .map((part, i) => [NAMES[i] ?? '', part] as const)
    .filter(([, part]) => part > SAME_PLACE_MM);
  return parts.length < 2 ? [] : parts.map(([name, part]) => lengthOf(`of that along ${name}`, part, uncertaintyMm));
}

const fromPlane = ({ plane, at }: Extract<Anchor, { kind: 'plane' }>, point: Vec3): number =>
  Math.abs(dot(subtract(point, at), plane.normal));

function planes(
  a: Extract<Anchor, { kind: 'plane' }>,
  b: Extract<Anchor, { kind: 'plane' }>,
  uncertaintyMm: number,
): Reading[] {
  if (isParallel(a.plane.normal, b.plane.normal)) {
    const apart = fromPlane(a, b.at);
    return apart <= SAME_PLACE_MM
      ? [words('Both lie in one plane')]
      : [lengthOf('Face to face, square to both', apart, uncertaintyMm)];
  }
  const angle = acute(angleBetween(a.plane.normal, b.plane.normal));
  return isSquare(a.plane.normal, b.plane.normal)
    ? [angleOf('Angle between the faces', Math.PI / 2)]
    : [angleOf('Angle between the faces', angle), angleOf('the other way round', Math.PI - angle)];
}

function planeAndAxis(
  a: Extract<Anchor, { kind: 'plane' }>,
  { axis, radiusMm, name }: Extract<Anchor, { kind: 'axis' }>,
  uncertaintyMm: number,
): Reading[] {
  const { normal } = a.plane;
  if (isParallel(normal, axis.direction)) return [words(`The ${name} stands square on the face`)];
  if (!isSquare(normal, axis.direction))
    return [angleOf(`Angle between ${name} and face`, Math.PI / 2 - acute(angleBetween(normal, axis.direction)))];
  const apart = fromPlane(a, axis.origin);
  const walls =
    radiusMm === null
      ? []
      : [
          lengthOf('wall to face, on the near side', Math.abs(apart - radiusMm), uncertaintyMm),
          lengthOf('wall to face, on the far side', apart + radiusMm, uncertaintyMm),
        ];
  return [lengthOf(`${capital(name)} to face`, apart, uncertaintyMm), ...walls];
}

function axes(
  { axis: a, name: nameOfA }: Extract<Anchor, { kind: 'axis' }>,
  { axis: b, name: nameOfB }: Extract<Anchor, { kind: 'axis' }>,
  uncertaintyMm: number,
): Reading[] {
  if (!isParallel(a.direction, b.direction))
    return [
      angleOf(`Angle between ${both(nameOfA, nameOfB)}`, acute(angleBetween(a.direction, b.direction))),
      lengthOf(
        `${capital(both(nameOfA, nameOfB, ''))} at their nearest`,
        distanceBetweenLines(a.origin, a.direction, b.origin, b.direction),
        uncertaintyMm,
      ),
    ];
  const apart = distanceToLine(b.origin, a.origin, a.direction);
  if (apart <= SAME_PLACE_MM)
    return [words(nameOfA === 'axis' && nameOfB === 'axis' ? 'Both are on one axis' : 'Both are on one line')];
  const foot = nearestOnLine(b.origin, a.origin, a.direction);
  return [
    lengthOf(`${capital(nameOfA)} to ${nameOfB}`, apart, uncertaintyMm),
    ...alongAxes(foot, b.origin, uncertaintyMm),
  ];
}

/**
 * How two faces or edges lie to each other: lengths in mm, angles in rad. Measured is between planes, axes, lines and centers, as a
 * sheet does, not between the ends of faces. Nothing where one of both is free-form.
 */
export function measureBetween(first: Face | PickedEdge, second: Face | PickedEdge): readonly Reading[] {
  const [a, b] = [anchorOf(first), anchorOf(second)];
  const uncertaintyMm = first.uncertaintyMm + second.uncertaintyMm;
  if (a === null || b === null) return [];
  if (a.kind === 'plane' && b.kind === 'plane') return planes(a, b, uncertaintyMm);
  if (a.kind === 'plane' && b.kind === 'axis') return planeAndAxis(a, b, uncertaintyMm);
  if (a.kind === 'axis' && b.kind === 'plane') return planeAndAxis(b, a, uncertaintyMm);
  if (a.kind === 'axis' && b.kind === 'axis') return axes(a, b, uncertaintyMm);
  // One of both has a center.
  if (a.kind === 'center' && b.kind === 'center')
    return [lengthOf('Center to center', distance(a.at, b.at), uncertaintyMm), ...alongAxes(a.at, b.at, uncertaintyMm)];
  const center = a.kind === 'center' ? a.at : b.kind === 'center' ? b.at : null;
  const other = a.kind === 'center' ? b : a;
  if (center === null) return [];
  if (other.kind === 'plane') return [lengthOf('Center to face', fromPlane(other, center), uncertaintyMm)];
  if (other.kind === 'axis')
    return [
      lengthOf(
        `Center to ${other.name}`,
        distanceToLine(center, other.axis.origin, other.axis.direction),
        uncertaintyMm,
      ),
    ];
  return [];
}
