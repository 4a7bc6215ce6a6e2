import { shownChains, type Place } from '#core/chain';
import type { AxisIndex, Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import { refuse, succeed, type Result } from '#core/problem';
import { LENGTH_UNITS } from '#core/quantity';
import type { PlacedView, Sheet } from '#core/sheet';
import type { Vec2, Vec3 } from '#core/vector';

import { lengthTyped } from './judge.ts';

/** A part with its sheet, as a student has it. */
export interface DrawnExercise {
  readonly exercise: Exercise;
  readonly reference: Reference;
  readonly sheet: Sheet;
}

/** A point of a page, mm from its upper left corner, as it is picked on a screen. */
export interface PaperPoint {
  /** From 1. */
  readonly page: number;
  readonly at: Vec2;
}

/** The way on the paper that a size is asked along. */
export type Along = 'across' | 'up';

/** Two lines of a view, and how far they are apart along an axis of the part. */
export interface AskedSize {
  readonly axis: AxisIndex;
  readonly along: Along;
  /** Places along the axis, mm of the part. */
  readonly from: number;
  readonly to: number;
  /** The picked points moved to their lines. */
  readonly marks: readonly [PaperPoint, PaperPoint];
}

/** One size of the sheet on the way from one line to another. */
export interface SizeLink {
  /** The dimension; null for what the picture says by itself, as that a round touches a face. */
  readonly checkId: string | null;
  readonly part: 'whole' | 'half';
  readonly sense: 'plus' | 'minus';
}

/** What the sheet says of a size. */
export type SizeAnswer =
  | { readonly kind: 'written'; readonly checkId: string }
  /** It follows from these, what is added before what is taken off. */
  | { readonly kind: 'follows'; readonly links: readonly [SizeLink, ...SizeLink[]] }
  /** Not along one axis: by symmetry, an angle, a tangent or a note, or not at all. */
  | { readonly kind: 'otherwise' };

/** How far from a line a point of the paper may be picked, mm. */
const REACH_MM = 3.5;
const SAME_NUMBER_MM = 1e-3;
const AXES = [0, 1, 2] as const;

/** Whether a place is seen as a line: the middle of a part is where something is symmetric, not a line of its own. */
export const isDrawn = ({ kind, faceIds }: Place): boolean => kind !== 'axis' || faceIds.length > 0;

/** The axis of the part that runs along a direction of a view, with its sense; null for none. */
function axisAlong(direction: Vec3): { readonly axis: AxisIndex; readonly sense: 1 | -1 } | null {
  const axis = AXES.find((i) => Math.abs(direction[i]) > 1 - 1e-9);
  return axis === undefined ? null : { axis, sense: direction[axis] > 0 ? 1 : -1 };
}

type Chains = ReturnType<typeof shownChains>;
const known = new WeakMap<Reference, { readonly exercise: Exercise; readonly chains: Chains }>();

/** The chains of a sheet; those of a part that is asked about again and again are worked out once. */
function chainsOf({ exercise, reference }: Pick<DrawnExercise, 'exercise' | 'reference'>): Chains {
  const before = known.get(reference);
  if (before?.exercise === exercise) return before.chains;
  const chains = shownChains(exercise, reference);
  known.set(reference, { exercise, chains });
  return chains;
}

type Lies = NonNullable<PlacedView['lies']>;

/** The view that a point lies in, or nearest to one. Views of stored sheets that do not say how the part lies are none. */
function viewAt({ views, pages }: Sheet, { page, at }: PaperPoint): (PlacedView & { readonly lies: Lies }) | null {
  const height = pages[page - 1]?.heightMm ?? 0;
  const y = height - at[1];
  const inside = views.filter(
    (view) =>
      view.page === page && at[0] >= view.min[0] && at[0] <= view.max[0] && y >= view.min[1] && y <= view.max[1],
  );
  // A detail may stand within the frame of another view: the smaller one is meant.
  const [view] = [...inside].sort((a, b) => areaOf(a) - areaOf(b));
  return view?.lies === undefined ? null : { ...view, lies: view.lies };
}
const areaOf = ({ min, max }: PlacedView): number => (max[0] - min[0]) * (max[1] - min[1]);

/**
 * The size between two picked points of one view: along the way that is asked, or the longer one on the paper. Refuses
 * with `no-such-place` where there is no line at a point, or both are on one.
 */
export function askedSize(
  drawn: DrawnExercise,
  [first, second]: readonly [PaperPoint, PaperPoint],
  along: Along | null,
): Result<AskedSize> {
  const { sheet } = drawn;
  const [view, other] = [viewAt(sheet, first), viewAt(sheet, second)];
  if (view === null || other === null)
    return refuse('no-such-place', 'Pick two lines of a view that shows the part straight on.');
  if (view.viewId !== other.viewId) return refuse('no-such-place', 'Pick both lines in the same view.');
  const chains = chainsOf(drawn);
  const height = sheet.pages[first.page - 1]?.heightMm ?? 0;
  const sizeAlong = (way: Along): AskedSize | null => {
    const k = way === 'across' ? 0 : 1;
    const found = axisAlong(way === 'across' ? view.lies.right : view.lies.up);
    if (found === null) return null;
    const { axis, sense } = found;
    const paperOf = (place: number): number => view.lies.origin[k] + sense * place * view.scale;
    const nearest = (point: PaperPoint): number | null => {
      const at = k === 0 ? point.at[0] : height - point.at[1];
      const [best] = chains[axis].places
        .filter(isDrawn)
        .map((place) => ({ at: place.at, off: Math.abs(paperOf(place.at) - at) }))
        .sort((a, b) => a.off - b.off);
      return best === undefined || best.off > REACH_MM ? null : best.at;
    };
    const [from, to] = [nearest(first), nearest(second)];
    if (from === null || to === null || Math.abs(from - to) < SAME_NUMBER_MM) return null;
    const marked = (point: PaperPoint, place: number): PaperPoint => ({
      page: point.page,
      at: k === 0 ? [paperOf(place), point.at[1]] : [point.at[0], height - paperOf(place)],
    });
    return { axis, along: way, from, to, marks: [marked(first, from), marked(second, to)] };
  };
  const isLonger = Math.abs(first.at[0] - second.at[0]) >= Math.abs(first.at[1] - second.at[1]);
  const ways: readonly Along[] = along === null ? (isLonger ? ['across', 'up'] : ['up', 'across']) : [along];
  for (const way of ways) {
    const size = sizeAlong(way);
    if (size !== null) return succeed(size);
  }
  return refuse('no-such-place', 'Pick nearer to two different edges or center lines, one after the other.');
}

/** How a size follows from what the sheet writes. */
export function sizeAnswer(
  drawn: Pick<DrawnExercise, 'exercise' | 'reference'>,
  { axis, from, to }: AskedSize,
): SizeAnswer {
  const { reference } = drawn;
  const path = chainsOf(drawn)[axis].path(from, to);
  if (path === null || path.length === 0) return { kind: 'otherwise' };
  const total = path.reduce((sum, { valueMm, sign }) => sum + sign * valueMm, 0);
  const flip = total < 0 ? -1 : 1;
  const nominals = new Map(
    reference.targets.map((target) => [target.checkId, 'nominal' in target ? target.nominal : Number.NaN]),
  );
  const links = path.flatMap(({ checkId, valueMm, sign }): SizeLink[] => {
    const nominal = checkId === null ? valueMm : (nominals.get(checkId) ?? Number.NaN);
    const isHalf = Math.abs(nominal - 2 * valueMm) < SAME_NUMBER_MM;
    // Of a bolt circle at an angle, the way along one axis is neither.
    if (!isHalf && !(Math.abs(nominal - valueMm) < SAME_NUMBER_MM)) return [];
    return [{ checkId, part: isHalf ? 'half' : 'whole', sense: sign * flip > 0 ? 'plus' : 'minus' }];
  });
  if (links.length < path.length) return { kind: 'otherwise' };
  const [first, ...rest] = [...links].sort((a, b) => Number(a.sense === 'minus') - Number(b.sense === 'minus'));
  if (first === undefined) return { kind: 'otherwise' };
  if (rest.length === 0 && first.checkId !== null && first.part === 'whole')
    return { kind: 'written', checkId: first.checkId };
  return { kind: 'follows', links: [first, ...rest] };
}

/** The letters that a sheet gives values to; other names of a recipe are its author's. */
const lettersOf = (scope: Reference['scope']): Reference['scope'] =>
  Object.fromEntries(Object.entries(scope).filter(([name]) => /^[A-Z]$/.test(name)));

/** Whether a sum that was typed in the unit of the drawing, letters and all, is the size between two places. Refuses what is no number. */
export function isSize(
  { from, to }: AskedSize,
  sum: string,
  { unit, decimals, scope }: Pick<Reference, 'unit' | 'decimals' | 'scope'>,
): Result<boolean> {
  const typed = lengthTyped(sum, unit, lettersOf(scope));
  if (!typed.ok) return typed;
  const lastPlace = 0.5 * 10 ** -decimals * LENGTH_UNITS[unit];
  return succeed(Math.abs(Math.abs(typed.value) - Math.abs(to - from)) <= lastPlace * (1 + 1e-6) + 1e-9);
}
