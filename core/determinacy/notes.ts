import { saysSize } from '#core/chain';
import type { NumericArgument } from '#core/mistake';
import { formatFixed, type DrawingUnit } from '#core/quantity';

/** What a general note says as a number of its own: "Fillets R3", "all chamfers 1 x 45", "turned 30°". */
const ROLES: Readonly<Partial<Record<NumericArgument['role'], RegExp>>> = {
  radius: /fillet|round|radius|radii|\bR\s*[\d.]/i,
  chamfer: /chamfer|bevel|x\s*45/i,
  angle: /°|degree|angle|hexagon|octagon|turned|equal/i,
};

/** Whether a note of the sheet says a number of the recipe. */
export function saidByNote(notes: readonly string[], { role, value }: NumericArgument, unit: DrawingUnit): boolean {
  const words = ROLES[role];
  if (words === undefined) return false;
  const texts = [value, Math.abs(value)].flatMap((one) => [
    String(Number(formatFixed(one, 4))),
    formatFixed(one, unit === 'mm' ? 1 : 3).replace(/^0/, ''),
  ]);
  return notes.some((note) => words.test(note) && texts.some((text) => saysSize(note, text)));
}
