import { text } from '../dice.ts';
import { drilled, raised, type Sketch } from '../sketch.ts';

/** A flange with a tapering neck between two outlines, bored through, bolt holes round it. */
export function adapter(sketch: Sketch): void {
  const { dice } = sketch;
  const size = sketch.letter('Flange', dice.size(70, 96));
  const height = sketch.letter('Height of the neck', dice.size(28, 44));
  const round = dice.chance(0.5);
  const thick = text(dice.size(6, 9));
  const root = dice.size(36, 42);
  const top = dice.size(24, 30);
  const bore = dice.size(12, 18);
  const middle = ['0', '0'] as const;
  sketch.add(
    raised(
      'flange',
      [
        round
          ? { shape: 'circle', center: middle, diameter: size }
          : {
              shape: 'filleted',
              of: { shape: 'rectangle', center: middle, width: size, height: size },
              size: text(dice.size(5, 9)),
            },
      ],
      thick,
    ),
    {
      id: 'neck',
      op: 'loft',
      mode: 'add',
      plane: { surface: 'flange.end' },
      outline:
        round || dice.chance(0.5)
          ? { shape: 'circle', center: middle, diameter: text(root) }
          : { shape: 'rectangle', center: middle, width: text(root), height: text(root - dice.small(3, 5)) },
      distance: height,
      to: { shape: 'circle', center: middle, diameter: text(top) },
    },
    drilled('bore', 'neck.end', { kind: 'points', points: [middle] }, bore),
    drilled(
      'bolts',
      'flange.end',
      {
        kind: 'bolt-circle',
        center: middle,
        diameter: `${size} - ${text(dice.size(14, 17))}`,
        count: round ? String(dice.whole(3, 6)) : '4',
        ...(round ? (dice.chance(0.5) ? { startAngle: '90' } : {}) : { startAngle: '45' }),
      },
      dice.small(5, 7),
    ),
  );
}
