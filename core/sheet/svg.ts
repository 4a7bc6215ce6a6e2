import type { LineLayer, Sheet, SheetEntity } from './model.ts';

const STROKES: Readonly<Record<LineLayer, string>> = {
  visible: 'stroke-width="0.5"',
  hidden: 'stroke-width="0.25" stroke-dasharray="2.4 1.2"',
  center: 'stroke-width="0.18" stroke-dasharray="6 1.2 1.2 1.2"',
  dimension: 'stroke-width="0.18"',
  frame: 'stroke-width="0.25"',
};

const ARROW_MM = 2.8;

export const escapeXml = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${String(c.charCodeAt(0))};`);

const n = (value: number): string => String(Math.round(value * 1000) / 1000);

/** The sheet as an SVG document true to scale; each dimension carries the id of its check as `data-check`. */
export function renderSvg(sheet: Sheet): string {
  const y = (value: number): string => n(sheet.heightMm - value);
  const layers: readonly LineLayer[] = ['hidden', 'center', 'visible', 'dimension', 'frame'];
  const linesOf = (layer: LineLayer): string =>
    sheet.entities
      .filter((entity) => 'layer' in entity && entity.layer === layer)
      .map((entity) => pathOf(entity, sheet.heightMm))
      .join('');
  const arrows = sheet.entities.flatMap((entity) => {
    if (entity.kind !== 'arrow') return [];
    const corner = (turn: number): string => {
      const back = entity.angle + Math.PI + turn;
      return `${n(entity.tip[0] + ARROW_MM * Math.cos(back))} ${y(entity.tip[1] + ARROW_MM * Math.sin(back))}`;
    };
    return `<path d="M${n(entity.tip[0])} ${y(entity.tip[1])}L${corner(0.17)}L${corner(-0.17)}Z"${mark(entity)}/>`;
  });
  const texts = sheet.entities.flatMap((entity) => {
    if (entity.kind !== 'text') return [];
    const [tx, ty] = [n(entity.at[0]), y(entity.at[1])];
    return `<text x="${tx}" y="${ty}" font-size="${n(entity.heightMm * 1.35)}" text-anchor="${entity.anchor}"${
      entity.bold ? ' font-weight="600"' : ''
    }${entity.upright ? ` transform="rotate(-90 ${tx} ${ty})"` : ''}${mark(entity)}>${escapeXml(entity.text)}</text>`;
  });
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(sheet.widthMm)} ${n(sheet.heightMm)}" ` +
    `width="${n(sheet.widthMm)}mm" height="${n(sheet.heightMm)}mm" role="img" font-family="'Archivo Variable', sans-serif">` +
    `<title>${escapeXml(sheet.title)}</title>` +
    `<rect width="100%" height="100%" fill="#fff"/>` +
    layers
      .map((layer) => `<g fill="none" stroke="#14181d" stroke-linecap="round" ${STROKES[layer]}>${linesOf(layer)}</g>`)
      .join('') +
    `<g fill="#14181d">${arrows.join('')}${texts.join('')}</g></svg>`
  );
}

const mark = (entity: SheetEntity): string =>
  entity.checkId === undefined ? '' : ` data-check="${escapeXml(entity.checkId)}"`;

function pathOf(entity: SheetEntity, heightMm: number): string {
  const at = ([x, y]: readonly [number, number]): string => `${n(x)} ${n(heightMm - y)}`;
  if (entity.kind === 'line') return `<path d="M${at(entity.from)}L${at(entity.to)}"${mark(entity)}/>`;
  if (entity.kind === 'polyline') return `<path d="M${entity.points.map(at).join('L')}"${mark(entity)}/>`;
  if (entity.kind !== 'arc') return '';
  const { center, radius, start, sweep } = entity;
  if (sweep > 2 * Math.PI - 1e-6)
    return `<circle cx="${n(center[0])}" cy="${n(heightMm - center[1])}" r="${n(radius)}"${mark(entity)}/>`;
  const point = (angle: number): string =>
    at([center[0] + radius * Math.cos(angle), center[1] + radius * Math.sin(angle)]);
  return `<path d="M${point(start)}A${n(radius)} ${n(radius)} 0 ${sweep > Math.PI ? '1' : '0'} 0 ${point(start + sweep)}"${mark(entity)}/>`;
}
