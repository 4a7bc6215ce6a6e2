import type { SheetView } from '#core/exercise';
import type { CutAway, CutView, ViewDirection } from '#core/kernel';
import { evaluateExpression, LENGTH_UNITS, type Scope } from '#core/quantity';
import type { Thread } from '#core/recipe';
import { trianglesOf } from '#core/solid';
import type { Vec2 } from '#core/vector';

import { clippedToCircle } from './clip.ts';
import { cleanView, type SheetCurve, type ViewLines } from './lines.ts';
import { projectSolid } from './project.ts';
import { shadedView, type Shade } from './shade.ts';
import type { Writer } from './text.ts';
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
  const made: PreparedView[] = [];
  for (const view of views) {
    const tangent = 'tangent' in view && view.tangent === true;
    const plain = (direction: ViewDirection, hidden: boolean, title: string | null): PreparedView => {
      const lines = cleanView(projectSolid(reference.solid, direction, { tangent }));
      return {
        view,
        axes: axesOf(direction),
        lines: hidden ? lines : { ...lines, hidden: [] },
        ...UNMARKED,
        title,
      };
    };
    switch (view.kind) {
      case 'plain':
        made.push(plain(DIRECTIONS[view.direction], view.hidden !== false, null));
        break;
      case 'isometric':
        made.push({
          ...plain(ISOMETRIC, false, null),
          shade: view.shaded === true ? shadedView(reference.solid, axesOf(ISOMETRIC)) : null,
        });
        break;
      case 'section': {
        const direction = DIRECTIONS[view.direction];
        if (source.cut === null) {
          warnings.push(
            `Section ${view.letter}-${view.letter} is shown uncut: a reference of triangles cannot be cut exactly. Upload it as STEP.`,
          );
          made.push(plain(direction, true, null));
          break;
        }
        const cuts = cutsOf(view, axesOf(direction), reference.solid.bounds, mm);
        const { part, cutFaceIds } = source.cut(direction, cuts);
        if (cutFaceIds.length === 0)
          warnings.push(`Section ${view.letter}-${view.letter} does not meet the part. Move its plane.`);
        const borders = cuts.flatMap(({ from, to }) => [from, to]);
        const lines = cleanView(projectSolid(part, direction, { tangent }));
        const drawn = {
          visible: lines.visible.filter((curve) => !onBorder(curve, borders)),
          hidden: view.hidden === true ? lines.hidden : [],
          tangent: lines.tangent,
        };
        const title = `${view.letter}-${view.letter}`;
        const axes = axesOf(direction);
        const cutTriangles = trianglesSeen(part.mesh, cutFaceIds, axes);
        made.push({
          view,
          axes,
          lines: drawn,
          ...UNMARKED,
          cutTriangles,
          title,
        });
        break;
      }
      case 'detail': {
        const parent = made.find((one) => one.view.id === view.of);
        if (parent === undefined) {
          warnings.push(`Detail ${view.letter} is of a view that is not on the sheet.`);
          break;
        }
        const center: Vec2 = [mm(view.center[0]), mm(view.center[1])];
        const radius = Math.max(1e-3, mm(view.radius));
        const clip = (curves: readonly SheetCurve[]) =>
          curves.flatMap((curve) => clippedToCircle(curve, center, radius));
        const lines = {
          visible: clip(parent.lines.visible),
          hidden: clip(parent.lines.hidden),
          tangent: clip(parent.lines.tangent),
        };
        if (lines.visible.length === 0) {
          warnings.push(`Detail ${view.letter} shows nothing of the part. Move its center.`);
          break;
        }
        made.push({
          view,
          axes: parent.axes,
          lines,
          ...UNMARKED,
          factor: view.factor,
          title: view.letter,
          within: { center, radius },
        });
        made.splice(made.indexOf(parent), 1, {
          ...parent,
          circles: [...parent.circles, { center, radius, letter: view.letter }],
        });
        break;
      }
    }
  }
  return withCutLines(made, reference.solid.bounds, mm, warnings);
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
