import { Fragment, type ReactNode } from 'react';

import { CHECK_GROUPS } from '#core/check';
import { GROUP_TITLES, quantityText, quantityUnit, type Report, type ReportLine } from '#core/grade';
import { formatFixed, LENGTH_UNITS } from '#core/quantity';
import { Gauge, VerdictMark } from '#web/ui';

interface LinesProps {
  readonly report: Report;
  readonly chosen: string | null;
  readonly onChoose: (checkId: string | null) => void;
  /** Whether nominal and measured values are told. */
  readonly showNumbers: boolean;
  /** What can be done with the chosen line. */
  readonly actions?: ((lineId: string) => ReactNode) | undefined;
}

/** One line a check, in groups; choosing a line marks its faces. Keys and screen readers use the button of each line. */
export function ReportLines({ report, chosen, onChoose, showNumbers, actions }: LinesProps) {
  return (
    <table className="w-full border-collapse text-sm" data-testid="report-lines">
      <thead className="text-left text-xs text-soft">
        <tr className="border-b border-rule">
          <th className="w-full min-w-44 px-3 py-1 font-normal">Check</th>
          {showNumbers && (
            <>
              <th className="px-2 py-1 text-right font-normal">Nominal</th>
              <th className="px-2 py-1 text-right font-normal">Measured</th>
              <th className="px-2 py-1 text-right font-normal">Deviation</th>
              <th className="px-2 py-1 text-right font-normal">Tolerance</th>
              <th className="px-2 py-1 font-normal">
                <span className="sr-only">Place in the tolerance band</span>
              </th>
            </>
          )}
          <th className="px-3 py-1 font-normal">Verdict</th>
        </tr>
      </thead>
      <tbody>
        {CHECK_GROUPS.map((group) => {
          const lines = report.lines.filter((line) => line.group === group);
          return lines.length === 0 ? null : (
            <Fragment key={group}>
              <tr>
                <th colSpan={7} scope="rowgroup" className="px-3 pt-3 pb-1 text-left text-sm font-semibold">
                  {GROUP_TITLES[group]}
                </th>
              </tr>
              {lines.map((line) => (
                <Line
                  key={line.checkId}
                  line={line}
                  report={report}
                  chosen={chosen === line.checkId}
                  onChoose={onChoose}
                  showNumbers={showNumbers}
                  actions={actions}
                />
              ))}
            </Fragment>
          );
        })}
      </tbody>
    </table>
  );
}

function Line({
  line,
  report,
  chosen,
  onChoose,
  showNumbers,
  actions,
}: Omit<LinesProps, 'chosen'> & { line: ReportLine; chosen: boolean }) {
  const unit = quantityUnit(line.quantity, report.unit);
  const show = (value: number | null) =>
    value === null
      ? null
      : quantityText(value, line.quantity, {
          unit: report.unit,
          decimals: report.decimals,
          like: line.measured ?? value,
        });
  const measured =
    line.quantity === 'point' ? pointText(line.measuredPoint, report) : (show(line.measured) ?? 'not found');
  const follows = line.followOn
    ? ` This value merely follows from it${line.credit === 1 ? ', so that it earns its points' : ''}.`
    : '';
  const words = `${line.advice ?? line.reason ?? ''}${follows}`;
  const nominal = line.quantity === 'point' ? pointText(line.nominalPoint, report) : show(line.nominal);
  return (
    <>
      <tr
        className={`border-t border-rule align-middle ${chosen ? 'bg-accent-soft' : ''}`}
        data-check={line.checkId}
        data-verdict={line.verdict}
      >
        <td className="px-3 py-1">
          <button
            type="button"
            aria-pressed={chosen}
            className="cursor-pointer text-left hover:underline"
            onClick={() => {
              onChoose(chosen ? null : line.checkId);
            }}
          >
            {line.label}
          </button>
        </td>
        {showNumbers && (
          <>
            <td className="px-2 py-1 text-right">{nominal ?? <Withheld />}</td>
            <td className={`px-2 py-1 text-right font-medium ${line.quantity === 'point' ? '' : 'whitespace-nowrap'}`}>
              {measured} <span className="font-normal text-soft">{unit}</span>
            </td>
            <td className="px-2 py-1 text-right">{deviationText(line, report)}</td>
            <td className="px-2 py-1 text-right whitespace-nowrap text-soft">{toleranceText(line, show)}</td>
            <td className="px-2 py-1">
              {line.deviation !== null && line.tolerance !== null && line.tolerance > 0 && (
                <Gauge deviation={line.deviation} tolerance={line.tolerance} verdict={line.verdict} />
              )}
            </td>
          </>
        )}
        <td className="px-3 py-1">
          <VerdictMark verdict={line.verdict} />
          {line.followOn && (
            <span className="block pt-0.5 caption">{line.credit === 1 ? 'follows, counted' : 'follows'}</span>
          )}
          {line.override && (
            <span className="block pt-0.5 text-xs font-medium whitespace-nowrap">
              counts {String(Math.round(100 * line.override.credit))} %
            </span>
          )}
        </td>
      </tr>
      {chosen && (words !== '' || line.override !== null || actions !== undefined) && (
        <tr className="bg-accent-soft">
          <td colSpan={7} className="px-3 pb-2">
            {words !== '' && <p>{words}</p>}
            {line.override && (
              <p>
                {line.override.by} counts it as {String(Math.round(100 * line.override.credit))} %:{' '}
                {line.override.reason}
              </p>
            )}
            {actions?.(line.checkId)}
          </td>
        </tr>
      )}
    </>
  );
}

function toleranceText(line: ReportLine, show: (value: number | null) => string | null): string {
  if (line.tolerance === null || line.tolerance === 0) return '';
  const band = line.limits
    ? `${signed(line.limits.lower, show)} to ${signed(line.limits.upper, show)}`
    : `± ${show(line.tolerance) ?? ''}`;
  // What facets leave in doubt widens the tolerance, where it shows at all.
  const doubt = line.uncertainty > 0.05 * line.tolerance ? ` (± ${show(line.uncertainty) ?? ''} unsure)` : '';
  return `${band}${doubt}`;
}

const signed = (value: number, show: (value: number) => string | null): string =>
  `${value > 0 ? '+' : ''}${show(value) ?? ''}`;

const Withheld = () => <span className="text-xs text-soft">after release</span>;

function pointText(point: readonly number[] | null, report: Report): string | null {
  return point === null
    ? null
    : point.map((x) => formatFixed(x / LENGTH_UNITS[report.unit], report.decimals + 1)).join(' / ');
}

function deviationText(line: ReportLine, report: Report): string {
  if (line.deviation === null || line.measured === null) return '';
  const text = quantityText(line.deviation, line.quantity, {
    unit: report.unit,
    decimals: report.decimals,
    like: line.measured,
  });
  if (Number(text) === 0) return '0';
  return line.deviation > 0 && line.quantity !== 'point' ? `+${text}` : text;
}
