import { text } from '../dice.ts';
import { drilled, points, raised, type Sketch } from '../sketch.ts';

/** A length of a profile (channel, angle or wedge) with a row of holes, its corners rounded or sharp. */
export function profile(sketch: Sketch): void {
  const { dice } = sketch;
  const long = sketch.letter('Length', dice.size(70, 110));
  const width = sketch.letter('Width', dice.size(36, 50));
  const wall = dice.size(5, 8);
  const height = dice.size(22, 32);
  const [t, h] = [text(wall), text(height)];
  const lines = (...to: readonly (readonly [string, string, string])[]) =>
    to.map(([u, v, name]) => ({ move: 'line' as const, to: [u, v] as const, name }));
  const kind = dice.pick(['channel', 'angle', 'wedge'] as const);
  const rest =
    kind === 'channel'
      ? lines(
          [width, '0', 'under'],
          [width, h, 'outer'],
          [`${width} - ${t}`, h, 'lip'],
          [`${width} - ${t}`, t, 'inner'],
          [t, t, 'floor'],
          [t, h, 'inner-near'],
          ['0', h, 'lip-near'],
        )
      : kind === 'angle'
        ? lines([width, '0', 'under'], [width, t, 'toe'], [t, t, 'floor'], [t, h, 'inner'], ['0', h, 'lip'])
        : lines(
            [width, '0', 'under'],
            [width, text(dice.size(6, 9)), 'toe'],
            [text(dice.size(12, 15)), h, 'slope'],
            ['0', h, 'top'],
          );
  sketch.add(
    raised('bar', [{ shape: 'path', start: ['0', '0'], segments: [...rest, { move: 'close', name: 'back' }] }], long, {
      plane: { base: 'XZ' },
      reversed: true,
    }),
  );
  const first = text(dice.size(10, 14));
  const pitch = dice.size(16, 19);
  if (kind === 'wedge')
    sketch.add({
      ...drilled('holes', 'bar.back', points([first, text(dice.size(8, 10))]), dice.small(5, 7)),
      depth: { kind: 'blind', depth: text(dice.size(10, 14)), bottom: 'flat' },
    });
  else
    sketch.add(drilled('hole', 'bar.floor', points([`${width}/2`, first]), dice.small(5, 7)), {
      id: 'row',
      op: 'linear-pattern',
      steps: ['hole'],
      direction: { base: 'Y' },
      count: String(dice.whole(2, 3)),
      spacing: text(pitch),
    });
  if (dice.chance(0.4) && kind !== 'wedge')
    sketch.add({
      id: 'inside',
      op: 'fillet',
      radius: text(dice.size(2, 3)),
      edges: [{ between: ['bar.floor', 'bar.inner'] }],
    });
}
