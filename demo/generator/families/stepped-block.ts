import { text } from '../dice.ts';
import { cutInto, drilled, points, raised, type Sketch } from '../sketch.ts';

/** A block with a step cut down at one end, a groove across, blind holes from above, and a chamfered edge. */
export function steppedBlock(sketch: Sketch): void {
  const { dice } = sketch;
  const length = sketch.letter('Length', dice.size(70, 110));
  const height = sketch.letter('Height', dice.size(30, 44));
  const width = text(dice.size(34, 56));
  const foot = dice.size(10, 15);
  const run = dice.size(24, 32);
  sketch.add(
    raised('block', [{ shape: 'corner-rectangle', corner: ['0', '0'], width: length, height: width }], height),
    cutInto(
      'step',
      'block.end',
      [{ shape: 'corner-rectangle', corner: [`${length} - ${text(run)}`, '0'], width: text(run), height: width }],
      `${height} - ${text(foot)}`,
    ),
  );
  if (dice.chance(0.6))
    sketch.add(
      cutInto(
        'groove',
        'block.end',
        [
          {
            shape: 'corner-rectangle',
            corner: [text(dice.size(10, 13)), '0'],
            width: text(dice.size(7, 10)),
            height: width,
          },
        ],
        text(dice.size(5, 9)),
      ),
    );
  sketch.add({
    ...drilled('bolt', 'step.end', points([`${length} - ${text(dice.size(11, 13))}`, `${width}/2`]), dice.small(6, 9)),
    ...(dice.chance(0.4) ? { countersink: { diameter: text(dice.size(13, 16)) } } : {}),
  });
  const seat = dice.size(28, 32);
  const low = text(dice.size(9, 11));
  sketch.add({
    ...drilled('pins', 'block.end', points([text(seat), low], [text(seat), `${width} - ${low}`]), dice.small(4, 6)),
    depth: { kind: 'blind', depth: text(dice.size(9, 14)), bottom: dice.pick(['flat', 'drill-point']) },
  });
  if (dice.chance(0.6)) {
    const size = dice.size(3, 4);
    sketch.add({
      id: 'chamfer',
      op: 'chamfer',
      size: text(size),
      ...(dice.chance(0.5) ? { other: text(dice.size(5, 7)), on: 'block.end' } : {}),
      edges: [{ between: ['block.end', 'block.left'] }],
    });
  }
}
