import type { Vec2 } from '#core/vector';

import { textWidth } from '../lettering.ts';
import type { SheetEntity, SheetText } from '../model.ts';
import { boxOf, strokeInBox, type PaperBox, type Stroke } from '../overlap.ts';

/** Pieces that a round line is taken apart into. */
const ROUND_PIECES = 48;

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
export function throughText({ from, to }: Stroke, text: SheetText): boolean {
  const { at, angle = 0 } = text;
  const turn = ([x, y]: Vec2): Vec2 => [
    at[0] + (x - at[0]) * Math.cos(angle) + (y - at[1]) * Math.sin(angle),
    at[1] + (y - at[1]) * Math.cos(angle) - (x - at[0]) * Math.sin(angle),
  ];
  const { angle: _, ...level } = text;
  return strokeInBox({ from: turn(from), to: turn(to) }, coverOf(level));
}

/** An element of a sheet as straight strokes; texts, arrows and pictures have none. */
export function strokesOf(entity: SheetEntity): readonly Stroke[] {
  switch (entity.kind) {
    case 'line':
      return [entity];
    case 'polyline':
      return entity.points.slice(1).map((to, i) => ({ from: entity.points[i] ?? to, to }));
    case 'arc':
    case 'ellipse': {
      const radii: Vec2 = entity.kind === 'arc' ? [entity.radius, entity.radius] : entity.radii;
      const turn = entity.kind === 'arc' ? 0 : entity.turn;
      const points = Array.from({ length: ROUND_PIECES + 1 }, (_, i): Vec2 => {
        const t = entity.start + (entity.sweep * i) / ROUND_PIECES;
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
