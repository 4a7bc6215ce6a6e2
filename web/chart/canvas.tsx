import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartConfiguration,
  type ChartType,
} from 'chart.js';
import { useEffect, useRef } from 'react';

import { useTheme } from '#web/theme';

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
);

export interface ChartColors {
  readonly ink: string;
  readonly soft: string;
  readonly rule: string;
  readonly accent: string;
}

function colorsOfPage(): ChartColors {
  const style = getComputedStyle(document.documentElement);
  const color = (name: string): string => style.getPropertyValue(name).trim();
  return { ink: color('--ink'), soft: color('--soft'), rule: color('--rule'), accent: color('--accent') };
}

/** The axis that things stand along. */
export const xAxis = ({ soft, ink }: ChartColors) => ({
  ticks: { color: soft },
  grid: { display: false },
  border: { color: ink },
});

/** The axis that they are measured by. */
export const yAxis = (
  { soft, rule }: ChartColors,
  ticks: { readonly precision?: number; readonly stepSize?: number },
) => ({
  ticks: { color: soft, ...ticks },
  grid: { color: rule },
  border: { display: false },
});

interface ChartCanvasProps<T extends ChartType> {
  /** What the chart shows, for whoever does not see it. */
  readonly label: string;
  readonly height: string;
  /** Data and axes; the chart is drawn anew whenever this function is another one, or the colors change. */
  readonly make: (colors: ChartColors) => Pick<ChartConfiguration<T>, 'type' | 'data' | 'options'>;
}

/** A chart without movement that fills its place. */
export function ChartCanvas<T extends ChartType>({ label, height, make }: ChartCanvasProps<T>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { theme } = useTheme();
  useEffect(() => {
    if (canvas.current === null) return undefined;
    const { options, ...rest } = make(colorsOfPage());
    const plugins = { legend: { display: false }, ...options?.plugins };
    const scales = options?.scales;
    const chart = new Chart(canvas.current, {
      ...rest,
      options: { animation: false, maintainAspectRatio: false, plugins, scales },
    } as ChartConfiguration);
    return () => {
      chart.destroy();
    };
  }, [make, theme]);
  return (
    <div className={`p-2 ${height}`}>
      <canvas ref={canvas} role="img" aria-label={label} />
    </div>
  );
}
