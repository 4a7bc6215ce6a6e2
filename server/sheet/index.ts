/** Stored drawings, as pictures and files that people take away. */
export { furtherWarnings, sheetAsDxf, sheetAsSvg, sheetsAsPdf, warningsOfSheet } from './sheets.ts';
