import type { Exercise, Paper } from '#core/exercise';
import { formatFixed, LENGTH_UNITS, type DrawingUnit, type Scope } from '#core/quantity';
import type { Vec2 } from '#core/vector';

import { wrapped, textWidth } from './lettering.ts';
import { scaleText, type SheetEntity, type SheetField } from './model.ts';
import { dimensionText, generalTolerance, type Writer } from './text.ts';

/** Lying pages, mm (ISO 216 and ANSI Y14.1). */
export const PAPER_SIZES: Readonly<Record<Paper, Vec2>> = {
  A4: [297, 210],
  A3: [420, 297],
  A2: [594, 420],
  A1: [841, 594],
  letter: [279.4, 215.9],
  tabloid: [431.8, 279.4],
};
export const MARGIN_MM = 10;
/** The band at the foot of the page: letters and notes on the left, the title block on the right. */
export const FOOT_MM = 44;
const BLOCK_MM = 176;
const ZONE_MM = 50;

const words = (
  text: string,
  at: Vec2,
  heightMm: number,
  options: { bold?: boolean; anchor?: 'start' | 'middle' | 'end'; field?: SheetField } = {},
): SheetEntity => ({
  kind: 'text',
  text,
  at,
  heightMm,
  anchor: options.anchor ?? 'start',
  ...(options.bold === true ? { bold: true } : {}),
  ...(options.field === undefined ? {} : { field: options.field }),
});

function box([x, y]: Vec2, width: number, height: number): SheetEntity[] {
  const corners: Vec2[] = [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
  return corners.map((from, i) => ({ kind: 'line', layer: 'frame', from, to: corners[(i + 1) % 4] ?? from }));
}

/** Frame with zones: numbers along, letters up, as a teacher names a place on the sheet. */
export function pageFrame([width, height]: Vec2): SheetEntity[] {
  const [innerX, innerY] = [width - 2 * MARGIN_MM, height - 2 * MARGIN_MM];
  const fields = (size: number): number => Math.max(2, 2 * Math.round(size / ZONE_MM / 2));
  const marks: SheetEntity[] = [];
  const [across, up] = [fields(width), fields(height)];
  const line = (from: Vec2, to: Vec2): SheetEntity => ({ kind: 'line', layer: 'frame', from, to });
  for (let i = 0; i < across; i++) {
    const at = MARGIN_MM + (innerX * (i + 0.5)) / across;
    const edge = MARGIN_MM + (innerX * (i + 1)) / across;
    for (const y of [MARGIN_MM - 3.6, height - MARGIN_MM + 1.6])
      marks.push(words(String(i + 1), [at, y], 2, { anchor: 'middle' }));
    if (i < across - 1)
      marks.push(
        line([edge, MARGIN_MM - 5], [edge, MARGIN_MM]),
        line([edge, height - MARGIN_MM], [edge, height - MARGIN_MM + 5]),
      );
  }
  for (let i = 0; i < up; i++) {
    const at = height - MARGIN_MM - (innerY * (i + 0.5)) / up;
    const edge = height - MARGIN_MM - (innerY * (i + 1)) / up;
    for (const x of [MARGIN_MM - 2.5, width - MARGIN_MM + 2.5])
      marks.push(words(String.fromCharCode(65 + i), [x, at - 1], 2, { anchor: 'middle' }));
    if (i < up - 1)
      marks.push(
        line([MARGIN_MM - 5, edge], [MARGIN_MM, edge]),
        line([width - MARGIN_MM, edge], [width - MARGIN_MM + 5, edge]),
      );
  }
  return [
    ...box([MARGIN_MM, MARGIN_MM], innerX, innerY),
    ...box([MARGIN_MM - 5, MARGIN_MM - 5], innerX + 10, innerY + 10),
    ...marks,
  ];
}

/**
 * The sign of the projection method: a cut cone from the side, and from its small end, which is the left one (ISO 5456-2).
 * What is seen from the left stands on the left in third angle, on the right in first angle.
 */
function projectionSign(projection: Exercise['projection'], [x, y]: Vec2): SheetEntity[] {
  const [ring, cone] = projection === 'third-angle' ? [x + 4, x + 11] : [x + 16, x + 2];
  const [small, large] = [1.5, 3];
  const middle = y + 4;
  const circle = (radius: number): SheetEntity => ({
    kind: 'arc',
    layer: 'thin',
    center: [ring, middle],
    radius,
    start: 0,
    sweep: 2 * Math.PI,
  });
  const line = (from: Vec2, to: Vec2, layer: 'thin' | 'center' = 'thin'): SheetEntity => ({
    kind: 'line',
    layer,
    from,
    to,
  });
  return [
    circle(small),
    circle(large),
    line([cone, middle - small], [cone, middle + small]),
    line([cone + 8, middle - large], [cone + 8, middle + large]),
    line([cone, middle + small], [cone + 8, middle + large]),
    line([cone, middle - small], [cone + 8, middle - large]),
    line([cone - 1, middle], [cone + 9, middle], 'center'),
    line([ring - 4, middle], [ring + 4, middle], 'center'),
    line([ring, middle - 4], [ring, middle + 4], 'center'),
  ];
}

export interface FootParts {
  readonly scale: number;
  readonly scope: Scope;
  readonly page: number;
  readonly pages: number;
}

/** Title block, letter table and notes; what of the notes does not fit comes back. */
export function pageFoot(
  writer: Writer,
  [width]: Vec2,
  parts: FootParts,
): { readonly entities: readonly SheetEntity[]; readonly left: readonly string[] } {
  const blockWidth = Math.min(BLOCK_MM, width - 2 * MARGIN_MM - 60);
  const left = width - MARGIN_MM - blockWidth;
  const table = letterValues(writer, parts.scope);
  const tableColumns = Math.ceil(table.length / LETTER_ROWS);
  const noteX = MARGIN_MM + 4 + tableColumns * letterColumnMm(table);
  const notes = notesIn(writer.exercise, left - noteX - 4);
  const isFirst = parts.page === 1;
  const shown = isFirst ? notes.lines.slice(0, notes.room) : [];
  return {
    entities: [
      ...titleBlock(writer, left, blockWidth, parts),
      ...(isFirst ? letterTable(table, writer.exercise.recipe.unit) : []),
      ...(shown.length > 0 ? [words('Notes', [noteX, FOOT_TOP_MM - 3.4], 2)] : []),
      ...shown.map((line, i) => words(line, [noteX, FOOT_TOP_MM - 8.2 - i * 4.4], 2.5)),
    ],
    left: isFirst ? notes.lines.slice(notes.room) : [],
  };
}

const FOOT_TOP_MM = MARGIN_MM + FOOT_MM;
const LETTER_ROWS = Math.floor((FOOT_MM - 7) / 6);
/** Of a column of the letter table, the name and value before the label, and the widest label. */
const [LETTER_HEAD_MM, WIDEST_LABEL_MM] = [27, 70] as const;

/** As wide as the longest label needs. */
const letterColumnMm = (table: readonly LetterValue[]): number =>
  LETTER_HEAD_MM + 4 + Math.min(WIDEST_LABEL_MM, Math.max(27, ...table.map(({ label }) => textWidth(label, 2.5))));

type Cell = readonly [x: number, row: number, width: number, label: string, value: string, field?: SheetField];

/** What stands in the cells of the title block; places are shares of its full width. */
function cellsOf({ exercise, reference }: Writer, { scale, page, pages }: FootParts): readonly Cell[] {
  const tolerance = dimensionText(generalTolerance(reference) * LENGTH_UNITS[reference.unit], {
    ...reference,
    decimals: reference.decimals + 1,
  });
  return [
    [0, 0, 34, 'Number', exercise.number],
    [34, 0, 98, 'Part', exercise.title],
    [132, 0, 22, 'Revision', '', 'revision'],
    [154, 0, 22, 'Sheet', `${String(page)} of ${String(pages)}`],
    [0, 1, 88, 'Material', `${exercise.material.name}, ${formatFixed(reference.densityGPerCm3, 2)} g/cm³`],
    [88, 1, 44, 'Dimensions in', exercise.recipe.unit === 'mm' ? 'Millimeter' : 'Inch'],
    [132, 1, 44, 'Scale', scaleText(scale)],
    [0, 2, 88, 'Course', '', 'course'],
    [88, 2, 44, 'Not noted', `±${tolerance}`],
    [132, 2, 44, exercise.projection === 'third-angle' ? 'Third angle' : 'First angle', ''],
    [0, 3, 88, 'Student', '', 'student'],
    [88, 3, 44, 'Variant', '', 'variant'],
    [132, 3, 44, 'Date', '', 'date'],
  ];
}

function titleBlock(writer: Writer, left: number, width: number, parts: FootParts): readonly SheetEntity[] {
  const share = width / BLOCK_MM;
  const row = FOOT_MM / 5;
  const top = FOOT_TOP_MM;
  const cells = cellsOf(writer, parts).flatMap(([x, at, wide, label, value, field]): SheetEntity[] => [
    ...box([left + x * share, top - (at + 1) * row], wide * share, row),
    words(label, [left + x * share + 1.2, top - at * row - 2.8], 1.8),
    ...(value === '' && field === undefined
      ? []
      : [
          words(fitting(value, 3, wide * share - 2.4), [left + x * share + 1.2, top - (at + 1) * row + 1.5], 3, {
            bold: at === 0,
            ...(field === undefined ? {} : { field }),
          }),
        ]),
  ]);
  return [
    ...cells,
    ...projectionSign(writer.exercise.projection, [left + 148 * share, top - 3 * row + 0.2]),
    ...box([left, MARGIN_MM], width, row),
    words('For training only, not for manufacture', [left + 1.2, MARGIN_MM + 2.6], 3),
  ];
}

interface LetterValue {
  readonly name: string;
  readonly label: string;
  readonly value: string;
}

/** The letters of the recipe with their values; none where the sheet has values in place of letters. */
const letterValues = ({ exercise, reference }: Writer, scope: Scope): readonly LetterValue[] =>
  exercise.sheet?.letters === 'values'
    ? []
    : exercise.recipe.parameters
        .filter(({ name }) => /^[A-Z]$/.test(name))
        .map(({ name, label }) => ({
          name,
          label: label ?? '',
          value: dimensionText((scope[name] ?? 0) * LENGTH_UNITS[exercise.recipe.unit], reference),
        }));

function letterTable(table: readonly LetterValue[], unit: DrawingUnit): readonly SheetEntity[] {
  if (table.length === 0) return [];
  const rows = table.flatMap(({ name, label, value }, i) => {
    const x = MARGIN_MM + 4 + Math.floor(i / LETTER_ROWS) * letterColumnMm(table);
    const y = FOOT_TOP_MM - 9 - (i % LETTER_ROWS) * 6;
    return [
      words(name, [x, y], 3.2, { bold: true }),
      words(value, [x + 24, y], 3.2, { anchor: 'end' }),
      words(fitting(label, 2.5, WIDEST_LABEL_MM + 1), [x + LETTER_HEAD_MM, y], 2.5),
    ];
  });
  return [words(`Letter values (${unit})`, [MARGIN_MM + 4, FOOT_TOP_MM - 3.4], 2), ...rows];
}

/** The notes in lines of a width, and how many of them have room. */
function notesIn(
  { origin, notes }: Writer['exercise'],
  widthMm: number,
): { readonly lines: readonly string[]; readonly room: number } {
  const wanted = [origin === '' ? '' : `Origin: ${origin}`, ...notes].filter((note) => note !== '');
  if (widthMm < 20) return { lines: wanted, room: 0 };
  return {
    lines: wanted.flatMap((note) => wrapped(note, 2.5, widthMm)),
    room: Math.floor((FOOT_MM - 7) / 4.4),
  };
}

/** A text that is too long for its cell ends in dots. */
function fitting(text: string, heightMm: number, widthMm: number): string {
  const [first = '', ...more] = wrapped(text, heightMm, widthMm);
  return more.length === 0 ? first : `${first.slice(0, Math.max(1, first.length - 2))}...`;
}

/** A page of notes that did not fit at the foot of the first. */
export const notePage = (lines: readonly string[], [, height]: Vec2): readonly SheetEntity[] => [
  words('Notes', [MARGIN_MM + 8, height - MARGIN_MM - 10], 3.5, { bold: true }),
  ...lines.map((line, i) => words(line, [MARGIN_MM + 8, height - MARGIN_MM - 18 - i * 5], 3)),
];
