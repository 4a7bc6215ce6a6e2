import { text } from '../dice.ts';
import { drilled, points, raised, type Sketch } from '../sketch.ts';

/** Two cheeks with round heads on a foot, and one hole through both. */
export function fork(sketch: Sketch): void {
  const { dice } = sketch;
  const length = sketch.letter('Length', dice.size(56, 76));
  const height = sketch.letter('Height of the pin', dice.size(36, 50));
  const cheek = dice.size(7, 10);
  const gap = dice.size(16, 24);
  const head = dice.size(24, 30);
  const width = 2 * cheek + gap;
  const foot = dice.size(8, 11);
  sketch.add(
    raised('foot', [{ shape: 'rectangle', center: ['0', '0'], width: length, height: text(width) }], text(foot)),
    raised(
      'cheek',
      [
        {
          shape: 'union',
          parts: [
            { shape: 'circle', center: ['0', height], diameter: text(head) },
            { shape: 'corner-rectangle', corner: [text(-head / 2), '0'], width: text(head), height },
          ],
        },
      ],
      text(cheek),
      { plane: { base: 'XZ', offset: text(gap / 2) } },
    ),
    { id: 'twin', op: 'mirror', plane: { base: 'XZ' }, steps: ['cheek'] },
    {
      id: 'pin',
      op: 'hole',
      plane: { surface: 'cheek.end' },
      at: { kind: 'points', points: [['0', height]] },
      diameter: text(dice.size(10, 13)),
      depth: { kind: 'through' },
    },
  );
  const inset = `${length}/2 - ${text(dice.size(7, 9))}`;
  sketch.add(drilled('bolts', 'foot.end', points([inset, '0'], [`-(${inset})`, '0']), dice.small(5, 7)));
  if (dice.chance(0.5))
    sketch.add({
      id: 'ends',
      op: 'fillet',
      radius: text(dice.size(4, 6)),
      edges: ['left', 'right'].flatMap((end) =>
        ['lower', 'upper'].map((side) => ({ between: [`foot.${end}`, `foot.${side}`] as const })),
      ),
    });
}
