import type { Vec2 } from '#core/vector';

/**
 * Advance widths of the lettering that ships with the program, in thousandths of its size, for the characters from
 * space to tilde; read from its font file.
 */
const WIDTHS = [
  209, 273, 374, 582, 510, 950, 692, 209, 355, 355, 407, 625, 277, 333, 277, 294, 573, 521, 567, 573, 555, 571, 573,
  553, 574, 573, 296, 296, 625, 625, 625, 578, 1005, 682, 698, 728, 734, 677, 612, 796, 736, 267, 559, 662, 536, 847,
  736, 788, 665, 788, 727, 673, 606, 731, 648, 924, 680, 655, 635, 296, 294, 296, 625, 485, 187, 545, 567, 519, 567,
  548, 280, 556, 563, 225, 223, 514, 225, 860, 563, 570, 567, 567, 332, 510, 297, 562, 504, 723, 513, 504, 498, 353,
  245, 353, 625,
];
/** Any other character is taken as a wide one, so that nothing it stands beside is covered. */
const OTHER_WIDTH = 700;

/** Size of the lettering over the height of its capitals, by which drawings measure it. */
export const SIZE_OF_CAPITALS = 1 / 0.686;

/** A sign that drawings use and fonts lack: strokes in a box as high as a capital, with its width, y up. */
interface Sign {
  readonly width: number;
  readonly strokes: readonly (readonly Vec2[])[];
}

const circle = (cx: number, cy: number, r: number): readonly Vec2[] =>
  Array.from({ length: 25 }, (_, i): Vec2 => [
    cx + r * Math.cos((i * Math.PI) / 12),
    cy + r * Math.sin((i * Math.PI) / 12),
  ]);

/** Diameter, depth, counterbore and countersink, as the practice draws them. */
export const SIGNS: Readonly<Record<string, Sign>> = {
  '⌀': {
    width: 1.15,
    strokes: [
      circle(0.52, 0.5, 0.38),
      [
        [0.12, 0],
        [0.92, 1],
      ],
    ],
  },
  '↧': {
    width: 1.1,
    strokes: [
      [
        [0.15, 0.95],
        [0.85, 0.95],
      ],
      [
        [0.5, 0.95],
        [0.5, 0.05],
      ],
      [
        [0.28, 0.38],
        [0.5, 0.02],
        [0.72, 0.38],
      ],
    ],
  },
  '⌴': {
    width: 1.35,
    strokes: [
      [
        [0.1, 0.8],
        [0.1, 0.05],
        [1.15, 0.05],
        [1.15, 0.8],
      ],
    ],
  },
  '⌵': {
    width: 1.25,
    strokes: [
      [
        [0.1, 0.9],
        [0.6, 0.05],
        [1.1, 0.9],
      ],
    ],
  },
};

const widthOf = (character: string): number => {
  const code = character.codePointAt(0) ?? 0;
  return ((WIDTHS[code - 32] ?? OTHER_WIDTH) / 1000) * SIZE_OF_CAPITALS;
};

/** Width of a text in the unit of its height, which is that of its capitals. */
export const textWidth = (text: string, heightMm: number): number =>
  Array.from(text).reduce((sum, character) => sum + (SIGNS[character]?.width ?? widthOf(character)), 0) * heightMm;

/** A stretch of a text: words for the font, or one drawn sign; `offset` and `width` in heights of a capital. */
export type Stretch =
  | { readonly kind: 'words'; readonly text: string; readonly offset: number; readonly width: number }
  | { readonly kind: 'sign'; readonly sign: Sign; readonly offset: number; readonly width: number };

/** A text as words and drawn signs, one after the other. */
export function stretchesOf(text: string): readonly Stretch[] {
  const stretches: Stretch[] = [];
  let offset = 0;
  let words = '';
  const flush = (): void => {
    if (words === '') return;
    const width = textWidth(words, 1);
    stretches.push({ kind: 'words', text: words, offset, width });
    offset += width;
    words = '';
  };
  for (const character of text) {
    const sign = SIGNS[character];
    if (sign === undefined) {
      words += character;
      continue;
    }
    flush();
    stretches.push({ kind: 'sign', sign, offset, width: sign.width });
    offset += sign.width;
  }
  flush();
  return stretches;
}

/** Words of a paragraph in lines of at most a width, mm. A word that is longer than a line is broken, never a character. */
export function wrapped(text: string, heightMm: number, widthMm: number): readonly string[] {
  const lines: string[] = [];
  let line = '';
  const end = (): void => {
    if (line !== '') lines.push(line);
    line = '';
  };
  for (const word of text.split(/\s+/).filter((part) => part !== '')) {
    let rest = Array.from(word);
    while (rest.length > 1 && textWidth(rest.join(''), heightMm) > widthMm) {
      end();
      let count = rest.length - 1;
      while (count > 1 && textWidth(rest.slice(0, count).join(''), heightMm) > widthMm) count--;
      lines.push(rest.slice(0, count).join(''));
      rest = rest.slice(count);
    }
    const longer = line === '' ? rest.join('') : `${line} ${rest.join('')}`;
    if (textWidth(longer, heightMm) > widthMm) {
      end();
      line = rest.join('');
    } else line = longer;
  }
  end();
  return lines;
}

const UNLETTERED =
  /[^\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}\p{Script=Devanagari}\p{Script=Common}\p{Script=Inherited}]/gu;

/** The characters of some texts that the lettering which ships with the program lacks, each once. */
export const unlettered = (texts: readonly string[]): readonly string[] => [
  ...new Set(texts.flatMap((text) => text.match(UNLETTERED) ?? [])),
];
