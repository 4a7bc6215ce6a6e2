import { extremes, boxCorners } from '#core/vector';
import { SAME_PLACE_MM } from '#core/tolerance';

import { turned, type Run, type ViewDimension, type Witness } from '../view-dimension.ts';
import { seen } from '../views.ts';
import { hiddenEnds, properAngle, square } from '../witness.ts';

import type { Board, DraftForm, DraftItem } from './board.ts';

/**
 * A diameter or radius. A turned diameter is written across a view that shows its axis in true length; others are
 * callouts, and the wide end of a stepped hole is said with the hole itself.
 */
export const circular: DraftForm<'circular'> = (board, item) => {
  const acrossView = across(board, item);
  if (acrossView === null) callout(board, item);
  return acrossView;
};

function across(board: Board, { check, target, drafting }: DraftItem<'circular'>): ViewDimension | null {
  const { sign, members } = drafting;
  if (sign !== '⌀' || members.length !== 1) return null;
  const text = board.text(check, target);
  // Grooves part a turned wall into several faces.
  const pieces = board.faces(members[0] ?? []);
  const [wall] = pieces;
  if (wall?.surface.kind !== 'cylinder') return null;
  const { surface } = wall;
  const outside = surface.side === 'convex';
  const inSection = board.views.some(({ section, axes }) => section && square(axes.toViewer, surface.direction));
  if (!outside && !(inSection && board.holeOf(wall) === undefined)) return null;
  const { direction, radiusMm, origin } = surface;
  return board.best(board.wanted(check), (view) => {
    if (!square(view.axes.toViewer, direction) || (!outside && !view.section)) return null;
    const along = seen(view.axes, direction);
    const angle = properAngle(Math.atan2(along[1], along[0]) + Math.PI / 2);
    const center = turned(seen(view.axes, origin), angle);
    const [low, high] = extremes(
      pieces.flatMap(({ bounds }) => boxCorners(bounds).map((p) => turned(seen(view.axes, p), angle)[1])),
    );
    const [from, to] = [center[0] - radiusMm, center[0] + radiusMm].map((at): Witness => ({ at, low, high }));
    if (!from || !to) return null;
    return {
      kind: 'linear',
      id: check.id,
      viewId: view.id,
      hiddenEnds: hiddenEnds(view, angle, [from, to]),
      text: `⌀${text}`,
      angle,
      from,
      to,
    };
  });
}

/** Puts a callout on the board, or adds to that of the hole. */
function callout(board: Board, { check, target, drafting }: DraftItem<'circular'>): void {
  const { sign, members } = drafting;
  const arcs = members.flatMap((ids) => board.face(ids) ?? []);
  const [first] = arcs;
  if (first === undefined) return;
  const text = board.text(check, target);
  const hole = board.holeOf(first);
  const wide =
    first.surface.kind === 'cylinder' &&
    hole !== undefined &&
    hole.counterbore !== null &&
    first.surface.radiusMm * 2 - hole.diameterMm > SAME_PLACE_MM;
  if (wide) {
    // The wide end of a stepped hole is said with the hole itself.
    board.details.unshift(() => {
      const own = board.callouts.find(({ holes }) => holes.includes(hole));
      const run: Run = { text: `⌴ ⌀${text.replace(/^\d+ x /, '')}`, checkId: check.id };
      if (own) own.more.push([run]);
      else board.callouts.push({ id: check.id, arcs, holes: [], first: [run], more: [], wanted: board.wanted(check) });
    });
    return;
  }
  const holes = arcs.flatMap((face) => board.holeOf(face) ?? []);
  const count = members.length > 1 && !/^\d+ x /.test(text) ? `${String(members.length)} x ` : '';
  const [, given = '', value = text] = /^(\d+ x )?(.*)$/.exec(text) ?? [];
  const runs: Run[] = [{ text: `${count}${given}${sign}${value}`, checkId: check.id }];
  if (sign === '⌀' && hole?.through === true && !hole.cross && holes.length === arcs.length)
    runs.push({ text: ' through', checkId: check.id });
  board.callouts.push({ id: check.id, arcs, holes, first: runs, more: [], wanted: board.wanted(check) });
}
