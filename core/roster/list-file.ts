import { isZip } from '#core/archive';
import { refuse, succeed, type Result } from '#core/problem';

import { readOneRoster, type RosterClass } from './one-roster.ts';

/** What a file of students holds: a list, or the classes of a package of which one is chosen. */
export type ListFile =
  | { readonly kind: 'list'; readonly text: string }
  | { readonly kind: 'classes'; readonly classes: readonly RosterClass[] };

/** Letters that programs for tables write, told by the mark at the start of the file. */
const encodingOf = ([first, second]: Uint8Array): string =>
  first === 0xff && second === 0xfe ? 'utf-16le' : first === 0xfe && second === 0xff ? 'utf-16be' : 'utf-8';

/** The text of a file. What is not in the encoding it claims comes from an older program: Windows-1252 then. */
function textOf(bytes: Uint8Array): string {
  try {
    return new TextDecoder(encodingOf(bytes), { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/**
 * Reads a chosen file, told by its content and not by its name. Refuses with `bad-roster` a broken package, and what is
 * no text, such as the workbook of a program for tables.
 */
export function readListFile(bytes: Uint8Array): Result<ListFile> {
  if (isZip(bytes)) {
    const classes = readOneRoster(bytes);
    return classes.ok ? succeed({ kind: 'classes', classes: classes.value }) : classes;
  }
  const text = textOf(bytes);
  return text.includes('\0')
    ? refuse('bad-roster', 'This file is no text. Save the list as CSV, or copy its rows and paste them here.')
    : succeed({ kind: 'list', text });
}
