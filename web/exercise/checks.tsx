import type { ExerciseDetail } from '#api';
import { checkValueText, kindOf, quantityOfKind, type Quantity } from '#core/check';
import { formatFixed, LENGTH_UNITS } from '#core/quantity';

type Target = ExerciseDetail['targets'][number];
function nominalText(target: Target, { document }: ExerciseDetail): string {
  const words = kindOf(target.kind).nominalWords;
  if (words !== undefined) return words;
  const { recipe, decimals } = document;
  if ('nominalPoint' in target)
    return target.nominalPoint.map((mm) => formatFixed(mm / LENGTH_UNITS[recipe.unit], decimals)).join(' / ');
  return 'nominal' in target ? checkValueText(target.kind, target.nominal, document) : '';
}

/** Quantities whose tolerance is a share of the nominal. */
const RELATIVE = new Set<Quantity>(['volume', 'area', 'mass', 'density']);

function toleranceText(target: Target, { document: { recipe, decimals } }: ExerciseDetail): string {
  if (!('tolerance' in target) || target.tolerance === 0) return '';
  const quantity = quantityOfKind(target.kind);
  if (quantity === 'percent') return `± ${formatFixed(target.tolerance, 2)} %`;
  if (quantity === 'angle') return `± ${formatFixed(target.tolerance, 2)}°`;
  if (RELATIVE.has(quantity) && 'nominal' in target)
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
            <td className="px-2 py-1 text-right whitespace-nowrap">{nominalText(target, exercise)}</td>
            <td className="px-2 py-1 text-right whitespace-nowrap text-soft">{toleranceText(target, exercise)}</td>
            <td className="px-3 py-1 text-right">{formatFixed((100 * target.weight) / total, 1)} %</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
