import { DEFAULT_VIEWS, type SheetView } from '#core/exercise';
import { findHoles } from '#core/feature';
import { evaluateExpression, LENGTH_UNITS, namesIn } from '#core/quantity';
import { stringsIn } from '#core/recipe';
import { axisOf, type Solid } from '#core/solid';
import { BUILT_PARALLEL_SINE, SAME_PLACE_MM } from '#core/tolerance';

import { dimensionsOf } from './draft/index.ts';
import { idleViews } from './lint/index.ts';
import { dimensionViewsOf, prepareViews, type PreparedView, type SheetSource } from './prepare.ts';
import type { ViewDimension } from './view-dimension.ts';

/** The two views from the side, and the axis of the part that each looks along. */
const SIDES = [
  ['front', 1],
  ['right', 0],
] as const;
type Side = (typeof SIDES)[number];

/** Planes that are tried for each of the two. */
const MOST_PLANES = 3;

/** So many ends of dimensions on hidden lines are less bad than a section that the reader has to find. */
const PRICE_OF_SECTION = 0.5;

/**
 * The views of a new sheet: three and a pictorial one, without those that add nothing; of those from the side one in
 * section where sizes of the inside would be written at hidden lines otherwise. Several planes are tried, and the dimensions drafted in each: that with the
 * fewest ends on hidden lines is taken. Its place is an expression of the letters where the recipe has one for it.
 */
export function suggestViews(source: SheetSource): readonly SheetView[] {
  const { solid } = source.reference;
  const drawings = [
    DEFAULT_VIEWS,
    ...(source.cut === null
      ? []
      : SIDES.flatMap((side) => planesOf(solid, side).map((at) => withSection(side, placeText(at, source))))),
  ];
  const priced = drawings.map((views, i) => ({
    views,
    price: hiddenEndsIn(source, views) + (i === 0 ? 0 : PRICE_OF_SECTION),
  }));
  return withoutIdle(source, priced.reduce((best, one) => (one.price < best.price ? one : best)).views);
}

/** Of views, those that the sheet cannot do without: each dimension has its place, and at lines as visible as before. */
function withoutIdle(source: SheetSource, views: readonly SheetView[]): readonly SheetView[] {
  const prepared = prepareViews(source, views, []);
  const all = draftedIn(source, prepared);
  const idle = idleViews(prepared, (kept) => {
    const left = draftedIn(
      source,
      prepared.filter(({ view }) => kept.has(view.id)),
    );
    return left.length === all.length && hiddenEndsOf(left) <= hiddenEndsOf(all);
  });
  return views.filter((view) => !idle.some((one) => one.view.id === view.id));
}

const draftedIn = (source: SheetSource, prepared: readonly PreparedView[]): readonly ViewDimension[] =>
  dimensionsOf(source, dimensionViewsOf(prepared), source.threads);

const hiddenEndsOf = (dimensions: readonly ViewDimension[]): number =>
  dimensions.reduce((sum, { hiddenEnds }) => sum + hiddenEnds, 0);

const withSection = ([direction]: Side, at: string): readonly SheetView[] =>
  DEFAULT_VIEWS.map((view): SheetView =>
    view.kind === 'plain' && view.direction === direction
      ? { kind: 'section', id: 'section-a', direction, letter: 'A', at }
      : view,
  );

/** Ends of dimensions that lie on hidden lines, over the whole sheet. */
const hiddenEndsIn = (source: SheetSource, views: readonly SheetView[]): number =>
  hiddenEndsOf(draftedIn(source, prepareViews(source, views, [])));

/** Where a plane across the axis of a view cuts along the axes of hollow rounds, and the middle; most rounds first. */
function planesOf(solid: Solid, [, axis]: Side): readonly number[] {
  const holes = new Set(findHoles(solid).flatMap(({ faceIds }) => faceIds));
  const rounds = solid.faces.flatMap(({ id, surface }) => {
    const line = axisOf(surface);
    const isHollow = 'side' in surface && surface.side === 'concave';
    const runsAcross = line !== null && Math.abs(line.direction[axis]) < BUILT_PARALLEL_SINE;
    return line !== null && isHollow && runsAcross ? [{ at: line.origin[axis], weight: holes.has(id) ? 2 : 1 }] : [];
  });
  const planes: { at: number; weight: number }[] = [
    { at: (solid.bounds.min[axis] + solid.bounds.max[axis]) / 2, weight: 1.5 },
  ];
  for (const { at, weight } of rounds) {
    const known = planes.find((plane) => Math.abs(plane.at - at) < SAME_PLACE_MM);
    if (known === undefined) planes.push({ at, weight });
    else known.weight += weight;
  }
  return planes
    .sort((a, b) => b.weight - a.weight)
    .slice(0, MOST_PLANES)
    .map(({ at }) => at);
}

/** A place along an axis of the part in the drawing unit, in letters where the recipe has them for it. */
function placeText(atMm: number, { exercise: { recipe }, scope }: SheetSource): string {
  const wanted = atMm / LENGTH_UNITS[recipe.unit];
  if (Math.abs(wanted) < 1e-9) return '0';
  const halves = recipe.parameters.flatMap(({ name }) => [`${name}/2`, `-${name}/2`, name]);
  const found = [...halves, ...new Set(stringsIn(recipe.steps))].find((text) => {
    const value = namesIn(text).length === 0 ? null : evaluateExpression(text, scope, recipe.unit);
    return value?.ok === true && Math.abs(value.value - wanted) < 1e-9;
  });
  return found ?? String(Number(wanted.toFixed(6)));
}
