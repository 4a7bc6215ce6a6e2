import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js';
import { useEffect, useRef } from 'react';

import type { Insight } from '#api';
import { useTheme } from '#web/theme';

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
);

/** Attempts of each week as bars, and the score in their middle as a line. */
export default function WeeksChart({ weeks }: { readonly weeks: Insight['weeks'] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { theme } = useTheme();
  useEffect(() => {
    if (canvas.current === null) return undefined;
    const style = getComputedStyle(document.documentElement);
    const color = (name: string) => style.getPropertyValue(name).trim();
    const ticks = { color: color('--soft') };
    const chart = new Chart(canvas.current, {
      data: {
        labels: weeks.map(({ from }) => from.slice(5)),
        datasets: [
          {
            type: 'line',
            label: 'Score in the middle',
            data: weeks.map(({ medianScore }) => medianScore),
            borderColor: color('--accent'),
            backgroundColor: color('--accent'),
            yAxisID: 'score',
            spanGaps: true,
          },
          {
            type: 'bar',
            label: 'Attempts',
            data: weeks.map(({ attempts }) => attempts),
            backgroundColor: color('--soft'),
            yAxisID: 'attempts',
            maxBarThickness: 40,
          },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        plugins: { legend: { display: false } },
        scales: {
          x: { ticks, grid: { display: false }, border: { color: color('--ink') } },
          attempts: {
            beginAtZero: true,
            title: { display: true, text: 'Attempts', color: color('--soft') },
            ticks: { ...ticks, precision: 0 },
            grid: { color: color('--rule') },
            border: { display: false },
          },
          score: {
            position: 'right',
            min: 0,
            max: 100,
            title: { display: true, text: 'Score', color: color('--soft') },
            ticks,
            grid: { display: false },
            border: { display: false },
          },
        },
      },
    });
    return () => {
      chart.destroy();
    };
  }, [weeks, theme]);
  return (
    <div className="h-52 p-2">
      <canvas ref={canvas} role="img" aria-label={inWords(weeks)} />
    </div>
  );
}

const inWords = (weeks: Insight['weeks']): string =>
  weeks
    .map(({ from, attempts, medianScore }) => {
      const score = medianScore === null ? '' : `, score ${String(medianScore)} in the middle`;
      return `Week of ${from}: ${String(attempts)} attempts${score}`;
    })
    .join('. ');
