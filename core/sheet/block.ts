import { isPrincipal } from '#core/exercise';
import type { Vec2 } from '#core/vector';

import { hatchLines } from './hatch.ts';
import { textWidth } from './lettering.ts';
import { pointsAlong, type SheetCurve } from './lines.ts';
import { centerLines, threadPicture } from './marks.ts';
import { scaleText, type LineLayer, type SheetEntity } from './model.ts';
import { withOrdinates } from './ordinate.ts';
import { boxOf, grown, joined, type PaperBox, type Stroke } from './overlap.ts';
import { placeDimensions, type PlacedDimension } from './place/index.ts';
import type { PreparedView, SheetSource } from './prepare.ts';
import type { ViewDimension } from './view-dimension.ts';

const LABEL_MM = 4;
/** Beside a view stays so much room. */
const OUTLINE_ROOM_MM = 2.5;

/** A view at a scale, on paper relative to the place of its origin. */
export interface Block {
  readonly prepared: PreparedView;
  readonly scale: number;
  readonly entities: readonly SheetEntity[];
  readonly placed: readonly PlacedDimension[];
  readonly box: PaperBox;
}

const onPaper =
  (scale: number) =>
  ([x, y]: Vec2): Vec2 => [x * scale, y * scale];

function curveEntity(curve: SheetCurve, layer: LineLayer, scale: number, viewId: string): SheetEntity {
  const place = onPaper(scale);
  switch (curve.kind) {
    case 'line':
      return { kind: 'line', layer, from: place(curve.from), to: place(curve.to), viewId };
    case 'polyline':
      return { kind: 'polyline', layer, points: curve.points.map(place), viewId };
    case 'arc':
      return { ...curve, layer, center: place(curve.center), radius: curve.radius * scale, viewId };
    case 'ellipse':
      return { ...curve, layer, center: place(curve.center), radii: place(curve.radii), viewId };
  }
}

const strokesAlong = (curve: SheetCurve, scale: number): readonly Stroke[] => {
  const points = pointsAlong(curve).map(onPaper(scale));
  return points.slice(1).map((to, i) => ({ from: points[i] ?? to, to }));
};

/** A view at a scale of the sheet without any marks or dimensions: the least paper that it needs. */
export function bareBlock(prepared: PreparedView, sheetScale: number): Block {
  const scale = sheetScale * prepared.factor;
  const { visible, hidden } = prepared.lines;
  const points = [...visible, ...hidden].flatMap((curve) => pointsAlong(curve).map(onPaper(scale)));
  return { prepared, scale, entities: [], placed: [], box: grown(boxOf(points), OUTLINE_ROOM_MM) };
}

/** Draws a view with its marks and dimensions at a scale of the sheet. */
export function drawBlock(
  source: SheetSource,
  prepared: PreparedView,
  sheetScale: number,
  { dimensions, wanted }: { readonly dimensions: readonly ViewDimension[]; readonly wanted: ReadonlyMap<string, Vec2> },
): Block {
  const scale = sheetScale * prepared.factor;
  const { view, lines, axes } = prepared;
  const viewId = view.id;
  const drawn = [...lines.visible, ...lines.hidden].flatMap((curve) => strokesAlong(curve, scale));
  const outline = boxOf(drawn.flatMap(({ from, to }) => [from, to]));
  const square = isPrincipal(view);
  const marks = square ? centerLines(source.reference, axes, scale) : [];
  const { entities: cutting, strokes: cutStrokes, boxes: cutBoxes } = cuttingMarks(prepared, scale, outline);
  const hatch = hatchLines(
    prepared.cutTriangles.map(([a, b, c]) => [onPaper(scale)(a), onPaper(scale)(b), onPaper(scale)(c)] as const),
  );
  const own = dimensions.filter((dimension) => dimension.viewId === viewId);
  const placed: readonly PlacedDimension[] = placeDimensions(
    { strokes: [...drawn, ...cutStrokes], marks, outline, scale, taken: cutBoxes },
    square && view.ordinate === true ? withOrdinates(own) : own,
    wanted,
  );
  const entities: SheetEntity[] = [
    ...shadeOf(prepared, scale),
    ...hatch.map(({ from, to }): SheetEntity => ({ kind: 'line', layer: 'hatch', from, to, viewId })),
    ...lines.hidden.map((curve) => curveEntity(curve, 'hidden', scale, viewId)),
    ...lines.visible.map((curve) => curveEntity(curve, 'visible', scale, viewId)),
    ...lines.tangent.map((curve) => curveEntity(curve, 'thin', scale, viewId)),
    ...marks.map(({ from, to }): SheetEntity => ({ kind: 'line', layer: 'center', from, to, viewId })),
    ...(square ? threadMarks(source, prepared, scale) : []),
    ...cutting,
    ...placed.flatMap(({ entities: own }) => own.map((entity) => ({ ...entity, viewId }))),
  ];
  const box = placed
    .flatMap(({ texts }) => texts)
    .concat(cutBoxes)
    .concat(
      entities.flatMap((entity) =>
        entity.kind === 'line' && entity.layer !== 'hatch' ? [boxOf([entity.from, entity.to])] : [],
      ),
    )
    .reduce(joined, grown(outline, OUTLINE_ROOM_MM));
  const within = detailBorder(prepared, scale);
  const framed = within === null ? box : joined(box, within.box);
  const title = titleOf(prepared, scale, [(outline.min[0] + outline.max[0]) / 2, framed.max[1] + 2.5]);
  return {
    prepared,
    scale,
    entities: [...entities, ...(within?.entities ?? []), ...(title?.entities ?? [])],
    placed,
    box: title === null ? framed : joined(framed, title.box),
  };
}

interface Marked {
  readonly entities: readonly SheetEntity[];
  readonly box: PaperBox;
}

/** The circle about a detail. */
function detailBorder({ within, view }: PreparedView, scale: number): Marked | null {
  if (within === null) return null;
  const center = onPaper(scale)(within.center);
  const radius = within.radius * scale;
  return {
    entities: [{ kind: 'arc', layer: 'thin', center, radius, start: 0, sweep: 2 * Math.PI, viewId: view.id }],
    box: boxOf([
      [center[0] - radius, center[1] - radius],
      [center[0] + radius, center[1] + radius],
    ]),
  };
}

/** The name of a section or detail above it. */
function titleOf({ title, view }: PreparedView, scale: number, at: Vec2): Marked | null {
  if (title === null) return null;
  const text = view.kind === 'detail' ? `${title} (${scaleText(scale)})` : title;
  const half = textWidth(text, LABEL_MM) / 2;
  return {
    entities: [{ kind: 'text', text, at, heightMm: LABEL_MM, anchor: 'middle', bold: true, viewId: view.id }],
    box: boxOf([
      [at[0] - half, at[1]],
      [at[0] + half, at[1] + LABEL_MM + 1],
    ]),
  };
}

/** Threads as thin lines beside their holes and stems, three quarters of a circle from the end. */
function threadMarks(source: SheetSource, { view, axes }: PreparedView, scale: number): readonly SheetEntity[] {
  const { arcs, lines } = threadPicture(source.threads, source.reference, axes, view.kind === 'section');
  const place = onPaper(scale);
  return [
    ...arcs.map(({ center, radius }): SheetEntity => ({
      kind: 'arc',
      layer: 'thin',
      center: place(center),
      radius: radius * scale,
      start: -0.2,
      sweep: 1.5 * Math.PI,
      viewId: view.id,
    })),
    ...lines.map(({ from, to }): SheetEntity => ({
      kind: 'line',
      layer: 'thin',
      from: place(from),
      to: place(to),
      viewId: view.id,
    })),
  ];
}

const shadeOf = ({ shade, view }: PreparedView, scale: number): readonly SheetEntity[] =>
  shade === null
    ? []
    : [
        {
          kind: 'shade',
          png: shade.png,
          at: onPaper(scale)(shade.at),
          widthMm: shade.size[0] * scale,
          heightMm: shade.size[1] * scale,
          viewId: view.id,
        },
      ];

/** Cutting-plane lines with arrows and letters, and circles of details. */
function cuttingMarks({ cutLines, circles, view }: PreparedView, scale: number, outline: PaperBox) {
  const entities: SheetEntity[] = [];
  const strokes: Stroke[] = [];
  const boxes: PaperBox[] = [];
  const viewId = view.id;
  const letter = (text: string, at: Vec2): void => {
    entities.push({ kind: 'text', text, at, heightMm: LABEL_MM, anchor: 'middle', bold: true, viewId });
    const half = textWidth(text, LABEL_MM) / 2;
    boxes.push(
      boxOf([
        [at[0] - half, at[1]],
        [at[0] + half, at[1] + LABEL_MM],
      ]),
    );
  };
  for (const { points, letter: name, towards } of cutLines) {
    const paper = points.map(onPaper(scale));
    const [first, second] = paper;
    const [last, beforeLast] = [paper.at(-1), paper.at(-2)];
    if (!first || !second || !last || !beforeLast) continue;
    const out = (from: Vec2, to: Vec2): Vec2 => {
      const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
      return [to[0] + ((to[0] - from[0]) / size) * 7, to[1] + ((to[1] - from[1]) / size) * 7];
    };
    const ends = [out(second, first), out(beforeLast, last)] as const;
    const line = [ends[0], ...paper, ends[1]];
    entities.push({ kind: 'polyline', layer: 'cutting', points: line, viewId });
    strokes.push(...line.slice(1).map((to, i) => ({ from: line[i] ?? to, to })));
    for (const end of ends) {
      const tip: Vec2 = [end[0] + towards[0] * 8, end[1] + towards[1] * 8];
      entities.push({ kind: 'line', layer: 'cutting', from: end, to: tip, viewId });
      entities.push({ kind: 'arrow', tip, angle: Math.atan2(towards[1], towards[0]), viewId });
      strokes.push({ from: end, to: tip });
      const beside: Vec2 =
        Math.abs(towards[0]) > 0.5
          ? [0, end[1] > (outline.min[1] + outline.max[1]) / 2 ? 1.5 : -5.5]
          : [end[0] > (outline.min[0] + outline.max[0]) / 2 ? 3 : -3, -2];
      letter(name, [(end[0] + tip[0]) / 2 + beside[0], (end[1] + tip[1]) / 2 + beside[1]]);
    }
  }
  for (const { center, radius, letter: name } of circles) {
    const [x, y] = onPaper(scale)(center);
    entities.push({
      kind: 'arc',
      layer: 'thin',
      center: [x, y],
      radius: radius * scale,
      start: 0,
      sweep: 2 * Math.PI,
      viewId,
    });
    const at = radius * scale * Math.SQRT1_2 + 2.5;
    letter(name, [x + at, y + at]);
  }
  return { entities, strokes, boxes };
}
