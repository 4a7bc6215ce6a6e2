import { Download } from 'lucide-react';

import { quantityText, quantityUnit, type Report } from '#core/grade';
import { formatFixed, LENGTH_UNITS } from '#core/quantity';

/** How much material is missing and extra, where, and as a file; shown in the model on demand. */
export function Difference({
  attemptId,
  report,
  shown,
  onShow,
}: {
  attemptId: number;
  report: Report;
  shown: boolean;
  onShow: (shown: boolean) => void;
}) {
  const { overlay } = report;
  if (overlay === null) return null;
  if (overlay.pieces.length === 0)
    return <p className="px-3 py-2">No material is missing and none is extra, compared with the reference in 3D.</p>;
  const volume = (value: number): string =>
    `${quantityText(value, 'volume', { unit: report.unit, decimals: report.decimals })} ${quantityUnit('volume', report.unit)}`;
  const place = (point: readonly number[]): string =>
    point.map((x) => formatFixed(x / LENGTH_UNITS[report.unit], report.decimals)).join(' / ');
  return (
    <div className="flex flex-col gap-2 px-3 py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <label className="flex cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            checked={shown}
            data-testid="show-difference"
            onChange={(event) => {
              onShow(event.target.checked);
            }}
          />
          Show it in the model
        </label>
        <a
          className="inline-flex items-center gap-1 text-sm underline"
          href={`/api/attempts/${String(attemptId)}/overlay.3mf`}
          download
        >
          <Download size={14} aria-hidden /> as 3MF
        </a>
      </div>
      <table className="w-full border-collapse text-sm" data-testid="difference">
        <thead className="text-left text-xs text-soft">
          <tr>
            <th className="py-0.5 font-normal">Material</th>
            <th className="px-2 py-0.5 text-right font-normal">Volume</th>
            <th className="py-0.5 text-right font-normal">Middle, X / Y / Z</th>
          </tr>
        </thead>
        <tbody>
          {overlay.pieces.map((piece, i) => (
            <tr key={i} className="border-t border-rule">
              <td className="py-0.5">{piece.kind === 'missing' ? 'missing (plain)' : 'extra (striped)'}</td>
              <td className="px-2 py-0.5 text-right whitespace-nowrap">{volume(piece.volumeMm3)}</td>
              <td className="py-0.5 text-right whitespace-nowrap">{place(piece.centerMm)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
