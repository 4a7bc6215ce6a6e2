import type { Parameter } from '#core/recipe';
import type { Variant } from '#core/exercise';
import { attempt, ProblemError, type Result } from '#core/problem';
import { normalizeNumber } from '#core/quantity';
import { readTable, writeTable } from '#core/table';

/** Variants as lines of a spreadsheet: a header with the letters, then one line each. */
export const variantTable = (parameters: readonly Parameter[], variants: readonly Variant[]): string =>
  writeTable(
    [
      ['variant', ...parameters.map(({ name }) => name)],
      ...variants.map(({ name, values }) => [name, ...parameters.map((letter) => values[letter.name] ?? letter.value)]),
    ],
    '\t',
  )
    .replaceAll('\r\n', '\n')
    .trimEnd();

/**
 * Variants from pasted lines, whatever parts their cells. The first line names the letters; a column called "variant" names the variants. Refuses with `bad-table`, saying which line.
 */
export function parseVariantTable(text: string, parameters: readonly Parameter[]): Result<readonly Variant[]> {
  return attempt(() => {
    const bad = (message: string) => new ProblemError('bad-table', message);
    const [header, ...rest] = readTable(text).rows;
    if (header === undefined || rest.length === 0)
      throw bad('Paste a line with the letters and a line of values for each variant.');
    const unknown = header.filter(
      (name) => name.toLowerCase() !== 'variant' && !parameters.some((parameter) => parameter.name === name),
    );
    if (unknown.length > 0)
      throw bad(
        `The part has no letter "${unknown[0] ?? ''}"; it has ${parameters.map(({ name }) => name).join(', ') || 'none'}.`,
      );
    return rest.map((row, i): Variant => {
      if (row.length !== header.length)
        throw bad(`Line ${String(i + 2)} has ${String(row.length)} cells, the first line ${String(header.length)}.`);
      const values: Record<string, string> = {};
      let name = String(i + 1);
      header.forEach((column, j) => {
        const cell = row[j] ?? '';
        if (column.toLowerCase() === 'variant') name = cell === '' ? name : cell;
        else if (cell !== '') values[column] = normalizeNumber(cell) ?? cell;
      });
      return { name, values };
    });
  });
}
