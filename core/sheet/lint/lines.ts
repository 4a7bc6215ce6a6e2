import type { Vec2 } from '#core/vector';

import {
  distanceToStroke,
  grown,
  LEADERS_APART_MM,
  sharedLength,
  shareInBox,
  strokesCross,
  type PaperBox,
  type Stroke,
} from '../overlap.ts';
import { turned } from '../view-dimension.ts';

import { layerOf, outlineBoxes, type DrawnStroke, type Look, type LintRuleCheck, type LookedAtPage } from './rule.ts';

const SAME_MM = 1e-6;

/** Whether a point is the tip of an arrow. */
const isTipOf =
  ({ tips }: LookedAtPage) =>
  (p: Vec2): boolean =>
    tips.some((tip) => Math.hypot(tip[0] - p[0], tip[1] - p[1]) < SAME_MM);

/** A slanting line that ends in an arrow is a leader; the extension lines of a slanting dimension have none. */
function leadersOf(page: LookedAtPage): readonly DrawnStroke[] {
  const isTip = isTipOf(page);
  return page.strokes.filter(
    (stroke) =>
      stroke.entity.kind === 'line' &&
      layerOf(stroke) === 'dimension' &&
      Math.abs(stroke.from[0] - stroke.to[0]) > SAME_MM &&
      Math.abs(stroke.from[1] - stroke.to[1]) > SAME_MM &&
      (isTip(stroke.from) || isTip(stroke.to)),
  );
}

/** Leaders do not cross, and their bends do not touch: both would look like one line. */
export const leadersApart: LintRuleCheck = ({ pages, called }) =>
  pages.flatMap((page) => {
    const leaders = leadersOf(page);
    const bendOf = ({ from, to }: DrawnStroke): Vec2 => (isTipOf(page)(from) ? to : from);
    const how = (a: DrawnStroke, b: DrawnStroke): 'cross' | 'touch' | null => {
      if (strokesCross(a, b)) return 'cross';
      const nearest = Math.min(distanceToStroke(bendOf(a), b), distanceToStroke(bendOf(b), a));
      return nearest < LEADERS_APART_MM ? 'touch' : null;
    };
    return leaders.flatMap((a, i) =>
      leaders.slice(i + 1).flatMap((b) => {
        const met = a.entity.checkId === b.entity.checkId ? null : how(a, b);
        return met === null
          ? []
          : [
              {
                where: a.entity.checkId ?? '',
                words: `The leaders of ${called(a.entity.checkId)} and ${called(b.entity.checkId)} ${met}.`,
              },
            ];
      }),
    );
  });

/** The lines of a straight dimension: the one with the arrows, and those that lead to it from the part. */
interface StraightLines {
  readonly checkId: string;
  readonly viewId: string;
  readonly dimension: readonly DrawnStroke[];
  readonly extensions: readonly DrawnStroke[];
}

/** The straight dimensions of a page, by their angle on paper. */
export function straightLinesOf({ strokes }: LookedAtPage, { sheet }: Look): readonly StraightLines[] {
  return sheet.dimensions.flatMap(({ id, viewId, angle }) => {
    if (angle === null) return [];
    const own = strokes.filter(
      (stroke) =>
        stroke.entity.kind === 'line' &&
        stroke.entity.checkId === id &&
        stroke.entity.viewId === viewId &&
        layerOf(stroke) === 'dimension',
    );
    const isAlong = ({ from, to }: DrawnStroke): boolean =>
      Math.abs(turned([to[0] - from[0], to[1] - from[1]], angle)[1]) < 1e-3;
    return [
      {
        checkId: id,
        viewId,
        dimension: own.filter(isAlong),
        extensions: own.filter((stroke) => !isAlong(stroke)),
      },
    ];
  });
}

/** No line of another dimension crosses a dimension line; extension lines of two that begin at one edge are one line. */
export const dimensionLineClear: LintRuleCheck = (look) =>
  look.pages.flatMap((page) => {
    const all = straightLinesOf(page, look);
    const crosses = (a: StraightLines, b: StraightLines): boolean =>
      a.dimension.some((line) =>
        b.extensions.some((other) => strokesCross(line, other) && !a.extensions.some((own) => isOneLine(own, other))),
      );
    return all.flatMap((a) =>
      all
        .filter((b) => b !== a && crosses(a, b))
        .map((b) => ({
          where: a.checkId,
          words: `An extension line of ${look.called(b.checkId)} crosses the dimension line of ${look.called(a.checkId)}.`,
        })),
    );
  });

/** Whether two strokes lie in one endless line. */
const isOneLine = (a: Stroke, b: Stroke): boolean => {
  const size = Math.max(1e-9, lengthOf(a));
  return [b.from, b.to].every(
    ([x, y]) =>
      Math.abs((x - a.from[0]) * (a.to[1] - a.from[1]) - (y - a.from[1]) * (a.to[0] - a.from[0])) / size < 0.05,
  );
};

/** Through the part an extension line may run so much further than on the other side, for the sake of its row. */
const DETOUR_MM = 20;

/**
 * An extension line starts on the near side of what is measured: it does not run over the part where it would be much
 * shorter on the other side. Where the outline only touches the border of the view, it runs beside the part, not over it.
 */
export const extensionLineShort: LintRuleCheck = (look) =>
  look.pages.flatMap((page) => {
    const boxes = outlineBoxes(page);
    return straightLinesOf(page, look).flatMap(({ checkId, viewId, extensions }) => {
      const whole = boxes.get(viewId);
      if (whole === undefined) return [];
      const runsOnLine = extensions.some((line) =>
        page.strokes.some((stroke) => isOutline(stroke) && sharedLength(line, stroke) > BORDER_MM),
      );
      const box = runsOnLine ? whole : grown(whole, -BORDER_MM);
      const sum = (length: (stroke: Stroke, box: PaperBox) => number): number =>
        extensions.reduce((all, line) => all + length(line, box), 0);
      const inside = sum(lengthInside);
      const beyond = sum(lengthAcross) - inside;
      return inside <= beyond + DETOUR_MM
        ? []
        : [
            {
              where: checkId,
              words: `The extension lines of ${look.called(checkId)} run ${inside.toFixed(0)} mm over the part, on the other side ${beyond.toFixed(0)} mm.`,
            },
          ];
    });
  });

/** What lies so near to the border of a view is on it. */
const BORDER_MM = 0.1;

const isOutline = (stroke: DrawnStroke): boolean => layerOf(stroke) === 'visible';

const lengthOf = ({ from, to }: Stroke): number => Math.hypot(to[0] - from[0], to[1] - from[1]);

/** How much of a stroke lies in a box, mm. */
const lengthInside = (stroke: Stroke, box: PaperBox): number => lengthOf(stroke) * shareInBox(stroke, box);

/** How much of the endless line of a stroke lies in a box, mm. */
function lengthAcross(stroke: Stroke, box: PaperBox): number {
  const { from, to } = stroke;
  const reach = 1e4 / Math.max(1e-9, lengthOf(stroke));
  const [dx, dy] = [(to[0] - from[0]) * reach, (to[1] - from[1]) * reach];
  return lengthInside({ from: [from[0] - dx, from[1] - dy], to: [from[0] + dx, from[1] + dy] }, box);
}

/** Sizes are not measured to lines that are hidden in their view. */
export const endsVisible: LintRuleCheck = ({ sheet, called }) =>
  sheet.dimensions
    .filter(({ hiddenEnds = 0 }) => hiddenEnds > 0)
    .map(({ id }) => ({ where: id, words: `${called(id)} is measured to a hidden line.` }));
