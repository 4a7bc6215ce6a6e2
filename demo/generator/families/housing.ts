import type { Outline } from '#core/outline';

import { text } from '../dice.ts';
import { cutInto, drilled, points, raised, type Sketch } from '../sketch.ts';

/** A box with a pocket, holes through one wall, and ears to hold it down. */
export function housing(sketch: Sketch): void {
  const { dice } = sketch;
  const length = sketch.letter('Length', dice.size(64, 90));
  const width = sketch.letter('Width', dice.size(46, 62));
  const height = dice.size(26, 38);
  const wall = dice.size(4, 6);
  const floor = dice.size(4, 7);
  sketch.add(
    raised('box', [{ shape: 'rectangle', center: ['0', '0'], width: length, height: width }], text(height)),
    cutInto(
      'pocket',
      'box.end',
      [
        {
          shape: 'filleted',
          of: {
            shape: 'rectangle',
            center: ['0', '0'],
            width: `${length} - ${text(2 * wall)}`,
            height: `${width} - ${text(2 * wall)}`,
          },
          size: text(dice.size(3, 5)),
        },
      ],
      text(height - floor),
    ),
  );
  if (dice.chance(0.7))
    sketch.add({
      id: 'port',
      op: 'hole',
      plane: { surface: 'box.right' },
      at: { kind: 'points', points: [[text(dice.size(5, 8)), text(dice.size(15, 18))]] },
      diameter: text(dice.size(8, 12)),
      depth: { kind: 'wall' },
    });
  if (dice.chance(0.5))
    sketch.add({
      id: 'shaft',
      op: 'hole',
      plane: { surface: 'box.lower' },
      at: { kind: 'points', points: [[`${length}/2 - ${text(dice.size(18, 22))}`, text(dice.size(15, 17))]] },
      diameter: text(dice.size(6, 9)),
      depth: { kind: 'through' },
    });
  const ear = dice.size(14, 18);
  const reach = text(dice.size(8, 10));
  const thick = text(dice.size(5, 7));
  sketch.add(raised('ear', [earOf(`${length}/2`, reach, ear)], thick));
  const twin = dice.chance(0.5);
  if (twin) sketch.add({ id: 'twin', op: 'mirror', plane: { base: 'YZ' }, steps: ['ear'] });
  const at = `${length}/2 + ${reach}`;
  sketch.add(
    drilled('screws', 'ear.end', twin ? points([at, '0'], [`-(${at})`, '0']) : points([at, '0']), dice.small(4, 6)),
  );
}

/** An ear from a wall at `root` to a round end about a center that lies `reach` farther. */
const earOf = (root: string, reach: string, size: number): Outline => ({
  shape: 'union',
  parts: [
    { shape: 'circle', center: [`${root} + ${reach}`, '0'], diameter: text(size) },
    { shape: 'corner-rectangle', corner: [root, text(-size / 2)], width: reach, height: text(size) },
  ],
});
