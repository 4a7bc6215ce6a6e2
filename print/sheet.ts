/** Sheets as PDF, true to scale, with the lettering embedded. */
import PDFDocument from 'pdfkit';

import {
  arrowCorners,
  filled,
  LINE_LAYERS,
  LINE_STYLES,
  SIZE_OF_CAPITALS,
  startOf,
  stretchesOf,
  type Sheet,
  type SheetEntity,
  type SheetFields,
  type SheetPage,
  type SheetText,
} from '#core/sheet';

import { bytesOf, faces, registerFaces, runsOf, type Face } from './fonts.ts';

const POINTS_PER_MM = 72 / 25.4;
const INK = '#14181d';

/** A sheet and whom it is for. */
export interface PrintJob {
  readonly sheet: Sheet;
  readonly fields: SheetFields;
}

/**
 * All pages of some sheets as one PDF. Characters that no font has are drawn as an empty box. `pictures` are the PNG files
 * of uploaded drawings by their SHA-256.
 */
export function renderPdf(
  jobs: readonly PrintJob[],
  options: { readonly compress?: boolean; readonly pictures?: ReadonlyMap<string, Uint8Array> } = {},
): Promise<Uint8Array> {
  const doc = new PDFDocument({
    autoFirstPage: false,
    compress: options.compress ?? true,
    info: { Title: jobs[0]?.sheet.title ?? 'Sheet', Creator: 'Zorvet', Producer: 'Zorvet' },
  });
  const done = bytesOf(doc);
  registerFaces(doc);
  // A picture that is on many pages is embedded once.
  const opener = doc as unknown as { readonly openImage: (file: Buffer) => unknown };
  const pictures = new Map(
    [...(options.pictures ?? [])].map(([sha256, bytes]) => [sha256, opener.openImage(Buffer.from(bytes))]),
  );
  for (const { sheet, fields } of jobs) for (const page of sheet.pages) addPage(doc, page, fields, pictures);
  doc.end();
  return done;
}

function addPage(
  doc: PDFKit.PDFDocument,
  page: SheetPage,
  fields: SheetFields,
  pictures: ReadonlyMap<string, unknown>,
): void {
  doc.addPage({ size: [page.widthMm * POINTS_PER_MM, page.heightMm * POINTS_PER_MM], margin: 0 });
  for (const entity of page.entities) {
    if (entity.kind !== 'picture' && entity.kind !== 'shade') continue;
    const picture = entity.kind === 'picture' ? pictures.get(entity.sha256) : Buffer.from(entity.png, 'base64');
    if (picture === undefined) continue;
    const [x, y] = [entity.at[0], page.heightMm - entity.at[1] - entity.heightMm];
    // The writer takes an opened image as well as its file; its types know the file only.
    doc.image(picture as string, x * POINTS_PER_MM, y * POINTS_PER_MM, {
      width: entity.widthMm * POINTS_PER_MM,
      height: entity.heightMm * POINTS_PER_MM,
    });
  }
  doc.save();
  // From here on millimeters with y up, as the sheet has them.
  doc.transform(POINTS_PER_MM, 0, 0, -POINTS_PER_MM, 0, page.heightMm * POINTS_PER_MM);
  doc.lineCap('round').strokeColor(INK).fillColor(INK);
  for (const layer of LINE_LAYERS) {
    const { widthMm, dashesMm } = LINE_STYLES[layer];
    doc.lineWidth(widthMm);
    if (dashesMm.length === 0) doc.undash();
    else doc.dash(dashesMm[0] ?? 1, { space: dashesMm[1] ?? 1 });
    // The writer's own dash takes one length and one gap; the operator itself takes all.
    if (dashesMm.length > 2) doc.addContent(`[${dashesMm.join(' ')}] 0 d`);
    for (const entity of page.entities) if ('layer' in entity && entity.layer === layer) stroke(doc, entity);
  }
  doc.undash();
  for (const entity of page.entities) {
    if (entity.kind === 'arrow') {
      const [tip, a, b] = arrowCorners(entity);
      if (tip && a && b)
        doc
          .moveTo(...tip)
          .lineTo(...a)
          .lineTo(...b)
          .closePath()
          .fill();
    } else if (entity.kind === 'text') {
      const text = filled(entity, fields);
      if (text !== null) write(doc, text);
    }
  }
  doc.restore();
}

function stroke(doc: PDFKit.PDFDocument, entity: SheetEntity): void {
  switch (entity.kind) {
    case 'line':
      doc
        .moveTo(...entity.from)
        .lineTo(...entity.to)
        .stroke();
      return;
    case 'polyline': {
      const [first, ...rest] = entity.points;
      if (first === undefined) return;
      doc.moveTo(...first);
      for (const point of rest) doc.lineTo(...point);
      doc.stroke();
      return;
    }
    case 'arc':
    case 'ellipse': {
      const [a, b] = entity.kind === 'arc' ? [entity.radius, entity.radius] : entity.radii;
      const turn = entity.kind === 'arc' ? 0 : entity.turn;
      const { center, start, sweep } = entity;
      const place = (u: number, w: number): [number, number] => [
        center[0] + u * Math.cos(turn) - w * Math.sin(turn),
        center[1] + u * Math.sin(turn) + w * Math.cos(turn),
      ];
      // Pieces of at most a quarter as cubic curves; the handle of a piece of angle t is 4/3 tan(t/4).
      const pieces = Math.max(1, Math.ceil(sweep / (Math.PI / 2) - 1e-9));
      const step = sweep / pieces;
      const k = (4 / 3) * Math.tan(step / 4);
      doc.moveTo(...place(a * Math.cos(start), b * Math.sin(start)));
      for (let i = 0; i < pieces; i++) {
        const [s, t] = [start + i * step, start + (i + 1) * step];
        doc.bezierCurveTo(
          ...place(a * (Math.cos(s) - k * Math.sin(s)), b * (Math.sin(s) + k * Math.cos(s))),
          ...place(a * (Math.cos(t) + k * Math.sin(t)), b * (Math.sin(t) - k * Math.cos(t))),
          ...place(a * Math.cos(t), b * Math.sin(t)),
        );
      }
      doc.stroke();
      return;
    }
    default:
  }
}

/** Words in the font that has them, drawn signs as strokes. */
function write(doc: PDFKit.PDFDocument, text: SheetText): void {
  const { heightMm, angle = 0 } = text;
  const [x, y] = startOf(text);
  doc.save();
  doc.transform(Math.cos(angle), Math.sin(angle), -Math.sin(angle), Math.cos(angle), x, y);
  for (const stretch of stretchesOf(text.text)) {
    const at = stretch.offset * heightMm;
    if (stretch.kind === 'sign') {
      doc.lineWidth(heightMm * 0.08);
      for (const points of stretch.sign.strokes) {
        const [first, ...rest] = points.map(([u, v]): [number, number] => [at + u * heightMm, v * heightMm]);
        if (first === undefined) continue;
        doc.moveTo(...first);
        for (const point of rest) doc.lineTo(...point);
        doc.stroke();
      }
      continue;
    }
    writeWords(doc, stretch.text, { start: at, heightMm, fonts: text.bold === true ? faces().bold : faces().plain });
  }
  doc.restore();
}

function writeWords(
  doc: PDFKit.PDFDocument,
  words: string,
  { start, heightMm, fonts }: { readonly start: number; readonly heightMm: number; readonly fonts: readonly Face[] },
): void {
  const size = heightMm * SIZE_OF_CAPITALS;
  let at = start;
  for (const { face, text } of runsOf(words, fonts)) {
    if (face === null) {
      for (const _ of Array.from(text)) {
        doc
          .lineWidth(heightMm * 0.06)
          .rect(at + heightMm * 0.1, 0, heightMm * 0.6, heightMm)
          .stroke();
        at += heightMm * 0.8;
      }
      continue;
    }
    doc.font(face.name, size);
    const width = doc.widthOfString(text);
    // Letters stand upright again: the page was turned over so that y runs up.
    doc.save();
    doc.transform(1, 0, 0, -1, at, 0);
    doc.text(text, 0, 0, { lineBreak: false, baseline: 'alphabetic' });
    doc.restore();
    at += width;
  }
}
