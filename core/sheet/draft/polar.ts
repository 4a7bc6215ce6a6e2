import { axisOf } from '#core/solid';

import type { Leg } from '../view-dimension.ts';
import { seen } from '../views.ts';
import { parallel } from '../witness.ts';

import type { DraftForm } from './board.ts';

/** The angle at a center between the direction of a flat face and the line to a hole, where both are seen as circles. */
export const polar: DraftForm<'polar'> = (board, { check, target, drafting }) => {
  const [hole, center, from] = [drafting.faceIds, drafting.aboutFaceIds, drafting.fromFaceIds].map((ids) =>
    board.face(ids),
  );
  const [own, about] = [hole, center].map((face) => (face === undefined ? null : axisOf(face.surface)));
  if (!own || !about || from?.surface.kind !== 'plane') return null;
  const { normal } = from.surface;
  const text = board.text(check, target);
  return board.best(board.wanted(check), (view) => {
    if (!parallel(view.axes.toViewer, about.direction)) return null;
    const [apex, at, [nx, ny]] = [seen(view.axes, about.origin), seen(view.axes, own.origin), seen(view.axes, normal)];
    const line: readonly [number, number] = [at[0] - apex[0], at[1] - apex[1]];
    // Of the two directions along the face, the one on the side of the hole.
    const side = line[0] * -ny + line[1] * nx < 0 ? -1 : 1;
    const legs: readonly [Leg, Leg] = [
      { angle: Math.atan2(side * nx, side * -ny), low: 0, high: 0 },
      { angle: Math.atan2(line[1], line[0]), low: 0, high: 0 },
    ];
    return { kind: 'angular', id: check.id, viewId: view.id, hiddenEnds: 0, text, apex, legs };
  });
};
