import { draftingOf, isOnSheet, type AxisIndex, type Check, type Drafting, type Span, type Target } from '#core/check';
import { facesOn, type Thread } from '#core/recipe';
import { circleCover, featuresOf, findHoles, type Hole } from '#core/feature';
import { circleCenter } from '#core/kernel';
import type { Face } from '#core/solid';
import { SAME_PLACE_MM } from '#core/tolerance';
import { boxCenter, boxCorners, dot, extremes, scale, subtract, type Vec3 } from '#core/vector';

import { dimensionText, sizeText, type Writer } from './text.ts';
import {
  turned,
  type DimensionView,
  type LeaderTarget,
  type Run,
  type ViewDimension,
  type Witness,
} from './view-dimension.ts';
import { seen } from './views.ts';
import {
  bestLegs,
  chamferAngle,
  chamferPoints,
  circleVisible,
  clampTo,
  crossing,
  endOf,
  hiddenEnds,
  parallel,
  properAngle,
  silhouette,
  square,
  traceOf,
  type End,
  witness,
} from './witness.ts';

type DraftingOf<F extends Drafting['form']> = Extract<Drafting, { form: F }>;

const unitVector = (axis: AxisIndex): Vec3 => [axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0];

/** The dimensions of the sheet, made from the checks that are dimensions; each in the view that shows it best. */
export function dimensionsOf(
  writer: Writer,
  views: readonly DimensionView[],
  threads: readonly Thread[] = [],
): ViewDimension[] {
  return new Drafter(writer, views, threads).draft();
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
      const drafting = target === undefined ? null : draftingOf(target);
      if (target === undefined || drafting === null || !isOnSheet(check)) continue;
      switch (drafting.form) {
        case 'linear':
          this.add(out, this.linearOf(check, target, drafting.span));
          break;
        case 'circular': {
          const across = this.across(check, target, drafting);
          if (across === null) this.round(check, target, drafting, callouts, later);
          else this.add(out, across);
          break;
        }
        case 'hole-note':
          later.push(() => {
            this.detailOfHole(check, target, drafting, callouts);
          });
          break;
        case 'bolt-circle':
          this.add(out, this.boltCircle(check, target, drafting.members));
          break;
        case 'chamfer':
          this.add(out, this.chamfer(check, target, drafting));
          break;
        case 'angular':
          this.add(out, this.angle(check, target, drafting));
          break;
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

  /** The view that the author wants a dimension in. */
  private wanted(check: Check): string | undefined {
    return this.writer.exercise.sheet?.placed?.[check.id]?.view ?? ('view' in check ? check.view : undefined);
  }

  // ---- linear

  private linearOf(check: Check, target: Target, span: Span<readonly number[]>): ViewDimension | null {
    const text = this.text(check, target);
    if (span.kind === 'extent') return this.extent(check, text, span.axis);
    const [from, to] = [this.face(span.from.at), this.face(span.to.at)];
    if (from === undefined || to === undefined) return null;
    if (span.from.on === 'axis') return this.betweenAxes(check, text, from, to, span.along);
    if (from.surface.kind !== 'plane') return null;
    if (span.to.on === 'face') return this.linear(check, text, endOf(from), endOf(to), from.surface.normal);
    return to.surface.kind === 'cylinder'
      ? this.linear(check, text, endOf(from), endOf(to), from.surface.normal, to.surface.direction)
      : null;
  }

  /** The whole part along one of its axes. */
  private extent(check: Check, text: string, axisIndex: AxisIndex): ViewDimension | null {
    const { bounds } = this.writer.reference.solid;
    const axis = unitVector(axisIndex);
    const end = (at: Vec3): End => ({
      bounds: { min: clampTo(bounds.min, axis, at), max: clampTo(bounds.max, axis, at) },
      axis: null,
      outer: true,
    });
    return this.linear(check, text, end(bounds.min), end(bounds.max), axis);
  }

  /** Straight across two axes, or as it is seen along an axis of the part. */
  private betweenAxes(check: Check, text: string, a: Face, b: Face, along?: AxisIndex): ViewDimension | null {
    if (a.surface.kind !== 'cylinder' || b.surface.kind !== 'cylinder') return null;
    const { direction } = a.surface;
    const apart = subtract(b.surface.origin, a.surface.origin);
    const across = subtract(apart, scale(direction, dot(apart, direction)));
    return this.linear(check, text, endOf(a), endOf(b), along === undefined ? across : unitVector(along), direction);
  }

  /** A turned diameter, written across a view that shows its axis in true length. */
  private across(check: Check, target: Target, { sign, members }: DraftingOf<'circular'>): ViewDimension | null {
    if (sign !== '⌀' || members.length !== 1) return null;
    const text = this.text(check, target);
    const [round] = members.flatMap((ids) => this.face(ids) ?? []);
    if (round?.surface.kind !== 'cylinder') return null;
    const { surface } = round;
    const outside = surface.side === 'convex';
    const inSection = this.views.some(({ section, axes }) => section && square(axes.toViewer, surface.direction));
    if (!outside && !(inSection && this.holeOf(round) === undefined)) return null;
    const { direction, radiusMm, origin } = surface;
    return this.best(this.wanted(check), (view) => {
      if (!square(view.axes.toViewer, direction) || (!outside && !view.section)) return null;
      const along = seen(view.axes, direction);
      const angle = properAngle(Math.atan2(along[1], along[0]) + Math.PI / 2);
      const center = turned(seen(view.axes, origin), angle);
      const [low, high] = extremes(boxCorners(round.bounds).map((p) => turned(seen(view.axes, p), angle)[1]));
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
      this.wanted(check),
      (view) => {
        if (!square(view.axes.toViewer, along)) return null;
        const direction = seen(view.axes, along);
        const angle = properAngle(Math.atan2(direction[1], direction[0]));
        const ends = [from, to].map((end) => witness(view, angle, end));
        const [a, b] = ends;
        if (!a || !b || Math.abs(a.at - b.at) < SAME_PLACE_MM) return null;
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
    wanted: string | undefined,
    make: (view: DimensionView) => ViewDimension | null,
    extra: (view: DimensionView) => number = () => 0,
  ): ViewDimension | null {
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
    target: Target,
    { sign, members }: DraftingOf<'circular'>,
    callouts: Callout[],
    later: (() => void)[],
  ): void {
    const rounds = members.flatMap((ids) => this.face(ids) ?? []);
    const [first] = rounds;
    if (first === undefined) return;
    const text = this.text(check, target);
    const hole = this.holeOf(first);
    const wide =
      first.surface.kind === 'cylinder' &&
      hole !== undefined &&
      hole.counterbore !== null &&
      first.surface.radiusMm * 2 - hole.diameterMm > SAME_PLACE_MM;
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
    const count = members.length > 1 && !/^\d+ x /.test(text) ? `${String(members.length)} x ` : '';
    const [, given = '', value = text] = /^(\d+ x )?(.*)$/.exec(text) ?? [];
    const runs: Run[] = [{ text: `${count}${given}${sign}${value}`, checkId: check.id }];
    if (sign === '⌀' && hole?.through === true && !hole.cross && holes.length === rounds.length)
      runs.push({ text: ' through', checkId: check.id });
    callouts.push({ id: check.id, rounds, holes, first: runs, more: [], wanted: this.wanted(check) });
  }

  /** Depth, counterbore and countersink are said with the diameter of their hole. */
  private detailOfHole(
    check: Check,
    target: Target,
    { faceIds, part }: DraftingOf<'hole-note'>,
    callouts: Callout[],
  ): void {
    const wall = this.face(faceIds);
    const hole = wall && this.holeOf(wall);
    if (wall === undefined || hole === undefined) return;
    let callout = callouts.find(({ holes }) => holes.includes(hole));
    if (callout === undefined) {
      callout = { id: check.id, rounds: [wall], holes: [hole], first: [], more: [], wanted: this.wanted(check) };
      callouts.push(callout);
    }
    const text = this.text(check, target);
    const run = (words: string): Run => ({ text: words, checkId: check.id });
    switch (part) {
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
      case 'countersink-angle': {
        const row = callout.more.find(([first]) => first?.text.startsWith('⌵'));
        if (row) row.push(run(` x ${text}`));
        else callout.more.push([run(`⌵ ${text}`)]);
        break;
      }
    }
  }

  private calloutOf(callout: Callout): ViewDimension | null {
    const { id, rounds, first, more, wanted } = callout;
    const [round] = rounds;
    const rows = [first, ...more].filter((row) => row.length > 0);
    if (round === undefined || rows.length === 0) return null;
    return this.best(
      wanted,
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
  private targetsIn(view: DimensionView, face: Face): LeaderTarget[] {
    const { surface, bounds, centroid } = face;
    if (surface.kind === 'cylinder' && parallel(view.axes.toViewer, surface.direction)) {
      const center = seen(view.axes, surface.origin);
      const middle = seen(view.axes, centroid);
      const off = Math.hypot(middle[0] - center[0], middle[1] - center[1]);
      const whole = off < surface.radiusMm * 0.2;
      const at = whole ? null : Math.atan2(middle[1] - center[1], middle[0] - center[0]);
      return [{ center, radius: surface.radiusMm, at }];
    }
    if (surface.kind === 'cylinder' && circleCover(this.writer.reference.solid, face) > 0.4)
      return [{ center: seen(view.axes, boxCenter(bounds)), radius: 0, at: null }];
    return [{ center: seen(view.axes, centroid), radius: 0, at: null }];
  }

  private boltCircle(check: Check, target: Target, members: readonly (readonly number[])[]): ViewDimension | null {
    const axes = members.flatMap((ids) => {
      const surface = this.face(ids)?.surface;
      return surface?.kind === 'cylinder' ? [surface] : [];
    });
    const [a, b, c] = axes;
    if (!a || !b || !c) return null;
    const text = `⌀${this.text(check, target)}`;
    return this.best(this.wanted(check), (view) => {
      if (!parallel(view.axes.toViewer, a.direction)) return null;
      const [p, q, r] = [a, b, c].map(({ origin }) => seen(view.axes, origin));
      const center = p && q && r ? circleCenter(p, q, r) : null;
      if (center === null || !p) return null;
      const circle = { center, radius: Math.hypot(p[0] - center[0], p[1] - center[1]), at: null };
      const rows = [[{ text, checkId: check.id }]];
      return { kind: 'leader', id: check.id, viewId: view.id, hiddenEnds: 0, rows, targets: [circle], circle };
    });
  }

  private chamfer(
    check: Check,
    target: Target,
    { faceIds: chamferIds, onFaceIds }: DraftingOf<'chamfer'>,
  ): ViewDimension | null {
    const { solid } = this.writer.reference;
    const face = this.face(chamferIds);
    const on = this.face(onFaceIds);
    if (face === undefined || on === undefined || this.chamfered.has(face.id)) return null;
    for (const id of chamferIds) this.chamfered.add(id);
    const feature = featuresOf(solid, 'chamfer').find(({ faceIds }) => faceIds.includes(face.id));
    const other = feature?.onFaceIds.map((id) => solid.faces[id]).find((candidate) => candidate && candidate !== on);
    const degrees = chamferAngle(face.surface, on.surface, other?.surface);
    const text = `${this.text(check, target)} x ${String(Number(degrees.toFixed(1)))}°`;
    const rows = [[{ text, checkId: check.id }]];
    return this.best(this.wanted(check), (view) => {
      const points = chamferPoints(view, face);
      if (points === null) return null;
      const targets = points.map((center): LeaderTarget => ({ center, radius: 0, at: null }));
      return { kind: 'leader', id: check.id, viewId: view.id, hiddenEnds: 0, rows, targets, circle: null };
    });
  }

  private angle(check: Check, target: Target, { fromFaceIds, toFaceIds }: DraftingOf<'angular'>): ViewDimension | null {
    const [a, b] = [this.face(fromFaceIds), this.face(toFaceIds)];
    if (!a || !b || !('nominal' in target)) return null;
    const text = this.text(check, target);
    return this.best(this.wanted(check), (view) => {
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
      const made = this.best(undefined, (view) => {
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
