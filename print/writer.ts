import PDFDocument from 'pdfkit';

import { bytesOf, faces, registerFaces, runsOf } from './fonts.ts';

const MARGIN = 48;
const WIDTH = 595 - 2 * MARGIN;
const INK = '#14181d';
const SOFT = '#5a6068';
const TEXT = 9;

/** An A4 document of text under a title, which its owner closes. */
export const openPages = (title: string): PageWriter =>
  new PageWriter(
    new PDFDocument({
      size: 'A4',
      margin: MARGIN,
      bufferPages: true,
      info: { Title: title, Creator: 'Zorvet', Producer: 'Zorvet' },
    }),
    title,
  );

/** Headings, paragraphs and rows, one under the other, on as many pages as they need. */
export class PageWriter {
  private readonly doc: PDFKit.PDFDocument;
  private readonly title: string;
  private readonly bytes: Promise<Uint8Array>;

  constructor(doc: PDFKit.PDFDocument, title: string) {
    this.doc = doc;
    this.title = title;
    this.bytes = bytesOf(doc);
    registerFaces(doc);
  }

  /** Ends the document, with a foot on each page; nothing can be written any more. */
  close(): Promise<Uint8Array> {
    this.footers();
    this.doc.end();
    return this.bytes;
  }

  heading(text: string, size = 11): void {
    this.room(size * 3);
    this.doc.moveDown(0.6).fillColor(INK);
    this.words(text, { x: MARGIN, width: WIDTH, size, bold: true });
    this.doc.moveDown(0.2);
  }

  paragraph(text: string): void {
    this.room(TEXT * 2);
    this.doc.fillColor(INK);
    this.words(text, { x: MARGIN, width: WIDTH, size: TEXT });
  }

  /** Short facts, two beside each other. */
  columns(texts: readonly string[]): void {
    for (let i = 0; i < texts.length; i += 2) {
      const y = this.doc.y;
      this.doc.fillColor(SOFT);
      this.words(texts[i] ?? '', { x: MARGIN, width: WIDTH / 2 - 8, size: TEXT });
      const left = this.doc.y;
      this.doc.y = y;
      this.words(texts[i + 1] ?? ' ', { x: MARGIN + WIDTH / 2, width: WIDTH / 2, size: TEXT });
      this.doc.y = Math.max(left, this.doc.y);
    }
  }

  /** Verdict, what it is about, and two values. */
  row(cells: readonly [verdict: string, about: string, wanted: string, measured: string]): void {
    this.room(TEXT * 3);
    const starts = [0, 70, WIDTH - 190, WIDTH - 95];
    const widths = [66, cells[2] === '' && cells[3] === '' ? WIDTH - 70 : WIDTH - 270, 90, 95];
    const y = this.doc.y;
    let lowest = y;
    this.doc.fillColor(INK);
    cells.forEach((text, i) => {
      if (text === '') return;
      this.doc.y = y;
      this.words(text, { x: MARGIN + (starts[i] ?? 0), width: widths[i] ?? 90, size: TEXT });
      lowest = Math.max(lowest, this.doc.y);
    });
    this.doc.y = lowest + 1.5;
  }

  /** The title and the number of each page at its foot. */
  private footers(): void {
    const { start, count } = this.doc.bufferedPageRange();
    for (let i = start; i < start + count; i++) {
      this.doc.switchToPage(i);
      // Below the margin, where the writer would begin a new page by itself.
      this.doc.page.margins.bottom = 0;
      this.doc.y = 800;
      this.doc.fillColor(SOFT);
      this.words(`${this.title}, page ${String(i + 1)} of ${String(count)}`, { x: MARGIN, width: WIDTH, size: 8 });
    }
  }

  /** A new page where less than some points are left. */
  private room(points: number): void {
    if (this.doc.y + points > 842 - MARGIN) this.doc.addPage();
  }

  private words(
    text: string,
    {
      x,
      width,
      size,
      bold = false,
    }: { readonly x: number; readonly width: number; readonly size: number; readonly bold?: boolean },
  ): void {
    const runs = runsOf(text.replace(/\s+/g, ' '), bold ? faces().bold : faces().plain);
    runs.forEach(({ face, text: run }, i) => {
      const shown = face === null ? '□'.repeat(Array.from(run).length) : run;
      this.doc.font((face ?? faces().plain[0])?.name ?? 'Helvetica', size);
      const options = { width, continued: i < runs.length - 1 };
      if (i === 0) this.doc.text(shown, x, this.doc.y, options);
      else this.doc.text(shown, options);
    });
  }
}
