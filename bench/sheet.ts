/** What the sheet costs: the drawing, its files, the chains, a print pack; and how well its dimensions are placed. */
import { lintExercise, prepareExercise } from '#core/attempt';
import { analyzeSheet } from '#core/chain';
import { exerciseOfStage } from '#core/exercise';
import { withPart } from '#core/model';
import { unwrap } from '#core/problem';
import { drawSheet, renderDxf, renderSvg, type Sheet } from '#core/sheet';
import { demoExercises } from '#demo/exercises';
import { renderPdf } from '#print';
import { loadKernel, useBaselineCompiler } from '#runtime';

import { median, ms, printTable, timed } from './statistics.ts';

const RUNS = 5;
const PACK = 30;

/** Prints medians for every demo part, with the time of the drawing as a ratio to that of the first. */
export async function benchSheet(): Promise<void> {
  useBaselineCompiler();
  const kernel = await loadKernel();
  let baseline: number | null = null;
  const rows: string[][] = [];
  const sheets: Sheet[] = [];
  for (const document of demoExercises) {
    const exercise = exerciseOfStage(document, 1);
    const { reference, sheet } = unwrap(prepareExercise(kernel, exercise));
    const drawing = withPart(kernel, exercise, {}, (part) =>
      median(timed(() => drawSheet({ ...part, exercise, reference }), RUNS, 1)),
    );
    const chains = median(timed(() => analyzeSheet(exercise, reference), RUNS, 1));
    const pdfTimes: number[] = [];
    let pdf = new Uint8Array();
    for (let i = 0; i < RUNS; i++) {
      const start = performance.now();
      pdf = new Uint8Array(await renderPdf([{ sheet, fields: {} }]));
      pdfTimes.push(performance.now() - start);
    }
    baseline ??= drawing;
    sheets.push(sheet);
    const kilobytes = (size: number): string => `${(size / 1000).toFixed(0)} kB`;
    rows.push([
      document.title,
      `${ms(drawing)} (${(drawing / baseline).toFixed(1)})`,
      kilobytes(renderSvg(sheet).length),
      `${ms(median(pdfTimes))}, ${kilobytes(pdf.length)}`,
      kilobytes(renderDxf(sheet).length),
      ms(chains),
      String(unwrap(lintExercise(kernel, exercise)).length),
    ]);
  }
  printTable(
    `Sheets with four views, warm: medians of ${String(RUNS)} in ms (ratio to the first part)`,
    ['part', 'drawing', 'SVG', 'PDF', 'DXF', 'chains', 'faults'],
    rows,
  );
  const start = performance.now();
  const pack = await renderPdf(
    Array.from({ length: PACK }, (_, i) => ({
      sheet: sheets[i % sheets.length] ?? unwrap({ ok: false, problem: { code: 'not-prepared', message: 'no sheet' } }),
      fields: { student: `Student ${String(i + 1)}` },
    })),
  );
  printTable(
    'Print pack',
    ['sheets', 'ms', 'size'],
    [[String(PACK), ms(performance.now() - start), `${(pack.length / 1000).toFixed(0)} kB`]],
  );
}
