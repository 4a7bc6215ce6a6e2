import { formatFixed } from '#core/quantity';

const LONGEST = 34;

/** An id that no check of a plan has yet, from what the check is called. */
export function freeCheckId(label: string, taken: ReadonlySet<string>): string {
  const base =
    label
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^[^a-z]+|-+$/g, '')
      .slice(0, LONGEST) || 'check';
  let id = base;
  for (let n = 2; taken.has(id); n++) id = `${base}-${String(n)}`;
  return id;
}

/** The tolerance of a new check: half of the last decimal that the sheet writes, in the drawing unit. */
export const usualTolerance = (decimals: number): string => formatFixed(0.5 * 10 ** -decimals, decimals + 1);
