import { useMemo } from 'react';

import type { Report } from '#core/grade';
import { formatFixed, LENGTH_UNITS } from '#core/quantity';
import { SheetView, type SheetPin } from '#web/sheet';

const SIGNS = { right: '✓', near: '≈', wrong: '✕', missing: '?' } as const;
const WORDS = { right: 'right', near: 'close', wrong: 'wrong', missing: 'not measured' } as const;

/** The sheet with each dimension of the report marked by color, sign and words, the measured value beside it. */
export function MarkedSheet({
  attemptId,
  report,
  chosen,
  showNumbers,
  pins,
  onChoose,
  onPoint,
}: {
  attemptId: number;
  report: Report;
  chosen: string | null;
  /** Whether the measured values are written beside the signs. */
  showNumbers: boolean;
  pins: readonly SheetPin[];
  onChoose: (checkId: string | null) => void;
  onPoint?: (page: number, at: readonly [number, number]) => void;
}) {
  const dimensions = useMemo(() => report.lines.filter(({ group }) => group === 'dimensions'), [report]);
  const verdicts = useMemo(() => new Map(dimensions.map(({ checkId, verdict }) => [checkId, verdict])), [dimensions]);
  const notes = useMemo(
    () =>
      new Map(
        dimensions.map(({ checkId, verdict, measured, quantity }) => {
          const value =
            !showNumbers || verdict === 'right' || measured === null || quantity !== 'length'
              ? ''
              : ` ${formatFixed(measured / LENGTH_UNITS[report.unit], report.decimals)}`;
          return [checkId, `${SIGNS[verdict]}${value}`];
        }),
      ),
    [dimensions, report, showNumbers],
  );
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 flex-1">
        <SheetView
          url={`attempts/${String(attemptId)}/sheet.svg`}
          marked={chosen ?? ''}
          verdicts={verdicts}
          notes={notes}
          pins={pins}
          onPick={onChoose}
          {...(onPoint === undefined ? {} : { onPoint })}
        />
      </div>
      <p className="flex flex-wrap gap-x-4 border-t border-rule bg-paper px-3 py-1 text-xs text-ink">
        {(Object.keys(SIGNS) as (keyof typeof SIGNS)[]).map((verdict) => (
          <span key={verdict}>
            {SIGNS[verdict]} {WORDS[verdict]}
          </span>
        ))}
      </p>
    </div>
  );
}
