import { text } from '../dice.ts';
import { drilled, points, raised, type Sketch } from '../sketch.ts';

/** A foot with a boss or lug that stands on a plane leaning from one edge. */
export function slantedLug(sketch: Sketch): void {
  const { dice } = sketch;
  const length = sketch.letter('Length', dice.size(80, 110));
  const width = dice.size(44, 60);
  const thick = dice.size(8, 12);
  const lean = dice.pick(['15', '20', '30']);
  const boss = dice.size(22, 28);
  const reach = dice.size(52, 60);
  const w = text(width);
  sketch.add(
    raised('foot', [{ shape: 'corner-rectangle', corner: ['0', '0'], width: length, height: w }], text(thick)),
    { id: 'tilt', op: 'plane', by: { kind: 'angled', from: 'foot.end', about: 'foot.left', angle: lean } },
    raised(
      'boss',
      [{ shape: 'circle', center: [text(reach), `${w}/2`], diameter: text(boss) }],
      text(dice.size(8, 12)),
      { plane: { plane: 'tilt' } },
    ),
    raised('neck', [{ shape: 'circle', center: [text(reach), `${w}/2`], diameter: text(boss) }], '1', {
      plane: { plane: 'tilt' },
      extent: { kind: 'to-next' },
      reversed: true,
    }),
    {
      ...drilled('bore', 'boss.end', { kind: 'concentric', with: ['boss.wall'] }, dice.size(8, 12)),
      depth: { kind: 'blind', depth: text(dice.size(10, 14)), bottom: dice.pick(['flat', 'drill-point']) },
    },
  );
  const edge = text(dice.size(8, 10));
  sketch.add(drilled('bolts', 'foot.end', points([edge, edge], [edge, `${w} - ${edge}`]), dice.small(5, 7)));
}
