import type { ReactNode } from 'react';

import { quantityOf, TYPED_LABELS, typedLineId, type Report, type TypedLine } from '#core/grade';
import { formatFixed, propertyUnits, unitFactor } from '#core/quantity';
import { VerdictMark } from '#web/ui';

const OF_FILE: Readonly<Record<TypedLine['ofFile'], string>> = {
  yes: 'belongs to the file',
  'other-material': 'right for another material',
  no: 'not of this file',
};

/** The numbers that the student typed, judged against the reference and against the student's own file. */
export function TypedLines({
  report,
  actions,
}: {
  report: Report;
  actions?: ((lineId: string) => ReactNode) | undefined;
}) {
  return (
    <table className="w-full border-collapse text-sm" data-testid="typed-lines">
      <thead className="text-left text-xs text-soft">
        <tr className="border-b border-rule">
          <th className="px-3 py-1 font-normal">Typed number</th>
          <th className="px-2 py-1 text-right font-normal">Typed</th>
          <th className="px-2 py-1 text-right font-normal">In the file</th>
          <th className="px-2 py-1 text-right font-normal">Reference</th>
          <th className="px-2 py-1 font-normal">Against the reference</th>
          <th className="px-3 py-1 font-normal">Against the file</th>
        </tr>
      </thead>
      <tbody>
        {report.typed.map((line) => {
          const kind = quantityOf(line.name);
          const unit = line.value === null ? propertyUnits(report.unit)[kind] : line.unit;
          const show = (value: number) => formatFixed(value / unitFactor(unit, kind), kind === 'length' ? 3 : 2);
          return (
            <tr key={line.name} className="border-t border-rule align-baseline" data-typed={line.name}>
              <td className="px-3 py-1">{TYPED_LABELS[line.name]}</td>
              <td className="px-2 py-1 text-right font-medium whitespace-nowrap">
                {line.text === '' ? 'not typed' : line.text}{' '}
                <span className="font-normal text-soft">{line.text && unit}</span>
              </td>
              <td className="px-2 py-1 text-right">{show(line.file)}</td>
              <td className="px-2 py-1 text-right">
                {line.reference === null ? (
                  <span className="text-xs text-soft">after release</span>
                ) : (
                  show(line.reference)
                )}
              </td>
              <td className="px-2 py-1">
                <VerdictMark verdict={line.value === null ? 'missing' : line.matchesReference ? 'right' : 'wrong'} />
                {line.override && (
                  <span className="block text-xs font-medium" title={line.override.reason}>
                    counts {String(Math.round(100 * line.override.credit))} %
                  </span>
                )}
                {line.weight > 0 && !line.matchesReference && actions?.(typedLineId(line.name))}
              </td>
              <td className="px-3 py-1">{line.value === null ? '' : OF_FILE[line.ofFile]}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
