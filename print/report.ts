import PDFDocument from 'pdfkit';

import { CHECK_GROUPS } from '#core/check';
import { GROUP_TITLES, tells, TYPED_LABELS, valueText, type Report, type RuleLine, type Verdict } from '#core/grade';

import { bytesOf, faces, registerFaces, runsOf } from './fonts.ts';

/** A report with what its head says. */
export interface PrintedReport {
  readonly title: string;
  /** Label and value: student, exercise, revision, dates. */
  readonly facts: readonly (readonly [label: string, value: string])[];
  readonly report: Report;
  readonly remarks: readonly { readonly text: string; readonly by: string }[];
}

const MARGIN = 48;
const WIDTH = 595 - 2 * MARGIN;
const INK = '#14181d';
const SOFT = '#5a6068';
const TEXT = 9;

/** A word beside every sign, so that neither stands alone. */
const VERDICTS: Readonly<Record<Verdict, string>> = {
  right: 'right',
  near: 'close',
  wrong: 'WRONG',
  missing: 'NOT FOUND',
};
const RULES: Readonly<Record<RuleLine['verdict'], string>> = { kept: 'kept', broken: 'BROKEN', open: 'open' };

/**
 * A report on A4 pages: what is right and wrong, why, and what to look at come first, the numbers after them. What the
 * report does not tell is not on it.
 */
export function renderReport({ title, facts, report, remarks }: PrintedReport): Promise<Uint8Array> {
  const doc = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    bufferPages: true,
    info: { Title: title, Creator: 'Zorvet', Producer: 'Zorvet' },
  });
  const done = bytesOf(doc);
  registerFaces(doc);
  const page = new Writer(doc);
  page.heading(title, 15);
  page.columns(facts.map(([label, value]) => `${label}: ${value}`));
  page.heading(`${String(report.score)} of 100`, 20);
  if (report.cap !== null) page.paragraph(report.cap);
  for (const { reason, points } of report.deductions) page.paragraph(`${reason}: ${String(points)} points off.`);

  if (remarks.length > 0) {
    page.heading('Remarks');
    for (const { text, by } of remarks) page.paragraph(`${text} (${by})`);
  }
  if (report.causes.length > 0) {
    page.heading('Why, most probably');
    for (const { message, instead } of report.causes) page.paragraph(`${instead ? 'Or: ' : '– '}${message}`);
  }
  const numbers = tells(report.detail, 'numbers');
  if (numbers && report.lines.length > 0) page.row(['', '', 'wanted', 'measured']);
  for (const group of CHECK_GROUPS) {
    const lines = report.lines.filter((line) => line.group === group);
    if (lines.length === 0) continue;
    page.heading(GROUP_TITLES[group]);
    for (const line of lines)
      page.row([
        VERDICTS[line.verdict],
        line.override === null
          ? line.label
          : `${line.label} (counted as ${percent(line.override.credit)}: ${line.override.reason})`,
        numbers ? (valueText(line.nominal, line, report) ?? '') : '',
        numbers ? (valueText(line.measured, line, report) ?? '') : '',
      ]);
  }
  if (report.typed.length > 0) {
    page.heading('Typed numbers');
    for (const { name, text, unit, matchesReference } of report.typed)
      page.row([
        matchesReference ? 'right' : 'WRONG',
        TYPED_LABELS[name],
        '',
        text === '' ? 'not typed' : `${text} ${unit}`,
      ]);
  }
  if (report.rules.length > 0) {
    page.heading('How it was built');
    for (const { text, verdict, evidence } of report.rules) page.row([RULES[verdict], `${text}. ${evidence}`, '', '']);
    for (const question of report.questions) page.paragraph(question);
  }
  if (report.warnings.length > 0) {
    page.heading('About the file');
    for (const { message } of report.warnings) page.paragraph(message);
  }
  page.footers(title);
  doc.end();
  return done;
}

const percent = (share: number): string => `${String(Math.round(100 * share))} %`;

/** Headings, paragraphs and rows, one under the other, on as many pages as they need. */
class Writer {
  private readonly doc: PDFKit.PDFDocument;
  constructor(doc: PDFKit.PDFDocument) {
    this.doc = doc;
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
  footers(title: string): void {
    const { start, count } = this.doc.bufferedPageRange();
    for (let i = start; i < start + count; i++) {
      this.doc.switchToPage(i);
      // Below the margin, where the writer would begin a new page by itself.
      this.doc.page.margins.bottom = 0;
      this.doc.y = 800;
      this.doc.fillColor(SOFT);
      this.words(`${title}, page ${String(i + 1)} of ${String(count)}`, { x: MARGIN, width: WIDTH, size: 8 });
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
