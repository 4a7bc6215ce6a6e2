import { pointOn, type Contour, type Kernel, type Shape, type WorkPlane } from '#core/kernel';
import { ProblemError, unwrap } from '#core/problem';
import { evaluateExpression, LENGTH_UNITS, type DrawingUnit } from '#core/quantity';
import {
  basePlane,
  planeAt,
  planeOn,
  type EdgeSelector,
  type NamedSurfaces,
  type Recipe,
  type Start,
  type Step,
} from '#core/recipe';
import type { Surface } from '#core/solid';
import { ARITHMETIC_MM } from '#core/tolerance';
import { add, boxDiagonal, dot, IDENTITY, ORIGIN, scale, type Vec3 } from '#core/vector';

import { expressionOf } from './candidate.ts';
import type { Span } from './gap.ts';
import { polygon } from './tools.ts';

/** A part that is longer or shorter: what lies on the two sides of a plane square to an axis moves along it. Lengths in mm. */
export interface Stretch {
  readonly axis: 0 | 1 | 2;
  readonly atMm: number;
  /** How far what lies before the plane moves, and what lies behind it. */
  readonly lowByMm: number;
  readonly highByMm: number;
}

const SAME_SHARE = 1e-9;

/** The steps of a reconstruction have no letters. */
const lengthMm = (expression: string, unit: DrawingUnit): number =>
  unwrap(evaluateExpression(expression, {}, unit)) * LENGTH_UNITS[unit];

const moveOf = ({ axis, atMm, lowByMm, highByMm }: Stretch, point: Vec3): Vec3 =>
  scale(IDENTITY[axis], point[axis] > atMm ? highByMm : lowByMm);

/**
 * The body with what lies between its two sides drawn out, or taken out where the sides come nearer: that must be of one
 * section all along. Refuses with `not-stretchable`. The caller frees the body.
 */
export function stretchedStart(kernel: Kernel, start: Start, stretch: Stretch): Start {
  const { axis, atMm, lowByMm, highByMm } = stretch;
  const by = highByMm - lowByMm;
  const direction = IDENTITY[axis];
  const size = 2 * boxDiagonal(kernel.bounds(start.body)) + Math.abs(by);
  const made: Shape[] = [];
  const keep = (shape: Shape): Shape => {
    made.push(shape);
    return shape;
  };
  const block = (fromMm: number, toMm: number): Shape =>
    keep(kernel.extrude(planeAt(ORIGIN, direction), square(size), fromMm, toMm));
  const shifted = (shape: Shape, byMm: number): Shape => keep(kernel.moved(shape, IDENTITY, scale(direction, byMm)));
  try {
    const low = keep(kernel.common(start.body, [block(atMm - size, atMm)]));
    const high = keep(kernel.common(start.body, [block(atMm + Math.max(0, -by), atMm + size)]));
    const rims = kernel
      .tables(low)
      .faces.filter(
        ({ surface, centroid }) =>
          surface.kind === 'plane' &&
          Math.abs(Math.abs(surface.normal[axis]) - 1) < SAME_SHARE &&
          Math.abs(centroid[axis] - atMm) < ARITHMETIC_MM,
      );
    if (by < 0) {
      const volume = (shape: Shape): number => kernel.massProperties(shape).volumeMm3;
      const taken = volume(start.body) - volume(low) - volume(high);
      const prism = rims.reduce((sum, { areaMm2 }) => sum + areaMm2, 0) * -by;
      if (Math.abs(taken - prism) > 1e-6 * volume(start.body) || volume(high) <= 0)
        throw new ProblemError('not-stretchable', 'The part has no even section that is long enough here.');
    }
    const lowAt = shifted(low, lowByMm);
    const between =
      by <= 0
        ? []
        : kernel
            .sweep(
              low,
              rims.map(({ id }) => id),
              scale(direction, by),
            )
            .map((shape) => shifted(keep(shape), lowByMm));
    const body = kernel.fuse(lowAt, [...between, shifted(high, highByMm)]);
    return {
      key: `${start.key} ${JSON.stringify(stretch)}`,
      body,
      surfaces: new Map([...start.surfaces].map(([name, surface]) => [name, shiftedSurface(surface, stretch)])),
    };
  } finally {
    for (const shape of made) shape.free();
  }
}

/** Large enough to cut any part through. */
const square = (size: number): Contour =>
  polygon(
    [-size, -size],
    [
      [size, -size],
      [size, size],
      [-size, size],
      [-size, -size],
    ],
  );

function shiftedSurface(surface: Surface, stretch: Stretch): Surface {
  const moved = (point: Vec3): Vec3 => add(point, moveOf(stretch, point));
  switch (surface.kind) {
    case 'freeform':
      return surface;
    case 'sphere':
    case 'torus':
      return { ...surface, center: moved(surface.center) };
    case 'cone': {
      const by = moveOf(stretch, surface.apex);
      return { ...surface, apex: add(surface.apex, by), origin: add(surface.origin, by) };
    }
    default:
      return { ...surface, origin: moved(surface.origin) };
  }
}

/**
 * The steps of a reconstruction where its body was stretched: everything that they place moves with the side on which it
 * lies. `surfaces` are those of the body before. Refuses with `not-stretchable` where an outline lies on both sides and
 * cannot be drawn out with it.
 */
export function stretchedRecipe(recipe: Recipe, surfaces: NamedSurfaces, stretch: Stretch): Recipe {
  return { ...recipe, steps: recipe.steps.map((step) => shiftedStep(step, recipe.unit, surfaces, stretch)) };
}

function shiftedStep(step: Step, unit: DrawingUnit, surfaces: NamedSurfaces, stretch: Stretch): Step {
  const inUnit = (valueMm: number): number => valueMm / LENGTH_UNITS[unit];
  const added = (expression: string, byMm: number): string =>
    Math.abs(byMm) < ARITHMETIC_MM ? expression : `${expression} + (${expressionOf(inUnit(byMm))})`;
  if (step.op === 'fillet' || step.op === 'chamfer')
    return {
      ...step,
      edges: step.edges.map((selector): EdgeSelector => {
        if (!('near' in selector)) return selector;
        const [x = 0, y = 0, z = 0] = selector.near.map((text) => lengthMm(text, unit));
        const by = moveOf(stretch, [x, y, z]);
        const [a, b, c] = selector.near;
        return { near: [added(a, by[0]), added(b, by[1]), added(c, by[2])] };
      }),
    };
  if (!('plane' in step) || step.op === 'rib' || step.op === 'loft' || step.op === 'mirror') return step;
  const plane = planeBefore(step.plane, unit, surfaces);
  const reference = 'base' in step.plane ? shiftedBase(step.plane, plane, stretch, added) : step.plane;
  const shift = (point: readonly [string, string]): readonly [string, string] => {
    const at = point.map((text) => lengthMm(text, unit));
    const by = moveOf(stretch, pointOn(plane, [at[0] ?? 0, at[1] ?? 0]));
    return [added(point[0], dot(by, plane.u)), added(point[1], dot(by, plane.v))];
  };
  if (step.op === 'hole')
    return {
      ...step,
      plane: reference,
      at:
        step.at.kind === 'points'
          ? { kind: 'points', points: step.at.points.map(shift) }
          : step.at.kind === 'bolt-circle'
            ? { ...step.at, center: shift(step.at.center) }
            : step.at,
    };
  if (step.op === 'revolve') {
    const axis = typeof step.axis === 'string' ? step.axis : { from: shift(step.axis.from), to: shift(step.axis.to) };
    return {
      ...step,
      plane: reference,
      axis,
      outlines: step.outlines.map((outline) => shiftedOutline(outline, shift)),
    };
  }
  return { ...step, plane: reference, outlines: step.outlines.map((outline) => shiftedOutline(outline, shift)) };
}

type Outline = Extract<Step, { op: 'extrude' }>['outlines'][number];
type Shift = (point: readonly [string, string]) => readonly [string, string];

function shiftedOutline(outline: Outline, shift: Shift): Outline {
  switch (outline.shape) {
    case 'circle':
    case 'slot':
      return { ...outline, center: shift(outline.center) };
    case 'rectangle': {
      const [u, v] = outline.center;
      const [low, high] = [
        shift([`${u} - (${outline.width})/2`, `${v} - (${outline.height})/2`]),
        shift([`${u} + (${outline.width})/2`, `${v} + (${outline.height})/2`]),
      ];
      return {
        ...outline,
        center: [`(${low[0]} + ${high[0]})/2`, `(${low[1]} + ${high[1]})/2`],
        width: `${high[0]} - (${low[0]})`,
        height: `${high[1]} - (${low[1]})`,
      };
    }
    case 'path':
      return {
        ...outline,
        start: shift(outline.start),
        segments: outline.segments.map((move) => {
          if (move.move === 'line') return { ...move, to: shift(move.to) };
          return move.move === 'arc' ? { ...move, through: shift(move.through), to: shift(move.to) } : move;
        }),
      };
    case 'difference':
      return { ...outline, parts: outline.parts.map((part) => shiftedOutline(part, shift)) };
    default:
      throw new ProblemError('not-stretchable', 'This outline cannot be drawn out.');
  }
}

type PlaneOf = Extract<Step, { op: 'hole' }>['plane'];

/** The plane of a step of a reconstruction. Refuses with `not-stretchable` where it is on none of these surfaces. */
export function planeBefore(reference: PlaneOf, unit: DrawingUnit, surfaces: NamedSurfaces): WorkPlane {
  const offset = lengthMm(reference.offset ?? '0', unit);
  const surface = 'surface' in reference ? surfaces.get(reference.surface) : undefined;
  const plane =
    'base' in reference
      ? basePlane(reference.base)
      : surface !== undefined && 'surface' in reference
        ? planeOn(surface, reference.surface)
        : null;
  if (plane === null) throw new ProblemError('not-stretchable', 'The plane of a step is not known.');
  return { ...plane, origin: add(plane.origin, scale(plane.normal, offset)) };
}

function shiftedBase(
  reference: Extract<PlaneOf, { base: string }>,
  plane: WorkPlane,
  stretch: Stretch,
  added: (expression: string, lengthMm: number) => string,
): PlaneOf {
  const by = dot(moveOf(stretch, plane.origin), plane.normal);
  return Math.abs(by) < ARITHMETIC_MM ? reference : { ...reference, offset: added(reference.offset ?? '0', by) };
}

/** Where the steps of a reconstruction place something along an axis: points as spans without length, outlines from end to end. */
export function placedAlong(recipe: Recipe, surfaces: NamedSurfaces, axis: 0 | 1 | 2): readonly Span[] {
  const { unit } = recipe;
  return recipe.steps.flatMap((step): readonly Span[] => {
    if (step.op === 'fillet' || step.op === 'chamfer')
      return step.edges.flatMap((selector) => {
        if (!('near' in selector)) return [];
        const at = lengthMm(selector.near[axis], unit);
        return [{ fromMm: at, toMm: at }];
      });
    if (step.op !== 'hole' && step.op !== 'extrude' && step.op !== 'revolve') return [];
    const plane = planeBefore(step.plane, unit, surfaces);
    const at = (point: readonly [string, string]): number =>
      pointOn(plane, [lengthMm(point[0], unit), lengthMm(point[1], unit)])[axis];
    const around = (points: readonly (readonly [string, string])[]): readonly Span[] =>
      points.length === 0 ? [] : [{ fromMm: Math.min(...points.map(at)), toMm: Math.max(...points.map(at)) }];
    if (step.op === 'hole') {
      if (step.at.kind === 'points') return step.at.points.flatMap((point) => around([point]));
      return step.at.kind === 'bolt-circle' ? around([step.at.center]) : [];
    }
    return step.outlines.flatMap((outline) => around(cornersOf(outline)));
  });
}

function cornersOf(outline: Outline): readonly (readonly [string, string])[] {
  switch (outline.shape) {
    case 'circle':
    case 'slot':
      return [outline.center];
    case 'rectangle': {
      const [u, v] = outline.center;
      const corner = (sign: '+' | '-'): readonly [string, string] => [
        `${u} ${sign} (${outline.width})/2`,
        `${v} ${sign} (${outline.height})/2`,
      ];
      return [corner('-'), corner('+')];
    }
    case 'path':
      return [outline.start, ...outline.segments.flatMap((move) => ('to' in move ? [move.to] : []))];
    case 'difference':
      return outline.parts.flatMap(cornersOf);
    default:
      return [];
  }
}
