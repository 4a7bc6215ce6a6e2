import { readFile } from 'node:fs/promises';
import path from 'node:path';

import { strToU8, zipSync } from 'fflate';

import { resultsPackage, type Gradebook, type ResultsInput } from '#core/gradebook';
import { succeed, type Result } from '#core/problem';
import type { SheetFields } from '#core/sheet';
import {
  renderRecord,
  renderReport,
  renderSlips,
  renderTable,
  renderWorkbook,
  type PrintedRecord,
  type PrintedReport,
  type PrintedSlips,
  type PrintedTable,
} from '#print';
import { sheetsAsPdf } from '#server/sheet';

/** Something to print. Stored drawings are named and read by the worker. */
export type PrintTask =
  | {
      readonly what: 'sheets';
      /** Folder of the stored files. */
      readonly root: string;
      readonly sheets: readonly { readonly sha256: string; readonly fields: SheetFields }[];
    }
  | { readonly what: 'report'; readonly report: PrintedReport }
  | { readonly what: 'record'; readonly record: PrintedRecord }
  | { readonly what: 'table'; readonly table: PrintedTable }
  | { readonly what: 'slips'; readonly slips: PrintedSlips }
  | { readonly what: 'workbook'; readonly book: Gradebook }
  | { readonly what: 'results'; readonly results: ResultsInput };

const textsOf = (results: ResultsInput): [name: string, text: Uint8Array][] =>
  Object.entries(resultsPackage(results)).map(([name, text]) => [name, strToU8(text)]);

/** The PDF of a task, its workbook or its package. Refuses with `old-sheet`. */
export async function printed(task: PrintTask): Promise<Result<Uint8Array>> {
  switch (task.what) {
    case 'sheets': {
      const { root, sheets } = task;
      return sheetsAsPdf({ read: (sha256) => readFile(path.join(root, sha256.slice(0, 2), sha256)) }, sheets);
    }
    case 'report':
      return succeed(await renderReport(task.report));
    case 'record':
      return succeed(await renderRecord(task.record));
    case 'table':
      return succeed(await renderTable(task.table));
    case 'slips':
      return succeed(await renderSlips(task.slips));
    case 'workbook':
      return succeed(await renderWorkbook(task.book));
    case 'results':
      return succeed(zipSync(Object.fromEntries(textsOf(task.results))));
  }
}
