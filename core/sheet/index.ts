/** The drawing sheet: views with hidden lines, the checked dimensions, letters, notes, title block. */
import type { Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel, Shape } from '#core/kernel';
import type { Scope } from '#core/quantity';

import { layOutSheet } from './layout.ts';
import type { Sheet } from './model.ts';
import { VIEWS } from './views.ts';

export { cleanView, recognizeCurve, type SheetCurve, type ViewLines } from './lines.ts';
export { dimensionText } from './dimension.ts';
export { scaleText, type Sheet, type SheetEntity } from './model.ts';
export { renderSvg } from './svg.ts';

/** Projects the reference and lays out its sheet. */
export function drawSheet(kernel: Kernel, shape: Shape, exercise: Exercise, reference: Reference, scope: Scope): Sheet {
  const projections = {
    front: kernel.project(shape, VIEWS.front),
    top: kernel.project(shape, VIEWS.top),
    right: kernel.project(shape, VIEWS.right),
    isometric: kernel.project(shape, VIEWS.isometric),
  };
  return layOutSheet(exercise, reference, projections, scope);
}
