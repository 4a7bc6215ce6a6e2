import type { Outline } from '#core/outline';

import type { EdgeSelector, PlaneReference } from './entries.ts';

/** An outline in a few words, such as "slot 60 x 10". */
export function describeOutline(outline: Outline): string {
  switch (outline.shape) {
    case 'rectangle':
    case 'corner-rectangle':
      return `rectangle ${outline.width} x ${outline.height}`;
    case 'circle':
      return `circle ${outline.diameter}`;
    case 'slot':
      return `slot ${outline.length} x ${outline.width}`;
    case 'polygon':
      return `polygon of ${outline.sides} sides, ${outline.size} across ${outline.across}`;
    case 'path':
      return `path of ${String(outline.segments.length)} sides`;
    case 'hull':
      return `circles ${outline.first.diameter} and ${outline.second.diameter} with their tangents`;
    case 'filleted':
      return `${describeOutline(outline.of)}, corners R ${outline.size}`;
    case 'chamfered':
      return `${describeOutline(outline.of)}, corners chamfered ${outline.size}`;
    case 'offset':
      return `${describeOutline(outline.of)}, offset ${outline.by}`;
    case 'turned':
      return `${describeOutline(outline.of)}, turned ${outline.angle} degrees`;
    case 'mirrored':
      return `${describeOutline(outline.of)}, ${outline.keep ? 'with its mirror image' : 'mirrored'}`;
    case 'polar':
      return `${outline.count} x ${describeOutline(outline.of)} around a center`;
    case 'row':
      return `${outline.count} x ${describeOutline(outline.of)} in a row`;
    case 'union':
      return outline.parts.map(describeOutline).join(' with ');
    case 'difference':
      return outline.parts.map(describeOutline).join(' less ');
    case 'intersection':
      return outline.parts.map(describeOutline).join(' where it meets ');
  }
}

/** Outlines in a few words; many are only counted. */
export const describeOutlines = (outlines: readonly Outline[]): string => {
  const [first] = outlines;
  if (first === undefined) return '';
  return outlines.length > 3 ? `${String(outlines.length)} outlines` : outlines.map(describeOutline).join(', ');
};

/** A plane in words. */
export function describePlane(reference: PlaneReference): string {
  const name =
    'base' in reference ? reference.base : 'surface' in reference ? reference.surface : `plane ${reference.plane}`;
  return reference.offset === undefined ? name : `${name} + ${reference.offset}`;
}

const edgeOf = (selector: EdgeSelector): string => {
  if ('between' in selector) return `${selector.between[0]} / ${selector.between[1]}`;
  if ('around' in selector) return `around ${selector.around}`;
  if ('along' in selector) return `edges along ${selector.along}`;
  if ('every' in selector) return selector.every === 'edge' ? 'every edge' : `every ${selector.every} edge`;
  return 'one edge';
};

/** Edges in a few words; many are only counted. */
export const describeEdges = (edges: readonly EdgeSelector[]): string => {
  const [first] = edges;
  if (first === undefined) return 'no edges';
  return edges.length > 2 ? `${String(edges.length)} edges` : edges.map(edgeOf).join(', ');
};
