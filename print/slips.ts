import PDFDocument from 'pdfkit';

import { bytesOf, faces, registerFaces, runsOf } from './fonts.ts';

/** Slips for first sign-ins, to be cut apart. */
export interface PrintedSlips {
  /** Course and section. */
  readonly title: string;
  /** Where the code is typed. */
  readonly address: string;
  readonly people: readonly { readonly name: string; readonly login: string; readonly code: string }[];
}

const MARGIN = 36;
const COLUMNS = 2;
const ROWS = 7;
const PADDING = 10;
const INK = '#14181d';
const RULE = '#9aa0a6';

/** Fourteen slips a page with lines to cut along. The code is in spaced letters, so that it is typed without a mistake. */
export function renderSlips({ title, address, people }: PrintedSlips): Promise<Uint8Array> {
  const doc = new PDFDocument({
    size: 'A4',
    margin: 0,
    info: { Title: `${title}: first sign-in`, Creator: 'Zorvet', Producer: 'Zorvet' },
  });
  const done = bytesOf(doc);
  registerFaces(doc);
  const width = (doc.page.width - 2 * MARGIN) / COLUMNS;
  const height = (doc.page.height - 2 * MARGIN) / ROWS;
  for (const [i, { name, login, code }] of people.entries()) {
    const place = i % (COLUMNS * ROWS);
    if (i > 0 && place === 0) doc.addPage();
    const [x, y] = [MARGIN + (place % COLUMNS) * width, MARGIN + Math.floor(place / COLUMNS) * height];
    doc.rect(x, y, width, height).dash(3, { space: 3 }).lineWidth(0.5).stroke(RULE).undash();
    /** Writes a line, smaller where it would reach into the next slip. */
    const write = (text: string, at: number, wanted: number, isBold: boolean): void => {
      const fonts = isBold ? faces().bold : faces().plain;
      const runs = runsOf(text, fonts).map((run) => ({
        ...run,
        font: run.face?.name ?? fonts[0]?.name ?? 'Helvetica',
      }));
      const long = runs.reduce((sum, run) => sum + doc.font(run.font, wanted).widthOfString(run.text), 0);
      const size = wanted * Math.min(1, (width - 2 * PADDING) / long);
      let left = x + PADDING;
      doc.fillColor(INK);
      for (const run of runs) {
        doc.font(run.font, size).text(run.text, left, y + at, { lineBreak: false });
        left += doc.widthOfString(run.text);
      }
    };
    write(name, PADDING, 13, true);
    write(title, PADDING + 18, 8, false);
    write(`1. Open ${address}`, PADDING + 34, 9, false);
    write(`2. Type this code:  ${code}`, PADDING + 48, 9, true);
    write('3. Choose a password. The code works once, for 30 days.', PADDING + 62, 9, false);
    write(`From then on you sign in as  ${login}`, PADDING + 80, 9, true);
  }
  doc.end();
  return done;
}
