import { text } from '../dice.ts';
import { cutInto, drilled, raised, type Sketch } from '../sketch.ts';

/** A disk with a hub: slots or notches round it with places left out, a keyed bore, copies round the axis. */
export function ring(sketch: Sketch): void {
  const { dice } = sketch;
  const disk = sketch.letter('Diameter', dice.size(80, 110));
  const count = dice.whole(5, 8);
  const thick = dice.size(7, 11);
  const middle = ['0', '0'] as const;
  const hub = dice.size(28, 34);
  const high = dice.size(6, 12);
  sketch.add(
    raised('disk', [{ shape: 'circle', center: middle, diameter: disk }], text(thick)),
    raised('hub', [{ shape: 'circle', center: middle, diameter: text(hub) }], text(high), {
      plane: { surface: 'disk.end' },
    }),
    drilled('bore', 'hub.end', { kind: 'points', points: [middle] }, dice.size(12, 16)),
  );
  const skip = dice.chance(0.5) ? [3] : undefined;
  if (dice.chance(0.5))
    sketch.add(
      cutInto('slots', 'disk.end', [
        {
          shape: 'polar',
          of: {
            shape: 'slot',
            center: [text(dice.size(26, 28)), '0'],
            length: text(dice.size(12, 14)),
            width: text(dice.small(5, 7)),
          },
          center: middle,
          count: String(count),
          ...(skip === undefined ? {} : { skip }),
        },
      ]),
    );
  else
    sketch.add(
      cutInto('notch', 'disk.end', [
        {
          shape: 'corner-rectangle',
          corner: [`${disk}/2 - ${text(dice.size(7, 10))}`, text(-dice.size(4, 4))],
          width: text(dice.size(14, 16)),
          height: text(dice.size(8, 8)),
        },
      ]),
      {
        id: 'notches',
        op: 'circular-pattern',
        steps: ['notch'],
        axis: { base: 'Z' },
        count: String(count),
        ...(skip === undefined ? {} : { skip }),
      },
    );
  if (dice.chance(0.6))
    sketch.add(
      cutInto('key', 'hub.end', [
        {
          shape: 'corner-rectangle',
          corner: [text(-dice.size(2, 2)), '0'],
          width: text(2 * dice.size(2, 2)),
          height: text(dice.size(9, 10)),
        },
      ]),
    );
  if (dice.chance(0.5))
    sketch.add({
      id: 'soft',
      op: 'fillet',
      radius: text(dice.size(2, 3)),
      edges: [{ between: ['disk.end', 'hub.wall'] }],
    });
}
