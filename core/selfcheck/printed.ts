import { quantityOfKind, type Reference, type Target } from '#core/check';
import { LENGTH_UNITS } from '#core/quantity';
import type { Sheet } from '#core/sheet';

/** A dimension that is printed on a sheet, with what it stands for. */
export interface PrintedDimension {
  readonly checkId: string;
  /** As the sheet writes it: "4 x Ø6.5". */
  readonly printed: string;
  /** What it is, as the plan calls it: "Bolt holes". */
  readonly label: string;
  readonly quantity: 'length' | 'angle' | 'count';
  /** From 1. */
  readonly page: number;
  /** mm, degrees, or a number of things. */
  readonly nominal: number;
  /** What the sheet allows to either side, in the same unit. */
  readonly tolerance: number;
}

const ONLY_COUNT = /^\d+ x$/;
const COUNTED = ['length', 'angle', 'count'] as const;
const isCounted = (quantity: string): quantity is PrintedDimension['quantity'] =>
  (COUNTED as readonly string[]).includes(quantity);

type Drawn = Pick<Reference, 'targets' | 'unit' | 'decimals'>;

/** Degrees that an angle on a sheet may be off: half of its last place. */
const ANGLE_DEG = 0.05;

/** Half of the last place that the sheet writes, in the unit of the quantity. */
function lastPlace(quantity: PrintedDimension['quantity'], { unit, decimals }: Drawn): number {
  if (quantity === 'count') return 0;
  return quantity === 'angle' ? ANGLE_DEG : 0.5 * 10 ** -decimals * LENGTH_UNITS[unit];
}

/** The number of a target, with what it may be off: no less than what the sheet rounds away. Null where it has none. */
function numberOf(target: Target, drawn: Drawn): Pick<PrintedDimension, 'nominal' | 'tolerance' | 'quantity'> | null {
  const quantity = quantityOfKind(target.kind);
  if (!('nominal' in target) || typeof target.nominal !== 'number' || !isCounted(quantity)) return null;
  const own = 'tolerance' in target && quantity !== 'count' ? target.tolerance : 0;
  return { nominal: target.nominal, quantity, tolerance: Math.max(own, lastPlace(quantity, drawn)) };
}

/** "4 x" before a size; "2 x 45°" is a chamfer, its size and its angle. */
const COUNT = /^(\d+) x (?!\d+(?:\.\d+)?°)/;

/** How many features a printed dimension counts; null where it counts none. */
export function countOf(printed: string): number | null {
  const count = COUNT.exec(printed)?.[1];
  return count === undefined ? null : Number(count);
}

/** A printed dimension without the number of features that it holds for. */
export const uncounted = (printed: string): string => printed.replace(COUNT, '');

/**
 * The dimensions of a sheet, page by page, each once, in the order in which they are drawn. A dimension whose words are
 * not on the sheet is none: what it says must be worked out from others.
 */
export function printedDimensions(sheet: Pick<Sheet, 'pages'>, drawn: Drawn): readonly PrintedDimension[] {
  const byId = new Map(drawn.targets.map((target) => [target.checkId, target]));
  const found = new Map<string, { readonly page: number; readonly words: string[] }>();
  sheet.pages.forEach(({ entities }, i) => {
    const texts = entities.flatMap((entity) => (entity.kind === 'text' ? entity : []));
    texts.forEach(({ checkId, text }, place) => {
      if (checkId === undefined) return;
      // Like features that several checks are about have one callout: the number is of one check, the size of the next.
      const words = ONLY_COUNT.test(text) ? `${text} ${texts[place + 1]?.text.trim() ?? ''}` : text;
      const known = found.get(checkId);
      if (known === undefined) found.set(checkId, { page: i + 1, words: [words] });
      else if (!known.words.includes(words)) known.words.push(words);
    });
  });
  return [...found].flatMap(([checkId, { page, words }]): PrintedDimension[] => {
    const target = byId.get(checkId);
    const number = target === undefined ? null : numberOf(target, drawn);
    if (target === undefined || number === null) return [];
    return [{ checkId, printed: words.join(' ').trim(), label: target.label, page, ...number }];
  });
}
