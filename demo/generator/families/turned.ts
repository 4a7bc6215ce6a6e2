import { text } from '../dice.ts';
import { cutInto, drilled, raised, type Sketch } from '../sketch.ts';

/** A turned pin or bush along X: collar, shank, cone or undercut, bore, a cross hole or a flat. */
export function turned(sketch: Sketch): void {
  const { dice } = sketch;
  const collar = dice.size(34, 44);
  const shank = dice.size(20, 26);
  const tip = dice.size(14, 18);
  const flange = dice.size(6, 10);
  const length = sketch.letter('Length', dice.size(70, 96));
  const diameter = sketch.letter('Diameter of the shank', shank);
  const half = `${diameter}/2`;
  const cone = dice.size(10, 14);
  const coned = dice.chance(0.6);
  sketch.add({
    id: 'body',
    op: 'revolve',
    mode: 'add',
    plane: { base: 'XZ' },
    axis: 'u',
    outlines: [
      {
        shape: 'path',
        start: ['0', '0'],
        segments: [
          { move: 'line', to: ['0', text(collar / 2)], name: 'head' },
          { move: 'line', to: [text(flange), text(collar / 2)], name: 'collar' },
          { move: 'line', to: [text(flange), half], name: 'seat' },
          { move: 'line', to: [coned ? `${length} - ${text(cone)}` : length, half], name: 'shank' },
          { move: 'line', to: [length, coned ? text(tip / 2) : '0'], name: coned ? 'cone' : 'tip' },
          ...(coned ? [{ move: 'line' as const, to: [length, '0'] as const, name: 'tip' }] : []),
          { move: 'close' },
        ],
      },
    ],
  });
  if (dice.chance(0.5))
    sketch.add({
      ...drilled('bore', 'body.head', { kind: 'concentric', with: ['body.shank'] }, dice.size(7, 10)),
      depth: dice.chance(0.5)
        ? { kind: 'through' }
        : { kind: 'blind', depth: text(dice.size(24, 34)), bottom: dice.pick(['flat', 'drill-point']) },
    });
  if (dice.chance(0.6))
    sketch.add({
      id: 'cross',
      op: 'hole',
      plane: { base: 'XZ' },
      at: { kind: 'points', points: [[text(dice.size(36, 44)), '0']] },
      diameter: text(dice.small(4, 6)),
      depth: { kind: 'through' },
    });
  if (dice.chance(0.5)) {
    const depth = dice.size(2, 3);
    sketch.add(
      raised(
        'flat',
        [
          {
            shape: 'corner-rectangle',
            corner: [text(dice.size(18, 22)), text(shank / 2 - depth)],
            width: text(dice.size(9, 12)),
            height: text(shank),
          },
        ],
        text(3 * shank),
        { mode: 'cut', plane: { base: 'XZ' }, extent: { kind: 'symmetric', depth: text(3 * shank) } },
      ),
    );
  }
  if (!coned && dice.chance(0.7))
    sketch.add({
      id: 'lead',
      op: 'chamfer',
      size: text(dice.size(1, 2)),
      edges: [{ between: ['body.tip', 'body.shank'] }],
    });
  if (dice.chance(0.3))
    sketch.add(
      cutInto(
        'keyway',
        'body.head',
        [
          {
            shape: 'rectangle',
            center: ['0', text(collar / 2)],
            width: text(dice.size(5, 7)),
            height: text(dice.size(6, 8)),
          },
        ],
        text(flange),
      ),
    );
}
