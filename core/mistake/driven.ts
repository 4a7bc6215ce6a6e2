import {
  isDimension,
  isOnSheet,
  spanOfCheck,
  type DimensionCheck,
  type Span as CheckSpan,
  type SpanEnd,
} from '#core/check';
import type { Exercise } from '#core/exercise';
import { operationOf, type NamedSurfaces, type Step } from '#core/recipe';
import { featuresOf } from '#core/feature';
import { unwrap } from '#core/problem';
import { evaluateExpression, evaluateParameters, LENGTH_UNITS, type DrawingUnit } from '#core/quantity';
import {
  cutAt,
  expressionOf,
  placedAlong,
  planeBefore,
  stretchAt,
  type Span,
  type Stretchable,
} from '#core/reconstruct';
import { axisOf, type Solid } from '#core/solid';
import { ARITHMETIC_MM, SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
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
  /** How it becomes larger, the likeliest way first. */
  readonly ways: readonly Way[];
}

/** What grows with a size: one side of the part or both, this row of holes or that. */
export interface Way {
  readonly key: string;
  /** How likely this way is beside the others. */
  readonly factor: number;
  readonly edits: (byMm: number) => readonly [Edit, ...Edit[]];
}

type AxisNumber = 0 | 1 | 2;
const AXES = [0, 1, 2] as const;

const LESS_LIKELY = 0.4;

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

/**
 * The sizes of a check plan that drive a part along its axes. `solid` is the part as it was read, `body` what it begins
 * with; surfaces are those of the former.
 */
export function drivenSizes(
  exercise: Exercise,
  solid: Solid,
  body: Solid,
  surfaces: NamedSurfaces,
): readonly DrivenSize[] {
  const { recipe, checks } = exercise;
  const located = checks
    .filter((check): check is DimensionCheck => isDimension(check) && isOnSheet(check))
    .flatMap((check) => locate(check, solid, surfaces) ?? []);
  const planes = featuresOf(solid, 'symmetry-plane');
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
    const isEven = planes.some(
      ({ normal, origin }) =>
        Math.abs(normal[one.axis]) > SAME_DIRECTION_COSINE &&
        Math.abs(2 * origin[one.axis] - one.fromMm - one.toMm) < SAME_PLACE_MM,
    );
    const [moved, other] = [one.moves, one.movesToo].map((name) => (name === null ? undefined : stepOf(name)));
    if (moved !== undefined) {
      const rows = [
        rowOf(moved, { axis: one.axis, atMm: one.toMm, surfaces, unit: recipe.unit }),
        other === undefined ? [] : rowOf(other, { axis: one.axis, atMm: one.fromMm, surfaces, unit: recipe.unit }),
      ] as const;
      const ways = movingWays(rows, Math.sign(one.toMm - one.fromMm) || 1, isEven, recipe.unit);
      return ways.length === 0 ? [] : [{ check, valueMm, halvesMm: halfSizes(moved, recipe.unit), ways }];
    }
    // What a step makes has its number in the step.
    if (one.names.some((name) => stepOf(name) !== undefined)) return [];
    const own = spans.find(({ of }) => of === one);
    const others = spans.filter(({ of }) => of !== one && of.axis === one.axis);
    const ways =
      own === undefined
        ? []
        : stretchingWays({ body, placed: placedAlong(recipe, surfaces, one.axis) }, one.axis, {
            span: own,
            others,
            isEven,
          });
    return ways.length === 0 ? [] : [{ check, valueMm, halvesMm: [], ways }];
  });
}

/** Either row of holes, and both where they lie evenly about the middle of the part. */
function movingWays(
  [to, from]: readonly [readonly Place[], readonly Place[]],
  sign: number,
  isEven: boolean,
  unit: DrawingUnit,
): readonly Way[] {
  const way = (key: string, factor: number, moves: readonly (readonly [readonly Place[], number])[]): Way | null => {
    const [first, ...more] = moves.flatMap(([places, share]) => places.map((place) => ({ ...place, share })));
    if (first === undefined) return null;
    const edit = ({ stepId, path, value, along, share }: typeof first, byMm: number): Edit => ({
      kind: 'set',
      stepId,
      path,
      value: expressionOf((value + along * share * sign * byMm) / LENGTH_UNITS[unit]),
    });
    return { key, factor, edits: (byMm) => [edit(first, byMm), ...more.map((one) => edit(one, byMm))] };
  };
  const both = isEven && to.length > 0 && from.length > 0;
  return [
    both
      ? way('', 1, [
          [to, 0.5],
          [from, -0.5],
        ])
      : null,
    way(both ? '/one' : '', both ? LESS_LIKELY : 1, [[to, 1]]),
    from.length === 0 ? null : way('/other', LESS_LIKELY, [[from, -1]]),
  ].filter((one) => one !== null);
}

/** One side of the part, and both where it is even about its middle: what lies there stays in the middle then. */
function stretchingWays(
  part: Stretchable,
  axis: AxisNumber,
  {
    span: { fromMm, toMm },
    others,
    isEven,
  }: { readonly span: Span; readonly others: readonly Span[]; readonly isEven: boolean },
): readonly Way[] {
  // A part that is drawn about its origin stays there.
  const share = Math.abs(fromMm + toMm) < ARITHMETIC_MM ? 0.5 : 0;
  const stretch = (atMm: number, lowByMm: number, highByMm: number): Edit => ({
    kind: 'stretch',
    axis,
    atMm,
    lowByMm,
    highByMm,
  });
  const grown = (place: Span | null): number =>
    place === null
      ? Infinity
      : others.filter((span) => span.fromMm < cutAt(place, 0) && cutAt(place, 0) < span.toMm).length;
  const at = stretchAt(part, axis, { fromMm, toMm }, others);
  const low = isEven ? stretchAt(part, axis, { fromMm, toMm: (fromMm + toMm) / 2 }, others) : null;
  const oneSide = (key: string, place: Span, factor: number): Way => ({
    key,
    factor,
    edits: (by) => [stretch(cutAt(place, by), -share * by, (1 - share) * by)],
  });
  if (low === null || grown(low) > grown(at)) return at === null ? [] : [oneSide('', at, 1)];
  // Of an even part, what lies in the middle stays there, or stays with one of its ends.
  const mirrored = (atMm: number): number => fromMm + toMm - atMm;
  const high: Span = { fromMm: mirrored(low.toMm), toMm: mirrored(low.fromMm) };
  const even: Way = {
    key: '',
    factor: 1,
    // The second place has moved with the first stretch.
    edits: (by) => [
      stretch(cutAt(low, by / 2), -share * by, (0.5 - share) * by),
      stretch(cutAt(high, by / 2) + (0.5 - share) * by, 0, by / 2),
    ],
  };
  return [even, oneSide('/high', high, LESS_LIKELY), oneSide('/low', low, LESS_LIKELY / 2)];
}

function locate(check: DimensionCheck, solid: Solid, surfaces: NamedSurfaces): Located | null {
  const span = spanOfCheck(check);
  if (span === null) return null;
  if (span.kind === 'extent') {
    const { axis } = span;
    const [fromMm, toMm] = [solid.bounds.min[axis], solid.bounds.max[axis]];
    return { check, axis, fromMm, toMm, names: [], moves: null, movesToo: null };
  }
  const anchorOf = ({ on, at }: SpanEnd<string>): Anchor | null =>
    on === 'face' ? flat(surfaces, at) : round(surfaces, at);
  const [from, to] = [anchorOf(span.from), anchorOf(span.to)];
  if (from === null || to === null) return null;
  const axis = axisOfSpan(span, from, to);
  if (axis === undefined) return null;
  const [moves, movesToo] = [span.to, span.from].map(({ on, at }) => (on === 'axis' ? at : null));
  return {
    check,
    axis,
    fromMm: from.at[axis],
    toMm: to.at[axis],
    names: span.to.on === 'face' ? [span.from.at, span.to.at] : [span.from.at],
    moves: moves ?? null,
    movesToo: movesToo ?? null,
  };
}

/** The axis of the part that a distance runs along; undefined where it runs along none. */
function axisOfSpan(span: Extract<CheckSpan<string>, { kind: 'between' }>, from: Anchor, to: Anchor) {
  if (span.from.on === 'face') return AXES.find((one) => runs(from, one));
  if (span.along !== undefined) return span.along;
  const apart = AXES.filter((axis) => Math.abs(from.at[axis] - to.at[axis]) > ARITHMETIC_MM && !runs(from, axis));
  return apart.length === 1 ? apart[0] : undefined;
}

interface Anchor {
  /** A point of it. */
  readonly at: Vec3;
  readonly direction: Vec3;
}

const runs = ({ direction }: Anchor, axis: AxisNumber): boolean => Math.abs(direction[axis]) > SAME_DIRECTION_COSINE;

function flat(surfaces: NamedSurfaces, name: string): Anchor | null {
  const surface = surfaces.get(name);
  return surface?.kind === 'plane' ? { at: surface.origin, direction: surface.normal } : null;
}

function round(surfaces: NamedSurfaces, name: string): Anchor | null {
  const surface = surfaces.get(name);
  const axis = surface === undefined ? null : axisOf(surface);
  return axis && { at: axis.origin, direction: axis.direction };
}

interface Place {
  readonly stepId: string;
  readonly path: Path;
  /** In mm, along a direction of the plane of the step. */
  readonly value: number;
  /** Of that direction along the axis: 1 or -1. */
  readonly along: number;
}

/** The coordinates of those members of a step that lie in one row square to the axis. */
function rowOf(
  step: Step,
  {
    axis,
    atMm,
    surfaces,
    unit,
  }: { readonly axis: AxisNumber; readonly atMm: number; readonly surfaces: NamedSurfaces; readonly unit: DrawingUnit },
): readonly Place[] {
  const points = operationOf(step.op).placed?.(step) ?? [];
  if (!('plane' in step) || points.length === 0) return [];
  const { u, v, origin } = planeBefore(step.plane, unit, surfaces);
  const which = ([u, v] as const).findIndex((direction) => Math.abs(direction[axis]) > SAME_DIRECTION_COSINE);
  const direction = which === 0 ? u : which === 1 ? v : null;
  if (direction === null) return [];
  const along = Math.sign(direction[axis]);
  return points.flatMap(({ path, point }): Place[] => {
    const value = Number(point[which]) * LENGTH_UNITS[unit];
    const at = dot(origin, direction) * along + value * along;
    return Math.abs(at - atMm) < ARITHMETIC_MM ? [{ stepId: step.id, path: [...path, which], value, along }] : [];
  });
}

/** Half sizes of what a step drills, mm. */
const halfSizes = (step: Step, unit: DrawingUnit): readonly number[] =>
  step.op === 'hole' ? [(Number(step.diameter) / 2) * LENGTH_UNITS[unit]] : [];
