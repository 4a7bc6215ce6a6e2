import type { WorkDetail } from '#api';
import { quantityOf, TYPED_LABELS, typedOfFile, type TypedInput } from '#core/grade';
import { formatFixed, unitFactor } from '#core/quantity';

import type { Inspection } from './inspection.ts';

interface BeforeHandInProps {
  readonly read: Inspection;
  readonly work: WorkDetail;
  /** Numbers as they are typed now. */
  readonly typed: readonly TypedInput[];
}

/** Said of a file before it is handed in anyway, as the unit is asked for. */
const ASKED_ANYWAY = new Set(['unit-guessed']);

/** What a hand-in would be told of its file: found in the page, so that no attempt is spent on it. */
export function BeforeHandIn({ read, work, typed }: BeforeHandInProps) {
  if (read.state === 'none') return null;
  if (read.state === 'reading')
    return (
      <p role="status" className="text-sm text-soft">
        Looking at the file ...
      </p>
    );
  if (read.state === 'refused')
    return read.isTooMuch ? null : (
      <p role="status" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2 text-sm">
        It would be refused: {read.why}
      </p>
    );
  const { warnings, estimate, bodies, closed } = read.answer;
  const remarks = [
    ...warnings.filter(({ code }) => !ASKED_ANYWAY.has(code)).map(({ message }) => message),
    ...typed.flatMap((input) => notOfFile(input, { estimate }, work.densityGPerCm3) ?? []),
  ];
  return remarks.length === 0 ? (
    <p role="status" className="text-sm text-soft">
      The file can be read{bodies === 1 && closed ? ': one closed body, nothing to remark' : ''}.
    </p>
  ) : (
    <ul role="status" className="flex flex-col gap-1 border-l-4 border-near bg-near-soft px-3 py-2 text-sm">
      {remarks.map((remark) => (
        <li key={remark}>{remark}</li>
      ))}
    </ul>
  );
}

/** That a typed number is not what the chosen file has, as one that stayed from another file; null where it is, or none. */
function notOfFile(input: TypedInput, own: Parameters<typeof typedOfFile>[1], densityGPerCm3: number): string | null {
  if (input.text.trim() === '') return null;
  const { value, file, ofFile } = typedOfFile(input, own, densityGPerCm3);
  if (value === null || ofFile === 'yes') return null;
  const has = `${formatFixed(file / unitFactor(input.unit, quantityOf(input.name)), 3)} ${input.unit}`;
  return ofFile === 'other-material'
    ? `${TYPED_LABELS[input.name]}: this file has ${has} in the material of the exercise. The typed number fits another material.`
    : `${TYPED_LABELS[input.name]}: this file has ${has}. Did the typed number come from another one?`;
}
