import type { Operation } from '#core/recipe';

import type { Path } from '../set-in.ts';

/** One of several forms that a part of a step can take. */
export interface Choice {
  readonly value: string;
  readonly label: string;
  /** What the part becomes when this is chosen. */
  readonly make: () => unknown;
  readonly fields: readonly Field[];
}

/** A field of a form; its path leads from the step, or from the part that holds it. */
export type Field = { readonly path: Path; readonly label: string } & (
  | { readonly kind: 'length' | 'angle' | 'count'; readonly optional?: string }
  | { readonly kind: 'pick'; readonly options: readonly (readonly [value: string, label: string])[] }
  | { readonly kind: 'flag' }
  | { readonly kind: 'text'; readonly optional?: string }
  | { readonly kind: 'numbers' }
  | {
      readonly kind:
        'point' | 'points' | 'plane' | 'axis' | 'surface' | 'surfaces' | 'edges' | 'steps' | 'outline' | 'outlines';
    }
  | { readonly kind: 'optional-surface' | 'optional-steps' }
  /** `of` tells which choice a value is. */
  | { readonly kind: 'choice'; readonly of: (value: unknown) => string; readonly choices: readonly Choice[] }
);

const kindOf = (value: unknown): string => (value as { readonly kind?: string } | undefined)?.kind ?? '';
const has = (value: unknown): string => (value === undefined ? 'no' : 'yes');

const length = (path: string, label: string, optional?: string): Field => ({
  kind: 'length',
  path: [path],
  label,
  ...(optional === undefined ? {} : { optional }),
});
const angle = (path: string, label: string, optional?: string): Field => ({
  kind: 'angle',
  path: [path],
  label,
  ...(optional === undefined ? {} : { optional }),
});
const count = (path: string, label: string): Field => ({ kind: 'count', path: [path], label });
const choice = (value: string, label: string, make: () => unknown, ...fields: Field[]): Choice => ({
  value,
  label,
  make,
  fields,
});

const MODE: Field = {
  kind: 'pick',
  path: ['mode'],
  label: 'Material',
  options: [
    ['add', 'is added'],
    ['cut', 'is cut away'],
  ],
};
const PLANE: Field = { kind: 'plane', path: ['plane'], label: 'Drawn on' };
const SKIP: Field = { kind: 'numbers', path: ['skip'], label: 'Places left out' };
const EDGES: Field = { kind: 'edges', path: ['edges'], label: 'Edges' };
const STEPS: Field = { kind: 'steps', path: ['steps'], label: 'What is copied' };

const THREAD: readonly Field[] = [
  { kind: 'text', path: ['designation'], label: 'Designation' },
  { kind: 'text', path: ['fit'], label: 'Class', optional: 'not stated' },
  length('length', 'Length', 'as long as the wall'),
];

const option = (path: string, label: string, make: () => unknown, ...fields: Field[]): Field => ({
  kind: 'choice',
  path: [path],
  label,
  of: has,
  choices: [choice('no', 'none', () => undefined), choice('yes', 'with', make, ...fields)],
});

const EXTENT: Field = {
  kind: 'choice',
  path: ['extent'],
  label: 'How far',
  of: kindOf,
  choices: [
    choice('depth', 'to a depth', () => ({ kind: 'depth', depth: '10' }), length('depth', 'Depth')),
    choice('symmetric', 'half to each side', () => ({ kind: 'symmetric', depth: '20' }), length('depth', 'Over all')),
    choice(
      'two-sided',
      'to both sides',
      () => ({ kind: 'two-sided', depth: '10', back: '5' }),
      length('depth', 'This side'),
      length('back', 'Other side'),
    ),
    choice('through', 'through all', () => ({ kind: 'through' })),
    choice('to-next', 'up to the next surface', () => ({ kind: 'to-next' })),
    choice(
      'to-surface',
      'up to a surface',
      () => ({ kind: 'to-surface', surface: 'base.end' }),
      { kind: 'surface', path: ['surface'], label: 'Surface' },
      length('offset', 'Beyond it by', '0'),
    ),
  ],
};

const HOLES: readonly Field[] = [
  PLANE,
  {
    kind: 'choice',
    path: ['at'],
    label: 'Where',
    of: kindOf,
    choices: [
      choice('points', 'at points', () => ({ kind: 'points', points: [['0', '0']] }), {
        kind: 'points',
        path: ['points'],
        label: 'Points',
      }),
      choice(
        'bolt-circle',
        'on a bolt circle',
        () => ({ kind: 'bolt-circle', center: ['0', '0'], diameter: '30', count: '4' }),
        { kind: 'point', path: ['center'], label: 'Center' },
        length('diameter', 'Circle diameter'),
        count('count', 'Number'),
        angle('startAngle', 'First at', '0'),
        SKIP,
      ),
      choice('concentric', 'on the axis of a round', () => ({ kind: 'concentric', with: ['base.wall'] }), {
        kind: 'surfaces',
        path: ['with'],
        label: 'Rounds',
      }),
    ],
  },
  length('diameter', 'Diameter'),
  {
    kind: 'choice',
    path: ['depth'],
    label: 'How deep',
    of: kindOf,
    choices: [
      choice('through', 'through all', () => ({ kind: 'through' })),
      choice('wall', 'through one wall', () => ({ kind: 'wall' })),
      choice(
        'blind',
        'to a depth',
        () => ({ kind: 'blind', depth: '10', bottom: 'drill-point' }),
        length('depth', 'Depth'),
        {
          kind: 'pick',
          path: ['bottom'],
          label: 'Bottom',
          options: [
            ['flat', 'flat'],
            ['drill-point', 'drill point'],
          ],
        },
        angle('pointAngle', 'Point angle', '118'),
      ),
    ],
  },
  option(
    'counterbore',
    'Counterbore',
    () => ({ diameter: '14', depth: '4' }),
    length('diameter', 'Diameter'),
    length('depth', 'Depth'),
  ),
  option(
    'countersink',
    'Countersink',
    () => ({ diameter: '14' }),
    length('diameter', 'Diameter'),
    angle('angle', 'Angle', '90'),
  ),
  option('tapped', 'Thread', () => ({ designation: 'M8x1.25' }), ...THREAD),
];

/** The form of every operation. */
export const FORMS: Readonly<Record<Operation, readonly Field[]>> = {
  extrude: [
    MODE,
    PLANE,
    EXTENT,
    { kind: 'flag', path: ['reversed'], label: 'The other way' },
    length('start', 'Begins at', '0'),
    { kind: 'outlines', path: ['outlines'], label: 'Outlines' },
  ],
  revolve: [
    MODE,
    PLANE,
    {
      kind: 'choice',
      path: ['axis'],
      label: 'Turned about',
      of: (value) => (typeof value === 'string' ? value : 'line'),
      choices: [
        choice('u', 'the horizontal axis', () => 'u'),
        choice('v', 'the vertical axis', () => 'v'),
        choice(
          'line',
          'a line',
          () => ({ from: ['0', '0'], to: ['0', '10'] }),
          { kind: 'point', path: ['from'], label: 'From' },
          { kind: 'point', path: ['to'], label: 'To' },
        ),
      ],
    },
    angle('angle', 'By', '360'),
    { kind: 'outlines', path: ['outlines'], label: 'Outlines' },
  ],
  hole: HOLES,
  fillet: [length('radius', 'Radius'), EDGES],
  'full-round': [
    { kind: 'surface', path: ['sides', 0], label: 'One side' },
    { kind: 'surface', path: ['middle'], label: 'Middle' },
    { kind: 'surface', path: ['sides', 1], label: 'Other side' },
  ],
  chamfer: [
    length('size', 'Size'),
    length('other', 'Size on the other face', 'the same'),
    angle('angle', 'or angle', 'none'),
    { kind: 'optional-surface', path: ['on'], label: 'First size lies on' },
    EDGES,
  ],
  rib: [
    PLANE,
    { kind: 'point', path: ['from'], label: 'Line from' },
    { kind: 'point', path: ['to'], label: 'to' },
    length('thickness', 'Thickness'),
    {
      kind: 'pick',
      path: ['side'],
      label: 'Fills to the',
      options: [
        ['left', 'left of the line'],
        ['right', 'right of the line'],
      ],
    },
  ],
  loft: [
    MODE,
    PLANE,
    length('distance', 'Distance of the outlines'),
    { kind: 'outline', path: ['outline'], label: 'First outline' },
    { kind: 'outline', path: ['to'], label: 'Second outline' },
  ],
  mirror: [
    { kind: 'plane', path: ['plane'], label: 'About' },
    { kind: 'optional-steps', path: ['steps'], label: 'What is mirrored' },
  ],
  'linear-pattern': [
    STEPS,
    { kind: 'axis', path: ['direction'], label: 'Along' },
    count('count', 'Number'),
    length('spacing', 'Spacing'),
    option(
      'second',
      'Second direction',
      () => ({ direction: { base: 'Y' }, count: '2', spacing: '20' }),
      { kind: 'axis', path: ['direction'], label: 'Along' },
      count('count', 'Number'),
      length('spacing', 'Spacing'),
    ),
    SKIP,
  ],
  'circular-pattern': [
    STEPS,
    { kind: 'axis', path: ['axis'], label: 'Around' },
    count('count', 'Number'),
    angle('angle', 'From first to last', 'all round'),
    SKIP,
  ],
  plane: [
    {
      kind: 'choice',
      path: ['by'],
      label: 'Made by',
      of: kindOf,
      choices: [
        choice(
          'offset',
          'distance from a plane',
          () => ({ kind: 'offset', from: { base: 'XY' }, distance: '10' }),
          { kind: 'plane', path: ['from'], label: 'From' },
          length('distance', 'Distance'),
        ),
        choice(
          'angled',
          'angle about an edge',
          () => ({ kind: 'angled', from: 'base.end', about: 'base.right', angle: '30' }),
          { kind: 'surface', path: ['from'], label: 'From' },
          { kind: 'surface', path: ['about'], label: 'Edge with' },
          angle('angle', 'Angle'),
        ),
        choice(
          'middle',
          'middle of two surfaces',
          () => ({ kind: 'middle', between: ['base.left', 'base.right'] }),
          { kind: 'surface', path: ['between', 0], label: 'Between' },
          { kind: 'surface', path: ['between', 1], label: 'and' },
        ),
        choice(
          'tangent',
          'touching a round',
          () => ({ kind: 'tangent', to: 'base.wall', facing: { base: 'YZ' } }),
          { kind: 'surface', path: ['to'], label: 'Round' },
          { kind: 'plane', path: ['facing'], label: 'Facing as' },
        ),
      ],
    },
  ],
  axis: [
    {
      kind: 'choice',
      path: ['by'],
      label: 'Made by',
      of: kindOf,
      choices: [
        choice('of', 'axis of a round', () => ({ kind: 'of', surface: 'base.wall' }), {
          kind: 'surface',
          path: ['surface'],
          label: 'Round',
        }),
        choice(
          'meeting',
          'where two planes meet',
          () => ({ kind: 'meeting', between: [{ base: 'XZ' }, { base: 'YZ' }] }),
          { kind: 'plane', path: ['between', 0], label: 'One plane' },
          { kind: 'plane', path: ['between', 1], label: 'Other plane' },
        ),
        choice(
          'square',
          'square to a plane',
          () => ({ kind: 'square', to: { base: 'XY' }, at: ['0', '0'] }),
          { kind: 'plane', path: ['to'], label: 'Plane' },
          { kind: 'point', path: ['at'], label: 'At' },
        ),
      ],
    },
  ],
  thread: [
    { kind: 'surface', path: ['on'], label: 'On' },
    ...THREAD.map((field): Field => ({ ...field, path: ['thread', ...field.path] })),
  ],
};

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
  choice('rounded', 'Corners rounded', () => ({ shape: 'rounded', size: '3' }), length('size', 'Radius'), CORNERS, OF),
  choice('beveled', 'Corners beveled', () => ({ shape: 'beveled', size: '3' }), length('size', 'Size'), CORNERS, OF),
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
    {
      kind: 'choice',
      path: ['about'],
      label: 'About',
      of: (value) => (typeof value === 'string' ? value : 'line'),
      choices: [
        choice('u', 'the horizontal axis', () => 'u'),
        choice('v', 'the vertical axis', () => 'v'),
        choice(
          'line',
          'a line',
          () => ({ through: ['0', '0'], angle: '45' }),
          { kind: 'point', path: ['through'], label: 'Through' },
          angle('angle', 'Angle'),
        ),
      ],
    },
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
