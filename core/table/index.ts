/** Delimited text: tables that are pasted, and tables for a spreadsheet. */
import Papa from 'papaparse';

/** What a spreadsheet would take for a formula: a cell that begins with one of these, numbers with a sign left out. */
const FORMULA = /^(?:[=@+\t\r]|-(?!(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$))/;

/** A mark that spreadsheets take as "this is text", and that is taken off again when a table is read. */
const TEXT_MARK = "'";

/**
 * Rows as delimited text with CRLF at the end of each line. Cells that a spreadsheet would compute (beginning with = + - @)
 * are written as text, so that nothing in a table that came from a student runs on an instructor's machine.
 */
export function writeTable(rows: readonly (readonly string[])[], delimiter: ',' | '\t' | ';' = ','): string {
  const cells = rows.map((row) => row.map((cell) => (FORMULA.test(cell) ? `${TEXT_MARK}${cell}` : cell)));
  return rows.length === 0 ? '' : `${Papa.unparse(cells, { delimiter, newline: '\r\n' })}\r\n`;
}

const DELIMITERS = ['\t', ';', ','] as const;

export interface ReadTable {
  /** Cells as they were written, without blanks around them; lines without anything in them are left out. */
  readonly rows: readonly (readonly string[])[];
  readonly delimiter: string;
}

/** Delimited text as rows; what parts the cells is found out. Quoted cells may hold it, and line ends too. */
export function readTable(text: string): ReadTable {
  const guessed = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
  // Where lines have unlike numbers of cells, the first one decides.
  const [line = ''] = text.trimStart().split(/\r?\n/, 1);
  const plainly = guessed.data[0]?.length === 1 ? DELIMITERS.find((one) => line.includes(one)) : undefined;
  const { data, meta } =
    plainly === undefined ? guessed : Papa.parse<string[]>(text, { skipEmptyLines: 'greedy', delimiter: plainly });
  const plain = (cell: string): string => {
    const trimmed = cell.trim();
    const inner = trimmed.slice(TEXT_MARK.length);
    return trimmed.startsWith(TEXT_MARK) && FORMULA.test(inner) ? inner : trimmed;
  };
  return { rows: data.map((row) => row.map(plain)), delimiter: meta.delimiter };
}
