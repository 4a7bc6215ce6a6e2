import {
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js';
import { useEffect, useRef } from 'react';

import type { StudentRecord } from '#api';
import { useTheme } from '#web/theme';

Chart.register(CategoryScale, Legend, LinearScale, LineController, LineElement, PointElement, Tooltip);

/** First and last score of each exercise over the term, by date. */
export default function ProgressChart({ work }: Pick<StudentRecord, 'work'>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { theme } = useTheme();
  const measured = work.filter(({ scores }) => scores.length > 0);
  const key = JSON.stringify(
    measured.map(({ number, scores }) => [number, scores[0]?.score ?? null, scores.at(-1)?.score ?? null]),
  );
  useEffect(() => {
    if (canvas.current === null) return undefined;
    const style = getComputedStyle(document.documentElement);
    const color = (name: string) => style.getPropertyValue(name).trim();
    const points = JSON.parse(key) as [string, number | null, number | null][];
    const chart = new Chart(canvas.current, {
      type: 'line',
      data: {
        labels: points.map(([number]) => number),
        datasets: [
          {
            label: 'first attempt',
            data: points.map(([, first]) => first),
            borderColor: color('--soft'),
            borderDash: [4, 3],
            pointStyle: 'rect',
            clip: false,
            backgroundColor: color('--soft'),
          },
          {
            label: 'last attempt',
            clip: false,
            data: points.map(([, , last]) => last),
            borderColor: color('--accent'),
            backgroundColor: color('--accent'),
          },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        plugins: { legend: { labels: { color: color('--ink'), boxWidth: 24, boxHeight: 2 } } },
        scales: {
          x: { ticks: { color: color('--soft') }, grid: { display: false }, border: { color: color('--ink') } },
          y: {
            min: 0,
            max: 100,
            ticks: { stepSize: 50, color: color('--soft') },
            grid: { color: color('--rule') },
            border: { display: false },
          },
        },
      },
    });
    return () => {
      chart.destroy();
    };
  }, [key, theme]);
  return (
    <div className="h-44 p-2">
      <canvas
        ref={canvas}
        role="img"
        aria-label={`First and last score of ${String(measured.length)} exercises, which the table of the work gives in numbers`}
      />
    </div>
  );
}
