import type { Vec2 } from '#core/vector';

import { textWidth } from './lettering.ts';
import type { Sheet, SheetEntity, SheetPage, SheetText } from './model.ts';
import { boxesOverlap, boxOf, strokeInBox, strokesCross, type PaperBox, type Stroke } from './overlap.ts';

/** What is wrong with the places of the dimensions of a sheet; a good one has zeros. */
export interface PlacingScore {
  /** Texts that cover each other. */
  readonly textsOverlapping: number;
  /** Lines of the part, of dimensions or of the frame that run through a text. */
  readonly linesThroughTexts: number;
  /** Leaders that cross each other. */
  readonly leadersCrossing: number;
  /** Texts of dimensions within the outline of a view. */
  readonly textsInside: number;
  /** Texts that reach over the frame of the page. */
  readonly outsideFrame: number;
  /** Dimensions that are measured to lines which are hidden in their view. */
  readonly toHiddenLines: number;
}

const MARGIN_MM = 10;

/** The paper that a text covers. */
export function coverOf({ text, at, heightMm, anchor, angle = 0 }: SheetText): PaperBox {
  const width = textWidth(text, heightMm);
  const start = anchor === 'start' ? 0 : anchor === 'middle' ? -width / 2 : -width;
  const corners: readonly Vec2[] = [
    [start, 0],
    [start + width, 0],
    [start + width, heightMm],
    [start, heightMm],
  ];
  return boxOf(
    corners.map(([x, y]): Vec2 => [
      at[0] + x * Math.cos(angle) - y * Math.sin(angle),
      at[1] + x * Math.sin(angle) + y * Math.cos(angle),
    ]),
  );
}

/** Whether a stroke runs through a text, however the text is turned. */
function throughText({ from, to }: Stroke, text: SheetText): boolean {
  const { at, angle = 0 } = text;
  const turn = ([x, y]: Vec2): Vec2 => [
    at[0] + (x - at[0]) * Math.cos(angle) + (y - at[1]) * Math.sin(angle),
    at[1] + (y - at[1]) * Math.cos(angle) - (x - at[0]) * Math.sin(angle),
  ];
  const { angle: _, ...level } = text;
  return strokeInBox({ from: turn(from), to: turn(to) }, coverOf(level));
}

const isText = (entity: SheetEntity): entity is SheetText => entity.kind === 'text';

function strokesOf(entity: SheetEntity): readonly Stroke[] {
  switch (entity.kind) {
    case 'line':
      return [entity];
    case 'polyline':
      return entity.points.slice(1).map((to, i) => ({ from: entity.points[i] ?? to, to }));
    case 'arc':
    case 'ellipse': {
      const count = 48;
      const radii: Vec2 = entity.kind === 'arc' ? [entity.radius, entity.radius] : entity.radii;
      const turn = entity.kind === 'arc' ? 0 : entity.turn;
      const points = Array.from({ length: count + 1 }, (_, i): Vec2 => {
        const t = entity.start + (entity.sweep * i) / count;
        const [u, w] = [radii[0] * Math.cos(t), radii[1] * Math.sin(t)];
        return [
          entity.center[0] + u * Math.cos(turn) - w * Math.sin(turn),
          entity.center[1] + u * Math.sin(turn) + w * Math.cos(turn),
        ];
      });
      return points.slice(1).map((to, i) => ({ from: points[i] ?? to, to }));
    }
    default:
      return [];
  }
}

type PageScore = Omit<PlacingScore, 'toHiddenLines'>;

/** Looks at a finished sheet as its reader does: at what is drawn, whoever placed it. */
export function scoreSheet({ pages, dimensions }: Pick<Sheet, 'pages' | 'dimensions'>): PlacingScore {
  const scores = pages.map(scorePage);
  const total = (pick: (score: PageScore) => number): number => scores.reduce((sum, score) => sum + pick(score), 0);
  return {
    textsOverlapping: total((score) => score.textsOverlapping),
    linesThroughTexts: total((score) => score.linesThroughTexts),
    leadersCrossing: total((score) => score.leadersCrossing),
    textsInside: total((score) => score.textsInside),
    outsideFrame: total((score) => score.outsideFrame),
    toHiddenLines: dimensions.filter(({ hiddenEnds = 0 }) => hiddenEnds > 0).length,
  };
}

function scorePage({ entities, widthMm, heightMm }: SheetPage): PageScore {
  const texts = entities.filter(isText).map((text) => ({ text, cover: coverOf(text) }));
  const lines = entities.flatMap((entity) => strokesOf(entity).map((stroke) => ({ ...stroke, entity })));
  const drawn = lines.filter(({ entity }) => 'layer' in entity && entity.layer !== 'frame');
  const pairs = texts.flatMap(({ cover }, i) => texts.slice(i + 1).filter((other) => boxesOverlap(cover, other.cover)));
  const through = texts.flatMap(({ text }) =>
    drawn.filter(
      ({ entity, from, to }) =>
        throughText({ from, to }, text) &&
        !('layer' in entity && entity.layer === 'center' && text.checkId === undefined),
    ),
  );
  const tips = entities.flatMap((entity) => (entity.kind === 'arrow' ? [entity.tip] : []));
  const isTip = (p: Vec2): boolean => tips.some((tip) => Math.hypot(tip[0] - p[0], tip[1] - p[1]) < 1e-6);
  // A slanting line that ends in an arrow; the extension lines of a slanting dimension do not.
  const leaders = lines.filter(
    ({ entity, from, to }) =>
      entity.kind === 'line' &&
      entity.layer === 'dimension' &&
      Math.abs(from[0] - to[0]) > 1e-6 &&
      Math.abs(from[1] - to[1]) > 1e-6 &&
      (isTip(from) || isTip(to)),
  );
  const crossing = leaders.flatMap((a, i) =>
    leaders.slice(i + 1).filter((b) => a.entity.checkId !== b.entity.checkId && strokesCross(a, b)),
  );
  const outlines = new Map<string, Vec2[]>();
  for (const { entity, from, to } of lines)
    if ('layer' in entity && entity.layer === 'visible' && entity.viewId !== undefined)
      outlines.set(entity.viewId, [...(outlines.get(entity.viewId) ?? []), from, to]);
  const boxes = [...outlines.values()].map(boxOf);
  const inside = texts.filter(
    ({ text, cover }) => text.checkId !== undefined && boxes.some((box) => boxesOverlap(cover, box)),
  );
  const outer = texts.filter(
    ({ cover }) =>
      cover.min[0] < MARGIN_MM - 5 ||
      cover.min[1] < MARGIN_MM - 5 ||
      cover.max[0] > widthMm - MARGIN_MM + 5 ||
      cover.max[1] > heightMm - MARGIN_MM + 5,
  );
  return {
    textsOverlapping: pairs.length,
    linesThroughTexts: through.length,
    leadersCrossing: crossing.length,
    textsInside: inside.length,
    outsideFrame: outer.length,
  };
}
