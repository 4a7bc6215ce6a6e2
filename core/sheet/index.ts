/** The drawing sheet: views with hidden lines, the checked dimensions, letters, notes, title block. */
import type { Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Projection, ViewDirection } from '#core/kernel';
import type { Scope } from '#core/quantity';

import { layOutSheet } from './layout.ts';
import type { Sheet } from './model.ts';
import { VIEWS } from './views.ts';

export { cleanView, recognizeCurve, type SheetCurve, type ViewLines } from './lines.ts';
export { dimensionText } from './dimension.ts';
export { scaleText, type Sheet, type SheetEntity } from './model.ts';
export { renderSvg } from './svg.ts';

/** Projects the reference and lays out its sheet. */
export function drawSheet(
  project: (view: ViewDirection) => Projection,
  exercise: Exercise,
  reference: Reference,
  scope: Scope,
): Sheet {
  const projections = {
    front: project(VIEWS.front),
    top: project(VIEWS.top),
    right: project(VIEWS.right),
    isometric: project(VIEWS.isometric),
  };
  return layOutSheet(exercise, reference, projections, scope);
}
