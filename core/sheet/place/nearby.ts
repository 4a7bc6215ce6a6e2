import Flatbush from 'flatbush';

import { boxOf, type PaperBox, type Stroke } from '../overlap.ts';

/** Finds those of many strokes whose boxes touch a piece of paper. */
export interface Nearby {
  readonly to: (box: PaperBox) => readonly Stroke[];
}

/** Puts strokes in order by place (a packed tree of boxes); mm. */
export function nearby(strokes: readonly Stroke[]): Nearby {
  if (strokes.length === 0) return { to: () => [] };
  const tree = new Flatbush(strokes.length);
  for (const { from, to } of strokes) {
    const { min, max } = boxOf([from, to]);
    tree.add(min[0], min[1], max[0], max[1]);
  }
  tree.finish();
  return { to: ({ min, max }) => tree.search(min[0], min[1], max[0], max[1]).flatMap((i) => strokes[i] ?? []) };
}
