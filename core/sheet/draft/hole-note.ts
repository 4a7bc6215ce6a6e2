import type { Check } from '#core/check';

import type { Run } from '../view-dimension.ts';

import type { Callout, DraftForm, DraftItem } from './board.ts';

/** Depth, counterbore and countersink are said with the diameter of their hole. */
export const holeNote: DraftForm<'hole-note'> = (board, { check, target, drafting: { faceIds, part } }) => {
  board.details.push(() => {
    const wall = board.face(faceIds);
    const hole = wall && board.holeOf(wall);
    if (wall === undefined || hole === undefined) return;
    let callout = board.callouts.find(({ holes }) => holes.includes(hole));
    if (callout === undefined) {
      callout = { id: check.id, arcs: [wall], holes: [hole], first: [], more: [], wanted: board.wanted(check) };
      board.callouts.push(callout);
    }
    addPart(callout, part, { check, text: board.text(check, target) });
  });
  return null;
};

/** Adds one size of a hole to its callout, in the row that the size belongs to. */
function addPart(
  callout: Callout,
  part: DraftItem<'hole-note'>['drafting']['part'],
  { check, text }: { readonly check: Check; readonly text: string },
): void {
  const run = (words: string): Run => ({ text: words, checkId: check.id });
  switch (part) {
    case 'depth':
      callout.first.push(run(`${callout.first.length > 0 ? ' ' : ''}↧${text}`));
      break;
    case 'counterbore-diameter':
      callout.more.unshift([run(`⌴ ⌀${text}`)]);
      break;
    case 'counterbore-depth': {
      const row = callout.more.find(([first]) => first?.text.startsWith('⌴'));
      if (row) row.push(run(` ↧${text}`));
      else callout.more.push([run(`⌴ ↧${text}`)]);
      break;
    }
    case 'countersink-diameter': {
      const row = callout.more.find(([first]) => first?.text.startsWith('⌵'));
      if (row) row.unshift(run(`⌵ ⌀${text}`));
      else callout.more.push([run(`⌵ ⌀${text}`)]);
      break;
    }
    case 'countersink-angle': {
      const row = callout.more.find(([first]) => first?.text.startsWith('⌵'));
      if (row) row.push(run(` x ${text}`));
      else callout.more.push([run(`⌵ ${text}`)]);
      break;
    }
  }
}
