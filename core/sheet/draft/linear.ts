import type { AxisIndex, Check } from '#core/check';
import type { Face } from '#core/solid';
import { SAME_PLACE_MM } from '#core/tolerance';
import { boxCorners, dot, scale, subtract, type Vec3 } from '#core/vector';

import type { ViewDimension } from '../view-dimension.ts';
import { seen } from '../views.ts';
import { clampTo, hiddenEnds, onOutline, parallel, properAngle, square, witness, type End } from '../witness.ts';

import { unitVector, type Board, type DraftForm } from './board.ts';

/** A straight dimension: the whole part along an axis, between two axes, or from a flat face to another or to an axis. */
export const linear: DraftForm<'linear'> = (board, { check, target, drafting: { span } }) => {
  const dimension = { check, text: board.text(check, target) };
  if (span.kind === 'extent') return extent(board, dimension, span.axis);
  const [from, to] = [board.face(span.from.at), board.face(span.to.at)];
  if (from === undefined || to === undefined) return null;
  if (span.from.on === 'axis') return betweenAxes(board, dimension, [from, to], span.along);
  if (from.surface.kind !== 'plane') return null;
  const ends = {
    from: board.end(from, span.from.at),
    to: board.end(to, span.to.at),
    along: from.surface.normal,
  };
  if (span.to.on === 'face') return straight(board, dimension, ends);
  return to.surface.kind === 'cylinder'
    ? straight(board, dimension, { ...ends, seenAlong: to.surface.direction })
    : null;
};

interface Written {
  readonly check: Check;
  readonly text: string;
}

/** The whole part along one of its axes. */
function extent(board: Board, dimension: Written, axisIndex: AxisIndex): ViewDimension | null {
  const { bounds } = board.writer.reference.solid;
  const axis = unitVector(axisIndex);
  const end = (at: Vec3): End => ({
    points: boxCorners({ min: clampTo(bounds.min, axis, at), max: clampTo(bounds.max, axis, at) }),
    axis: null,
    like: [],
    outer: true,
  });
  return straight(board, dimension, { from: end(bounds.min), to: end(bounds.max), along: axis });
}

/** Straight across two axes, or as it is seen along an axis of the part. */
function betweenAxes(
  board: Board,
  dimension: Written,
  [a, b]: readonly [Face, Face],
  along?: AxisIndex,
): ViewDimension | null {
  if (a.surface.kind !== 'cylinder' || b.surface.kind !== 'cylinder') return null;
  const { direction } = a.surface;
  const apart = subtract(b.surface.origin, a.surface.origin);
  const across = subtract(apart, scale(direction, dot(apart, direction)));
  return straight(board, dimension, {
    from: board.end(a),
    to: board.end(b),
    along: along === undefined ? across : unitVector(along),
    seenAlong: direction,
  });
}

interface Ends {
  readonly from: End;
  readonly to: End;
  readonly along: Vec3;
  /** The direction that the dimension is best seen along. */
  readonly seenAlong?: Vec3;
}

/** A straight dimension between two ends, in the view that shows it best. */
export function straight(
  board: Board,
  { check, text }: Written,
  { from, to, along, seenAlong }: Ends,
): ViewDimension | null {
  return board.best(
    board.wanted(check),
    (view) => {
      if (!square(view.axes.toViewer, along)) return null;
      const direction = seen(view.axes, along);
      const angle = properAngle(Math.atan2(direction[1], direction[0]));
      const ends = [from, to].map((end) => {
        const seenEnd = witness(view, angle, end);
        return end.outer ? onOutline(view, angle, seenEnd) : seenEnd;
      });
      const [a, b] = ends;
      if (!a || !b || Math.abs(a.at - b.at) < SAME_PLACE_MM) return null;
      // The whole part has visible ends; an axis that is seen from the side has its center line.
      const isShown = [from, to].map(
        ({ outer, axis }) => outer || (axis !== null && square(view.axes.toViewer, axis.direction)),
      );
      const hidden = hiddenEnds(
        view,
        angle,
        ends.filter((_, i) => isShown[i] !== true),
      );
      return { kind: 'linear', id: check.id, viewId: view.id, hiddenEnds: hidden, text, angle, from: a, to: b };
    },
    (view) => (seenAlong === undefined || parallel(view.axes.toViewer, seenAlong) ? 0 : 3),
  );
}
