import * as v from 'valibot';
import { describe, expect, it } from 'vitest';

import { OutlineSchema } from '#core/outline';
import { describeOutline, describePlane, describeStep, StepSchema } from '#core/recipe';

const words = (step: object): string => describeStep(v.parse(StepSchema, { id: 'it', ...step }));
const outline = (shape: unknown): string => describeOutline(v.parse(OutlineSchema, shape));
const slot = { shape: 'slot', center: ['0', '0'], length: '60', width: '10' };
const disc = { shape: 'circle', center: ['0', '0'], diameter: 'A' };
const on = { plane: { surface: 'base.end' } };
const cut = (extent: object) => words({ op: 'extrude', mode: 'cut', ...on, outlines: [slot], extent });

describe('a step in words', () => {
  it('says how far an extrusion goes, and with which outline', () => {
    expect(cut({ kind: 'depth', depth: '8' })).toBe('cut 8 deep, slot 60 x 10');
    expect(cut({ kind: 'through' })).toBe('cut through all, slot 60 x 10');
    expect(cut({ kind: 'to-next' })).toBe('cut up to the next surface, slot 60 x 10');
    expect(cut({ kind: 'to-surface', surface: 'rib.edge' })).toBe('cut up to rib.edge, slot 60 x 10');
    expect(cut({ kind: 'two-sided', depth: '4', back: 'B' })).toBe('cut 4 and B to the other side, slot 60 x 10');
    expect(
      words({
        op: 'extrude',
        mode: 'add',
        ...on,
        outlines: [disc, disc, disc, disc],
        extent: { kind: 'depth', depth: 'C' },
      }),
    ).toBe('add C high, 4 outlines');
  });

  it('says everything of a hole that a callout says', () => {
    const hole = (more: object) =>
      words({
        op: 'hole',
        ...on,
        at: { kind: 'points', points: [['0', '0']] },
        diameter: '9',
        depth: { kind: 'through' },
        ...more,
      });
    expect(hole({})).toBe('hole 9, through');
    const ring = { kind: 'bolt-circle', center: ['0', '0'], diameter: '80', count: '6' };
    expect(hole({ at: ring, counterbore: { diameter: '15', depth: '5' } })).toBe(
      '6 x hole 9, through, counterbore 15 x 5, on circle 80',
    );
    const blind = { kind: 'blind', depth: '12', bottom: 'drill-point' };
    expect(hole({ depth: blind, tapped: { designation: 'M10x1.5' } })).toBe(
      'hole 9, 12 deep, drill point, thread M10x1.5',
    );
    const both = { kind: 'concentric', with: ['a.wall', 'b.wall'] };
    expect(hole({ at: both, depth: { kind: 'wall' }, countersink: { diameter: '18' } })).toBe(
      '2 x hole 9, through one wall, countersink 18 x 90 degrees',
    );
  });

  it('names edges, copies and reference geometry', () => {
    const edges = [{ between: ['base.end', 'base.left'] }];
    expect(words({ op: 'fillet', radius: '2', edges })).toBe('fillet R 2, base.end / base.left');
    expect(words({ op: 'fillet', radius: '2', edges: [{ every: 'convex' }] })).toBe('fillet R 2, every convex edge');
    expect(words({ op: 'chamfer', size: '1', other: '2', edges: [...edges, ...edges, ...edges] })).toBe(
      'chamfer 1 x 2, 3 edges',
    );
    expect(words({ op: 'full-round', sides: ['a.left', 'a.right'], middle: 'a.upper' })).toBe(
      'full round in place of a.upper',
    );
    expect(words({ op: 'mirror', plane: { base: 'YZ' } })).toBe('mirror the whole body about YZ');
    const second = { direction: { base: 'Y' }, count: '2', spacing: '9' };
    expect(
      words({ op: 'linear-pattern', steps: ['bolt'], direction: { base: 'X' }, count: '3', spacing: 'A', second }),
    ).toBe('3 x 2 x bolt, A apart');
    expect(words({ op: 'circular-pattern', steps: ['bolt', 'pin'], axis: { base: 'Z' }, count: '4' })).toBe(
      '4 x bolt, pin around an axis',
    );
    expect(words({ op: 'plane', by: { kind: 'tangent', to: 'a.wall', facing: { base: 'XZ' } } })).toBe(
      'plane, tangent',
    );
    expect(words({ op: 'axis', by: { kind: 'of', surface: 'a.wall' } })).toBe('axis, of a cylinder');
    expect(words({ op: 'thread', on: 'a.wall', thread: { designation: 'M8' } })).toBe('thread M8 on a.wall');
    expect(describePlane({ plane: 'tilt', offset: '3' })).toBe('plane tilt + 3');
  });

  it('tells outlines within outlines', () => {
    expect(outline({ shape: 'filleted', of: slot, size: '2' })).toBe('slot 60 x 10, corners R 2');
    expect(outline({ shape: 'difference', parts: [slot, disc] })).toBe('slot 60 x 10 less circle A');
    expect(outline({ shape: 'polar', of: disc, center: ['0', '0'], count: '5' })).toBe('5 x circle A around a center');
    expect(outline({ shape: 'mirrored', of: slot, about: 'v', keep: true })).toBe(
      'slot 60 x 10, with its mirror image',
    );
    expect(outline({ shape: 'polygon', center: ['0', '0'], sides: '6', size: '24', across: 'flats' })).toBe(
      'polygon of 6 sides, 24 across flats',
    );
  });
});

describe('a recipe that is not sound', () => {
  const issue = (step: object): boolean => v.safeParse(StepSchema, { id: 'it', ...step }).success;
  it('is refused: unknown operations, fields that mean nothing, empty lists, names with spaces', () => {
    expect(issue({ op: 'melt' })).toBe(false);
    expect(issue({ op: 'fillet', radius: '2', edges: [] })).toBe(false);
    expect(issue({ op: 'fillet', radius: '2', edges: [{ every: 'convex' }], depth: '3' })).toBe(false);
    expect(issue({ id: 'two words', op: 'fillet', radius: '2', edges: [{ every: 'convex' }] })).toBe(false);
    expect(issue({ op: 'fillet', radius: '   ', edges: [{ every: 'convex' }] })).toBe(false);
    expect(
      issue({ op: 'extrude', mode: 'cut', ...on, outlines: [{ shape: 'blob' }], extent: { kind: 'through' } }),
    ).toBe(false);
  });
});
