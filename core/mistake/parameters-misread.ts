import type { MistakeKind } from '#core/cause';
import type { Edit } from './edit.ts';
import { swapDigits, written, type Subject } from './subject.ts';

/** A letter with another value, and two letters mixed up. */
export function misreadParameters(subject: Subject): void {
  const letters = subject.recipe.parameters.filter(({ value }) => Number.isFinite(Number(value)));
  for (const { name, label } of letters) {
    const value = subject.scope[name] ?? 0;
    const role = subject.roleOfLetter(name);
    const said = label === undefined ? `Letter ${name}` : `${label} (${name})`;
    const change = (kind: MistakeKind, next: number, why: string, factor = 1): void => {
      if (!(next > 0) || Math.abs(next - value) < 1e-9) return;
      const what = `${subject.words(next, role)} for ${subject.words(value, role)}`;
      subject.put({
        kind,
        key: `${name}=${written(next)}`,
        edits: [{ kind: 'parameter', name, value: written(next) }],
        summary: `${said}, ${what}`,
        message: `${said} is ${subject.words(next, role)} where the sheet gives ${subject.words(value, role)}. ${why}`,
        about: said,
        factor,
        expression: name,
      });
    };
    change('half-for-whole', value / 2, 'Was half of the size used for all of it?', 0.6);
    change('whole-for-half', value * 2, 'Was all of the size used where half is asked?', 0.6);
    change('decimal-point', value / 10, 'Did the decimal point slip?', 0.5);
    const swapped = swapDigits(written(value));
    if (swapped !== null) change('digits-swapped', Number(swapped), 'Were two digits swapped?');
    for (const [i, other] of (role === 'width' ? subject.neighborsOf(value) : []).entries())
      change('neighboring-dimension', other, 'That is another number on the sheet.', 1 / (i + 1));
  }
  letters.forEach((a, i) => {
    const role = subject.roleOfLetter(a.name);
    const unit = { width: ` ${subject.recipe.unit}`, angle: '°', count: '' }[role];
    for (const b of letters.slice(i + 1))
      // A length is not read for an angle.
      if (a.value !== b.value && subject.roleOfLetter(b.name) === role)
        subject.put({
          kind: 'letters-swapped',
          key: `${a.name}-${b.name}`,
          edits: [
            { kind: 'parameter', name: a.name, value: b.value },
            { kind: 'parameter', name: b.name, value: a.value },
          ],
          summary: `${a.name} and ${b.name}`,
          message: `The values of ${a.name} and ${b.name} were mixed up: ${a.name} is ${a.value}${unit} on the sheet, ${b.name} is ${b.value}${unit}.`,
        });
  });
}
/** The values of other variants of the exercise, and those of the part as drawn. */
export function otherVariants(subject: Subject): void {
  const drawn = Object.fromEntries(subject.document.recipe.parameters.map(({ name, value }) => [name, value]));
  const all = [{ name: 'as drawn', values: {} }, ...subject.document.variants];
  for (const { name, values } of all) {
    const theirs = { ...drawn, ...values };
    const edits = subject.recipe.parameters.flatMap((letter): Edit[] => {
      const value = theirs[letter.name];
      return value === undefined || value === letter.value || subject.values[letter.name] === value
        ? []
        : [{ kind: 'parameter', name: letter.name, value }];
    });
    const [first, ...more] = edits;
    if (first === undefined) continue;
    subject.put({
      kind: 'wrong-variant',
      key: name,
      edits: [first, ...more],
      summary: name,
      message: `The part has the values of another variant (${name}). Use the letter values of your own sheet.`,
    });
  }
}
