/** Stored drawings, as pictures and files that people take away. */
export { furtherWarnings, sheetAsDxf, sheetAsSvg, sheetsAsPdf, storedSheet, warningsOfSheet } from './sheets.ts';
