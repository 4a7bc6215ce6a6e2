import { text } from '../dice.ts';
import { drilled, points, raised, type Sketch } from '../sketch.ts';

/** A T-shaped block made first, changed and drilled in the stage after. */
export function twoStage(sketch: Sketch): void {
  const { dice } = sketch;
  const long = dice.size(70, 100);
  const length = sketch.letter('Length', long);
  const height = sketch.letter('Height', dice.size(34, 46));
  const width = dice.size(40, 54);
  const stem = dice.size(14, 20);
  const foot = dice.size(9, 13);
  const start = (width - stem) / 2;
  sketch.add(
    raised('foot', [{ shape: 'corner-rectangle', corner: ['0', '0'], width: length, height: text(width) }], text(foot)),
    raised(
      'stem',
      [{ shape: 'corner-rectangle', corner: ['0', text(start)], width: length, height: text(stem) }],
      `${height} - ${text(foot)}`,
      { plane: { surface: 'foot.end' } },
    ),
    {
      id: 'slope',
      op: 'chamfer',
      size: text(dice.size(8, 12)),
      angle: dice.pick(['30', '45', '60']),
      on: 'stem.end',
      edges: [{ between: ['stem.end', 'stem.right'] }],
    },
  );
  const inset = text(dice.size(6, 7));
  const first = text(dice.size(10, 14));
  sketch.add(
    drilled('holes', 'foot.end', points([first, inset], [`${length} - ${first}`, inset]), dice.small(4, 5.5)),
    {
      ...drilled(
        'eye',
        'stem.lower',
        points([text(dice.size(22, 30)), `${height} - ${text(dice.size(10, 12))}`]),
        dice.small(6, 9),
      ),
      off: true,
    },
  );
  sketch.stages.push({ values: { [length]: text(long + dice.size(8, 14)) }, adds: ['eye'] });
}
