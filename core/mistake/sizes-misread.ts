import { kindOf } from '#core/check';
import { LENGTH_UNITS } from '#core/quantity';

import type { MistakeKind } from '#core/cause';
import type { DrivenSize } from './driven.ts';
import { swapDigits, written, type Subject } from './subject.ts';

const MOST_EDGES = 2;

/** Sizes of the sheet that have another value in the part, where no step has a number for them. */
export function misreadSizes(subject: Subject, sizes: readonly DrivenSize[]): void {
  for (const size of sizes) atSize(subject, size);
}

function atSize(subject: Subject, { check, valueMm, halvesMm, ways }: DrivenSize): void {
  const unit = LENGTH_UNITS[subject.recipe.unit];
  const value = valueMm / unit;
  const places = kindOf(check.kind).gives === 'place';
  const change = (kind: MistakeKind, next: number, why: string, factor = 1): void => {
    if (!(next > 0) || Math.abs(next - value) < 1e-9) return;
    const [said, right] = [subject.words(next, 'width'), subject.words(value, 'width')];
    for (const way of ways)
      subject.put({
        kind,
        key: `${check.id}=${written(next)}${way.key}`,
        edits: way.edits((next - value) * unit),
        summary: `${check.label}, ${said} for ${right}`,
        message: `${check.label}: ${said} where the sheet gives ${right}. ${why}`,
        about: check.label,
        factor: factor * way.factor,
        expression: check.nominal,
      });
  };
  change('half-for-whole', value / 2, 'Was half of the size used for all of it?', places ? 0.5 : 1);
  change('whole-for-half', value * 2, 'Was all of the size used where half is asked?', places ? 0.5 : 1);
  const swapped = swapDigits(written(value));
  if (swapped !== null) change('digits-swapped', Number(swapped), 'Were two digits swapped?');
  change('decimal-point', value / 10, 'Did the decimal point slip?', value > 1 ? 1 : 0.4);
  change('decimal-point', value * 10, 'Did the decimal point slip?', value < 5 ? 1 : 0.3);
  for (const [i, other] of subject.neighborsOf(value).entries())
    change('neighboring-dimension', other, 'That is another number on the sheet.', 1 / (i + 1));
  if (subject.recipe.unit === 'mm')
    change('unit-of-one-value', value * 25.4, 'Was this one value taken for inches?', value < 10 ? 0.6 : 0.2);
  else change('unit-of-one-value', value / 25.4, 'Was this one value taken for millimeters?', 0.5);
  if (!places) return;
  const others = [...halvesMm.map((half) => half / unit), ...[...subject.onSheet].sort((a, b) => a - b)];
  for (const [i, other] of [...new Set(others)].slice(0, MOST_EDGES).entries()) {
    const words = 'Was the place measured from another edge than the sheet shows?';
    change('wrong-edge', value - other, words, 1 / (1 + i));
    change('wrong-edge', value + other, words, 1 / (1 + i));
  }
}
