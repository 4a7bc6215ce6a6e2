import { useCallback } from 'react';

import type { StudentRecord } from '#api';
import { ChartCanvas, xAxis, yAxis, type ChartColors } from '#web/chart';

/** First and last score of each exercise over the term, by date. */
export default function ProgressChart({ work }: Pick<StudentRecord, 'work'>) {
  const measured = work.filter(({ scores }) => scores.length > 0);
  const key = JSON.stringify(
    measured.map(({ number, scores }) => [number, scores[0]?.score ?? null, scores.at(-1)?.score ?? null]),
  );
  const make = useCallback(
    (colors: ChartColors) => {
      const points = JSON.parse(key) as [string, number | null, number | null][];
      return {
        type: 'line' as const,
        data: {
          labels: points.map(([number]) => number),
          datasets: [
            {
              label: 'first attempt',
              clip: false as const,
              data: points.map(([, first]) => first),
              borderColor: colors.soft,
              borderDash: [4, 3],
              pointStyle: 'rect' as const,
              backgroundColor: colors.soft,
            },
            {
              label: 'last attempt',
              clip: false as const,
              data: points.map(([, , last]) => last),
              borderColor: colors.accent,
              backgroundColor: colors.accent,
            },
          ],
        },
        options: {
          plugins: { legend: { display: true, labels: { color: colors.ink, boxWidth: 24, boxHeight: 2 } } },
          scales: { x: xAxis(colors), y: { min: 0, max: 100, ...yAxis(colors, { stepSize: 50 }) } },
        },
      };
    },
    [key],
  );
  return (
    <ChartCanvas
      height="h-44"
      label={`First and last score of ${String(measured.length)} exercises, which the table of the work gives in numbers`}
      make={make}
    />
  );
}
