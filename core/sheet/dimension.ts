import type { Target } from '#core/check';
import type { Check } from '#core/exercise';
import { circleCover, featuresOf, findHoles, type Hole } from '#core/feature';
import { facesOn, type Thread } from '#core/recipe';
import type { Face, Surface } from '#core/solid';
import { angleBetween, boxCenter, cross, dot, length, subtract, type Vec2, type Vec3 } from '#core/vector';

import { pointsAlong, type ViewLines } from './lines.ts';
import { dimensionText, sizeText, type Writer } from './text.ts';
import { seen, type ViewAxes } from './views.ts';

/** A view that dimensions can be written in, with its lines in view coordinates, mm. */
export interface DimensionView {
  readonly id: string;
  readonly axes: ViewAxes;
  readonly lines: ViewLines;
  /** Whether the inside of the part is shown cut open. */
  readonly section: boolean;
  /** Only dimensions that are asked to be there are written in it. */
  readonly onlyWanted: boolean;
}

/** What an extension line starts from, in the turned coordinates of its dimension: place along it, extent across it. */
export interface Witness {
  readonly at: number;
  readonly low: number;
  readonly high: number;
}

/** Words that belong to one check; null for what is said of no check. */
export interface Run {
  readonly text: string;
  readonly checkId: string | null;
}

/** What a leader may point at: a circle, a piece of one, or a point (radius 0). View coordinates, mm. */
export interface LeaderTarget {
  readonly center: Vec2;
  readonly radius: number;
  /** Where on the circle the arrow may touch, rad; null when anywhere. */
  readonly at: number | null;
}

interface Common {
  /** Of its first check; of a thread without check, the id of its step. */
  readonly id: string;
  readonly viewId: string;
  /** Ends that are measured to lines which are hidden in the view. */
  readonly hiddenEnds: number;
}

/** A dimension in the coordinates of its view, before its place is chosen. */
export type ViewDimension =
  | (Common & {
      readonly kind: 'linear';
      readonly text: string;
      /** Direction that it is measured along: 0 is to the right, more than -90 and at most 90 degrees. */
      readonly angle: number;
      readonly from: Witness;
      readonly to: Witness;
    })
  | (Common & {
      readonly kind: 'leader';
      readonly rows: readonly (readonly Run[])[];
      readonly targets: readonly LeaderTarget[];
      /** The circle is drawn as a center line, as that through the axes of holes. */
      readonly circle: LeaderTarget | null;
    })
  | (Common & {
      readonly kind: 'angular';
      readonly text: string;
      readonly apex: Vec2;
      /** Directions of the two legs from the apex, rad, and how far the faces begin from it. */
      readonly legs: readonly [Leg, Leg];
    });
export interface Leg {
  readonly angle: number;
  readonly reach: number;
}

type TargetOf<K extends Target['kind']> = Extract<Target, { kind: K }>;

const PARALLEL_SINE = 1e-6;
const SAME_MM = 1e-3;
const parallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < PARALLEL_SINE * length(a) * length(b);
const square = (a: Vec3, b: Vec3): boolean => Math.abs(dot(a, b)) < PARALLEL_SINE * length(a) * length(b);

/** Turns a point so that the direction `angle` lies to the right. */
export const turned = ([x, y]: Vec2, angle: number): Vec2 => [
  x * Math.cos(angle) + y * Math.sin(angle),
  y * Math.cos(angle) - x * Math.sin(angle),
];

/** The dimensions of the sheet, made from the checks that are dimensions; each in the view that shows it best. */
export function dimensionsOf(
  writer: Writer,
  views: readonly DimensionView[],
  threads: readonly Thread[] = [],
): ViewDimension[] {
  return new Drafter(writer, views, threads).draft();
}

/** A flat face, the axis of a round, or an end of the part, as it is measured to. */
interface End {
  readonly bounds: Face['bounds'];
  /** Point of the axis of a round, null for a flat face. */
  readonly axis: { readonly origin: Vec3; readonly direction: Vec3 } | null;
  readonly outer: boolean;
}

interface Callout {
  readonly id: string;
  readonly rounds: readonly Face[];
  readonly holes: readonly Hole[];
  first: Run[];
  readonly more: Run[][];
  readonly wanted: string | undefined;
}

class Drafter {
  private readonly writer: Writer;
  private readonly views: readonly DimensionView[];
  private readonly threads: readonly Thread[];
  private readonly holes: readonly Hole[];
  private readonly used = new Map<string, number>();
  /** Chamfers that one of their two sizes says already, with the angle. */
  private readonly chamfered = new Set<number>();

  constructor(writer: Writer, views: readonly DimensionView[], threads: readonly Thread[]) {
    this.writer = writer;
    this.views = views;
    this.threads = threads;
    this.holes = findHoles(writer.reference.solid);
  }

  draft(): ViewDimension[] {
    const out: ViewDimension[] = [];
    const callouts: Callout[] = [];
    const later: (() => void)[] = [];
    for (const check of this.writer.exercise.checks) {
      const target = this.writer.reference.targets.find(({ checkId }) => checkId === check.id);
      if (target === undefined || check.off === true || ('onSheet' in check && check.onSheet === false)) continue;
      const linear = this.linearOf(check, target);
      if (linear !== null) {
        out.push(linear);
        this.used.set(linear.viewId, (this.used.get(linear.viewId) ?? 0) + 1);
        continue;
      }
      switch (target.kind) {
        case 'diameter':
        case 'radius':
          this.round(check, target, out, callouts, later);
          break;
        case 'hole-size':
        case 'countersink-angle':
          later.push(() => {
            this.detailOfHole(check, target, callouts);
          });
          break;
        case 'bolt-circle':
          this.add(out, this.boltCircle(check, target));
          break;
        case 'chamfer-size':
          this.add(out, this.chamfer(check, target));
          break;
        case 'angle':
          this.add(out, this.angle(check, target));
          break;
        default:
      }
    }
    for (const work of later) work();
    const threads = this.threadRuns(callouts);
    for (const callout of callouts) this.add(out, this.calloutOf(callout));
    for (const thread of threads) this.add(out, thread);
    return out;
  }

  private add(out: ViewDimension[], dimension: ViewDimension | null): void {
    if (dimension === null) return;
    out.push(dimension);
    this.used.set(dimension.viewId, (this.used.get(dimension.viewId) ?? 0) + 1);
  }

  private face(ids: readonly number[]): Face | undefined {
    return this.writer.reference.solid.faces[ids[0] ?? -1];
  }

  private text(check: Check, target: Target): string {
    const prefix = 'prefix' in check && check.prefix !== undefined ? `${check.prefix} ` : '';
    return 'nominal' in check && 'tolerance' in check ? `${prefix}${sizeText(check, target, this.writer)}` : prefix;
  }

  // ---- linear

  private linearOf(check: Check, target: Target): ViewDimension | null {
    const text = this.text(check, target);
    switch (target.kind) {
      case 'distance':
      case 'thickness': {
        const [a, b] = [this.face(target.fromFaceIds), this.face(target.toFaceIds)];
        return a?.surface.kind === 'plane' && b ? this.linear(check, text, endOf(a), endOf(b), a.surface.normal) : null;
      }
      case 'overall-size': {
        const { bounds } = this.writer.reference.solid;
        const axis: Vec3 = [target.axis === 0 ? 1 : 0, target.axis === 1 ? 1 : 0, target.axis === 2 ? 1 : 0];
        const end = (at: Vec3): End => ({
          bounds: { min: clampTo(bounds.min, axis, at), max: clampTo(bounds.max, axis, at) },
          axis: null,
          outer: true,
        });
        return this.linear(check, text, end(bounds.min), end(bounds.max), axis);
      }
      case 'hole-position': {
        const [plane, round] = [this.face(target.fromFaceIds), this.face(target.faceIds)];
        return plane?.surface.kind === 'plane' && round?.surface.kind === 'cylinder'
          ? this.linear(check, text, endOf(plane), endOf(round), plane.surface.normal, round.surface.direction)
          : null;
      }
      case 'center-distance': {
        const [a, b] = [this.face(target.fromFaceIds), this.face(target.toFaceIds)];
        if (a?.surface.kind !== 'cylinder' || b?.surface.kind !== 'cylinder') return null;
        const { direction } = a.surface;
        const apart = subtract(b.surface.origin, a.surface.origin);
        const lift = dot(apart, direction);
        const across: Vec3 = [
          apart[0] - lift * direction[0],
          apart[1] - lift * direction[1],
          apart[2] - lift * direction[2],
        ];
        const along: Vec3 =
          target.along === undefined
            ? across
            : [target.along === 0 ? 1 : 0, target.along === 1 ? 1 : 0, target.along === 2 ? 1 : 0];
        return this.linear(check, text, endOf(a), endOf(b), along, direction);
      }
      case 'diameter':
        return this.across(check, target, text);
      default:
        return null;
    }
  }

  /** A turned diameter, written across a view that shows its axis in true length. */
  private across(check: Check, target: TargetOf<'diameter'>, text: string): ViewDimension | null {
    const [round] = target.members.flatMap((ids) => this.face(ids) ?? []);
    if (round?.surface.kind !== 'cylinder' || target.members.length !== 1) return null;
    const { surface } = round;
    const outside = surface.side === 'convex';
    const inSection = this.views.some(({ section, axes }) => section && square(axes.toViewer, surface.direction));
    if (!outside && !(inSection && this.holeOf(round) === undefined)) return null;
    const { direction, radiusMm, origin } = surface;
    return this.best(check, (view) => {
      if (!square(view.axes.toViewer, direction) || (!outside && !view.section)) return null;
      const along = seen(view.axes, direction);
      const angle = properAngle(Math.atan2(along[1], along[0]) + Math.PI / 2);
      const center = turned(seen(view.axes, origin), angle);
      const [low, high] = range(cornersOf(round.bounds).map((p) => turned(seen(view.axes, p), angle)[1]));
      const [from, to] = [center[0] - radiusMm, center[0] + radiusMm].map((at): Witness => ({ at, low, high }));
      if (!from || !to) return null;
      return {
        kind: 'linear',
        id: check.id,
        viewId: view.id,
        hiddenEnds: hiddenEnds(view, angle, [from, to]),
        text: `⌀${text}`,
        angle,
        from,
        to,
      };
    });
  }

  private linear(check: Check, text: string, from: End, to: End, along: Vec3, seenAlong?: Vec3): ViewDimension | null {
    return this.best(
      check,
      (view) => {
        if (!square(view.axes.toViewer, along)) return null;
        const direction = seen(view.axes, along);
        const angle = properAngle(Math.atan2(direction[1], direction[0]));
        const ends = [from, to].map((end) => witness(view, angle, end));
        const [a, b] = ends;
        if (!a || !b || Math.abs(a.at - b.at) < SAME_MM) return null;
        const outer = [from, to].map(({ outer: isOuter }) => isOuter);
        const hidden = hiddenEnds(
          view,
          angle,
          ends.filter((_, i) => outer[i] !== true),
        );
        return { kind: 'linear', id: check.id, viewId: view.id, hiddenEnds: hidden, text, angle, from: a, to: b };
      },
      (view) => (seenAlong === undefined || parallel(view.axes.toViewer, seenAlong) ? 0 : 3),
    );
  }

  /** The dimension in the view that shows it best: as wanted, to visible lines, true to its axis, and not overcrowded. */
  private best(
    check: Check | null,
    make: (view: DimensionView) => ViewDimension | null,
    extra: (view: DimensionView) => number = () => 0,
  ): ViewDimension | null {
    const wanted =
      check === null
        ? undefined
        : (this.writer.exercise.sheet?.placed?.[check.id]?.view ?? ('view' in check ? check.view : undefined));
    let found: { dimension: ViewDimension; cost: number } | null = null;
    for (const [i, view] of this.views.entries()) {
      if (view.onlyWanted && view.id !== wanted) continue;
      const dimension = make(view);
      if (dimension === null) continue;
      const cost =
        (view.id === wanted ? -100 : 0) +
        2.5 * dimension.hiddenEnds +
        extra(view) +
        0.05 * (this.used.get(view.id) ?? 0) +
        0.05 * i;
      if (found === null || cost < found.cost) found = { dimension, cost };
    }
    return found?.dimension ?? null;
  }

  // ---- rounds and callouts

  private holeOf({ id }: Face): Hole | undefined {
    return this.holes.find(({ faceIds }) => faceIds.includes(id));
  }

  private round(
    check: Check,
    target: TargetOf<'diameter' | 'radius'>,
    _out: ViewDimension[],
    callouts: Callout[],
    later: (() => void)[],
  ): void {
    const rounds = target.members.flatMap((ids) => this.face(ids) ?? []);
    const [first] = rounds;
    if (first === undefined) return;
    const text = this.text(check, target);
    const hole = this.holeOf(first);
    const wide =
      first.surface.kind === 'cylinder' &&
      hole !== undefined &&
      hole.counterbore !== null &&
      first.surface.radiusMm * 2 - hole.diameterMm > SAME_MM;
    if (wide) {
      // The wide end of a stepped hole is said with the hole itself.
      later.unshift(() => {
        const own = callouts.find(({ holes }) => holes.includes(hole));
        const run: Run = { text: `⌴ ⌀${text.replace(/^\d+ x /, '')}`, checkId: check.id };
        if (own) own.more.push([run]);
        else callouts.push({ id: check.id, rounds, holes: [], first: [run], more: [], wanted: this.wanted(check) });
      });
      return;
    }
    const holes = rounds.flatMap((face) => this.holeOf(face) ?? []);
    const sign = target.kind === 'radius' ? 'R' : '⌀';
    const count = target.members.length > 1 && !/^\d+ x /.test(text) ? `${String(target.members.length)} x ` : '';
    const [, given = '', value = text] = /^(\d+ x )?(.*)$/.exec(text) ?? [];
    const runs: Run[] = [{ text: `${count}${given}${sign}${value}`, checkId: check.id }];
    if (target.kind === 'diameter' && hole?.through === true && !hole.cross && holes.length === rounds.length)
      runs.push({ text: ' through', checkId: check.id });
    callouts.push({ id: check.id, rounds, holes, first: runs, more: [], wanted: this.wanted(check) });
  }

  private wanted(check: Check): string | undefined {
    return this.writer.exercise.sheet?.placed?.[check.id]?.view ?? ('view' in check ? check.view : undefined);
  }

  /** Depth, counterbore and countersink are said with the diameter of their hole. */
  private detailOfHole(check: Check, target: TargetOf<'hole-size' | 'countersink-angle'>, callouts: Callout[]): void {
    const wall = this.face(target.faceIds);
    const hole = wall && this.holeOf(wall);
    if (wall === undefined || hole === undefined) return;
    let callout = callouts.find(({ holes }) => holes.includes(hole));
    if (callout === undefined) {
      callout = { id: check.id, rounds: [wall], holes: [hole], first: [], more: [], wanted: this.wanted(check) };
      callouts.push(callout);
    }
    const text = this.text(check, target);
    const run = (words: string): Run => ({ text: words, checkId: check.id });
    if (target.kind === 'countersink-angle') {
      const row = callout.more.find(([first]) => first?.text.startsWith('⌵'));
      if (row) row.push(run(` x ${text}`));
      else callout.more.push([run(`⌵ ${text}`)]);
      return;
    }
    switch (target.size) {
      case 'depth':
        callout.first.push(run(`${callout.first.length > 0 ? ' ' : ''}↧${text}`));
        break;
      case 'counterbore-diameter':
        callout.more.unshift([run(`⌴ ⌀${text}`)]);
        break;
      case 'counterbore-depth': {
        const row = callout.more.find(([first]) => first?.text.startsWith('⌴'));
        if (row) row.push(run(` ↧${text}`));
        else callout.more.push([run(`⌴ ↧${text}`)]);
        break;
      }
      case 'countersink-diameter': {
        const row = callout.more.find(([first]) => first?.text.startsWith('⌵'));
        if (row) row.unshift(run(`⌵ ⌀${text}`));
        else callout.more.push([run(`⌵ ⌀${text}`)]);
        break;
      }
    }
  }

  private calloutOf(callout: Callout): ViewDimension | null {
    const { id, rounds, first, more, wanted } = callout;
    const [round] = rounds;
    const rows = [first, ...more].filter((row) => row.length > 0);
    if (round === undefined || rows.length === 0) return null;
    const pick = { id, view: wanted } as unknown as Check;
    return this.best(
      pick,
      (view) => {
        const targets = rounds.flatMap((face) => this.targetsIn(view, face));
        if (targets.length === 0) return null;
        const axial = 'direction' in round.surface && parallel(view.axes.toViewer, round.surface.direction);
        const hidden = axial && !targets.some((target) => circleVisible(view, target)) ? 1 : axial ? 0 : 1;
        return { kind: 'leader', id, viewId: view.id, hiddenEnds: hidden, rows, targets, circle: null };
      },
      (view) => ('direction' in round.surface && parallel(view.axes.toViewer, round.surface.direction) ? 0 : 4),
    );
  }

  /** What a leader to a round can point at in a view: its circle, or a place on its wall. */
  private targetsIn(view: DimensionView, { surface, bounds, centroid, id }: Face): LeaderTarget[] {
    if (surface.kind === 'cylinder' && parallel(view.axes.toViewer, surface.direction)) {
      const center = seen(view.axes, surface.origin);
      const middle = seen(view.axes, centroid);
      const off = Math.hypot(middle[0] - center[0], middle[1] - center[1]);
      const whole = off < surface.radiusMm * 0.2;
      const at = whole ? null : Math.atan2(middle[1] - center[1], middle[0] - center[0]);
      return [{ center, radius: surface.radiusMm, at }];
    }
    if (surface.kind === 'cylinder' && circleCover(this.writer.reference.solid, { surface, id } as Face) > 0.4)
      return [{ center: seen(view.axes, boxCenter(bounds)), radius: 0, at: null }];
    return [{ center: seen(view.axes, centroid), radius: 0, at: null }];
  }

  private boltCircle(check: Check, target: TargetOf<'bolt-circle'>): ViewDimension | null {
    const axes = target.members.flatMap((ids) => {
      const surface = this.face(ids)?.surface;
      return surface?.kind === 'cylinder' ? [surface] : [];
    });
    const [a, b, c] = axes;
    if (!a || !b || !c) return null;
    const text = `⌀${this.text(check, target)}`;
    return this.best(check, (view) => {
      if (!parallel(view.axes.toViewer, a.direction)) return null;
      const [p, q, r] = [a, b, c].map(({ origin }) => seen(view.axes, origin));
      const center = p && q && r ? centerOfCircle(p, q, r) : null;
      if (center === null || !p) return null;
      const circle = { center, radius: Math.hypot(p[0] - center[0], p[1] - center[1]), at: null };
      const rows = [[{ text, checkId: check.id }]];
      return { kind: 'leader', id: check.id, viewId: view.id, hiddenEnds: 0, rows, targets: [circle], circle };
    });
  }

  private chamfer(check: Check, target: TargetOf<'chamfer-size'>): ViewDimension | null {
    const { solid } = this.writer.reference;
    const face = this.face(target.faceIds);
    const on = this.face(target.onFaceIds);
    if (face === undefined || on === undefined || this.chamfered.has(face.id)) return null;
    for (const id of target.faceIds) this.chamfered.add(id);
    const feature = featuresOf(solid, 'chamfer').find(({ faceIds }) => faceIds.includes(face.id));
    const other = feature?.onFaceIds.map((id) => solid.faces[id]).find((candidate) => candidate && candidate !== on);
    const degrees = chamferAngle(face.surface, on.surface, other?.surface);
    const text = `${this.text(check, target)} x ${String(Number(degrees.toFixed(1)))}°`;
    const rows = [[{ text, checkId: check.id }]];
    return this.best(check, (view) => {
      const points = chamferPoints(view, face);
      if (points === null) return null;
      const targets = points.map((center): LeaderTarget => ({ center, radius: 0, at: null }));
      return { kind: 'leader', id: check.id, viewId: view.id, hiddenEnds: 0, rows, targets, circle: null };
    });
  }

  private angle(check: Check, target: TargetOf<'angle'>): ViewDimension | null {
    const [a, b] = [this.face(target.fromFaceIds), this.face(target.toFaceIds)];
    if (!a || !b) return null;
    const text = this.text(check, target);
    return this.best(check, (view) => {
      const [s, t] = [traceOf(view, a), traceOf(view, b)];
      const apex = s && t ? crossing(s, t) : null;
      if (!s || !t || apex === null) return null;
      const legs = bestLegs(apex, s, t, (target.nominal * Math.PI) / 180);
      return { kind: 'angular', id: check.id, viewId: view.id, hiddenEnds: 0, text, apex, legs };
    });
  }

  // ---- threads

  /** Threads are said with their hole, or by a leader of their own; these come back. */
  private threadRuns(callouts: readonly Callout[]): ViewDimension[] {
    const { faces } = this.writer.reference.solid;
    const groups = new Map<string, { thread: Thread; count: number; faces: Face[] }>();
    for (const thread of this.threads) {
      const own = facesOn(faces, thread.surface).flatMap((id) => faces[id] ?? []);
      if (own.length === 0) continue;
      const key = `${thread.designation} ${String(thread.lengthMm)} ${String(thread.fit)} ${String(thread.external)}`;
      const group = groups.get(key) ?? { thread, count: 0, faces: [] };
      group.count++;
      group.faces.push(...own);
      groups.set(key, group);
    }
    return [...groups.values()].flatMap(({ thread, count: times, faces: walls }) => {
      const depth = thread.lengthMm === null ? '' : ` ↧${dimensionText(thread.lengthMm, this.writer.reference)}`;
      const words = `${thread.designation}${thread.fit === null ? '' : ` - ${thread.fit}`}${depth}`;
      const holes = walls.flatMap((wall) => this.holeOf(wall) ?? []);
      const callout = callouts.find((one) => one.holes.some((hole) => holes.includes(hole)));
      if (callout) {
        callout.more.unshift([{ text: words, checkId: null }]);
        return [];
      }
      const count = times > 1 ? `${String(times)} x ` : '';
      const rows = [[{ text: `${count}${words}`, checkId: null }]];
      const made = this.best(null, (view) => {
        const targets = walls.flatMap((wall) =>
          thread.external ? silhouette(view, wall) : this.targetsIn(view, wall),
        );
        return targets.length === 0
          ? null
          : { kind: 'leader', id: thread.stepId, viewId: view.id, hiddenEnds: 0, rows, targets, circle: null };
      });
      return made === null ? [] : [made];
    });
  }
}

const endOf = ({ surface, bounds }: Face): End => ({
  bounds,
  axis: surface.kind === 'cylinder' ? { origin: surface.origin, direction: surface.direction } : null,
  outer: false,
});

/** `point` moved along a coordinate axis to where `end` is. */
const clampTo = (point: Vec3, axis: Vec3, end: Vec3): Vec3 => [
  axis[0] ? end[0] : point[0],
  axis[1] ? end[1] : point[1],
  axis[2] ? end[2] : point[2],
];

const cornersOf = ({ min, max }: Face['bounds']): readonly Vec3[] =>
  [min[0], max[0]].flatMap((x) => [min[1], max[1]].flatMap((y) => [min[2], max[2]].map((z): Vec3 => [x, y, z])));

const range = (values: readonly number[]): readonly [number, number] => [Math.min(...values), Math.max(...values)];

/** A direction as one of more than -90 and at most 90 degrees, so that texts are never upside down. */
function properAngle(angle: number): number {
  let proper = angle;
  while (proper > Math.PI / 2 + 1e-9) proper -= Math.PI;
  while (proper <= -Math.PI / 2 + 1e-9) proper += Math.PI;
  return Math.abs(proper) < 1e-9 ? 0 : proper;
}

/** An axis is witnessed at its own place; a flat face over its whole width. */
function witness({ axes }: DimensionView, angle: number, { bounds, axis }: End): Witness {
  const corners = cornersOf(bounds).map((p) => turned(seen(axes, p), angle));
  const [low, high] = range(corners.map((p) => p[1]));
  if (axis === null) {
    const [first, last] = range(corners.map((p) => p[0]));
    return { at: (first + last) / 2, low, high };
  }
  const place = turned(seen(axes, axis.origin), angle);
  return parallel(axes.toViewer, axis.direction)
    ? { at: place[0], low: place[1], high: place[1] }
    : { at: place[0], low, high };
}

/** How many ends lie on no visible line of the view, neither along it nor at its center. */
function hiddenEnds(view: DimensionView, angle: number, ends: readonly Witness[]): number {
  const shown = view.lines.visible.map((curve) => ({
    curve,
    points: pointsAlong(curve).map((p) => turned(p, angle)),
  }));
  return ends.filter(
    ({ at, low, high }) =>
      !shown.some(({ curve, points }) => {
        if (curve.kind === 'arc' && high - low < SAME_MM) {
          const center = turned(curve.center, angle);
          return Math.abs(center[0] - at) < 0.01 && Math.abs(center[1] - low) < 0.01;
        }
        const [first, last] = range(points.map((p) => p[0]));
        const [bottom, top] = range(points.map((p) => p[1]));
        const touches = top >= low - 0.01 && bottom <= high + 0.01;
        if (curve.kind === 'arc') return touches && (Math.abs(first - at) < 0.01 || Math.abs(last - at) < 0.01);
        return Math.abs(first - at) < 0.01 && Math.abs(last - at) < 0.01 && touches;
      }),
  ).length;
}

const circleVisible = ({ lines }: DimensionView, { center, radius }: LeaderTarget): boolean =>
  lines.visible.some(
    (curve) =>
      curve.kind === 'arc' &&
      Math.hypot(curve.center[0] - center[0], curve.center[1] - center[1]) < 0.01 &&
      Math.abs(curve.radius - radius) < 0.01,
  );

function centerOfCircle(a: Vec2, b: Vec2, c: Vec2): Vec2 | null {
  const d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]));
  if (Math.abs(d) < 1e-9) return null;
  const [aa, bb, cc] = [a, b, c].map(([x, y]) => x * x + y * y);
  return [
    ((aa ?? 0) * (b[1] - c[1]) + (bb ?? 0) * (c[1] - a[1]) + (cc ?? 0) * (a[1] - b[1])) / d,
    ((aa ?? 0) * (c[0] - b[0]) + (bb ?? 0) * (a[0] - c[0]) + (cc ?? 0) * (b[0] - a[0])) / d,
  ];
}

/** Degrees that a chamfer makes with the surface that its size is measured on. */
function chamferAngle(chamfer: Surface, on: Surface, other: Surface | undefined): number {
  const degrees = (radians: number): number => (radians * 180) / Math.PI;
  if (chamfer.kind === 'cone')
    return on.kind === 'plane' ? 90 - degrees(chamfer.halfAngleRad) : degrees(chamfer.halfAngleRad);
  if (chamfer.kind !== 'plane' || on.kind !== 'plane') return 45;
  const between = degrees(angleBetween(chamfer.normal, on.normal));
  return other === undefined ? 45 : Math.min(between, 180 - between);
}

/** Places on a chamfer where it is seen from the side; null in views that look onto it. */
function chamferPoints(view: DimensionView, { surface, bounds, centroid }: Face): Vec2[] | null {
  if (surface.kind === 'plane') return square(surface.normal, view.axes.toViewer) ? [seen(view.axes, centroid)] : null;
  if (surface.kind !== 'cone' || !square(surface.direction, view.axes.toViewer)) return null;
  const axis = seen(view.axes, surface.direction);
  const middle = seen(view.axes, boxCenter(bounds));
  const angle = Math.atan2(axis[1], axis[0]);
  const [low, high] = range(cornersOf(bounds).map((p) => turned(seen(view.axes, p), angle)[1]));
  // Halfway between the rims, which is half of the chamfer inside the outer one.
  const [first, last] = range(cornersOf(bounds).map((p) => turned(seen(view.axes, p), angle)[0]));
  const inset = (Math.tan(surface.halfAngleRad) * (last - first)) / 2;
  const place = turned(middle, angle);
  const back = (p: Vec2): Vec2 => turned(p, -angle);
  return [back([place[0], high - inset]), back([place[0], low + inset])];
}

/** Places on the outline of a round wall, seen from the side. */
function silhouette(view: DimensionView, { surface, bounds }: Face): LeaderTarget[] {
  if (surface.kind !== 'cylinder' || !square(surface.direction, view.axes.toViewer)) return [];
  const axis = seen(view.axes, surface.direction);
  const normal: Vec2 = [-axis[1], axis[0]];
  const middle = seen(view.axes, boxCenter(bounds));
  return [1, -1].map((side) => ({
    center: [
      middle[0] + side * normal[0] * surface.radiusMm,
      middle[1] + side * normal[1] * surface.radiusMm,
    ] satisfies Vec2,
    radius: 0,
    at: null,
  }));
}

interface Trace {
  readonly point: Vec2;
  readonly direction: Vec2;
  /** Extent along the direction from the point. */
  readonly low: number;
  readonly high: number;
}

/** The line that a flat face seen edge-on, or an axis in true length, makes in a view. */
function traceOf({ axes }: DimensionView, { surface, bounds, centroid }: Face): Trace | null {
  if (surface.kind === 'plane') {
    if (!square(surface.normal, axes.toViewer)) return null;
    const normal = seen(axes, surface.normal);
    return extent(seen(axes, centroid), [-normal[1], normal[0]], bounds, axes);
  }
  if (!('direction' in surface) || !square(surface.direction, axes.toViewer)) return null;
  const origin = 'origin' in surface ? surface.origin : surface.center;
  return extent(seen(axes, origin), seen(axes, surface.direction), bounds, axes);
}

function extent(point: Vec2, direction: Vec2, bounds: Face['bounds'], axes: ViewAxes): Trace {
  const size = Math.hypot(...direction);
  const unit: Vec2 = [direction[0] / size, direction[1] / size];
  const [low, high] = range(
    cornersOf(bounds).map((p) => {
      const at = seen(axes, p);
      return (at[0] - point[0]) * unit[0] + (at[1] - point[1]) * unit[1];
    }),
  );
  return { point, direction: unit, low, high };
}

function crossing(a: Trace, b: Trace): Vec2 | null {
  const det = a.direction[0] * b.direction[1] - a.direction[1] * b.direction[0];
  if (Math.abs(det) < 1e-6) return null;
  const [dx, dy] = [b.point[0] - a.point[0], b.point[1] - a.point[1]];
  const t = (dx * b.direction[1] - dy * b.direction[0]) / det;
  return [a.point[0] + t * a.direction[0], a.point[1] + t * a.direction[1]];
}

/** Of the four sectors between two lines, that of the wanted size whose legs run along the faces. */
function bestLegs(apex: Vec2, a: Trace, b: Trace, wantedRad: number): readonly [Leg, Leg] {
  const legsOf = (trace: Trace): (Leg & { readonly away: number })[] => {
    const at = (apex[0] - trace.point[0]) * trace.direction[0] + (apex[1] - trace.point[1]) * trace.direction[1];
    return [1, -1].map((side) => {
      const [near, far] = side > 0 ? [trace.low - at, trace.high - at] : [at - trace.high, at - trace.low];
      return {
        angle: Math.atan2(side * trace.direction[1], side * trace.direction[0]),
        reach: Math.max(0, near),
        away: far > 0 ? 0 : 1,
      };
    });
  };
  const pairs = legsOf(a).flatMap((first) =>
    legsOf(b).map((second) => {
      const between = Math.abs(Math.atan2(Math.sin(second.angle - first.angle), Math.cos(second.angle - first.angle)));
      return { first, second, cost: Math.abs(between - wantedRad) * 10 + first.away + second.away };
    }),
  );
  const best = pairs.reduce((low, pair) => (pair.cost < low.cost ? pair : low));
  return [best.first, best.second];
}
