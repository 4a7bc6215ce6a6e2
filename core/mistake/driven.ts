import { isDimension, isOnSheet, type DimensionCheck, type Exercise } from '#core/exercise';
import { attempt, unwrap } from '#core/problem';
import { evaluateExpression, evaluateParameters, LENGTH_UNITS } from '#core/quantity';
import { expressionOf, stretchAt, type Span } from '#core/reconstruct';
import { basePlane, planeOn, type NamedSurfaces, type Step } from '#core/recipe';
import { axisOf, type Solid } from '#core/solid';
import { dot, type Vec3 } from '#core/vector';

import type { Edit, Path } from './edit.ts';

/**
 * A size of the sheet that stands in no step of a part that was read from a file: with another value, one side of the part
 * moves, or a row of holes.
 */
export interface DrivenSize {
  readonly check: DimensionCheck;
  readonly valueMm: number;
  /** Half sizes of what moves, which a student may have measured from. */
  readonly halvesMm: readonly number[];
  /** What makes it larger by so much. */
  readonly edits: (byMm: number) => readonly [Edit, ...Edit[]];
}

type AxisNumber = 0 | 1 | 2;
const AXES = [0, 1, 2] as const;
const AXIS_NUMBERS = { x: 0, y: 1, z: 2 } as const;
const ALONG = 1 - 1e-9;
const SAME_MM = 1e-6;

/** Where a size begins and ends along an axis, and the surfaces that it is given between. */
interface Located {
  readonly check: DimensionCheck;
  readonly axis: AxisNumber;
  /** Where it is measured from, and what it places. */
  readonly fromMm: number;
  readonly toMm: number;
  readonly names: readonly string[];
  /** A wall of the row of holes that it places, and of the row that it is measured from. */
  readonly moves: string | null;
  readonly movesToo: string | null;
}

const isCentered = ({ fromMm, toMm }: Located): boolean => Math.abs(fromMm + toMm) < SAME_MM;

/** The sizes of a check plan that drive a part along its axes. */
export function drivenSizes(exercise: Exercise, solid: Solid, surfaces: NamedSurfaces): readonly DrivenSize[] {
  const { recipe, checks } = exercise;
  const located = checks
    .filter((check): check is DimensionCheck => isDimension(check) && isOnSheet(check))
    .flatMap((check) => locate(check, solid, surfaces) ?? []);
  const scope = unwrap(evaluateParameters(recipe.parameters, recipe.unit));
  const spans = located.map((one): Span & { readonly of: Located } => ({
    fromMm: Math.min(one.fromMm, one.toMm),
    toMm: Math.max(one.fromMm, one.toMm),
    of: one,
  }));
  return located.flatMap((one): DrivenSize[] => {
    const nominal = evaluateExpression(one.check.nominal, scope, recipe.unit);
    if (!nominal.ok) return [];
    const { check } = one;
    const valueMm = nominal.value * LENGTH_UNITS[recipe.unit];
    const stepOf = (name: string): Step | undefined => recipe.steps.find(({ id }) => id === name.split('.')[0]);
    const moved = one.moves === null ? undefined : stepOf(one.moves);
    if (moved !== undefined) {
      const sign = Math.sign(one.toMm - one.fromMm) || 1;
      // Rows that lie evenly about the middle of the part both move.
      const other = one.movesToo === null || !isCentered(one) ? undefined : stepOf(one.movesToo);
      const share = other === undefined ? 0 : 0.5;
      const rowsOf = (step: Step | undefined, atMm: number, factor: number): readonly Moving[] =>
        step === undefined
          ? []
          : rowOf(step, one.axis, atMm, surfaces, recipe.unit).map((place) => ({ ...place, stepId: step.id, factor }));
      const [first, ...more] = [
        ...rowsOf(moved, one.toMm, (1 - share) * sign),
        ...rowsOf(other, one.fromMm, -share * sign),
      ];
      if (first === undefined) return [];
      const edit = ({ stepId, path, value, along, factor }: Moving, byMm: number): Edit => ({
        kind: 'set',
        stepId,
        path,
        value: expressionOf((value + along * factor * byMm) / LENGTH_UNITS[recipe.unit]),
      });
      const halvesMm = halfSizes(moved, recipe.unit);
      return [
        { check, valueMm, halvesMm, edits: (byMm) => [edit(first, byMm), ...more.map((place) => edit(place, byMm))] },
      ];
    }
    // What a step makes has its number in the step.
    if (one.names.some((name) => stepOf(name) !== undefined)) return [];
    const own = spans.find(({ of }) => of === one);
    const others = spans.filter(({ of }) => of !== one && of.axis === one.axis);
    const at = own && stretchAt(solid, one.axis, own, others);
    if (own === undefined || at === null || at === undefined) return [];
    // A part that is drawn about its middle grows to both sides.
    const share = isCentered(one) ? 0.5 : 0;
    return [
      {
        check,
        valueMm,
        halvesMm: [],
        edits: (byMm) => [
          { kind: 'stretch', axis: one.axis, atMm: at, lowByMm: -share * byMm, highByMm: (1 - share) * byMm },
        ],
      },
    ];
  });
}

function locate(check: DimensionCheck, solid: Solid, surfaces: NamedSurfaces): Located | null {
  switch (check.kind) {
    case 'overall-size': {
      const axis = AXIS_NUMBERS[check.axis];
      return {
        check,
        axis,
        fromMm: solid.bounds.min[axis],
        toMm: solid.bounds.max[axis],
        names: [],
        moves: null,
        movesToo: null,
      };
    }
    case 'distance':
    case 'thickness':
      return between(check, flat(surfaces, check.from), flat(surfaces, check.to), [check.from, check.to], null);
    case 'hole-position':
      return between(
        check,
        flat(surfaces, check.from),
        flat(surfaces, check.from) && round(surfaces, check.of),
        [check.from],
        check.of,
      );
    case 'center-distance': {
      const [from, to] = [round(surfaces, check.from), round(surfaces, check.to)];
      if (from === null || to === null) return null;
      const apart = AXES.filter((axis) => Math.abs(from.at[axis] - to.at[axis]) > SAME_MM && !runs(from, axis));
      const axis = check.along === undefined ? (apart.length === 1 ? apart[0] : undefined) : AXIS_NUMBERS[check.along];
      return axis === undefined
        ? null
        : {
            check,
            axis,
            fromMm: from.at[axis],
            toMm: to.at[axis],
            names: [check.from],
            moves: check.to,
            movesToo: check.from,
          };
    }
    default:
      return null;
  }
}

interface Anchor {
  /** A point of it. */
  readonly at: Vec3;
  readonly direction: Vec3;
}

const runs = ({ direction }: Anchor, axis: AxisNumber): boolean => Math.abs(direction[axis]) > ALONG;

function flat(surfaces: NamedSurfaces, name: string): Anchor | null {
  const surface = surfaces.get(name);
  return surface?.kind === 'plane' ? { at: surface.origin, direction: surface.normal } : null;
}

function round(surfaces: NamedSurfaces, name: string): Anchor | null {
  const surface = surfaces.get(name);
  const axis = surface === undefined ? null : axisOf(surface);
  return axis && { at: axis.origin, direction: axis.direction };
}

function between(
  check: DimensionCheck,
  from: Anchor | null,
  to: Anchor | null,
  names: readonly string[],
  moves: string | null,
): Located | null {
  const axis = from === null ? undefined : AXES.find((one) => runs(from, one));
  if (from === null || to === null || axis === undefined) return null;
  return { check, axis, fromMm: from.at[axis], toMm: to.at[axis], names, moves, movesToo: null };
}

interface Moving extends Place {
  readonly stepId: string;
  /** How far it moves for each mm of the size. */
  readonly factor: number;
}

interface Place {
  readonly path: Path;
  /** In mm, along a direction of the plane of the step. */
  readonly value: number;
  /** Of that direction along the axis: 1 or -1. */
  readonly along: number;
}

/** The coordinates of those members of a step that lie in one row square to the axis. */
function rowOf(
  step: Step,
  axis: AxisNumber,
  atMm: number,
  surfaces: NamedSurfaces,
  unit: Exercise['recipe']['unit'],
): readonly Place[] {
  const points = pointsOf(step);
  if (!('plane' in step) || points.length === 0) return [];
  const reference = step.plane;
  const surface = 'surface' in reference ? surfaces.get(reference.surface) : undefined;
  const plane = attempt(() =>
    'base' in reference
      ? basePlane(reference.base)
      : surface && 'surface' in reference
        ? planeOn(surface, reference.surface)
        : null,
  );
  if (!plane.ok || plane.value === null) return [];
  const { u, v, origin } = plane.value;
  const which = ([u, v] as const).findIndex((direction) => Math.abs(direction[axis]) > ALONG);
  const direction = which === 0 ? u : which === 1 ? v : null;
  if (direction === null) return [];
  const along = Math.sign(direction[axis]);
  return points.flatMap(({ path, point }): Place[] => {
    const value = Number(point[which]) * LENGTH_UNITS[unit];
    const at = dot(origin, direction) * along + value * along;
    return Math.abs(at - atMm) < SAME_MM ? [{ path: [...path, which], value, along }] : [];
  });
}

function pointsOf(
  step: Step,
): readonly { readonly path: readonly (string | number)[]; readonly point: readonly string[] }[] {
  if (step.op === 'hole')
    return step.at.kind === 'points' ? step.at.points.map((point, i) => ({ path: ['at', 'points', i], point })) : [];
  if (step.op !== 'extrude') return [];
  return step.outlines.flatMap((outline, i) =>
    'center' in outline && Array.isArray(outline.center)
      ? [{ path: ['outlines', i, 'center'], point: outline.center }]
      : [],
  );
}

const halfSizes = (step: Step, unit: Exercise['recipe']['unit']): readonly number[] =>
  step.op === 'hole' ? [(Number(step.diameter) / 2) * LENGTH_UNITS[unit]] : [];
