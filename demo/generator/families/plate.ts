import type { Dice } from '../dice.ts';
import { text } from '../dice.ts';
import { cutInto, drilled, points, raised, type Sketch } from '../sketch.ts';

/** A flat plate from a corner: holes near its corners, a window, slot or ring of holes, corners cut or rounded. */
export function plate(sketch: Sketch): void {
  const { dice } = sketch;
  const length = sketch.letter('Length', dice.size(84, 130));
  const width = sketch.letter('Width', dice.size(54, 80));
  const thick = text(dice.size(6, 14));
  sketch.add(raised('plate', [{ shape: 'corner-rectangle', corner: ['0', '0'], width: length, height: width }], thick));
  const edge = text(dice.size(8, 11));
  const hole = dice.small(4, 7);
  const far = `${length} - ${edge}`;
  const high = `${width} - ${edge}`;
  const at = dice.chance(0.5)
    ? points([edge, edge], [far, edge], [far, high], [edge, high])
    : points([edge, edge], [far, high]);
  const counterbore = { diameter: text(hole + dice.small(3, 5)), depth: text(dice.small(2, 3)) };
  sketch.add({ ...drilled('bolts', 'plate.end', at, hole), ...(dice.chance(0.4) ? { counterbore } : {}) });
  middleOf(sketch, dice, { length, width });
  if (dice.chance(0.6)) {
    const edges = [
      { between: ['plate.right', 'plate.upper'] as const },
      { between: ['plate.left', 'plate.upper'] as const },
    ];
    const size = text(dice.size(3, 6));
    sketch.add(
      dice.chance(0.5)
        ? { id: 'corners', op: 'fillet', radius: size, edges }
        : { id: 'corners', op: 'chamfer', size, edges },
    );
  }
}

function middleOf(
  sketch: Sketch,
  dice: Dice,
  { length, width }: { readonly length: string; readonly width: string },
): void {
  switch (dice.pick(['window', 'slot', 'ring'] as const)) {
    case 'window':
      sketch.add(
        cutInto(
          'window',
          'plate.end',
          [
            {
              shape: 'corner-rectangle',
              corner: [text(dice.size(24, 28)), text(dice.size(17, 19))],
              width: text(dice.size(20, 28)),
              height: `${width} - ${text(dice.size(34, 38))}`,
            },
          ],
          dice.chance(0.5) ? undefined : text(dice.small(2, 4)),
        ),
      );
      return;
    case 'slot':
      sketch.add(
        cutInto('slot', 'plate.end', [
          {
            shape: 'slot',
            center: [`${length}/2`, text(dice.size(22, 26))],
            length: text(dice.size(20, 28)),
            width: text(dice.small(6, 9)),
          },
        ]),
      );
      return;
    case 'ring':
      sketch.add(
        drilled(
          'ring',
          'plate.end',
          {
            kind: 'bolt-circle',
            center: [text(dice.size(36, 40)), `${width}/2`],
            diameter: text(dice.size(22, 26)),
            count: String(dice.whole(3, 6)),
            startAngle: dice.pick(['0', '30', '45', '90']),
            ...(dice.chance(0.4) ? { skip: [2] } : {}),
          },
          dice.small(3, 4.5),
        ),
      );
  }
}
