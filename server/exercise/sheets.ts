import * as v from 'valibot';

import { renderDxf, renderSvg, SheetSchema, type Sheet, type SheetFields } from '#core/sheet';
import { renderPdf, type PrintJob } from '#print';
import { refuse, succeed, type Result } from '#core/problem';
import type { FileStore } from '#server/files';

/** A stored drawing; earlier programs stored the picture alone. */
async function read(files: FileStore, sha256: string): Promise<Sheet | string> {
  const text = (await files.read(sha256)).toString('utf8');
  return text.startsWith('<svg') ? text : v.parse(SheetSchema, JSON.parse(text));
}

/** What is wrong with a stored drawing, in words. */
export async function warningsOfSheet(files: FileStore, sha256: string): Promise<string[]> {
  const sheet = await read(files, sha256);
  return typeof sheet === 'string' ? [] : [...sheet.warnings];
}

/** One page of a stored drawing as SVG. */
export async function sheetAsSvg(files: FileStore, sha256: string, page: number, fields: SheetFields): Promise<string> {
  const sheet = await read(files, sha256);
  return typeof sheet === 'string' ? sheet : renderSvg(sheet, Math.min(page, sheet.pages.length), fields);
}

const OLD = 'This revision was made by an earlier program, which kept its sheet as a picture. Make a new revision.';

/** Stored drawings as one PDF, each for somebody. Refuses with `old-sheet`. */
export async function sheetsAsPdf(
  files: FileStore,
  wanted: readonly { readonly sha256: string; readonly fields: SheetFields }[],
): Promise<Result<Uint8Array>> {
  const known = new Map<string, Sheet | string>();
  const jobs: PrintJob[] = [];
  for (const { sha256, fields } of wanted) {
    const sheet = known.get(sha256) ?? (await read(files, sha256));
    known.set(sha256, sheet);
    if (typeof sheet === 'string') return refuse('old-sheet', OLD);
    jobs.push({ sheet, fields });
  }
  return succeed(await renderPdf(jobs));
}

/** A page of a stored drawing as DXF. Refuses with `old-sheet`. */
export async function sheetAsDxf(
  files: FileStore,
  sha256: string,
  page: number,
  fields: SheetFields,
): Promise<Result<string>> {
  const sheet = await read(files, sha256);
  return typeof sheet === 'string' ? refuse('old-sheet', OLD) : succeed(renderDxf(sheet, page, fields));
}
