/** The drawing sheet on the page. */
export { SheetView, type SheetPin } from './sheet.tsx';
export { SheetStage } from './stage.tsx';
export { Signed } from './signed.tsx';
