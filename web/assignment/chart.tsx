import { useCallback } from 'react';

import { ChartCanvas, xAxis, yAxis, type ChartColors } from '#web/chart';

const BINS = 10;

/** How many students have which best score, in steps of ten. */
export default function ScoreChart({ scores }: { scores: readonly number[] }) {
  const key = Array.from(
    { length: BINS },
    (_, i) => scores.filter((score) => Math.min(BINS - 1, Math.floor(score / 10)) === i).length,
  ).join();
  const make = useCallback(
    (colors: ChartColors) => ({
      type: 'bar' as const,
      data: {
        labels: Array.from({ length: BINS }, (_, i) => String(i * 10)),
        datasets: [
          {
            data: key.split(',').map(Number),
            backgroundColor: colors.soft,
            barPercentage: 1,
            categoryPercentage: 0.92,
          },
        ],
      },
      options: { scales: { x: xAxis(colors), y: yAxis(colors, { precision: 0 }) } },
    }),
    [key],
  );
  return (
    <ChartCanvas height="h-36" label={`Best scores of ${String(scores.length)} students in steps of ten`} make={make} />
  );
}
