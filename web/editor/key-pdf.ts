import type { Exercise } from '#core/exercise';
import { formatFixed, LENGTH_UNITS, propertyUnits, unitFactor } from '#core/quantity';
import type { KeyEntry } from '#core/variant';

/** The rows of a printed key: every variant and stage with its letters and the numbers that prove it. */
export function keyRows(
  entries: readonly KeyEntry[],
  { recipe, decimals }: Exercise,
): { readonly head: readonly string[]; readonly body: readonly (readonly string[])[] } {
  const units = propertyUnits(recipe.unit);
  const length = (mm: number) => formatFixed(mm / LENGTH_UNITS[recipe.unit], decimals + 1);
  const amount = (value: number, kind: 'volume' | 'mass' | 'area') =>
    formatFixed(value / unitFactor(units[kind], kind), recipe.unit === 'mm' ? 2 : 4);
  const letters = recipe.parameters.map(({ name }) => name);
  return {
    head: [
      'Variant',
      'Stage',
      ...letters,
      `Volume, ${units.volume}`,
      `Mass, ${units.mass}`,
      `Area, ${units.area}`,
      `Center of mass, ${recipe.unit}`,
      `Size, ${recipe.unit}`,
    ],
    body: entries.map(({ variant, stage, values, properties, massG, sizeMm, problem }) => [
      variant,
      stage,
      ...recipe.parameters.map(({ name, value }) => values[name] ?? value),
      ...(properties === null || massG === null || sizeMm === null
        ? [problem ?? '', '', '', '', '']
        : [
            amount(properties.volumeMm3, 'volume'),
            amount(massG, 'mass'),
            amount(properties.areaMm2, 'area'),
            properties.centroidMm.map(length).join(' / '),
            sizeMm.map(length).join(' x '),
          ]),
    ]),
  };
}

const MARGIN_MM = 14;

/** The answer key as a PDF for the instructor. The library is loaded when it is asked for. */
export async function keyAsPdf(entries: readonly KeyEntry[], exercise: Exercise): Promise<Blob> {
  const [{ jsPDF }, { autoTable }] = await Promise.all([import('jspdf'), import('jspdf-autotable')]);
  const page = new jsPDF({
    orientation: 'landscape',
    unit: 'mm',
    format: exercise.recipe.unit === 'mm' ? 'a4' : 'letter',
  });
  const { head, body } = keyRows(entries, exercise);
  const { material, number, title } = exercise;
  page.setFontSize(14);
  page.text(`${number} ${title}: answer key`, MARGIN_MM, MARGIN_MM + 2);
  page.setFontSize(9);
  page.text(
    `${material.name}, ${String(material.densityGPerCm3)} g/cm3 (${material.source}). Threads are not part of volume and mass. Not for students.`,
    MARGIN_MM,
    MARGIN_MM + 8,
  );
  autoTable(page, {
    head: [[...head]],
    body: body.map((row) => [...row]),
    startY: MARGIN_MM + 12,
    margin: MARGIN_MM,
    theme: 'grid',
    styles: { fontSize: 8, cellPadding: 1.2, textColor: 20, lineColor: 160 },
    headStyles: { fillColor: 235, textColor: 20, fontStyle: 'bold' },
  });
  return page.output('blob');
}
