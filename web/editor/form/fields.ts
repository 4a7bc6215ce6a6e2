import { angle, axisOrLine, choice, count, length, SKIP, type Choice, type Field } from '#core/recipe';

const CENTER: Field = { kind: 'point', path: ['center'], label: 'Center' };
const OF: Field = { kind: 'outline', path: ['of'], label: 'Of' };
const CORNERS: Field = { kind: 'numbers', path: ['corners'], label: 'Corners (all if empty)' };

/** The fields of every shape of outline, and what a new one is. */
export const SHAPES: readonly Choice[] = [
  choice(
    'rectangle',
    'Rectangle by its middle',
    () => ({ shape: 'rectangle', center: ['0', '0'], width: '40', height: '30' }),
    CENTER,
    length('width', 'Width'),
    length('height', 'Height'),
  ),
  choice(
    'corner-rectangle',
    'Rectangle by its corner',
    () => ({ shape: 'corner-rectangle', corner: ['0', '0'], width: '40', height: '30' }),
    { kind: 'point', path: ['corner'], label: 'Lower left' },
    length('width', 'Width'),
    length('height', 'Height'),
  ),
  choice(
    'circle',
    'Circle',
    () => ({ shape: 'circle', center: ['0', '0'], diameter: '20' }),
    CENTER,
    length('diameter', 'Diameter'),
  ),
  choice(
    'slot',
    'Slot',
    () => ({ shape: 'slot', center: ['0', '0'], length: '30', width: '10' }),
    CENTER,
    length('length', 'Length over all'),
    length('width', 'Width'),
    angle('angle', 'Turned by', '0'),
  ),
  choice(
    'polygon',
    'Regular polygon',
    () => ({ shape: 'polygon', center: ['0', '0'], sides: '6', size: '20', across: 'flats' }),
    CENTER,
    count('sides', 'Sides'),
    length('size', 'Size'),
    {
      kind: 'pick',
      path: ['across'],
      label: 'across',
      options: [
        ['flats', 'flats'],
        ['corners', 'corners'],
      ],
    },
    angle('angle', 'First side at', '0'),
  ),
  choice('path', 'Path of lines and arcs', () => ({
    shape: 'path',
    start: ['0', '0'],
    segments: [{ move: 'line', to: ['40', '0'] }, { move: 'line', to: ['0', '30'] }, { move: 'close' }],
  })),
  choice(
    'hull',
    'Two circles and their tangents',
    () => ({
      shape: 'hull',
      first: { center: ['0', '0'], diameter: '20' },
      second: { center: ['40', '0'], diameter: '12' },
    }),
    { kind: 'point', path: ['first', 'center'], label: 'First center' },
    { kind: 'length', path: ['first', 'diameter'], label: 'First diameter' },
    { kind: 'point', path: ['second', 'center'], label: 'Second center' },
    { kind: 'length', path: ['second', 'diameter'], label: 'Second diameter' },
  ),
];

/** Changes that an outline can be given; each wraps the outline that it is made of. */
export const CHANGES: readonly Choice[] = [
  choice(
    'filleted',
    'Corners rounded',
    () => ({ shape: 'filleted', size: '3' }),
    length('size', 'Radius'),
    CORNERS,
    OF,
  ),
  choice(
    'chamfered',
    'Corners chamfered',
    () => ({ shape: 'chamfered', size: '3' }),
    length('size', 'Size'),
    CORNERS,
    OF,
  ),
  choice('offset', 'Offset', () => ({ shape: 'offset', by: '2' }), length('by', 'Outward by'), OF),
  choice(
    'turned',
    'Turned',
    () => ({ shape: 'turned', center: ['0', '0'], angle: '30' }),
    CENTER,
    angle('angle', 'By'),
    OF,
  ),
  choice(
    'mirrored',
    'Mirrored',
    () => ({ shape: 'mirrored', about: 'v', keep: true }),
    axisOrLine(
      'about',
      'About',
      () => ({ through: ['0', '0'], angle: '45' }),
      { kind: 'point', path: ['through'], label: 'Through' },
      angle('angle', 'Angle'),
    ),
    { kind: 'flag', path: ['keep'], label: 'Keep the original too' },
    OF,
  ),
  choice(
    'polar',
    'Copies around a center',
    () => ({ shape: 'polar', center: ['0', '0'], count: '4' }),
    CENTER,
    count('count', 'Number'),
    angle('angle', 'From first to last', 'all round'),
    SKIP,
    OF,
  ),
  choice(
    'row',
    'Copies in a row',
    () => ({ shape: 'row', by: ['10', '0'], count: '3' }),
    { kind: 'point', path: ['by'], label: 'Each further by' },
    count('count', 'Number'),
    SKIP,
    OF,
  ),
];

/** Ways to put outlines together. */
export const COMBINATIONS: readonly (readonly [value: string, label: string])[] = [
  ['union', 'Together with'],
  ['difference', 'Less'],
  ['intersection', 'Where it meets'],
];

/** The moves of a path with their fields. */
export const MOVES: readonly Choice[] = [
  choice('line', 'Line to', () => ({ move: 'line', to: ['10', '0'] }), { kind: 'point', path: ['to'], label: 'To' }),
  choice('line-by', 'Line by', () => ({ move: 'line-by', by: ['10', '0'] }), {
    kind: 'point',
    path: ['by'],
    label: 'By',
  }),
  choice(
    'line-at',
    'Line at an angle',
    () => ({ move: 'line-at', length: '10', angle: '45' }),
    length('length', 'Length'),
    angle('angle', 'Angle'),
  ),
  choice(
    'arc',
    'Arc through',
    () => ({ move: 'arc', through: ['5', '5'], to: ['10', '0'] }),
    { kind: 'point', path: ['through'], label: 'Through' },
    { kind: 'point', path: ['to'], label: 'To' },
  ),
  choice(
    'arc-by',
    'Arc through, by',
    () => ({ move: 'arc-by', through: ['5', '5'], by: ['10', '0'] }),
    { kind: 'point', path: ['through'], label: 'Through' },
    { kind: 'point', path: ['by'], label: 'By' },
  ),
  choice('tangent-arc', 'Tangent arc to', () => ({ move: 'tangent-arc', to: ['10', '10'] }), {
    kind: 'point',
    path: ['to'],
    label: 'To',
  }),
  choice('tangent-arc-by', 'Tangent arc by', () => ({ move: 'tangent-arc-by', by: ['10', '10'] }), {
    kind: 'point',
    path: ['by'],
    label: 'By',
  }),
  choice(
    'arc-around',
    'Arc around',
    () => ({ move: 'arc-around', center: ['0', '0'], angle: '90' }),
    { kind: 'point', path: ['center'], label: 'Center' },
    angle('angle', 'Angle'),
  ),
  choice('close', 'Back to the start', () => ({ move: 'close' })),
];
