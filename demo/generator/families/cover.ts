import { text } from '../dice.ts';
import { cutInto, drilled, raised, type Sketch } from '../sketch.ts';

/** A round cover with a raised rim, bosses round it, softened all over. */
export function cover(sketch: Sketch): void {
  const { dice } = sketch;
  const disk = sketch.letter('Diameter', dice.size(72, 96));
  const middle = ['0', '0'] as const;
  const height = dice.size(16, 24);
  const wall = dice.size(5, 7);
  const floor = dice.size(4, 6);
  sketch.add(
    raised('drum', [{ shape: 'circle', center: middle, diameter: disk }], text(height)),
    cutInto(
      'hollow',
      'drum.end',
      [{ shape: 'circle', center: middle, diameter: `${disk} - ${text(2 * wall)}` }],
      text(height - floor),
    ),
  );
  const boss = dice.size(12, 14);
  sketch.add(
    raised('boss', [{ shape: 'circle', center: middle, diameter: text(boss) }], text(dice.size(6, 9)), {
      plane: { surface: 'hollow.end' },
    }),
    drilled('center', 'boss.end', { kind: 'points', points: [middle] }, dice.small(4, 6)),
    drilled(
      'vents',
      'hollow.end',
      {
        kind: 'bolt-circle',
        center: middle,
        diameter: text(dice.size(34, 38)),
        count: String(dice.whole(3, 6)),
        ...(dice.chance(0.5) ? { startAngle: '90' } : {}),
      },
      dice.small(3, 5),
    ),
  );
  const radius = text(dice.size(1, 2));
  if (dice.chance(0.4)) {
    sketch.add({
      id: 'soft',
      op: 'fillet',
      radius,
      edges: [{ between: ['drum.start', 'drum.wall'] }, { between: ['drum.end', 'drum.wall'] }],
    });
    sketch.notes.push(`Outer edges R${radius}`);
  }
}
