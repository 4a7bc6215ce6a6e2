import { text } from '../dice.ts';
import { drilled, points, raised, type Sketch } from '../sketch.ts';

/** A foot and an upright with a rib or web between them, holes in both, a rounded head. */
export function bracket(sketch: Sketch): void {
  const { dice } = sketch;
  const length = sketch.letter('Length of the foot', dice.size(60, 90));
  const height = sketch.letter('Height of the upright', dice.size(56, 80));
  const width = dice.size(40, 60);
  const wall = dice.size(7, 10);
  const [w, t] = [text(width), text(wall)];
  sketch.add(
    raised('foot', [{ shape: 'corner-rectangle', corner: ['0', '0'], width: length, height: w }], t),
    raised('upright', [{ shape: 'corner-rectangle', corner: ['0', '0'], width: w, height }], t, {
      plane: { base: 'YZ' },
    }),
    {
      id: 'middle',
      op: 'plane',
      by: { kind: 'middle', between: ['foot.lower', 'foot.upper'] },
    },
    {
      id: 'rib',
      op: 'rib',
      plane: dice.chance(0.7) ? { plane: 'middle' } : { base: 'XZ', offset: `-${text(dice.size(12, 15))}` },
      from: [t, text(wall + dice.size(20, 28))],
      to: [text(wall + dice.size(20, 30)), t],
      thickness: text(dice.size(5, 8)),
      side: 'right',
    },
  );
  const inset = text(dice.size(9, 12));
  const reach = `${length} - ${text(dice.size(9, 12))}`;
  sketch.add(
    drilled('bolts', 'foot.end', points([reach, inset], [reach, `${w} - ${inset}`]), dice.small(5, 8)),
    drilled(
      'pin',
      'upright.end',
      points([dice.chance(0.6) ? `${w}/2` : text(dice.size(17, 19)), `${height} - ${text(dice.size(12, 15))}`]),
      dice.small(8, 12),
    ),
  );
  if (dice.chance(0.6))
    sketch.add({
      id: 'head',
      op: 'fillet',
      radius: text(dice.size(6, 10)),
      edges: [{ between: ['upright.left', 'upright.upper'] }, { between: ['upright.right', 'upright.upper'] }],
    });
}
