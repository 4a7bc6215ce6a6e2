import * as v from 'valibot';

import { isUploaded, renderDxf, renderSvg, SheetSchema, type Sheet, type SheetFields } from '#core/sheet';
import { renderPdf, type PrintJob } from '#print';
import { refuse, succeed, type Result } from '#core/problem';
import type { FileStore } from '#server/files';

/** Where stored drawings are read from. */
type Reading = Pick<FileStore, 'read'>;

/** A stored drawing; earlier programs stored the picture alone. */
async function read(files: Reading, sha256: string): Promise<Sheet | string> {
  const text = (await files.read(sha256)).toString('utf8');
  return text.startsWith('<svg') ? text : v.parse(SheetSchema, JSON.parse(text));
}

/** A stored drawing; null where an earlier program kept the picture alone. */
export async function storedSheet(files: Reading, sha256: string): Promise<Sheet | null> {
  const sheet = await read(files, sha256);
  return typeof sheet === 'string' ? null : sheet;
}

const WarningsSchema = v.object({ warnings: v.array(v.string()) });

/** What is wrong with a stored drawing, in words; nothing else of it is looked at. */
export async function warningsOfSheet(files: Reading, sha256: string): Promise<string[]> {
  const text = (await files.read(sha256)).toString('utf8');
  return text.startsWith('<svg') ? [] : v.parse(WarningsSchema, JSON.parse(text)).warnings;
}

/**
 * What is wrong with each of many stored drawings beyond what is wrong with the first, in words; those with nothing to
 * say are left out.
 */
export async function furtherWarnings<T extends { readonly sha256: string }>(
  files: Reading,
  first: string,
  sheets: readonly T[],
): Promise<{ readonly sheet: T; readonly warnings: readonly string[] }[]> {
  const known = new Set(await warningsOfSheet(files, first));
  const found: { readonly sheet: T; readonly warnings: readonly string[] }[] = [];
  for (const sheet of sheets) {
    const warnings = (await warningsOfSheet(files, sheet.sha256)).filter((warning) => !known.has(warning));
    if (warnings.length > 0) found.push({ sheet, warnings });
  }
  return found;
}

/** The pictures of uploaded drawings, by their SHA-256. */
async function picturesOf(
  files: Reading,
  sheets: readonly Pick<Sheet, 'pages'>[],
): Promise<ReadonlyMap<string, Uint8Array>> {
  const wanted = sheets.flatMap(({ pages }) =>
    pages.flatMap(({ entities }) => entities.flatMap((one) => (one.kind === 'picture' ? one.sha256 : []))),
  );
  const read = [...new Set(wanted)].map(async (sha256) => [sha256, await files.read(sha256)] as const);
  return new Map(await Promise.all(read));
}

/** One page of a stored drawing as SVG. */
export async function sheetAsSvg(files: Reading, sha256: string, page: number, fields: SheetFields): Promise<string> {
  const sheet = await read(files, sha256);
  if (typeof sheet === 'string') return sheet;
  const place = Math.min(page, sheet.pages.length);
  const pictures = await picturesOf(files, [{ pages: sheet.pages.slice(place - 1, place) }]);
  const addressOf = (picture: string): string =>
    `data:image/png;base64,${Buffer.from(pictures.get(picture) ?? []).toString('base64')}`;
  return renderSvg(sheet, place, fields, addressOf);
}

const OLD = 'This revision was made by an earlier program, which kept its sheet as a picture. Make a new revision.';

/** Stored drawings as one PDF, each for somebody. Refuses with `old-sheet`. */
export async function sheetsAsPdf(
  files: Reading,
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
  const pictures = await picturesOf(
    files,
    jobs.map(({ sheet }) => sheet),
  );
  return succeed(await renderPdf(jobs, { pictures }));
}

/** A page of a stored drawing as DXF. Refuses with `old-sheet`, and with `uploaded-drawing` for one made elsewhere. */
export async function sheetAsDxf(
  files: Reading,
  sha256: string,
  page: number,
  fields: SheetFields,
): Promise<Result<string>> {
  const sheet = await read(files, sha256);
  if (typeof sheet === 'string') return refuse('old-sheet', OLD);
  if (isUploaded(sheet))
    return refuse('uploaded-drawing', 'This sheet was made elsewhere: it has no lines that could be written as DXF.');
  return succeed(renderDxf(sheet, page, fields));
}
