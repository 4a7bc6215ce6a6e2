/** The drawing sheet on the page. */
export { SheetView } from './sheet.tsx';
export { SheetStage } from './stage.tsx';
