import type { Report } from '#core/grade';
import { formatFixed, LENGTH_UNITS } from '#core/quantity';

const NAMES: Readonly<Record<string, string>> = {
  hole: 'hole, diameter',
  'slotted-hole': 'slotted hole, width',
  boss: 'boss, diameter',
  pocket: 'pocket, depth',
  slot: 'slot, width',
  groove: 'groove, diameter',
  rib: 'rib, thickness',
  fillet: 'fillet, radius',
  'full-round': 'full round, radius',
  chamfer: 'chamfer',
};

/** Features that only one of the two parts has; choosing an extra one marks its faces. */
export function OddFeatures({ report, onMark }: { report: Report; onMark: (faceIds: readonly number[]) => void }) {
  const text = ({ kind, sizeMm }: Report['missing'][number]): string =>
    `${NAMES[kind] ?? kind} ${formatFixed(sizeMm / LENGTH_UNITS[report.unit], report.decimals)} ${report.unit}`;
  return (
    <ul className="px-3 py-2" data-testid="odd-features">
      {report.missing.map((feature, i) => (
        <li key={`missing ${String(i)}`}>
          <span className="font-medium">Not on the model:</span> {text(feature)}
        </li>
      ))}
      {report.extra.map((feature, i) => (
        <li key={`extra ${String(i)}`}>
          <span className="font-medium">Only on the model:</span>{' '}
          <button
            type="button"
            className="cursor-pointer underline"
            onClick={() => {
              onMark(feature.faceIds);
            }}
          >
            {text(feature)}
          </button>
        </li>
      ))}
    </ul>
  );
}
