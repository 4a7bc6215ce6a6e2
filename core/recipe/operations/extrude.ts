import * as v from 'valibot';

import { offsetPlane, type Shape, type WorkPlane } from '#core/kernel';
import { prismCaps, prismWalls, profileOf, type Named, type Region } from '#core/outline';
import { ProblemError } from '#core/problem';
import { ExpressionSchema, type DrawingUnit } from '#core/quantity';
import { cross, dot, length as sizeOf, subtract } from '#core/vector';

import { numbered, type Context, type Outcome } from '../context.ts';
import { CLEARANCE_MM, faced, regionsOf } from '../drawn.ts';
import { ExtentSchema, ModeSchema, OutlinesSchema, PlaneSchema, type Extent } from '../entries.ts';
import { choice, kindOfValue, length, MODE, OUTLINES, PLANE, type Field } from '../form.ts';
import { defineOperation, type StepExtent, type StepMistake, type StepWith } from '../operation.ts';
import { planeOn } from '../planes.ts';
import { seat } from '../start.ts';
import { facesOn } from '../surfaces.ts';
import { describeOutlines } from '../words.ts';

const fields = {
  mode: ModeSchema,
  plane: PlaneSchema,
  outlines: OutlinesSchema,
  extent: ExtentSchema,
  /** Material is added along the normal and cut against it; reversed the other way. */
  reversed: v.optional(v.boolean()),
  /** Where it begins, as a distance from the plane in the direction of the extrusion. */
  start: v.optional(ExpressionSchema),
};
type Extrude = StepWith<typeof fields>;

function build(step: Extrude, context: Context): Outcome {
  const { kernel, keep } = context;
  const plane = context.plane(step.plane);
  const outlines = step.outlines.map((outline) => regionsOf(outline, context));
  const range = rangeOf(step, plane, context);
  const tools = outlines.flat().map((region) => {
    const prism = keep(kernel.extrude(plane, profileOf(region), range.fromMm, range.toMm));
    return range.stop === null ? prism : stopped(prism, { step, plane, range, stop: range.stop, region }, context);
  });
  const caps = prismCaps(plane, range.fromMm, range.toMm).filter(([role]) => role === 'start' || range.stop === null);
  return {
    kind: 'parts',
    parts: [{ mode: step.mode, tools }],
    surfaces: outlines.flatMap((regions, i) =>
      faced(step.mode, [...caps, ...regions.flatMap((region) => prismWalls(plane, region, range.wallsAtMm))]).map(
        ([role, surface]): Named => [numbered(i, outlines.length, role), surface],
      ),
    ),
  };
}

type Stop = Extract<Extent, { kind: 'to-next' | 'to-surface' }>;

interface Range {
  readonly fromMm: number;
  readonly toMm: number;
  /** A height at which its walls are on the part. */
  readonly wallsAtMm: number;
  /** What ends the prism before `toMm`, or null. */
  readonly stop: Stop | null;
}

/** Material is added along the normal of the plane and cut against it, into the body. */
function rangeOf(step: Extrude, plane: WorkPlane, context: Context): Range {
  const { extent } = step;
  const { values } = context;
  const sign = (step.mode === 'add' ? 1 : -1) * (step.reversed === true ? -1 : 1);
  const start = step.start === undefined ? 0 : values.lengthMm(step.start, 'start');
  const range = (from: number, to: number): Range => ({
    fromMm: sign * (start + from),
    toMm: sign * (start + to),
    wallsAtMm: sign * (start + (from + to) / 2),
    stop: null,
  });
  const far = () => {
    const reach = context.reach(plane);
    return sign > 0 ? reach.toMm : -reach.fromMm;
  };
  switch (extent.kind) {
    case 'depth':
      return range(0, values.sizeMm(extent.depth, 'depth'));
    case 'symmetric': {
      const depth = values.sizeMm(extent.depth, 'depth');
      return range(-depth / 2, depth / 2);
    }
    case 'two-sided':
      return range(-values.sizeMm(extent.back, 'depth to the other side'), values.sizeMm(extent.depth, 'depth'));
    case 'through': {
      const reach = context.reach(plane);
      // From a face of the part it goes on into the material only; from a plane it goes both ways.
      if (!('surface' in step.plane)) return { ...reach, wallsAtMm: (reach.fromMm + reach.toMm) / 2, stop: null };
      const to = far();
      if (to <= start) throw new ProblemError('nothing-to-cut', 'There is nothing of the part in this direction.');
      return { fromMm: sign * (start - CLEARANCE_MM), toMm: sign * to, wallsAtMm: sign * start, stop: null };
    }
    case 'to-next':
    case 'to-surface': {
      const to = far();
      if (to <= start) throw new ProblemError('nothing-ahead', 'There is nothing of the part in this direction.');
      return { fromMm: sign * start, toMm: sign * to, wallsAtMm: sign * start, stop: extent };
    }
  }
}

interface Stopping {
  readonly step: Extrude;
  readonly plane: WorkPlane;
  readonly range: Range;
  readonly stop: Stop;
  readonly region: Region;
}

/** The part of a long prism that lies before the surface that ends it. */
function stopped(prism: Shape, { step, plane, range, stop, region }: Stopping, context: Context): Shape {
  const { kernel, keep } = context;
  const nearest = (
    pieces: readonly Shape[],
  ): readonly { readonly shape: Shape; readonly from: number; readonly to: number }[] =>
    pieces
      .map((shape) => {
        const box = kernel.boxOn(keep(shape), plane);
        const [near, far] = [box.min[2] - range.fromMm, box.max[2] - range.fromMm];
        return range.toMm > range.fromMm ? { shape, from: near, to: far } : { shape, from: -far, to: -near };
      })
      .sort((a, b) => a.from - b.from);
  if (stop.kind === 'to-next') {
    const body = context.body();
    const whole = step.mode === 'add' ? kernel.cut(prism, [body]) : kernel.common(prism, [body]);
    const [first] = nearest(kernel.pieces(keep(whole)));
    if (first === undefined)
      throw new ProblemError(
        'nothing-ahead',
        step.mode === 'add' ? 'There is no room up to the next surface.' : 'There is no material in this direction.',
      );
    const long = Math.abs(range.toMm - range.fromMm);
    if (step.mode === 'add' && (first.from > 1e-4 || first.to > long - 1e-4))
      throw new ProblemError('nothing-ahead', 'Nothing stops it: the part does not cover the whole outline ahead.');
    return first.shape;
  }
  const surface = context.surface(stop.surface);
  const beyond = stop.offset === undefined ? 0 : context.values.lengthMm(stop.offset, 'offset from the surface');
  if (surface.kind === 'plane') {
    const target = planeOn(surface, stop.surface);
    const slope = dot(target.normal, plane.normal);
    if (Math.abs(slope) < 1e-6)
      throw new ProblemError('never-meets', `"${stop.surface}" lies along the direction and never ends it.`);
    const shift = Math.sign(range.toMm - range.fromMm) * beyond;
    const end = offsetPlane(target, shift * slope);
    if (sizeOf(cross(target.normal, plane.normal)) < 1e-9) {
      const depth = dot(subtract(end.origin, plane.origin), plane.normal);
      if ((depth - range.fromMm) * (range.toMm - range.fromMm) <= 1e-9)
        throw new ProblemError('behind', `"${stop.surface}" lies behind the outline; reverse the direction.`);
      return keep(kernel.extrude(plane, profileOf(region), range.fromMm, depth));
    }
    const size = 4 * (Math.abs(range.toMm) + Math.abs(range.fromMm) + 1000);
    const away = Math.sign(slope) * Math.sign(range.toMm - range.fromMm) * size;
    const square = { kind: 'path', start: [-size, -size], segments: squareTo(size) } as const;
    const rest = kernel.cut(prism, [keep(kernel.extrude(end, square, 0, away))]);
    const [first] = nearest(kernel.pieces(keep(rest)));
    if (first === undefined) throw new ProblemError('behind', `"${stop.surface}" lies behind the outline.`);
    return first.shape;
  }
  const body = context.body();
  const pieces = kernel.splitBy(prism, body, facesOn(context.tables(body).faces, surface));
  const [first, ...rest] = nearest(pieces);
  if (first === undefined || rest.length === 0)
    throw new ProblemError('never-meets', `"${stop.surface}" does not cover the whole outline ahead.`);
  return first.shape;
}

const squareTo = (size: number) =>
  (
    [
      [size, -size],
      [size, size],
      [-size, size],
      [-size, -size],
    ] as const
  ).map((to) => ({ kind: 'line', to }) as const);

function describeExtent(mode: Extrude['mode'], extent: Extent): string {
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

const EXTENTS: Readonly<Record<Extent['kind'], StepExtent | null>> = {
  depth: null,
  symmetric: 'symmetric',
  'two-sided': null,
  through: 'through',
  'to-next': 'up-to',
  'to-surface': 'up-to',
};

const EXTENT: Field = {
  kind: 'choice',
  path: ['extent'],
  label: 'How far',
  of: kindOfValue,
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

/** A depth that a dialog may open with, in the drawing unit. */
const USUAL_DEPTH: Readonly<Record<DrawingUnit, string>> = { mm: '10', in: '0.5' };

function mistakes({ mode, extent, reversed }: Extrude, unit: DrawingUnit): readonly StepMistake[] {
  const toExtent = (value: object): StepMistake['changes'] => [{ path: ['extent'], value }];
  const wrongSide: StepMistake = {
    kind: 'wrong-side',
    key: 'reversed',
    changes: [{ path: ['reversed'], value: reversed === true ? null : true }],
    words: 'it was extruded to the other side of its plane.',
  };
  switch (extent.kind) {
    case 'symmetric':
      return [
        wrongSide,
        {
          kind: 'one-sided',
          key: 'extent',
          changes: toExtent({ kind: 'depth', depth: extent.depth }),
          words: 'it lies on one side of its plane; the sheet shows it symmetric.',
        },
        {
          kind: 'one-sided',
          key: 'extent-half',
          changes: toExtent({ kind: 'depth', depth: `(${extent.depth})/2` }),
          words: 'only half of it is there; the sheet shows it symmetric about its plane.',
          factor: 0.5,
        },
      ];
    case 'depth':
      return [
        wrongSide,
        {
          kind: 'one-sided',
          key: 'extent',
          changes: toExtent({ kind: 'symmetric', depth: extent.depth }),
          words: 'it is symmetric about its plane; the sheet shows it on one side.',
          factor: 0.7,
        },
        ...(mode === 'cut'
          ? [
              {
                kind: 'through-for-blind',
                key: 'extent',
                changes: toExtent({ kind: 'through' }),
                words: 'it goes through; the sheet gives it a depth.',
                ofAnySize: true,
              } as const,
            ]
          : []),
      ];
    case 'two-sided':
      return [
        wrongSide,
        {
          kind: 'wrong-side',
          key: 'swapped',
          changes: toExtent({ ...extent, depth: extent.back, back: extent.depth }),
          words: 'its two depths are swapped.',
        },
      ];
    case 'through':
      return mode === 'add'
        ? [wrongSide]
        : [
            wrongSide,
            {
              kind: 'blind-for-through',
              key: 'extent',
              changes: toExtent({ kind: 'depth', depth: USUAL_DEPTH[unit] }),
              words: `it ends after ${USUAL_DEPTH[unit]} ${unit}; the sheet shows it going through.`,
            },
          ];
    case 'to-next':
    case 'to-surface':
      return [wrongSide];
  }
}

/** A prism over outlines, added to the part or cut from it. */
export const extrude = defineOperation({
  op: 'extrude',
  name: 'Extrude',
  searchWords: 'prism block boss pocket slot cut add raise',
  logWords:
    /\bextru(de|ded|des|sion|sions)\b|\bpush(ed)?\b|\bpull(ed)?\b|\bboss(es)?\b|\bcut(s|[ -]?outs?)?\b|\bpockets?\b|\bslots?\b|\bnotch(es)?\b|\bbase (plate|block|body)\b/,
  fields,
  surfaces: ['start', 'end', 'wall', 'left', 'right', 'lower', 'upper', '1.wall'],
  effect: ({ mode }) => (mode === 'add' ? 'adds' : 'cuts'),
  build,
  sentence: ({ mode, extent, outlines }) => `${mode} ${describeExtent(mode, extent)}, ${describeOutlines(outlines)}`,
  form: [
    MODE,
    PLANE,
    EXTENT,
    { kind: 'flag', path: ['reversed'], label: 'The other way' },
    length('start', 'Begins at', '0'),
    OUTLINES,
  ],
  start: ({ freeId, surfaces }): Extrude => ({
    id: freeId('block'),
    mode: 'add',
    plane: seat(surfaces),
    outlines: [{ shape: 'rectangle', center: ['0', '0'], width: '40', height: '30' }],
    extent: { kind: 'depth', depth: '10' },
  }),
  mistakes,
  placed: ({ outlines }) =>
    outlines.flatMap((outline, i) =>
      'center' in outline && Array.isArray(outline.center)
        ? [
            {
              path: ['outlines', i, 'center'],
              point: outline.center,
              half: outline.shape === 'slot' ? `(${outline.width})/2` : null,
            },
          ]
        : [],
    ),
  extent: ({ extent }) => EXTENTS[extent.kind],
});
