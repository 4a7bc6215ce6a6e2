import type { Shape, WorkPlane } from '#core/kernel';
import { LENGTH_UNITS, type DrawingUnit } from '#core/quantity';
import { basePlane, planeOn, sameSurface, type NamedSurfaces, type PlaneReference, type Step } from '#core/recipe';
import type { Face, Surface } from '#core/solid';
import { ARITHMETIC_MM, SAME_DIRECTION_COSINE } from '#core/tolerance';
import { dot, subtract, type Vec2, type Vec3 } from '#core/vector';

/** A feature that may be undone: the bodies that undo it, and the step that would make it anew. */
export interface Candidate {
  /** Undoing a hole fills it, undoing a boss takes it away. */
  readonly undoneBy: 'filling' | 'removing';
  /** Made when they are asked for; the caller frees them. */
  readonly tools: () => readonly Shape[];
  /**
   * How much of the area of its tools, both in mm2, bounds the part once the feature is undone; null where the step that
   * makes it anew is proof enough.
   */
  readonly openMm2: ((toolsMm2: number) => number) | null;
  /** Ways to make it anew, the likeliest first. */
  readonly steps: readonly Step[];
}

/** What the features of a model are described with. */
export interface Naming {
  readonly unit: DrawingUnit;
  /** Of the model as it was read. */
  readonly surfaces: NamedSurfaces;
}

const MOST_DECIMALS = 9;
const SNAP = 1e-8;

/** A number as a drawing would write it where that is the same number, else with all its decimals. */
export function expressionOf(value: number): string {
  for (let decimals = 0; decimals < MOST_DECIMALS; decimals++) {
    const text = value.toFixed(decimals);
    if (Math.abs(Number(text) - value) < SNAP) return Number(text) === 0 ? '0' : text;
  }
  return value.toFixed(MOST_DECIMALS);
}

/** A length in the drawing unit. */
export const lengthIn = (unit: DrawingUnit, lengthMm: number): string => expressionOf(lengthMm / LENGTH_UNITS[unit]);

/** An angle as an expression of a recipe, in degrees. */
export const degrees = (angleRad: number): string => expressionOf((angleRad * 180) / Math.PI);

/** The place of a point on a plane, in mm. */
export function onPlane(plane: WorkPlane, point: Vec3): Vec2 {
  const from = subtract(point, plane.origin);
  return [dot(from, plane.u), dot(from, plane.v)];
}

/** A point of a plane as two expressions in the unit of the drawing; the point is in mm. */
export const pointIn = (unit: DrawingUnit, [u, v]: Vec2): readonly [string, string] => [
  lengthIn(unit, u),
  lengthIn(unit, v),
];

/** The plane through a point with a normal, by the name of a flat surface that lies in it; null where none has a name. */
export function namedPlane(
  { surfaces }: Naming,
  point: Vec3,
  normal: Vec3,
): { readonly reference: PlaneReference; readonly plane: WorkPlane } | null {
  for (const [name, surface] of surfaces)
    if (
      surface.kind === 'plane' &&
      dot(surface.normal, normal) > SAME_DIRECTION_COSINE &&
      Math.abs(dot(subtract(surface.origin, point), normal)) < ARITHMETIC_MM
    )
      return { reference: { surface: name }, plane: planeOn(surface, name) };
  return null;
}

/** The same as an offset base plane, for planes along the axes. */
export function offsetBasePlane(
  unit: DrawingUnit,
  point: Vec3,
  normal: Vec3,
): { readonly reference: PlaneReference; readonly plane: WorkPlane } | null {
  for (const base of ['XY', 'XZ', 'YZ'] as const) {
    const plane = basePlane(base);
    if (dot(plane.normal, normal) < SAME_DIRECTION_COSINE) continue;
    const offset = dot(point, plane.normal);
    return {
      reference: { base, ...(Math.abs(offset) < ARITHMETIC_MM ? {} : { offset: lengthIn(unit, offset) }) },
      plane: { ...plane, origin: [plane.normal[0] * offset, plane.normal[1] * offset, plane.normal[2] * offset] },
    };
  }
  return null;
}

/** The name of a surface, by what it is. */
export function nameOf({ surfaces }: Naming, is: (surface: Surface) => boolean): string | null {
  for (const [name, surface] of surfaces) if (is(surface)) return name;
  return null;
}

/** The name of the surface that a face lies on, by its geometry. */
export const nameOfFace = (naming: Naming, { surface }: Face): string | null =>
  nameOf(naming, (own) => sameSurface(own, surface));

/** "hole-1.2.wall": the step it belongs to, and its number in it, from 1. */
export function partsOf(name: string): { readonly stepId: string; readonly number: number } {
  const [stepId = '', number = '1'] = name.split('.');
  return { stepId, number: Number.isInteger(Number(number)) ? Number(number) : 1 };
}
