import { degreesText } from '../text.ts';
import type { Run } from '../view-dimension.ts';

import type { DraftForm } from './board.ts';

/** "equally spaced", or how many degrees apart, below the callout of what lies about a center; else by a leader of its own. */
export const spacing: DraftForm<'spacing'> = (board, { check, target, drafting }) => {
  board.details.push(() => {
    const { faceIds, count, leftOut, isFull } = drafting;
    const faces = faceIds.flatMap((id) => board.face([id]) ?? []);
    const [first] = faces;
    if (first === undefined) return;
    const own = board.callouts.find(({ arcs }) => faces.every((face) => arcs.includes(face)));
    const places = own?.arcs.length === count ? '' : `${String(count)} places `;
    const angle = degreesText('nominal' in target ? target.nominal : 0);
    const words = isFull
      ? `${places}equally spaced`
      : `${places}${angle} apart${leftOut > 0 ? `, ${String(leftOut)} left out` : ''}`;
    const run: Run = { text: words, checkId: check.id };
    if (own !== undefined) own.more.push([run]);
    else
      board.callouts.push({
        id: check.id,
        arcs: faces,
        holes: [],
        first: [run],
        more: [],
        wanted: board.wanted(check),
      });
  });
  return null;
};
