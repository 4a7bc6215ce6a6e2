import { arcThrough, pointOn, type WorkPlane } from '#core/kernel';
import type { Surface } from '#core/solid';
import { add, cross, dot, length, normalize, scale, subtract, type Vec2, type Vec3 } from '#core/vector';

import { area } from './evaluate.ts';
import { circleOfElement, leftOf, minus, plus, pointsAlong, times, unit2, type Element, type Region } from './loop.ts';

/** A surface with the role that names it. */
export type Named = readonly [role: string, surface: Surface];

interface Outward {
  readonly element: Element;
  /** Unit vector out of the outline at the middle of the element. */
  readonly outward: Vec2;
  readonly middle: Vec2;
}

/** The elements of a region with the direction in which the outside lies. */
function outwardOf(region: Region): Outward[] {
  return [region.outer, ...region.holes].flatMap((loop, i) => {
    const inside = area(pointsAlong(loop)) > 0 === (i === 0) ? 1 : -1;
    return loop.map((element): Outward => {
      if (element.kind === 'circle')
        return { element, middle: plus(element.center, [element.radiusMm, 0]), outward: [i === 0 ? 1 : -1, 0] };
      if (element.kind === 'line') {
        const direction = unit2(minus(element.to, element.from));
        return {
          element,
          middle: times(plus(element.from, element.to), 0.5),
          outward: times(leftOf(direction), -inside),
        };
      }
      const arc = arcThrough(element.from, element.through, element.to);
      const radial = arc === null ? ([1, 0] as const) : unit2(minus(element.through, arc.center));
      return { element, middle: element.through, outward: times(radial, inside * Math.sign(arc?.sweepRad ?? 1)) };
    });
  });
}

const along = (plane: WorkPlane, [u, v]: Vec2): Vec3 => add(scale(plane.u, u), scale(plane.v, v));

/** A round wall about an axis. */
export const cylinder = (origin: Vec3, direction: Vec3, radiusMm: number, side: 'convex' | 'concave'): Surface => ({
  kind: 'cylinder',
  origin,
  direction,
  radiusMm,
  side,
});

const cap = (plane: WorkPlane, offsetMm: number, sign: number): Surface => ({
  kind: 'plane',
  origin: add(plane.origin, scale(plane.normal, offsetMm)),
  normal: scale(plane.normal, sign),
});

/** The two flat ends of a prism: `start` at the first offset, `end` at the second; normals point out of it. */
export const prismCaps = (plane: WorkPlane, fromMm: number, toMm: number): readonly Named[] => [
  ['start', cap(plane, fromMm, toMm > fromMm ? -1 : 1)],
  ['end', cap(plane, toMm, toMm > fromMm ? 1 : -1)],
];

/**
 * Walls of a prism by role; normals point out of the prism, and `side` is that of an added prism. Their origins lie at a
 * height over the plane where there is wall, so that coplanar walls can be told apart by them.
 */
export function prismWalls(plane: WorkPlane, region: Region, heightMm: number): readonly Named[] {
  const at = (point: Vec2): Vec3 => add(pointOn(plane, point), scale(plane.normal, heightMm));
  return outwardOf(region).map(({ element, outward, middle }): Named => {
    const circle = circleOfElement(element);
    if (circle === null)
      return [element.role, { kind: 'plane', origin: at(middle), normal: normalize(along(plane, outward)) }];
    const bulge = (middle[0] - circle.center[0]) * outward[0] + (middle[1] - circle.center[1]) * outward[1] > 0;
    return [element.role, cylinder(at(circle.center), plane.normal, circle.radiusMm, bulge ? 'convex' : 'concave')];
  });
}

/** Surfaces that the elements of an outline sweep when it is turned about a line of its plane. */
export function turnedWalls(plane: WorkPlane, region: Region, axisOrigin: Vec3, axisDirection: Vec3): readonly Named[] {
  const onAxis = (point: Vec3): Vec3 =>
    add(axisOrigin, scale(axisDirection, dot(subtract(point, axisOrigin), axisDirection)));
  const fromAxis = (point: Vec3): Vec3 => subtract(point, onAxis(point));
  return outwardOf(region).flatMap(({ element, outward, middle }): Named[] => {
    const normal = along(plane, outward);
    const circle = circleOfElement(element);
    const center = pointOn(plane, middle);
    const radial = fromAxis(center);
    const side = dot(normal, radial) > 0 ? 'convex' : 'concave';
    if (circle !== null) {
      const hub = pointOn(plane, circle.center);
      const majorRadiusMm = length(fromAxis(hub));
      const bulge = dot(normal, subtract(center, hub)) > 0 ? 'convex' : 'concave';
      return [
        [
          element.role,
          majorRadiusMm < 1e-9
            ? { kind: 'sphere', center: hub, radiusMm: circle.radiusMm, side: bulge }
            : {
                kind: 'torus',
                center: onAxis(hub),
                direction: axisDirection,
                majorRadiusMm,
                minorRadiusMm: circle.radiusMm,
                side: bulge,
              },
        ],
      ];
    }
    if (element.kind !== 'line') return [];
    const [start, end] = [pointOn(plane, element.from), pointOn(plane, element.to)];
    const step = normalize(subtract(end, start));
    if (Math.abs(dot(step, axisDirection)) < 1e-9)
      return [[element.role, { kind: 'plane', origin: onAxis(start), normal }]];
    if (length(radial) < 1e-9) return [];
    if (length(cross(step, axisDirection)) < 1e-9)
      return [[element.role, cylinder(onAxis(start), axisDirection, length(radial), side)]];
    // The line meets the axis at the apex; the half angle is that between the two.
    const [r0, r1] = [length(fromAxis(start)), length(fromAxis(end))];
    const apex = onAxis(add(start, scale(subtract(end, start), r0 / (r0 - r1))));
    const halfAngleRad = Math.atan2(Math.abs(r1 - r0), Math.abs(dot(subtract(end, start), axisDirection)));
    return [
      [
        element.role,
        {
          kind: 'cone',
          origin: onAxis(center),
          // Away from the apex, so that the cone opens along it.
          direction: scale(axisDirection, Math.sign(dot(subtract(onAxis(center), apex), axisDirection))),
          radiusMm: length(radial),
          halfAngleRad,
          apex,
          side,
        },
      ],
    ];
  });
}
