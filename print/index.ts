/** Sheets and reports as PDF. Under Node: for the server and the command line. */
export { renderPdf, type PrintJob } from './sheet.ts';
export { renderReport, type PrintedReport } from './report.ts';
