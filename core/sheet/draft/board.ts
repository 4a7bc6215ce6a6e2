import type { AxisIndex, Check, Drafting, Target } from '#core/check';
import { findHoles, type Hole } from '#core/feature';
import type { Cylinder, Face } from '#core/solid';
import { SAME_PLACE_MM } from '#core/tolerance';
import { boxCorners, pointsOf, type Vec3 } from '#core/vector';

import { sizeText, type Writer } from '../text.ts';
import type { DimensionView, Run, ViewDimension } from '../view-dimension.ts';
import { parallel, type End } from '../witness.ts';

/** A check that is a dimension, with what it says of its geometry. */
export interface DraftItem<F extends Drafting['form'] = Drafting['form']> {
  readonly check: Check;
  readonly target: Target;
  readonly drafting: Extract<Drafting, { form: F }>;
}

/**
 * Makes the dimension of a check, or null where no view can show it. Callouts of holes gather what several checks say:
 * they are put on the board and drafted at the end.
 */
export type DraftForm<F extends Drafting['form']> = (board: Board, item: DraftItem<F>) => ViewDimension | null;

/** What one leader says of like holes or arcs. */
export interface Callout {
  readonly id: string;
  readonly arcs: readonly Face[];
  readonly holes: readonly Hole[];
  readonly first: Run[];
  readonly more: Run[][];
  readonly wanted: string | undefined;
}

/** The unit vector along an axis of the part. */
export const unitVector = (axis: AxisIndex): Vec3 => [axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0];

/** The views that dimensions are drafted in, and what was drafted so far. */
export class Board {
  readonly writer: Writer;
  readonly views: readonly DimensionView[];
  readonly callouts: Callout[] = [];
  /** What is said with the callout of a hole, once all diameters are known. */
  readonly details: (() => void)[] = [];
  /** Chamfers that one of their two sizes says already, with the angle. */
  readonly chamfered = new Set<number>();
  private readonly holes: readonly Hole[];
  private readonly outlines = new Map<number, readonly Vec3[]>();
  private readonly used = new Map<string, number>();

  constructor(writer: Writer, views: readonly DimensionView[]) {
    this.writer = writer;
    this.views = views;
    this.holes = findHoles(writer.reference.solid);
  }

  /** A face as what a dimension is measured to, with the other faces of its surface. */
  end(face: Face, ids: readonly number[] = [face.id]): End {
    const { surface } = face;
    return {
      points: this.faces(ids).flatMap((one) => this.outline(one)),
      axis: surface.kind === 'cylinder' ? { origin: surface.origin, direction: surface.direction } : null,
      like: surface.kind === 'cylinder' ? this.originsLike(surface) : [],
      outer: false,
    };
  }

  /** Points of the axes of rounds that are as large, as hollow and as directed as one. */
  private originsLike({ radiusMm, side, direction }: Cylinder): readonly Vec3[] {
    return this.writer.reference.solid.faces.flatMap(({ surface }) =>
      surface.kind === 'cylinder' &&
      surface.side === side &&
      Math.abs(surface.radiusMm - radiusMm) < SAME_PLACE_MM &&
      parallel(surface.direction, direction)
        ? [surface.origin]
        : [],
    );
  }

  /** Points of the edges of a face; a face without edges has the corners of its box. */
  private outline({ id, bounds }: Face): readonly Vec3[] {
    const known = this.outlines.get(id);
    if (known !== undefined) return known;
    const points = this.writer.reference.solid.mesh.edges
      .filter(({ faceIds }) => faceIds.includes(id))
      .flatMap(({ points: numbers }) => pointsOf(numbers));
    const found = points.length === 0 ? boxCorners(bounds) : points;
    this.outlines.set(id, found);
    return found;
  }

  /** Counts a dimension as drawn in its view. */
  count({ viewId }: ViewDimension): void {
    this.used.set(viewId, (this.used.get(viewId) ?? 0) + 1);
  }

  /** The face that a check of the reference hangs on. */
  face(ids: readonly number[]): Face | undefined {
    return this.writer.reference.solid.faces[ids[0] ?? -1];
  }

  /** All faces that a check of the reference hangs on. */
  faces(ids: readonly number[]): readonly Face[] {
    return ids.flatMap((id) => this.writer.reference.solid.faces[id] ?? []);
  }

  holeOf({ id }: Face): Hole | undefined {
    return this.holes.find(({ faceIds }) => faceIds.includes(id));
  }

  text(check: Check, target: Target): string {
    const prefix = 'prefix' in check && check.prefix !== undefined ? `${check.prefix} ` : '';
    return 'nominal' in check && 'tolerance' in check ? `${prefix}${sizeText(check, target, this.writer)}` : prefix;
  }

  /** The view that the author wants a dimension in. */
  wanted(check: Check): string | undefined {
    return this.writer.exercise.sheet?.placed?.[check.id]?.view ?? ('view' in check ? check.view : undefined);
  }

  /** The dimension in the view that shows it best: as wanted, to visible lines, true to its axis, and not overcrowded. */
  best(
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
}
