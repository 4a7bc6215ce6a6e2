/** Lettering for PDF files: which of the shipped fonts has a character. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

import * as fontkit from 'fontkit';

/** Fonts in the order in which a character is looked for; static files, which the writer can embed in part. */
const FONTS = [
  ['archivo', 'latin'],
  ['archivo', 'latin-ext'],
  ['archivo', 'vietnamese'],
  ['noto-sans', 'greek'],
  ['noto-sans', 'cyrillic'],
  ['noto-sans', 'cyrillic-ext'],
  ['noto-sans', 'devanagari'],
  ['noto-sans', 'latin-ext'],
] as const;

export interface Face {
  readonly name: string;
  /** The opened font: from bytes, the writer would open it anew for each cell of a table. */
  readonly font: fontkit.Font;
  readonly has: (codePoint: number) => boolean;
}

const facesOf = (weight: 400 | 600): readonly Face[] =>
  FONTS.flatMap(([family, subset]) => {
    const file = `@fontsource/${family}/files/${family}-${subset}-${String(weight)}-normal.woff`;
    const bytes = readFileSync(createRequire(import.meta.url).resolve(file));
    const font = fontkit.create(bytes);
    if (!('hasGlyphForCodePoint' in font)) return [];
    return [
      { name: `${family}-${subset}-${String(weight)}`, font, has: (code: number) => font.hasGlyphForCodePoint(code) },
    ];
  });

let known: Readonly<Record<'plain' | 'bold', readonly Face[]>> | null = null;
export const faces = (): NonNullable<typeof known> => (known ??= { plain: facesOf(400), bold: facesOf(600) });

export function registerFaces(doc: PDFKit.PDFDocument): void {
  // The writer takes an opened font as well, which its types do not say.
  for (const { name, font } of [...faces().plain, ...faces().bold])
    doc.registerFont(name, font as unknown as Uint8Array);
}

/** A text in stretches of one font each; null where no font has the characters. */
export function runsOf(
  text: string,
  fonts: readonly Face[],
): readonly { readonly face: Face | null; readonly text: string }[] {
  const runs: { readonly face: Face | null; text: string }[] = [];
  for (const character of Array.from(text)) {
    const face = fonts.find(({ has }) => has(character.codePointAt(0) ?? 0)) ?? null;
    const last = runs.at(-1);
    if (last?.face === face) last.text += character;
    else runs.push({ face, text: character });
  }
  return runs;
}

/** The bytes of a document, once it has ended. */
export function bytesOf(doc: PDFKit.PDFDocument): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  return new Promise((resolve, reject) => {
    doc.on('data', (chunk: Uint8Array) => chunks.push(chunk));
    doc.on('end', () => {
      resolve(Buffer.concat(chunks));
    });
    doc.on('error', reject);
  });
}
