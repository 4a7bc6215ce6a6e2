import type { Vec2 } from '#core/vector';

import { SIZE_OF_CAPITALS, stretchesOf, textWidth } from './lettering.ts';
import { LINE_LAYERS, LINE_STYLES, type Sheet, type SheetEntity, type SheetField, type SheetText } from './model.ts';

const ARROW_MM = 2.8;
const INK = '#14181d';

/** A text for XML content and attributes: the five special characters as references. */
export const escapeXml = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${String(c.charCodeAt(0))};`);

const n = (value: number): string => String(Math.round(value * 100) / 100);

/** What the place holders of the title block are filled with. */
export type SheetFields = Readonly<Partial<Record<SheetField, string>>>;

/** Corners of a filled arrowhead, its tip first. */
export function arrowCorners({ tip, angle }: { readonly tip: Vec2; readonly angle: number }): readonly Vec2[] {
  const corner = (turn: number): Vec2 => [
    tip[0] + ARROW_MM * Math.cos(angle + Math.PI + turn),
    tip[1] + ARROW_MM * Math.sin(angle + Math.PI + turn),
  ];
  return [tip, corner(0.17), corner(-0.17)];
}

/** Where a text begins on its base line. */
export function startOf({ text, at, heightMm, anchor, angle = 0 }: SheetText): Vec2 {
  const back = anchor === 'start' ? 0 : textWidth(text, heightMm) * (anchor === 'middle' ? 0.5 : 1);
  return [at[0] - back * Math.cos(angle), at[1] - back * Math.sin(angle)];
}

/** A text with its place holder filled; null for one that has nothing to say. */
export function filled(text: SheetText, fields: SheetFields): SheetText | null {
  if (text.field === undefined) return text;
  const value = fields[text.field] ?? '';
  return value === '' ? null : { ...text, text: value };
}

/**
 * One page of the sheet as an SVG document true to scale; each dimension carries the id of its check as `data-check`,
 * each line of the part that of its view as `data-view`. `pictureAt` gives the address of an uploaded picture.
 */
export function renderSvg(
  sheet: Sheet,
  page = 1,
  fields: SheetFields = {},
  pictureAt: (sha256: string) => string = () => '',
): string {
  const { widthMm, heightMm, entities } = sheet.pages[page - 1] ?? { widthMm: 10, heightMm: 10, entities: [] };
  const lines = LINE_LAYERS.map((layer) => {
    const { widthMm: width, dashesMm } = LINE_STYLES[layer];
    const paths = entities
      .filter((entity) => 'layer' in entity && entity.layer === layer)
      .map((entity) => pathOf(entity, heightMm))
      .join('');
    const dashes = dashesMm.length > 0 ? ` stroke-dasharray="${dashesMm.join(' ')}"` : '';
    return paths === ''
      ? ''
      : `<g data-layer="${layer}" fill="none" stroke="${INK}" stroke-linecap="round" stroke-width="${String(width)}"${dashes}>${paths}</g>`;
  });
  const arrows = entities.flatMap((entity) => {
    if (entity.kind !== 'arrow') return [];
    const [tip, a, b] = arrowCorners(entity).map(([x, y]) => `${n(x)} ${n(heightMm - y)}`);
    return `<path d="M${tip ?? ''}L${a ?? ''}L${b ?? ''}Z"${mark(entity)}/>`;
  });
  const pictures = entities.flatMap((entity) =>
    entity.kind === 'picture' || entity.kind === 'shade'
      ? `<image x="${n(entity.at[0])}" y="${n(heightMm - entity.at[1] - entity.heightMm)}" width="${n(entity.widthMm)}" height="${n(entity.heightMm)}" href="${entity.kind === 'shade' ? `data:image/png;base64,${entity.png}` : escapeXml(pictureAt(entity.sha256))}"${mark(entity)}/>`
      : [],
  );
  const texts = entities.flatMap((entity) => {
    const text = entity.kind === 'text' ? filled(entity, fields) : null;
    return text === null ? [] : textOf(text, heightMm);
  });
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(widthMm)} ${n(heightMm)}" ` +
    `width="${n(widthMm)}mm" height="${n(heightMm)}mm" role="img" data-page="${String(page)}" data-pages="${String(sheet.pages.length)}" font-family="'Archivo Variable', Archivo, sans-serif">` +
    `<title>${escapeXml(sheet.title)}</title>` +
    `<rect width="100%" height="100%" fill="#fff"/>` +
    pictures.join('') +
    lines.join('') +
    `<g fill="${INK}">${arrows.join('')}${texts.join('')}</g></svg>`
  );
}

const mark = (entity: SheetEntity): string =>
  `${entity.checkId === undefined ? '' : ` data-check="${escapeXml(entity.checkId)}"`}${
    entity.viewId === undefined ? '' : ` data-view="${escapeXml(entity.viewId)}"`
  }`;

/** Words by the font, signs that fonts lack as strokes, in a group that is turned as a whole. */
function textOf(text: SheetText, heightMm: number): string {
  const [x, y] = startOf(text);
  const size = text.heightMm;
  const parts = stretchesOf(text.text).map((stretch) => {
    const at = stretch.offset * size;
    if (stretch.kind === 'words')
      return `<text${at === 0 ? '' : ` x="${n(at)}"`}${text.bold === true ? ' font-weight="600"' : ''}>${escapeXml(stretch.text)}</text>`;
    const strokes = stretch.sign.strokes
      .map((points) => `M${points.map(([u, v]) => `${n(at + u * size)} ${n(-v * size)}`).join('L')}`)
      .join('');
    return `<path d="${strokes}" fill="none" stroke="${INK}" stroke-width="${n(size * 0.08)}"/>`;
  });
  const turn = text.angle === undefined || text.angle === 0 ? '' : ` rotate(${n((-text.angle * 180) / Math.PI)})`;
  return `<g transform="translate(${n(x)} ${n(heightMm - y)})${turn}" font-size="${n(size * SIZE_OF_CAPITALS)}"${mark(text)}>${parts.join('')}</g>`;
}

function pathOf(entity: SheetEntity, heightMm: number): string {
  const at = ([x, y]: Vec2): string => `${n(x)} ${n(heightMm - y)}`;
  switch (entity.kind) {
    case 'line':
      return `<path d="M${at(entity.from)}L${at(entity.to)}"${mark(entity)}/>`;
    case 'polyline':
      return `<path d="M${entity.points.map(at).join('L')}"${mark(entity)}/>`;
    case 'arc':
    case 'ellipse': {
      const { center, start, sweep } = entity;
      const radii: Vec2 = entity.kind === 'arc' ? [entity.radius, entity.radius] : entity.radii;
      const turn = entity.kind === 'arc' ? 0 : entity.turn;
      if (entity.kind === 'arc' && sweep > 2 * Math.PI - 1e-6)
        return `<circle cx="${n(center[0])}" cy="${n(heightMm - center[1])}" r="${n(entity.radius)}"${mark(entity)}/>`;
      const point = (t: number): Vec2 => {
        const [u, w] = [radii[0] * Math.cos(t), radii[1] * Math.sin(t)];
        return [
          center[0] + u * Math.cos(turn) - w * Math.sin(turn),
          center[1] + u * Math.sin(turn) + w * Math.cos(turn),
        ];
      };
      const arc = (from: number, by: number): string =>
        `A${n(radii[0])} ${n(radii[1])} ${n((-turn * 180) / Math.PI)} ${by > Math.PI ? '1' : '0'} 0 ${at(point(from + by))}`;
      // A whole turn has no direction of its own, so it is drawn as two halves.
      const arcs = sweep > 2 * Math.PI - 1e-6 ? arc(start, Math.PI) + arc(start + Math.PI, Math.PI) : arc(start, sweep);
      return `<path d="M${at(point(start))}${arcs}"${mark(entity)}/>`;
    }
    default:
      return '';
  }
}
