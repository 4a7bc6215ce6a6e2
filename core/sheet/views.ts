import type { Direction } from '#core/exercise';
import type { ViewDirection } from '#core/kernel';
import { cross, dot, normalize, type Vec2, type Vec3 } from '#core/vector';

/** Where each principal view looks from; `up` on the sheet is toViewer x right. */
export const DIRECTIONS: Readonly<Record<Direction, ViewDirection>> = {
  front: { toViewer: [0, -1, 0], right: [1, 0, 0] },
  top: { toViewer: [0, 0, 1], right: [1, 0, 0] },
  right: { toViewer: [1, 0, 0], right: [0, 1, 0] },
  left: { toViewer: [-1, 0, 0], right: [0, -1, 0] },
  bottom: { toViewer: [0, 0, -1], right: [1, 0, 0] },
  back: { toViewer: [0, 1, 0], right: [-1, 0, 0] },
};

export const ISOMETRIC: ViewDirection = { toViewer: [1, -1, 1], right: [1, 1, 0] };

/** The axes of a view as unit vectors. */
export interface ViewAxes {
  readonly toViewer: Vec3;
  readonly right: Vec3;
  readonly up: Vec3;
}

/** The axes of a view as unit vectors; up is square to the other two. */
export function axesOf({ toViewer, right }: ViewDirection): ViewAxes {
  const [eye, side] = [normalize(toViewer), normalize(right)];
  return { toViewer: eye, right: side, up: cross(eye, side) };
}

/** A point of the part in view coordinates, mm. */
export const seen = ({ right, up }: ViewAxes, point: Vec3): Vec2 => [dot(point, right), dot(point, up)];
