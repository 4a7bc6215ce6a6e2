import { isPrincipal, type SheetView } from '#core/exercise';
import type { CutAway, CutView, ViewDirection } from '#core/kernel';
import { evaluateExpression, LENGTH_UNITS, type Scope } from '#core/quantity';
import type { Thread } from '#core/recipe';
import { trianglesOf } from '#core/solid';
import type { Vec2 } from '#core/vector';

import { clippedToCircle } from './clip.ts';
import { cleanView, type SheetCurve, type ViewLines } from './lines.ts';
import { projectSolid, type Drawable } from './project.ts';
import { shadedView, type Shade } from './shade.ts';
import type { Writer } from './text.ts';
import type { DimensionView } from './view-dimension.ts';
import { axesOf, DIRECTIONS, ISOMETRIC, seen, type ViewAxes } from './views.ts';

/** All that a sheet is drawn from. */
export interface SheetSource extends Writer {
  readonly scope: Scope;
  readonly threads: readonly Thread[];
  /** Null for a part that cannot be cut exactly. */
  readonly cut: ((view: ViewDirection, cuts: readonly CutAway[]) => CutView) | null;
}

/** A view before it has a scale; view coordinates, mm. */
export interface PreparedView {
  readonly view: SheetView;
  readonly axes: ViewAxes;
  /** What is seen: the part, or what a section leaves of it. */
  readonly part: Drawable;
  readonly lines: ViewLines;
  /** Of the cut faces of a section. */
  readonly cutTriangles: readonly (readonly [Vec2, Vec2, Vec2])[];
  /** A toned picture under its lines. */
  readonly shade: Shade | null;
  /** How much larger than the other views. */
  readonly factor: number;
  readonly title: string | null;
  /** Lines that show where a section cuts this view, or what of it a detail shows. */
  readonly cutLines: readonly CutLine[];
  readonly circles: readonly (DetailCircle & { readonly letter: string })[];
  /** What a detail shows; null for a whole view. */
  readonly within: DetailCircle | null;
}

export interface DetailCircle {
  readonly center: Vec2;
  readonly radius: number;
}

export interface CutLine {
  readonly points: readonly Vec2[];
  readonly letter: string;
  /** Where the section looks to. */
  readonly towards: Vec2;
}

/** The views that dimensions are drafted in. */
export const dimensionViewsOf = (prepared: readonly PreparedView[]): readonly DimensionView[] =>
  prepared
    .filter(({ view }) => isPrincipal(view) || view.kind === 'detail')
    .map((one) => ({
      id: one.view.id,
      axes: one.axes,
      lines: one.lines,
      section: one.view.kind === 'section',
      onlyWanted: one.view.kind === 'detail',
    }));

/** A whole view at the scale of the sheet, with nothing on it but its lines. */
const UNMARKED = { cutTriangles: [], shade: null, factor: 1, cutLines: [], circles: [], within: null } as const;

/** Projects, cuts and clips the views of a sheet. What cannot be shown as wanted is added to the warnings. */
export function prepareViews(
  source: SheetSource,
  views: readonly SheetView[],
  warnings: string[],
): readonly PreparedView[] {
  const { exercise, scope, reference } = source;
  const { unit } = exercise.recipe;
  const mm = (expression: string): number => {
    const value = evaluateExpression(expression, scope, unit);
    if (value.ok) return value.value * LENGTH_UNITS[unit];
    warnings.push(`A view of the sheet: ${value.problem.message}`);
    return 0;
  };
  const context: Context = { source, mm, warnings };
  const made: PreparedView[] = [];
  for (const view of views)
    switch (view.kind) {
      case 'plain':
        made.push(wholeView(context, view, DIRECTIONS[view.direction], view.hidden !== false));
        break;
      case 'isometric':
        made.push({
          ...wholeView(context, view, ISOMETRIC, false),
          shade: view.shaded === true ? shadedView(reference.solid, axesOf(ISOMETRIC)) : null,
        });
        break;
      case 'section':
        made.push(sectionView(context, view));
        break;
      case 'detail': {
        const parent = made.find((one) => one.view.id === view.of);
        const detail = detailView(context, view, parent);
        if (detail === null || parent === undefined) break;
        const { within } = detail;
        const circles = within === null ? [] : [{ ...within, letter: view.letter }];
        made.push(detail);
        made.splice(made.indexOf(parent), 1, { ...parent, circles: [...parent.circles, ...circles] });
        break;
      }
    }
  return withCutLines(made, reference.solid.bounds, mm, warnings);
}

interface Context {
  readonly source: SheetSource;
  readonly mm: (expression: string) => number;
  readonly warnings: string[];
}

type SectionView = Extract<SheetView, { readonly kind: 'section' }>;
type DetailView = Extract<SheetView, { readonly kind: 'detail' }>;

const showsTangent = (view: SheetView): boolean => 'tangent' in view && view.tangent === true;

/** The part as it is, seen from a direction. */
function wholeView({ source }: Context, view: SheetView, direction: ViewDirection, hidden: boolean): PreparedView {
  const lines = cleanView(projectSolid(source.reference.solid, direction, { tangent: showsTangent(view) }));
  return {
    view,
    axes: axesOf(direction),
    part: source.reference.solid,
    lines: hidden ? lines : { ...lines, hidden: [] },
    ...UNMARKED,
    title: null,
  };
}

/** The part behind its cutting planes; uncut, with a warning, where it cannot be cut. */
function sectionView(context: Context, view: SectionView): PreparedView {
  const { source, mm, warnings } = context;
  const direction = DIRECTIONS[view.direction];
  const title = `${view.letter}-${view.letter}`;
  if (source.cut === null) {
    warnings.push(
      `Section ${title} is shown uncut: a reference of triangles cannot be cut exactly. Upload it as STEP.`,
    );
    return wholeView(context, view, direction, true);
  }
  const axes = axesOf(direction);
  const cuts = cutsOf(view, axes, source.reference.solid.bounds, mm);
  const { part, cutFaceIds } = source.cut(direction, cuts);
  if (cutFaceIds.length === 0) warnings.push(`Section ${title} does not meet the part. Move its plane.`);
  const borders = cuts.flatMap(({ from, to }) => [from, to]);
  const lines = cleanView(projectSolid(part, direction, { tangent: showsTangent(view) }));
  return {
    view,
    axes,
    part,
    lines: {
      visible: lines.visible.filter((curve) => !onBorder(curve, borders)),
      hidden: view.hidden === true ? lines.hidden : [],
      tangent: lines.tangent,
    },
    ...UNMARKED,
    cutTriangles: trianglesSeen(part.mesh, cutFaceIds, axes),
    title,
  };
}

/** A round piece of another view, larger; null, with a warning, where there is nothing to show. */
function detailView(
  { mm, warnings }: Context,
  view: DetailView,
  parent: PreparedView | undefined,
): PreparedView | null {
  if (parent === undefined) {
    warnings.push(`Detail ${view.letter} is of a view that is not on the sheet.`);
    return null;
  }
  const center: Vec2 = [mm(view.center[0]), mm(view.center[1])];
  const radius = Math.max(1e-3, mm(view.radius));
  const clip = (curves: readonly SheetCurve[]) => curves.flatMap((curve) => clippedToCircle(curve, center, radius));
  const { visible, hidden, tangent } = parent.lines;
  const lines = { visible: clip(visible), hidden: clip(hidden), tangent: clip(tangent) };
  if (lines.visible.length === 0) {
    warnings.push(`Detail ${view.letter} shows nothing of the part. Move its center.`);
    return null;
  }
  return {
    view,
    axes: parent.axes,
    part: parent.part,
    lines,
    ...UNMARKED,
    factor: view.factor,
    title: view.letter,
    within: { center, radius },
  };
}

const trianglesSeen = (
  mesh: CutView['part']['mesh'],
  faceIds: readonly number[],
  axes: ViewAxes,
): PreparedView['cutTriangles'] =>
  mesh.groups
    .filter(({ faceId }) => faceIds.includes(faceId))
    .flatMap((group) => trianglesOf(mesh, group))
    .map(([a, b, c]) => [seen(axes, a), seen(axes, b), seen(axes, c)] as const);

const onBorder = (curve: SheetCurve, borders: readonly number[]): boolean =>
  curve.kind === 'line' &&
  borders.some((at) => Math.abs(curve.from[0] - at) < 1e-3 && Math.abs(curve.to[0] - at) < 1e-3);

type Section = Extract<SheetView, { kind: 'section' }>;
type Bounds = SheetSource['reference']['solid']['bounds'];

const componentOf = ([x, y, z]: readonly [number, number, number]): readonly [axis: 0 | 1 | 2, sign: number] =>
  Math.abs(x) > 0.5 ? [0, Math.sign(x)] : Math.abs(y) > 0.5 ? [1, Math.sign(y)] : [2, Math.sign(z)];

function cutsOf(view: Section, axes: ViewAxes, bounds: Bounds, mm: (expression: string) => number): readonly CutAway[] {
  const [, depthSign] = componentOf(axes.toViewer);
  const [acrossAxis, acrossSign] = componentOf(axes.right);
  const middle = (acrossSign * (bounds.min[acrossAxis] + bounds.max[acrossAxis])) / 2;
  const steps = (view.steps ?? [])
    .map((step) => ({ from: acrossSign * mm(step.beyond), at: depthSign * mm(step.at) }))
    .sort((a, b) => a.from - b.from);
  const starts = [{ from: view.half === true ? middle : -Infinity, at: depthSign * mm(view.at) }, ...steps];
  return starts.map(({ from, at }, i) => ({ from, to: starts[i + 1]?.from ?? Infinity, at }));
}

/** Shows in another view where each section cuts. */
function withCutLines(
  made: readonly PreparedView[],
  bounds: Bounds,
  mm: (expression: string) => number,
  warnings: string[],
): readonly PreparedView[] {
  const lines = new Map<string, CutLine[]>();
  for (const { view, axes } of made) {
    if (view.kind !== 'section') continue;
    const parent = made.find(
      (other) =>
        other.view.kind === 'plain' &&
        [other.axes.right, other.axes.up].some((axis) => componentOf(axis)[0] === componentOf(axes.toViewer)[0]) &&
        [other.axes.right, other.axes.up].some((axis) => componentOf(axis)[0] === componentOf(axes.right)[0]),
    );
    if (parent === undefined) {
      warnings.push(`No view of the sheet shows where section ${view.letter}-${view.letter} cuts. Add one beside it.`);
      continue;
    }
    const cuts = cutsOf(view, axes, bounds, mm);
    const place = (across: number, depth: number): Vec2 => {
      const point = [0, 1, 2].map((i) => across * (axes.right[i] ?? 0) + depth * (axes.toViewer[i] ?? 0));
      const on = (axis: readonly number[]): number => point.reduce((sum, value, i) => sum + value * (axis[i] ?? 0), 0);
      return [on(parent.axes.right), on(parent.axes.up)];
    };
    const [axis, sign] = componentOf(axes.right);
    const ends = [sign * bounds.min[axis], sign * bounds.max[axis]].sort((a, b) => a - b);
    const [low = 0, high = 0] = ends;
    const points = cuts.flatMap(({ from, to, at }) => [place(Math.max(from, low), at), place(Math.min(to, high), at)]);
    const towards = place(0, -1);
    lines.set(parent.view.id, [...(lines.get(parent.view.id) ?? []), { points, letter: view.letter, towards }]);
  }
  return made.map((one) => ({ ...one, cutLines: lines.get(one.view.id) ?? [] }));
}
