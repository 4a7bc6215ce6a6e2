import { useCallback } from 'react';

import type { Insight } from '#api';
import { ChartCanvas, xAxis, yAxis, type ChartColors } from '#web/chart';

/** Attempts of each week as bars, and the score in their middle as a line. */
export default function WeeksChart({ weeks }: { readonly weeks: Insight['weeks'] }) {
  const make = useCallback(
    (colors: ChartColors) => {
      const title = (text: string) => ({ display: true, text, color: colors.soft });
      return {
        type: 'bar' as const,
        data: {
          labels: weeks.map(({ from }) => from.slice(5)),
          datasets: [
            {
              type: 'line' as const,
              label: 'Score in the middle',
              data: weeks.map(({ medianScore }) => medianScore),
              borderColor: colors.accent,
              backgroundColor: colors.accent,
              yAxisID: 'score',
              // Points at 100 are whole.
              clip: false as const,
              spanGaps: true,
            },
            {
              type: 'bar' as const,
              label: 'Attempts',
              data: weeks.map(({ attempts }) => attempts),
              backgroundColor: colors.soft,
              yAxisID: 'attempts',
              maxBarThickness: 40,
            },
          ],
        },
        options: {
          scales: {
            x: xAxis(colors),
            attempts: { beginAtZero: true, title: title('Attempts'), ...yAxis(colors, { precision: 0 }) },
            score: {
              position: 'right' as const,
              min: 0,
              max: 100,
              title: title('Score'),
              ticks: { color: colors.soft },
              grid: { display: false },
              border: { display: false },
            },
          },
        },
      };
    },
    [weeks],
  );
  return <ChartCanvas<'bar' | 'line'> height="h-52" label={inWords(weeks)} make={make} />;
}

const inWords = (weeks: Insight['weeks']): string =>
  weeks
    .map(({ from, attempts, medianScore }) => {
      const score = medianScore === null ? '' : `, score ${String(medianScore)} in the middle`;
      return `Week of ${from}: ${String(attempts)} attempts${score}`;
    })
    .join('. ');
