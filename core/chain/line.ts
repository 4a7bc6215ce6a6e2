import type { AxisIndex } from '#core/check';
import { circleCover } from '#core/feature';
import type { Face, Solid } from '#core/solid';
import { SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';

/** A place along an axis of the part that a drawing has to give: of flat faces, of axes of rounds, or an end of the part. */
export interface Place {
  readonly at: number;
  readonly kind: 'face' | 'axis' | 'end';
  readonly faceIds: readonly number[];
}

/** What a size on the drawing says: how far two places are apart. */
export interface Link {
  readonly from: number;
  readonly to: number;
  /** The dimension; null for what the picture says by itself, as that a round touches the end of the part. */
  readonly checkId: string | null;
  readonly valueMm: number;
}

/** Rounds that cover less of their circle are corners whose place follows from what they are tangent to. */
const LEAST_COVER = 0.45;

/** Whether two places along an axis are one, mm. */
export const samePlace = (a: number, b: number): boolean => Math.abs(a - b) < SAME_PLACE_MM;

/** Whether a face forms an end of the part by lying in it, or by touching it along a line. */
function reachesFlat({ surface, bounds }: Face, axis: AxisIndex, end: number): boolean {
  if (!samePlace(bounds.min[axis], end) && !samePlace(bounds.max[axis], end)) return false;
  if (surface.kind === 'plane') return Math.abs(surface.normal[axis]) > SAME_DIRECTION_COSINE;
  return (
    surface.kind === 'cylinder' &&
    Math.abs(surface.direction[axis]) < 1e-6 &&
    samePlace(Math.abs(end - surface.origin[axis]), surface.radiusMm)
  );
}

/** The places of a part along an axis, from low to high; each place once, an axis rather than a face. */
export function placesAlong(solid: Solid, axis: AxisIndex): readonly Place[] {
  const places: { at: number; kind: Place['kind']; faceIds: number[] }[] = [];
  const put = (at: number, kind: Place['kind'], faceIds: readonly number[]): void => {
    const known = places.find((place) => samePlace(place.at, at));
    if (known === undefined) {
      places.push({ at, kind, faceIds: [...faceIds] });
      return;
    }
    known.faceIds.push(...faceIds);
    if (kind === 'face' || (kind === 'axis' && known.kind === 'end')) known.kind = kind;
  };
  for (const face of solid.faces) {
    const { surface } = face;
    if (surface.kind === 'plane') {
      if (Math.abs(surface.normal[axis]) > SAME_DIRECTION_COSINE) put(surface.origin[axis], 'face', [face.id]);
    } else if (surface.kind === 'cylinder') {
      if (Math.abs(surface.direction[axis]) > 1e-6 || circleCover(solid, face) < LEAST_COVER) continue;
      put(surface.origin[axis], 'axis', [face.id]);
    }
  }
  // An end that a corner or a slanting round forms follows from their own sizes.
  for (const end of [solid.bounds.min[axis], solid.bounds.max[axis]])
    if (solid.faces.some((face) => reachesFlat(face, axis, end))) put(end, 'end', []);
  return places.sort((a, b) => a.at - b.at);
}

/** Whether a flat face forms an end of the part. */
const isFlatEnd = ({ faces }: Solid, axis: AxisIndex, end: number): boolean =>
  faces.some(
    ({ surface }) =>
      surface.kind === 'plane' &&
      Math.abs(surface.normal[axis]) > SAME_DIRECTION_COSINE &&
      samePlace(surface.origin[axis], end),
  );

/**
 * What rounds say by themselves: their radius reaches from their axis to an end of the part, and to the flat faces that
 * they run into. "isGiven" names the size that gives a radius.
 */
export function touchingCylinders(
  solid: Solid,
  axis: AxisIndex,
  isGiven: (faceId: number) => string | null,
): readonly Link[] {
  const { min, max } = solid.bounds;
  return solid.faces.flatMap((face): Link[] => {
    const { surface, id, edgeIds } = face;
    if (surface.kind !== 'cylinder' || Math.abs(surface.direction[axis]) > 1e-6) return [];
    const checkId = isGiven(id);
    if (checkId === null) return [];
    // A corner follows its sides; the end of a slot is followed by them.
    const leads = circleCover(solid, face) >= LEAST_COVER;
    const ends =
      surface.side === 'convex' ? [min[axis], max[axis]].filter((end) => leads || !isFlatEnd(solid, axis, end)) : [];
    const flats = (leads ? edgeIds : []).flatMap((edgeId) =>
      (solid.edges[edgeId]?.faceIds ?? []).flatMap((other) => {
        const beside = solid.faces[other]?.surface;
        return beside?.kind === 'plane' && Math.abs(beside.normal[axis]) > SAME_DIRECTION_COSINE
          ? [beside.origin[axis]]
          : [];
      }),
    );
    return [...new Set([...ends, ...flats])]
      .filter((end) => samePlace(Math.abs(end - surface.origin[axis]), surface.radiusMm))
      .map((end) => ({ from: surface.origin[axis], to: end, checkId, valueMm: surface.radiusMm }));
  });
}

/**
 * Places along one axis, and what says how far they are apart. A size whose middle lies on an axis of the part, or on
 * the middle of the part, also ties its ends to that: they are drawn symmetric about a center line.
 */
export class Chain {
  readonly places: readonly Place[];
  private readonly centers: readonly number[];
  private readonly middle: number;
  private readonly ends: readonly [number, number];
  private readonly group: number[];
  private readonly links: (Link & { readonly a: number; readonly b: number })[] = [];

  constructor(places: readonly Place[]) {
    this.places = places;
    this.group = places.map((_, i) => i);
    this.centers = places.filter(({ kind }) => kind === 'axis').map(({ at }) => at);
    this.ends = [places[0]?.at ?? 0, places.at(-1)?.at ?? 0];
    this.middle = (this.ends[0] + this.ends[1]) / 2;
  }

  private index(at: number): number {
    return this.places.findIndex((place) => samePlace(place.at, at));
  }

  private root(i: number): number {
    let at = i;
    while (this.group[at] !== at) at = this.group[at] ?? at;
    return at;
  }

  connected(a: number, b: number): boolean {
    const [i, j] = [this.index(a), this.index(b)];
    return i >= 0 && j >= 0 && this.root(i) === this.root(j);
  }

  /** Adds what a size says; false when all of it was said before. Places that the part does not have are passed over. */
  add(link: Link): boolean {
    const news = this.tie(link);
    const middle = (link.from + link.to) / 2;
    const center = this.centerAt(middle);
    // A size from the end of the part is centered on a round by chance.
    const [low, high] = this.ends;
    const fromEnd = [link.from, link.to].some((at) => samePlace(at, low) || samePlace(at, high));
    if (fromEnd && !samePlace(middle, this.middle)) return news;
    if (center === null || samePlace(center, link.from) || samePlace(center, link.to)) return news;
    // The middle of the part that becomes known is news only where something is centered there.
    const isPlace = this.lineAt(center) >= 0;
    const line = this.lineOrNew(center);
    const half = { checkId: link.checkId, to: center, valueMm: link.valueMm / 2 };
    const first = this.join({ ...half, from: link.from }, this.index(link.from), line);
    const second = this.join({ ...half, from: link.to }, this.index(link.to), line);
    return news || (isPlace && (first || second));
  }

  /** The center line at a place: an axis of a round, or the middle of the part. */
  private centerAt(at: number): number | null {
    const axis = this.centers.find((center) => samePlace(center, at));
    if (axis !== undefined) return axis;
    return samePlace(this.middle, at) ? at : null;
  }

  private tie(link: Link): boolean {
    return this.join(link, this.index(link.from), this.index(link.to));
  }

  private join(link: Link, a: number, b: number): boolean {
    if (a < 0 || b < 0 || a === b) return false;
    this.links.push({ ...link, a, b });
    const [i, j] = [this.root(a), this.root(b)];
    if (i === j) return false;
    this.group[i] = j;
    return true;
  }

  /** The center line at a place. A flat face that lies there by chance is none: nothing says that it is in the middle. */
  private lineAt(at: number): number {
    return this.places.findIndex((place) => place.kind === 'axis' && samePlace(place.at, at));
  }

  /** The middle of the part gets a center line when something is symmetric about it. */
  private lineOrNew(at: number): number {
    const known = this.lineAt(at);
    if (known >= 0) return known;
    (this.places as Place[]).push({ at, kind: 'axis', faceIds: [] });
    this.group.push(this.group.length);
    return this.group.length - 1;
  }

  /**
   * Takes the part as symmetric about its middle, as a note says: what is known of one side is known of the other, and
   * a group of places that has both of a pair lies about the middle.
   */
  mirror(): void {
    const twins = this.places.flatMap(({ at }) => {
      const other = this.index(2 * this.middle - at);
      return other >= 0 && !samePlace(at, this.middle) ? [[this.index(at), other] as const] : [];
    });
    const note = { checkId: null, valueMm: 0 };
    for (let changed = true; changed;) {
      changed = false;
      const [main = []] = this.groups();
      const isMain = (i: number): boolean => main.some(({ at }) => samePlace(at, this.places[i]?.at ?? Number.NaN));
      for (const [i, j] of twins) {
        if (isMain(i) || !(isMain(j) || this.root(i) === this.root(j))) continue;
        const [from, to] = [this.places[i]?.at ?? 0, main[0]?.at ?? 0];
        changed = this.tie({ ...note, from, to, valueMm: Math.abs(to - from) }) || changed;
      }
    }
  }

  /** Places by what ties them together, the largest group first. */
  groups(): readonly (readonly Place[])[] {
    const groups = new Map<number, Place[]>();
    this.places.forEach((place, i) => {
      const root = this.root(i);
      groups.set(root, [...(groups.get(root) ?? []), place]);
    });
    return [...groups.values()].sort((a, b) => b.length - a.length);
  }

  /** The shortest way from one place to another over sizes of the drawing, without some of them; null where there is none. */
  path(
    from: number,
    to: number,
    without: ReadonlySet<string> = new Set(),
  ): readonly (Link & { readonly sign: 1 | -1 })[] | null {
    const [start, end] = [this.index(from), this.index(to)];
    if (start < 0 || end < 0) return null;
    const came = new Map<number, { readonly at: number; readonly link: Link & { readonly sign: 1 | -1 } }>();
    const queue = [start];
    const seen = new Set(queue);
    for (let at = queue.shift(); at !== undefined; at = queue.shift()) {
      if (at === end) break;
      for (const { a, b, ...link } of this.links) {
        if ((a !== at && b !== at) || (link.checkId !== null && without.has(link.checkId))) continue;
        const next = a === at ? b : a;
        if (seen.has(next)) continue;
        seen.add(next);
        const up = (this.places[next]?.at ?? 0) > (this.places[at]?.at ?? 0);
        came.set(next, { at, link: { ...link, sign: up ? 1 : -1 } });
        queue.push(next);
      }
    }
    if (start !== end && !came.has(end)) return null;
    const steps: (Link & { readonly sign: 1 | -1 })[] = [];
    for (let at = end; at !== start;) {
      const step = came.get(at);
      if (step === undefined) return null;
      steps.unshift(step.link);
      at = step.at;
    }
    return steps;
  }
}
