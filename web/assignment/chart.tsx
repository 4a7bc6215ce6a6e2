import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
import { useEffect, useRef } from 'react';

import { useTheme } from '#web/theme';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

const BINS = 10;

/** How many students have which best score, in steps of ten. */
export default function ScoreChart({ scores }: { scores: readonly number[] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { theme } = useTheme();
  const counts = Array.from({ length: BINS }, (_, i) => {
    return scores.filter((score) => Math.min(BINS - 1, Math.floor(score / 10)) === i).length;
  });
  const key = counts.join();
  useEffect(() => {
    if (canvas.current === null) return undefined;
    const style = getComputedStyle(document.documentElement);
    const color = (name: string) => style.getPropertyValue(name).trim();
    const chart = new Chart(canvas.current, {
      type: 'bar',
      data: {
        labels: Array.from({ length: BINS }, (_, i) => String(i * 10)),
        datasets: [
          {
            data: key.split(',').map(Number),
            backgroundColor: color('--soft'),
            barPercentage: 1,
            categoryPercentage: 0.92,
          },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        plugins: { legend: { display: false } },
        scales: {
          x: { ticks: { color: color('--soft') }, grid: { display: false }, border: { color: color('--ink') } },
          y: {
            ticks: { precision: 0, color: color('--soft') },
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
    <div className="h-36 p-2">
      <canvas ref={canvas} role="img" aria-label={`Best scores of ${String(scores.length)} students in steps of ten`} />
    </div>
  );
}
