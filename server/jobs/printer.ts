import type { Gradebook, ResultsInput } from '#core/gradebook';
import { refuse, succeed, type Result } from '#core/problem';
import type { PrintedRecord, PrintedReport, PrintedSlips, PrintedTable } from '#print';
import type { FileStore } from '#server/files';
import type { PrintTask } from '#server/print';

import type { Runner } from './task.ts';

/** Prints in a worker. All refuse with `not-printed` where that ends or takes too long. */
export interface Printer {
  /** Stored drawings as one PDF. Refuses with `old-sheet` too. */
  sheets(sheets: Extract<PrintTask, { what: 'sheets' }>['sheets']): Promise<Result<Uint8Array>>;
  report(report: PrintedReport): Promise<Result<Uint8Array>>;
  record(record: PrintedRecord): Promise<Result<Uint8Array>>;
  table(table: PrintedTable): Promise<Result<Uint8Array>>;
  slips(slips: PrintedSlips): Promise<Result<Uint8Array>>;
  workbook(book: Gradebook): Promise<Result<Uint8Array>>;
  /** Grades for the records of a school, as a zip. */
  results(results: ResultsInput): Promise<Result<Uint8Array>>;
}

export function createPrinter(runner: Pick<Runner, 'print'>, files: Pick<FileStore, 'root'>): Printer {
  async function print(task: PrintTask): Promise<Result<Uint8Array>> {
    const outcome = await runner.print(task);
    if (outcome.kind === 'done') return succeed(outcome.value);
    if (outcome.kind === 'refused') return { ok: false, problem: outcome.problem };
    return refuse('not-printed', 'This could not be printed: it took too long, or the server is closing. Try again.');
  }
  return {
    sheets: (sheets) => print({ what: 'sheets', root: files.root, sheets }),
    report: (report) => print({ what: 'report', report }),
    record: (record) => print({ what: 'record', record }),
    table: (table) => print({ what: 'table', table }),
    slips: (slips) => print({ what: 'slips', slips }),
    workbook: (book) => print({ what: 'workbook', book }),
    results: (results) => print({ what: 'results', results }),
  };
}
