import type { LineLayer, SheetEntity } from '#core/sheet';
import type { Vec2 } from '#core/vector';

import type { Draft, ReadSheet, TopicQuestions } from '../question.ts';
import { onScreen, plainViews } from '../views.ts';

const MEANINGS: Readonly<Partial<Record<LineLayer, { readonly meaning: string; readonly why: string }>>> = {
  hidden: {
    meaning: 'An edge that lies behind the material, seen from here',
    why: 'Short dashes are hidden edges: they are there, but material is in front of them.',
  },
  center: {
    meaning: 'An axis or the middle of something, no edge of the part',
    why: 'Long and short dashes are center lines: axes of rounds, and lines that both sides are symmetric about.',
  },
  cutting: {
    meaning: 'Where the part is thought to be cut for a section',
    why: 'The thick line with letters shows where a section cuts; its arrows show where the section looks to.',
  },
  hatch: {
    meaning: 'Material that the cut of a section goes through',
    why: 'Hatching marks cut material; where it is missing, the cut passes through air.',
  },
  visible: {
    meaning: 'An edge that is seen from here',
    why: 'Thick full lines are edges that are seen.',
  },
};

const ASIDE: readonly string[] = ['How far a dimension reaches', 'An edge that is to be rounded'];

/** How far other lines have to be from what is ringed, paper mm. */
const CLEAR_MM = 2.2;
const LEAST_LENGTH_MM = 6;

type Line = Extract<SheetEntity, { kind: 'line' }>;
const middleOf = ({ from, to }: Line): Vec2 => [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
const lengthOf = ({ from, to }: Line): number => Math.hypot(to[0] - from[0], to[1] - from[1]);

function distanceTo([x, y]: Vec2, { from, to }: Line): number {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const along = Math.min(1, Math.max(0, ((x - from[0]) * dx + (y - from[1]) * dy) / Math.max(1e-9, dx * dx + dy * dy)));
  return Math.hypot(x - from[0] - along * dx, y - from[1] - along * dy);
}

/** The kind of line of which one of each is ringed where no other line is near. */
export const lines: TopicQuestions = (sheet: ReadSheet) => {
  const views = new Set(plainViews(sheet).map(({ id }) => id));
  return (Object.keys(MEANINGS) as LineLayer[]).flatMap((layer): Draft[] => {
    const said = MEANINGS[layer];
    if (said === undefined) return [];
    for (const [i, { entities }] of sheet.sheet.pages.entries()) {
      const all = entities.filter((entity): entity is Line => entity.kind === 'line');
      const own = all.filter(
        (line) =>
          line.layer === layer &&
          (layer === 'hatch' || layer === 'cutting' || views.has(line.viewId ?? '')) &&
          (layer === 'hatch' || lengthOf(line) >= LEAST_LENGTH_MM),
      );
      const found = own.find((line) => {
        const at = middleOf(line);
        return all.every(
          (other) => other === line || (layer === 'hatch' && other.layer === layer) || distanceTo(at, other) > CLEAR_MM,
        );
      });
      if (found === undefined) continue;
      const page = i + 1;
      return [
        {
          key: layer,
          text: 'What is the line in the ring?',
          right: said.meaning,
          wrong: [...Object.values(MEANINGS).map(({ meaning }) => meaning), ...ASIDE],
          why: said.why,
          rings: [{ label: '', at: onScreen(sheet, page, middleOf(found)) }],
          page,
        },
      ];
    }
    return [];
  });
};
