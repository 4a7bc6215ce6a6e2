import type { Outline } from '#core/outline';

import type { EdgeSelector, Extent, Operation, PlaneReference, Step, StepOf } from './schema.ts';

/** Operations in words, as an instructor says them. */
export const OPERATION_NAMES: Readonly<Record<Operation, string>> = {
  extrude: 'Extrude',
  revolve: 'Revolve',
  hole: 'Hole',
  fillet: 'Round edges',
  'full-round': 'Full round',
  chamfer: 'Bevel edges',
  rib: 'Rib',
  loft: 'Loft',
  mirror: 'Mirror',
  'linear-pattern': 'Copies in rows',
  'circular-pattern': 'Copies around an axis',
  plane: 'Plane',
  axis: 'Axis',
  thread: 'External thread',
};

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
    case 'rounded':
      return `${describeOutline(outline.of)}, corners R ${outline.size}`;
    case 'beveled':
      return `${describeOutline(outline.of)}, corners beveled ${outline.size}`;
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

const outlinesOf = (outlines: readonly Outline[]): string => {
  const [first] = outlines;
  if (first === undefined) return '';
  return outlines.length > 3 ? `${String(outlines.length)} outlines` : outlines.map(describeOutline).join(', ');
};

function extentOf(mode: 'add' | 'cut', extent: Extent): string {
  switch (extent.kind) {
    case 'depth':
      return `${extent.depth} ${mode === 'add' ? 'high' : 'deep'}`;
    case 'symmetric':
      return `${extent.depth}, half to each side`;
    case 'two-sided':
      return `${extent.depth} and ${extent.back} to the other side`;
    case 'through':
      return 'through all';
    case 'to-next':
      return 'up to the next surface';
    case 'to-surface':
      return `up to ${extent.surface}`;
  }
}

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

const edgesOf = (edges: readonly EdgeSelector[]): string => {
  const [first] = edges;
  if (first === undefined) return 'no edges';
  return edges.length > 2 ? `${String(edges.length)} edges` : edges.map(edgeOf).join(', ');
};

function holeOf(step: StepOf<'hole'>): string {
  const { at, depth } = step;
  const count =
    at.kind === 'points'
      ? at.points.length === 1
        ? ''
        : `${String(at.points.length)} x `
      : at.kind === 'bolt-circle'
        ? `${at.count} x `
        : at.with.length === 1
          ? ''
          : `${String(at.with.length)} x `;
  const far = depth.kind === 'through' ? 'through' : depth.kind === 'wall' ? 'through one wall' : `${depth.depth} deep`;
  return [
    `${count}hole ${step.diameter}, ${far}`,
    ...(depth.kind === 'blind' && depth.bottom === 'drill-point' ? ['drill point'] : []),
    ...(step.counterbore ? [`counterbore ${step.counterbore.diameter} x ${step.counterbore.depth}`] : []),
    ...(step.countersink
      ? [`countersink ${step.countersink.diameter} x ${step.countersink.angle ?? '90'} degrees`]
      : []),
    ...(step.tapped ? [`thread ${step.tapped.designation}`] : []),
    ...(at.kind === 'bolt-circle' ? [`on circle ${at.diameter}`] : []),
  ].join(', ');
}

/** What a step does, with its numbers, such as "cut 8 deep, slot 60 x 10". */
export function describeStep(step: Step): string {
  switch (step.op) {
    case 'extrude':
      return `${step.mode} ${extentOf(step.mode, step.extent)}, ${outlinesOf(step.outlines)}`;
    case 'revolve':
      return `${step.mode} ${step.angle === undefined ? 'a full turn' : `${step.angle} degrees`} of ${outlinesOf(step.outlines)}`;
    case 'hole':
      return holeOf(step);
    case 'fillet':
      return `round R ${step.radius}, ${edgesOf(step.edges)}`;
    case 'full-round':
      return `full round in place of ${step.middle}`;
    case 'chamfer':
      return `bevel ${step.size}${step.other === undefined ? '' : ` x ${step.other}`}${step.angle === undefined ? '' : ` x ${step.angle} degrees`}, ${edgesOf(step.edges)}`;
    case 'rib':
      return `rib ${step.thickness} thick`;
    case 'loft':
      return `${step.mode} from ${describeOutline(step.outline)} to ${describeOutline(step.to)}, ${step.distance} apart`;
    case 'mirror':
      return `mirror ${step.steps?.join(', ') ?? 'the whole body'} about ${describePlane(step.plane)}`;
    case 'linear-pattern':
      return `${step.count}${step.second ? ` x ${step.second.count}` : ''} x ${step.steps.join(', ')}, ${step.spacing} apart`;
    case 'circular-pattern':
      return `${step.count} x ${step.steps.join(', ')} around an axis`;
    case 'plane':
      return `plane, ${{ offset: 'offset', angled: 'at an angle', middle: 'in the middle', tangent: 'tangent' }[step.by.kind]}`;
    case 'axis':
      return `axis, ${{ of: 'of a round', meeting: 'where planes meet', square: 'square to a plane' }[step.by.kind]}`;
    case 'thread':
      return `thread ${step.thread.designation} on ${step.on}`;
  }
}
