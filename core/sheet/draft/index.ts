/** Drafting: from the checks that are dimensions to dimensions in the views that show them best. */
import { draftingOf, isOnSheet, type Drafting } from '#core/check';
import type { Thread } from '#core/recipe';

import type { Writer } from '../text.ts';
import type { DimensionView, ViewDimension } from '../view-dimension.ts';

import { angular } from './angular.ts';
import { Board, type DraftForm, type DraftItem } from './board.ts';
import { boltCircle } from './bolt-circle.ts';
import { calloutOf, joinedCallouts } from './callout.ts';
import { chamfer } from './chamfer.ts';
import { circular } from './circular.ts';
import { edgeCircle } from './edge-circle.ts';
import { edge } from './edge.ts';
import { holeNote } from './hole-note.ts';
import { linear } from './linear.ts';
import { polar } from './polar.ts';
import { spacing } from './spacing.ts';
import { threadsOf } from './thread.ts';

/** One file a form of dimension; the compiler asks for each. */
const FORMS: { readonly [F in Drafting['form']]: DraftForm<F> } = {
  linear,
  circular,
  'hole-note': holeNote,
  'bolt-circle': boltCircle,
  spacing,
  chamfer,
  edge,
  'edge-circle': edgeCircle,
  angular,
  polar,
};

function draft<F extends Drafting['form']>(board: Board, form: F, item: DraftItem<F>): ViewDimension | null {
  return FORMS[form](board, item);
}

/** The dimensions of the sheet, made from the checks that are dimensions; each in the view that shows it best. */
export function dimensionsOf(
  writer: Writer,
  views: readonly DimensionView[],
  threads: readonly Thread[] = [],
): ViewDimension[] {
  const board = new Board(writer, views);
  const out: ViewDimension[] = [];
  const add = (dimension: ViewDimension | null): void => {
    if (dimension === null) return;
    out.push(dimension);
    board.count(dimension);
  };
  for (const check of writer.exercise.checks) {
    const target = writer.reference.targets.find(({ checkId }) => checkId === check.id);
    const drafting = target === undefined ? null : draftingOf(target);
    if (target === undefined || drafting === null || !isOnSheet(check)) continue;
    add(draft(board, drafting.form, { check, target, drafting }));
  }
  for (const detail of board.details) detail();
  const ownThreads = threadsOf(board, threads);
  for (const callout of joinedCallouts(board.callouts)) add(calloutOf(board, callout));
  for (const thread of ownThreads) add(thread);
  return out;
}
