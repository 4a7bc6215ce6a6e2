import type { Exercise } from '#core/exercise';
import { massOf } from '#core/material';
import { formatFixed, LENGTH_UNITS, propertyUnits, unitFactor } from '#core/quantity';

import type { Preview } from './preview.ts';

/** Volume, mass, center, size, and how long the kernel took. */
export function Figures({
  exercise,
  preview: { part, durationMs, building },
}: {
  exercise: Exercise;
  preview: Preview;
}) {
  const { recipe, decimals, material } = exercise;
  const units = propertyUnits(recipe.unit);
  const length = (mm: number) => formatFixed(mm / LENGTH_UNITS[recipe.unit], decimals);
  const value = (amount: number, kind: 'volume' | 'mass' | 'area') => {
    const number = amount / unitFactor(units[kind], kind);
    return `${formatFixed(number, number > 1000 ? 1 : number > 10 ? 2 : 4)} ${units[kind]}`;
  };
  const figures: readonly (readonly [string, string])[] =
    part === null
      ? []
      : [
          ['Volume', value(part.properties.volumeMm3, 'volume')],
          ['Mass', value(massOf(part.properties.volumeMm3, material.densityGPerCm3), 'mass')],
          ['Center of mass', part.properties.centroidMm.map(length).join(' / ')],
          ['Size', `${part.sizeMm.map(length).join(' x ')} ${recipe.unit}`],
          ['Built in', building ? '...' : durationMs === null ? '' : `${String(Math.round(durationMs))} ms`],
        ];
  return (
    <dl className="grid grid-cols-2 border-t border-ink/70 sm:grid-cols-5" data-testid="figures">
      {figures.map(([label, text]) => (
        <div key={label} className="border-r border-rule px-2 pt-0.5 pb-1 last:border-r-0">
          <dt className="caption">{label}</dt>
          <dd className="text-sm">{text}</dd>
        </div>
      ))}
    </dl>
  );
}
