/** The drawing sheet: views and sections, the checked dimensions in their places, title block; as SVG and DXF. */
import { layOutSheet } from './layout.ts';
import type { Sheet } from './model.ts';
export { isUploaded } from './uploaded.ts';
import type { SheetSource } from './prepare.ts';
import { uploadedSheet } from './uploaded.ts';

export { renderDxf } from './dxf.ts';
export type { SheetSource } from './prepare.ts';
export { SIZE_OF_CAPITALS, stretchesOf, textWidth, wrapped, type Stretch } from './lettering.ts';
export { cleanView, pointsAlong, recognizeCurve, type SheetCurve, type ViewLines } from './lines.ts';
export {
  LINE_LAYERS,
  LINE_STYLES,
  scaleText,
  SheetSchema,
  type LineLayer,
  type PlacedOffset,
  type PlacedView,
  type Sheet,
  type SheetEntity,
  type SheetPage,
  type SheetText,
} from './model.ts';
export { projectSolid, type Drawable } from './project.ts';
export { LINT_RULES, lintSheet, openShareOf, type LintFinding, type LintRule } from './lint/index.ts';
export { arrowCorners, filled, renderSvg, startOf, type SheetFields } from './svg.ts';
export { suggestViews } from './suggest-views.ts';
export { degreesText, dimensionText, fractionText } from './text.ts';

/** Projects the reference and lays out its sheet; an uploaded drawing takes the place of both. */
export function drawSheet(source: SheetSource): Sheet {
  const drawing = source.exercise.sheet?.drawing;
  return drawing === undefined ? layOutSheet(source) : uploadedSheet(source, drawing);
}
