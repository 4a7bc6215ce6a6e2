/** Sheets, reports and tables as PDF, grades as a workbook. Under Node: for the server and the command line. */
export { renderPdf, type PrintJob } from './sheet.ts';
export { renderSlips, type PrintedSlips } from './slips.ts';
export { renderTable, type PrintedTable } from './table.ts';
export { renderRecord, type PrintedRecord } from './record.ts';
export { renderReport, type PrintedReport } from './report.ts';
export { renderWorkbook } from './workbook.ts';
