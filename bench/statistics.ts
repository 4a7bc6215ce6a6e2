/** Value below which a share of the samples lies. */
export function quantile(samples: readonly number[], share: number): number {
  const sorted = [...samples].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? Number.NaN;
}

export const median = (samples: readonly number[]): number => quantile(samples, 0.5);

/** Runs `work` until it is warm, then `count` times, and gives the times in ms. */
export function timed(work: () => void, count: number, warm = 4): number[] {
  for (let i = 0; i < warm; i++) work();
  return Array.from({ length: count }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
}

/** Prints rows of equal length with the first column on the left and numbers on the right. */
export function printTable(title: string, header: readonly string[], rows: readonly (readonly string[])[]): void {
  const widths = header.map((cell, i) => Math.max(cell.length, ...rows.map((row) => row[i]?.length ?? 0)));
  const line = (row: readonly string[]) =>
    row.map((cell, i) => (i === 0 ? cell.padEnd(widths[i] ?? 0) : cell.padStart(widths[i] ?? 0))).join('  ');
  process.stdout.write(`\n${title}\n\n${[header, widths.map((w) => '-'.repeat(w)), ...rows].map(line).join('\n')}\n`);
}

export const ms = (value: number): string => (value >= 100 ? value.toFixed(0) : value.toFixed(1));
