import PDFDocument from 'pdfkit';

import { bytesOf, faces, registerFaces, runsOf } from './fonts.ts';

/** A table with what its head says. */
export interface PrintedTable {
  readonly title: string;
  /** A line under the title. */
  readonly note: string;
  readonly head: readonly string[];
  readonly body: readonly (readonly string[])[];
  readonly paper: 'A4' | 'LETTER';
}

const MARGIN = 40;
const SIZE = 8;
const INK = '#14181d';
const RULE = '#9aa0a6';
const SHADE = '#ecebe6';
const PADDING = 3.5;
/** Height of a row whose longest cell takes three lines. */
const MOST_ROW = 3 * 1.3 * SIZE + 2 * PADDING;

/** A table on pages lying on their side; its head stands on each of them. */
export function renderTable({ title, note, head, body, paper }: PrintedTable): Promise<Uint8Array> {
  const doc = new PDFDocument({
    size: paper,
    layout: 'landscape',
    margin: MARGIN,
    info: { Title: title, Creator: 'Zorvet', Producer: 'Zorvet' },
  });
  const done = bytesOf(doc);
  registerFaces(doc);
  const plain = faces().plain[0]?.name ?? 'Helvetica';
  const bold = faces().bold[0]?.name ?? 'Helvetica-Bold';
  doc.fillColor(INK);
  doc.font(fontFor(title, true) ?? bold, 14).text(title);
  doc
    .moveDown(0.3)
    .font(fontFor(note, false) ?? plain, 9)
    .text(note);
  doc.moveDown(0.6);
  const cellsOf = (row: readonly string[], isHead: boolean) =>
    row.map((text) => ({ text, font: { src: fontFor(text, isHead) ?? (isHead ? bold : plain), size: SIZE } }));
  const begin = () =>
    doc
      .font(plain, SIZE)
      .table({
        defaultStyle: { border: 0.5, borderColor: RULE, padding: PADDING, textColor: INK },
        rowStyles: (row) => (row === 0 ? { backgroundColor: SHADE } : {}),
      })
      .row(cellsOf(head, true));
  let table = begin();
  for (const row of body) {
    // A row that may end below the page begins the next one, under the head.
    if (doc.y > doc.page.height - MARGIN - MOST_ROW) {
      table.end();
      doc.addPage();
      table = begin();
    }
    table.row(cellsOf(row, false));
  }
  table.end();
  doc.end();
  return done;
}

/** The name of a shipped font that has all characters of a text; the first that has most of them where none has all. */
function fontFor(text: string, isBold: boolean): string | null {
  const runs = runsOf(text, isBold ? faces().bold : faces().plain);
  const longest = [...runs].sort((a, b) => b.text.length - a.text.length).find(({ face }) => face !== null);
  return longest?.face?.name ?? null;
}
