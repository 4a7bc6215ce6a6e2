import { facesOn, type Thread } from '#core/recipe';
import type { Face } from '#core/solid';

import { dimensionText } from '../text.ts';
import type { ViewDimension } from '../view-dimension.ts';
import { silhouette } from '../witness.ts';

import type { Board } from './board.ts';
import { targetsIn } from './callout.ts';

interface ThreadGroup {
  readonly thread: Thread;
  readonly count: number;
  readonly walls: readonly Face[];
}

/** Like threads, with the walls that they lie on. */
function groupsOf(threads: readonly Thread[], faces: readonly Face[]): readonly ThreadGroup[] {
  const groups = new Map<string, ThreadGroup>();
  for (const thread of threads) {
    const own = facesOn(faces, thread.surface).flatMap((id) => faces[id] ?? []);
    if (own.length === 0) continue;
    const key = `${thread.designation} ${String(thread.lengthMm)} ${String(thread.fit)} ${String(thread.external)}`;
    const { count, walls } = groups.get(key) ?? { count: 0, walls: [] };
    groups.set(key, { thread: groups.get(key)?.thread ?? thread, count: count + 1, walls: [...walls, ...own] });
  }
  return [...groups.values()];
}

/** Threads are said with their hole, or by a leader of their own; these come back. */
export function threadsOf(board: Board, threads: readonly Thread[]): ViewDimension[] {
  const { reference } = board.writer;
  return groupsOf(threads, reference.solid.faces).flatMap(({ thread, count, walls }) => {
    // A thread on a stem has a length, one in a hole a depth.
    const sign = thread.external ? ' x ' : ' ↧';
    const depth = thread.lengthMm === null ? '' : `${sign}${dimensionText(thread.lengthMm, reference)}`;
    const words = `${thread.designation}${thread.fit === null ? '' : ` - ${thread.fit}`}${depth}`;
    const holes = walls.flatMap((wall) => board.holeOf(wall) ?? []);
    const callout = board.callouts.find((one) => one.holes.some((hole) => holes.includes(hole)));
    if (callout) {
      callout.more.unshift([{ text: words, checkId: null }]);
      return [];
    }
    const times = count > 1 ? `${String(count)} x ` : '';
    const rows = [[{ text: `${times}${words}`, checkId: null }]];
    const made = board.best(undefined, (view) => {
      const targets = walls.flatMap((wall) =>
        thread.external ? silhouette(view, wall) : targetsIn(board, view, wall),
      );
      return targets.length === 0
        ? null
        : { kind: 'leader', id: thread.stepId, viewId: view.id, hiddenEnds: 0, rows, targets, circle: null };
    });
    return made === null ? [] : [made];
  });
}
