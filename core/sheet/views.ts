import type { SheetViewName } from '#core/exercise';
import type { ViewDirection } from '#core/kernel';
import { cross, dot, type Vec2, type Vec3 } from '#core/vector';

export type ViewName = SheetViewName | 'isometric';

/** Where each view looks from; `up` on the sheet is toViewer x right. */
export const VIEWS: Readonly<Record<ViewName, ViewDirection>> = {
  front: { toViewer: [0, -1, 0], right: [1, 0, 0] },
  top: { toViewer: [0, 0, 1], right: [1, 0, 0] },
  right: { toViewer: [1, 0, 0], right: [0, 1, 0] },
  isometric: { toViewer: [1, -1, 1], right: [1, 1, 0] },
};

export const upOf = (name: ViewName): Vec3 => cross(VIEWS[name].toViewer, VIEWS[name].right);

/** A point of the part in the coordinates of a principal view, mm. */
export const inView = (name: SheetViewName, point: Vec3): Vec2 => [
  dot(point, VIEWS[name].right),
  dot(point, upOf(name)),
];
