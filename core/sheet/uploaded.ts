import type { UploadedDrawing } from '#core/exercise';
import { LENGTH_UNITS } from '#core/quantity';
import type { Vec2 } from '#core/vector';

import { wrapped } from './lettering.ts';
import type { Sheet, SheetEntity, SheetField, SheetPage } from './model.ts';
import type { SheetSource } from './prepare.ts';
import { dimensionText } from './text.ts';

const LINE_MM = 5;
const SMALL_MM = 2.5;
const EDGE_MM = 4;

/** Whether a sheet is an uploaded drawing, which has no lines of its own. */
export const isUploaded = ({ pages }: Pick<Sheet, 'pages'>): boolean =>
  pages.some(({ entities }) => entities.some(({ kind }) => kind === 'picture'));

/**
 * A drawing that was made elsewhere, true to its own size, with a strip below it that says whose it is and gives the
 * values of the letters.
 */
export function uploadedSheet({ exercise, reference, scope }: SheetSource, drawing: UploadedDrawing): Sheet {
  const letters = exercise.recipe.parameters.filter(({ name }) => /^[A-Z]$/.test(name));
  const values = letters
    .map(({ name }) => {
      const valueMm = (scope[name] ?? 0) * LENGTH_UNITS[exercise.recipe.unit];
      return `${name} = ${dimensionText(valueMm, reference)}`;
    })
    .join('    ');
  const rows = letters.length === 0 ? [] : [`Letter values (${exercise.recipe.unit}):    ${values}`];
  const pages = drawing.pages.map(({ sha256, widthMm, heightMm }, i): SheetPage => {
    const lines = rows.flatMap((row) => wrapped(row, SMALL_MM, widthMm - 2 * EDGE_MM));
    const strip = (lines.length + 2) * LINE_MM + 2;
    const height = heightMm + strip;
    const text = (words: string, x: number, row: number, field?: SheetField): SheetEntity => ({
      kind: 'text',
      text: words,
      at: [x, strip - (row + 1) * LINE_MM],
      heightMm: SMALL_MM,
      anchor: 'start',
      ...(field === undefined ? {} : { field }),
    });
    const quarter = (share: number): number => EDGE_MM + share * (widthMm - 2 * EDGE_MM);
    const across = (y: number): { readonly from: Vec2; readonly to: Vec2 } => ({
      from: [EDGE_MM, y],
      to: [widthMm - EDGE_MM, y],
    });
    const page = drawing.pages.length === 1 ? '' : `, page ${String(i + 1)} of ${String(drawing.pages.length)}`;
    return {
      widthMm,
      heightMm: height,
      entities: [
        { kind: 'picture', sha256, at: [0, strip], widthMm, heightMm },
        { kind: 'line', layer: 'frame', ...across(strip) },
        text(`${exercise.number} ${exercise.title}${page}`, quarter(0), 0),
        text('', quarter(0.45), 0, 'student'),
        text('', quarter(0.7), 0, 'variant'),
        text('', quarter(0.82), 0, 'date'),
        ...lines.map((line, row) => text(line, quarter(0), row + 1)),
        text('For training only, not for manufacture', quarter(0), lines.length + 1),
        text('', quarter(0.45), lines.length + 1, 'course'),
      ],
    };
  });
  return {
    title: `${exercise.number} ${exercise.title}`,
    scale: 1,
    pages,
    views: [],
    dimensions: [],
    warnings: [],
  };
}
