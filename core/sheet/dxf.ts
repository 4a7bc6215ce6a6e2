import { DxfWriter, LWPolylineFlags, point2d, point3d, Units } from '@tarikjabiri/dxf';

import type { Vec2 } from '#core/vector';

import { stretchesOf } from './lettering.ts';
import { LINE_LAYERS, LINE_STYLES, type LineLayer, type Sheet, type SheetEntity, type SheetText } from './model.ts';
import { arrowCorners, filled, startOf, type SheetFields } from './svg.ts';

const TEXT_LAYER = 'text';
const degrees = (radians: number): number => (radians * 180) / Math.PI;
const at = ([x, y]: Vec2) => point3d(x, y, 0);

/**
 * One page of the sheet as DXF in paper millimeters: lines, circles, arcs, ellipses and texts as what they are, on
 * layers named by the kinds of lines, and one for texts.
 */
export function renderDxf(sheet: Sheet, page = 1, fields: SheetFields = {}): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  for (const layer of LINE_LAYERS) {
    const { dashesMm } = LINE_STYLES[layer];
    const name = dashesMm.length === 0 ? 'CONTINUOUS' : `ZORVET_${layer.toUpperCase()}`;
    // In a line type, gaps are negative.
    if (dashesMm.length > 0)
      dxf.addLType(
        name,
        layer,
        dashesMm.map((length, i) => (i % 2 === 0 ? length : -length)),
      );
    dxf.addLayer(layer, 7, name);
  }
  dxf.addLayer(TEXT_LAYER, 7, 'CONTINUOUS');
  for (const entity of sheet.pages[page - 1]?.entities ?? []) add(dxf, entity, fields);
  return dxf.stringify();
}

function add(dxf: DxfWriter, entity: SheetEntity, fields: SheetFields): void {
  switch (entity.kind) {
    case 'line':
      dxf.addLine(at(entity.from), at(entity.to), { layerName: entity.layer });
      return;
    case 'polyline':
      addPolyline(dxf, entity.points, entity.layer, false);
      return;
    case 'arc':
      if (entity.sweep > 2 * Math.PI - 1e-6)
        dxf.addCircle(at(entity.center), entity.radius, { layerName: entity.layer });
      else
        dxf.addArc(at(entity.center), entity.radius, degrees(entity.start), degrees(entity.start + entity.sweep), {
          layerName: entity.layer,
        });
      return;
    case 'ellipse': {
      // The format wants the longer half axis first.
      const [first, second] = entity.radii;
      const [long, short, turn, start] =
        first >= second
          ? [first, second, entity.turn, entity.start]
          : [second, first, entity.turn + Math.PI / 2, entity.start - Math.PI / 2];
      dxf.addEllipse(
        at(entity.center),
        point3d(long * Math.cos(turn), long * Math.sin(turn), 0),
        short / long,
        start,
        start + entity.sweep,
        { layerName: entity.layer },
      );
      return;
    }
    case 'arrow':
      addPolyline(dxf, arrowCorners(entity), 'dimension', true);
      return;
    case 'text': {
      const text = filled(entity, fields);
      if (text !== null) addText(dxf, text);
    }
  }
}

function addPolyline(dxf: DxfWriter, points: readonly Vec2[], layerName: LineLayer, closed: boolean): void {
  dxf.addLWPolyline(
    points.map(([x, y]) => ({ point: point2d(x, y) })),
    { layerName, flags: closed ? LWPolylineFlags.Closed : LWPolylineFlags.None },
  );
}

/** Words as texts, drawn signs as polylines. */
function addText(dxf: DxfWriter, text: SheetText): void {
  const { heightMm, angle = 0 } = text;
  const [x, y] = startOf(text);
  const place = (u: number, v: number): Vec2 => [
    x + heightMm * (u * Math.cos(angle) - v * Math.sin(angle)),
    y + heightMm * (u * Math.sin(angle) + v * Math.cos(angle)),
  ];
  for (const stretch of stretchesOf(text.text))
    if (stretch.kind === 'words')
      dxf.addText(at(place(stretch.offset, 0)), heightMm, stretch.text, {
        layerName: TEXT_LAYER,
        rotation: degrees(angle),
      });
    else
      for (const stroke of stretch.sign.strokes)
        addPolyline(
          dxf,
          stroke.map(([u, v]) => place(stretch.offset + u, v)),
          'dimension',
          false,
        );
}
