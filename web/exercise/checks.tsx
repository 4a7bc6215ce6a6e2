import type { ExerciseDetail } from '#api';
import { propertyUnits, formatFixed, LENGTH_UNITS, unitFactor } from '#core/quantity';

type Target = ExerciseDetail['targets'][number];

function valueText(target: Target, { document: { recipe, decimals } }: ExerciseDetail): string {
  const { unit } = recipe;
  const lengthText = (mm: number) => formatFixed(mm / LENGTH_UNITS[unit], decimals);
  switch (target.kind) {
    case 'single-body':
      return '1 body';
    case 'hole-count':
    case 'feature-count':
      return String(target.nominal);
    case 'angle':
    case 'countersink-angle':
      return `${formatFixed(target.nominal, 2)}°`;
    case 'material':
      return `${formatFixed(target.nominal, 2)} g/cm³`;
    case 'principal-moments':
      return 'as the part';
    case 'presence':
    case 'symmetric':
    case 'unit':
    case 'frame':
      return 'yes';
    case 'no-needless-edges':
      return 'none';
    case 'center-of-mass':
      return target.nominalPoint.map(lengthText).join(' / ');
    case 'volume':
    case 'area':
    case 'mass': {
      const own = propertyUnits(unit)[target.kind];
      const value = target.nominal / unitFactor(own, target.kind);
      return `${formatFixed(value, value > 1000 ? 1 : value > 10 ? 2 : 4)} ${own}`;
    }
    default:
      return `${lengthText(target.nominal)} ${unit}`;
  }
}

function toleranceText(target: Target, { document: { recipe, decimals } }: ExerciseDetail): string {
  if (!('tolerance' in target) || target.tolerance === 0) return '';
  if (target.kind === 'principal-moments') return `± ${formatFixed(target.tolerance, 2)} %`;
  if (target.kind === 'angle' || target.kind === 'countersink-angle') return `± ${formatFixed(target.tolerance, 2)}°`;
  if (target.kind === 'volume' || target.kind === 'area' || target.kind === 'mass' || target.kind === 'material')
    return `± ${formatFixed((100 * target.tolerance) / target.nominal, 2)} %`;
  const lengthText = (mm: number) => String(Number(formatFixed(mm / LENGTH_UNITS[recipe.unit], decimals + 2)));
  if ('limits' in target && target.limits)
    return `${target.limits.lower > 0 ? '+' : ''}${lengthText(target.limits.lower)} to ${target.limits.upper > 0 ? '+' : ''}${lengthText(target.limits.upper)}`;
  return `± ${lengthText(target.tolerance)}`;
}

/** The check plan with its values on the reference; choosing a check marks its faces and its dimension. */
export function CheckPlan({
  exercise,
  chosen,
  onChoose,
}: {
  exercise: ExerciseDetail;
  chosen: string | null;
  onChoose: (checkId: string | null) => void;
}) {
  const total = exercise.targets.reduce((sum, target) => sum + target.weight, 0);
  return (
    <table className="w-full border-collapse text-sm" data-testid="check-plan">
      <thead className="text-left text-xs text-soft">
        <tr className="border-b border-rule">
          <th className="px-3 py-1 font-normal">Check</th>
          <th className="px-2 py-1 text-right font-normal">Nominal</th>
          <th className="px-2 py-1 text-right font-normal">Tolerance</th>
          <th className="px-3 py-1 text-right font-normal">Share</th>
        </tr>
      </thead>
      <tbody>
        {exercise.targets.map((target) => (
          <tr
            key={target.checkId}
            className={`border-t border-rule ${chosen === target.checkId ? 'bg-accent-soft' : ''}`}
          >
            <td className="px-3 py-1">
              <button
                type="button"
                aria-pressed={chosen === target.checkId}
                className="cursor-pointer text-left hover:underline"
                onClick={() => {
                  onChoose(chosen === target.checkId ? null : target.checkId);
                }}
              >
                {target.label}
              </button>
            </td>
            <td className="px-2 py-1 text-right whitespace-nowrap">{valueText(target, exercise)}</td>
            <td className="px-2 py-1 text-right whitespace-nowrap text-soft">{toleranceText(target, exercise)}</td>
            <td className="px-3 py-1 text-right">{formatFixed((100 * target.weight) / total, 1)} %</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
