/**
 * What is written on a sheet is what a ruler and a protractor read from it: every dimension is measured again from the
 * lines and arrowheads that are drawn, by the scale of its view.
 */
import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import type { Target } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import type { PlacedOffset, Sheet, SheetEntity } from '#core/sheet';
import type { Vec2 } from '#core/vector';
import { demoExercises } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { sampleOf } from '../../demo/exercises/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

type Of<K extends SheetEntity['kind']> = Extract<SheetEntity, { kind: K }>;

/** A dimension with all that is drawn of it, and what it should measure, in mm or degrees. */
interface Drawn {
  readonly placed: PlacedOffset;
  readonly scale: number;
  readonly nominal: number;
  readonly entities: readonly SheetEntity[];
  /** Lines of its view. */
  readonly view: readonly SheetEntity[];
}

const all = <K extends SheetEntity['kind']>(entities: readonly SheetEntity[], kind: K): readonly Of<K>[] =>
  entities.filter((entity): entity is Of<K> => entity.kind === kind);

const drawnOf = (sheet: Sheet, targets: readonly Target[]): readonly Drawn[] => {
  const entities = sheet.pages.flatMap((page) => page.entities);
  return sheet.dimensions.flatMap((placed): Drawn[] => {
    const target = targets.find(({ checkId }) => checkId === placed.id);
    const view = sheet.views.find(({ viewId }) => viewId === placed.viewId);
    if (target === undefined || view === undefined || !('nominal' in target)) return [];
    return [
      {
        placed,
        scale: view.scale,
        nominal: target.nominal,
        entities: entities.filter(({ checkId }) => checkId === placed.id),
        view: entities.filter(({ viewId, checkId }) => viewId === placed.viewId && checkId === undefined),
      },
    ];
  });
};

const towards = (angle: number): Vec2 => [Math.cos(angle), Math.sin(angle)];
const minus = (a: Vec2, b: Vec2): Vec2 => [a[0] - b[0], a[1] - b[1]];
const dot = (a: Vec2, b: Vec2): number => a[0] * b[0] + a[1] * b[1];
const cross = (a: Vec2, b: Vec2): number => a[0] * b[1] - a[1] * b[0];
const apart = (a: Vec2, b: Vec2): number => Math.hypot(...minus(a, b));

/** How far a point is from a line between two points. */
function fromLine(point: Vec2, from: Vec2, to: Vec2): number {
  const [run, arm] = [minus(to, from), minus(point, from)];
  const share = Math.min(1, Math.max(0, dot(arm, run) / Math.max(1e-12, dot(run, run))));
  return apart(point, [from[0] + share * run[0], from[1] + share * run[1]]);
}

const drawings = new Map<Exercise, readonly Drawn[]>();
function dimensionsOf(exercise: Exercise): readonly Drawn[] {
  const known = drawings.get(exercise);
  if (known !== undefined) return known;
  const { sheet, reference } = unwrap(prepareExercise(kernel, exercise));
  const found = drawnOf(sheet, reference.targets);
  drawings.set(exercise, found);
  return found;
}

describe.each(sampleOf(demoExercises, 4).map((exercise) => [exercise.title, exercise] as const))(
  'on the sheet of the %s',
  (_title, exercise) => {
    const withArrows = (count: number): readonly Drawn[] =>
      dimensionsOf(exercise).filter(({ entities }) => all(entities, 'arrow').length === count);
    const lengths = (): readonly Drawn[] => withArrows(2).filter(({ placed }) => placed.angle !== null);
    const angles = (): readonly Drawn[] =>
      withArrows(2).filter(({ placed, entities }) => placed.angle === null && all(entities, 'arc').length > 0);
    const tipsOf = ({ entities }: Drawn): readonly [Vec2, Vec2] => {
      const [a, b] = all(entities, 'arrow');
      return [a!.tip, b!.tip];
    };

    it('the arrows of a length are as far apart as it says, along one line', () => {
      expect(lengths().length).toBeGreaterThan(2);
      for (const one of lengths()) {
        const [a, b] = tipsOf(one);
        const along = towards(one.placed.angle!);
        const length = Math.abs(dot(minus(b, a), along)) / one.scale;
        expect([one.placed.id, length]).toEqual([one.placed.id, expect.closeTo(one.nominal, 3)]);
        expect(Math.abs(cross(along, minus(b, a)))).toBeLessThan(1e-6);
      }
    });

    it('both arrows of a length point out to their extension lines, or both in to them where it is narrow', () => {
      for (const { placed, entities } of lengths()) {
        const [a, b] = all(entities, 'arrow');
        const out = minus(b!.tip, a!.tip);
        const size = Math.hypot(...out);
        const [first, second] = [a, b].map((arrow) => dot(towards(arrow!.angle), out) / size);
        expect([placed.id, first! * second!]).toEqual([placed.id, expect.closeTo(-1, 6)]);
        // Two arrowheads of 3 mm do not fit between lines that are nearer than that.
        if (size < 6) expect([placed.id, first]).toEqual([placed.id, expect.closeTo(1, 6)]);
      }
    });

    it('an extension line goes through each tip, a little beyond it, from a line or corner of the view', () => {
      for (const { placed, entities, view } of lengths()) {
        const lines = all(entities, 'line');
        const along = towards(placed.angle!);
        for (const { tip } of all(entities, 'arrow')) {
          const extension = lines.find(
            ({ from, to }) => Math.abs(dot(minus(to, from), along)) < 1e-6 && fromLine(tip, from, to) < 1e-6,
          );
          // A length inside the view may stand between two of its own lines.
          if (extension === undefined) {
            expect([placed.id, nearest(tip, view)]).toEqual([placed.id, expect.closeTo(0, 1)]);
            continue;
          }
          const [near, far] = [extension.from, extension.to].sort((p, q) => apart(q, tip) - apart(p, tip)) as [
            Vec2,
            Vec2,
          ];
          expect([placed.id, apart(far, tip) > 1 && apart(far, tip) < 3]).toEqual([placed.id, true]);
          expect([placed.id, nearest(near, view) < 2.5]).toEqual([placed.id, true]);
        }
      }
    });

    it('the text of a length lies along its line, less than a row away', () => {
      for (const { placed, entities } of lengths()) {
        const [a, b] = all(entities, 'arrow');
        const along = towards(placed.angle!);
        for (const { at, angle = 0 } of all(entities, 'text')) {
          expect([placed.id, Math.abs(cross(towards(angle), along))]).toEqual([placed.id, expect.closeTo(0, 6)]);
          expect([placed.id, Math.abs(cross(along, minus(at, a!.tip))) < 7]).toEqual([placed.id, true]);
          // Read from below or from the right.
          expect(Math.cos(angle)).toBeGreaterThan(-1e-6);
        }
        expect(b).toBeDefined();
      }
    });

    it('the arrows of an angle stand on its arc, as far apart as it says', () => {
      for (const { placed, entities, nominal } of angles()) {
        const [arc] = all(entities, 'arc');
        const [a, b] = all(entities, 'arrow');
        for (const arrow of [a!, b!]) {
          expect(apart(arrow.tip, arc!.center)).toBeCloseTo(arc!.radius, 6);
          // Along the arc, save for what it bends within an arrowhead.
          const arm = minus(arrow.tip, arc!.center);
          expect(Math.abs(dot(towards(arrow.angle), arm)) / arc!.radius).toBeLessThan(0.2);
        }
        const [p, q] = [a!, b!].map(({ tip }) => minus(tip, arc!.center)) as [Vec2, Vec2];
        const between = (Math.atan2(Math.abs(cross(p, q)), dot(p, q)) * 180) / Math.PI;
        expect([placed.id, Math.min(between, 360 - between)]).toEqual([placed.id, expect.closeTo(nominal, 3)]);
      }
    });

    it('a leader ends at a line of its view, or at the circle that is drawn with it', () => {
      for (const { placed, entities, view } of withArrows(1)) {
        const [arrow] = all(entities, 'arrow');
        const own = entities.filter(({ kind }) => kind === 'arc');
        expect([placed.id, nearest(arrow!.tip, [...view, ...own]) < 0.06]).toEqual([placed.id, true]);
      }
    });

    it('the circle of holes on a circle is as large as it says', () => {
      for (const { placed, entities, nominal, scale } of withArrows(1))
        for (const circle of all(entities, 'arc'))
          expect([placed.id, (2 * circle.radius) / scale]).toEqual([placed.id, expect.closeTo(nominal, 6)]);
    });
  },
);

/** How far a point is from the nearest line that is drawn of the part, in paper mm. */
function nearest(point: Vec2, view: readonly SheetEntity[]): number {
  const far = (entity: SheetEntity): number => {
    switch (entity.kind) {
      case 'line':
        return fromLine(point, entity.from, entity.to);
      case 'polyline':
        return Math.min(...entity.points.slice(1).map((to, i) => fromLine(point, entity.points[i]!, to)));
      case 'arc': {
        const angle = Math.atan2(point[1] - entity.center[1], point[0] - entity.center[0]);
        const turn = ((angle - entity.start) * Math.sign(entity.sweep) + 4 * Math.PI) % (2 * Math.PI);
        if (turn <= Math.abs(entity.sweep) + 1e-9) return Math.abs(apart(point, entity.center) - entity.radius);
        return Math.min(
          ...[entity.start, entity.start + entity.sweep].map((at) => {
            const [u, v] = towards(at);
            return apart(point, [entity.center[0] + entity.radius * u, entity.center[1] + entity.radius * v]);
          }),
        );
      }
      case 'ellipse': {
        const ends = Array.from({ length: 181 }, (_, i) => entity.start + (entity.sweep * i) / 180);
        const [cos, sin] = towards(entity.turn);
        return Math.min(
          ...ends.map((at) => {
            const [u, v] = [entity.radii[0] * Math.cos(at), entity.radii[1] * Math.sin(at)];
            return apart(point, [entity.center[0] + cos * u - sin * v, entity.center[1] + sin * u + cos * v]);
          }),
        );
      }
      default:
        return Infinity;
    }
  };
  return Math.min(...view.map(far));
}
