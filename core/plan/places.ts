import { Chain, placesAlong, samePlace, touchingCylinders } from '#core/chain';
import type { AxisIndex } from '#core/check';
import { stepOfSurface } from '#core/recipe';
import type { Solid, Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE } from '#core/tolerance';
import { cross, length, type Vec3 } from '#core/vector';

import { planesOf, type Anchor } from './anchors.ts';

type Round = Anchor<Extract<Surface, { kind: 'cylinder' }>>;

/** Rounds that share their sizes, such as four like holes. */
export interface CylinderGroup {
  readonly name: string;
  readonly rounds: readonly Round[];
  /** Placed all together, as by a circle through their axes. */
  readonly together: boolean;
}

/** A size that places something along an axis; `shown` when the drawing needs it, else only the check does. */
export type PlaceDraft = { readonly valueMm: number; readonly label: string; readonly shown: boolean } & (
  | { readonly kind: 'overall-size'; readonly axis: 'x' | 'y' | 'z' }
  | { readonly kind: 'distance'; readonly from: string; readonly to: string }
  | { readonly kind: 'hole-position'; readonly of: string; readonly from: string }
  | { readonly kind: 'center-distance'; readonly from: string; readonly to: string; readonly along: 'x' | 'y' | 'z' }
);

const NAMES = ['x', 'y', 'z'] as const;
const DIRECTIONS: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
const OVERALL = ['Length', 'Width', 'Height'] as const;

/** What two faces of one step that lie opposite to each other give. */
const SIZE_WORDS: Readonly<Record<string, 'thickness' | 'size'>> = {
  'end start': 'thickness',
  'left right': 'size',
  'lower upper': 'size',
};

/** The number of a round among those that a step made at several places; null where it made one. */
const numberOf = ({ name }: Round): string | null => /^[^.]+\.(\d+)(?:\.|$)/.exec(name)?.[1] ?? null;

const parallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < BUILT_PARALLEL_SINE;

/**
 * Sizes that place every face and axis of a part once, as a drawing does: the part over all, what is symmetric about a
 * center line by its width, like holes by their distance, the rest from one side. What follows from sizes that are
 * there is still checked, but not shown.
 */
export function placeEverything(
  solid: Solid,
  anchors: readonly Anchor[],
  groups: readonly CylinderGroup[],
  words: (name: string) => string,
): readonly PlaceDraft[] {
  return ([0, 1, 2] as const).flatMap((axis) => new AxisPlan(solid, axis, { anchors, groups, words }).drafts());
}

class AxisPlan {
  private readonly solid: Solid;
  private readonly groups: readonly CylinderGroup[];
  private readonly words: (name: string) => string;
  private readonly axis: AxisIndex;
  private readonly chain: Chain;
  /** One named flat face for each place, from low to high. */
  private readonly levels: readonly { readonly at: number; readonly name: string }[];
  /** Places that rounds run into: they follow from the place of the round. */
  private readonly tangent: readonly number[];
  private readonly out: PlaceDraft[] = [];

  constructor(
    solid: Solid,
    axis: AxisIndex,
    {
      anchors,
      groups,
      words,
    }: {
      readonly anchors: readonly Anchor[];
      readonly groups: readonly CylinderGroup[];
      readonly words: (name: string) => string;
    },
  ) {
    this.solid = solid;
    this.groups = groups;
    this.words = words;
    this.axis = axis;
    this.chain = new Chain([...placesAlong(solid, axis)]);
    const touching = touchingCylinders(solid, axis, () => 'round');
    for (const link of touching) this.chain.add(link);
    this.tangent = touching.map(({ to }) => to);
    // Holes on a circle are placed by its middle.
    for (const { rounds, together } of groups) {
      const places = rounds.map(({ surface }) => surface.origin[axis]);
      const middle = places.reduce((sum, at) => sum + at, 0) / Math.max(1, places.length);
      if (together)
        for (const at of places)
          this.chain.add({ from: middle, to: at, checkId: 'circle', valueMm: Math.abs(at - middle) });
    }
    const levels: { at: number; name: string }[] = [];
    for (const { name, surface } of planesOf(anchors)) {
      if (!parallel(surface.normal, DIRECTIONS[axis] ?? [0, 0, 0])) continue;
      const at = surface.origin[axis];
      if (!levels.some((level) => samePlace(level.at, at))) levels.push({ at, name });
    }
    this.levels = levels.sort((a, b) => a.at - b.at);
  }

  drafts(): readonly PlaceDraft[] {
    const { min, max } = this.solid.bounds;
    const [low, high] = [min[this.axis], max[this.axis]];
    const flatEnds = [low, high].every((end) => this.levels.some(({ at }) => samePlace(at, end)));
    const overall = (): void => {
      const shown = this.chain.add({ from: low, to: high, checkId: 'overall', valueMm: high - low });
      this.out.push({
        kind: 'overall-size',
        axis: NAMES[this.axis],
        label: OVERALL[this.axis],
        valueMm: high - low,
        shown,
      });
    };
    if (flatEnds) overall();
    this.symmetricFaces();
    this.rounds();
    this.otherFaces(low, high);
    if (!flatEnds) overall();
    return this.out;
  }

  private distance(from: { at: number; name: string }, to: { at: number; name: string }): void {
    const valueMm = Math.abs(to.at - from.at);
    const shown = this.chain.add({ from: from.at, to: to.at, checkId: to.name, valueMm });
    this.out.push({
      kind: 'distance',
      from: from.name,
      to: to.name,
      label: this.sizeWords(from.name, to.name),
      valueMm,
      shown,
    });
  }

  /** The size of one step by what it is, the distance of two by both. */
  private sizeWords(from: string, to: string): string {
    const [first, second] = [from, to].map((name) => stepOfSurface(name));
    const roles = [from, to].map((name) => name.slice(name.indexOf('.') + 1)).sort();
    const size = first === second ? SIZE_WORDS[roles.join(' ')] : undefined;
    if (size === undefined) return `${this.words(from)} to ${this.words(to)}`;
    const step = this.words(from).replace(/ \S+$/, '');
    return size === 'thickness' ? `${step} thickness` : `${step} size along ${NAMES[this.axis].toUpperCase()}`;
  }

  /** Pairs of faces about a center line that one width places. */
  private symmetricFaces(): void {
    const centers = this.chain.places.filter(({ kind }) => kind === 'axis').map(({ at }) => at);
    const { min, max } = this.solid.bounds;
    const middle = (min[this.axis] + max[this.axis]) / 2;
    const pairs = this.levels.flatMap((from, i) =>
      this.levels.slice(i + 1).flatMap((to) => {
        const at = (from.at + to.at) / 2;
        const rank = samePlace(at, middle) ? 0 : centers.some((center) => samePlace(center, at)) ? 1 : null;
        return rank === null ? [] : [{ from, to, rank }];
      }),
    );
    for (const { from, to } of pairs.sort((a, b) => a.rank - b.rank))
      if (!this.chain.connected(from.at, to.at) && ![from, to].some(({ at }) => this.isTangent(at)))
        this.distance(from, to);
  }

  private isTangent(at: number): boolean {
    return this.tangent.some((place) => samePlace(place, at));
  }

  private rounds(): void {
    for (const group of this.groups) {
      const across = group.rounds.filter(({ surface }) => Math.abs(surface.direction[this.axis]) < BUILT_PARALLEL_SINE);
      if (group.together || across.length === 0) continue;
      const placed = new Set<Round>();
      for (const round of across) {
        const at = round.surface.origin[this.axis];
        if (this.isPlaced(at)) continue;
        const done =
          this.byTwin(group, across, round) ?? this.byNeighbor(group, round) ?? this.byFace(group, round, true);
        for (const one of done) placed.add(one);
      }
      for (const round of across) if (!placed.has(round)) this.byFace(group, round, false);
    }
  }

  /** Whether something that is placed already says where this is. */
  private isPlaced(at: number): boolean {
    const groups = this.chain.groups();
    const datum = this.datum();
    const main =
      (datum === undefined
        ? undefined
        : groups.find((group) => group.some((place) => samePlace(place.at, datum.at)))) ??
      groups[0] ??
      [];
    return main.length > 1 && main.some((place) => samePlace(place.at, at));
  }

  /** By the distance to the like round on the other side of a center line. */
  private byTwin(group: CylinderGroup, across: readonly Round[], round: Round): readonly Round[] | null {
    const { min, max } = this.solid.bounds;
    const centers = [
      (min[this.axis] + max[this.axis]) / 2,
      ...this.chain.places.filter(({ kind }) => kind === 'axis').map(({ at }) => at),
    ];
    const at = round.surface.origin[this.axis];
    for (const center of centers) {
      if (samePlace(center, at) || !(samePlace(center, centers[0] ?? 0) || this.isPlaced(center))) continue;
      const twin = across.find(
        (other) =>
          samePlace(other.surface.origin[this.axis], 2 * center - at) &&
          parallel(other.surface.direction, round.surface.direction),
      );
      if (twin) return this.apart(group, round, twin);
    }
    return null;
  }

  /** By the distance to a round beside it that is placed. */
  private byNeighbor(group: CylinderGroup, round: Round): readonly Round[] | null {
    const at = round.surface.origin[this.axis];
    const all = [group, ...this.groups.filter((other) => other !== group)].flatMap(({ rounds }) => rounds);
    const neighbor = all.find(
      (other) =>
        other !== round &&
        !samePlace(other.surface.origin[this.axis], at) &&
        parallel(other.surface.direction, round.surface.direction) &&
        this.isPlaced(other.surface.origin[this.axis]),
    );
    const outer = this.levels.some(({ at: level }) => this.isEnd(level));
    return neighbor === undefined || (outer && !group.rounds.includes(neighbor))
      ? null
      : this.apart(group, neighbor, round);
  }

  private isEnd(at: number): boolean {
    const { min, max } = this.solid.bounds;
    return samePlace(at, min[this.axis]) || samePlace(at, max[this.axis]);
  }

  private apart(group: CylinderGroup, from: Round, to: Round): readonly Round[] {
    const [a, b] = [from.surface.origin[this.axis], to.surface.origin[this.axis]];
    const valueMm = Math.abs(b - a);
    const shown = this.chain.add({ from: a, to: b, checkId: to.name, valueMm });
    const along = NAMES[this.axis];
    const numbers = [from, to].map(numberOf);
    const which = numbers.every((number) => number !== null) ? ` ${numbers.join(' and ')}` : '';
    const label = `${group.name}${which} apart along ${along.toUpperCase()}`;
    this.out.push({ kind: 'center-distance', from: from.name, to: to.name, along, label, valueMm, shown });
    return [from, to];
  }

  /** The flat face that sizes begin at: an outer one where there is one. */
  private datum() {
    return this.levels.find((level) => this.isEnd(level.at)) ?? this.levels.find((level) => !this.isTangent(level.at));
  }

  /** From a flat face, an outer one where there is one; where there is no face at all, it cannot be said. */
  private byFace(group: CylinderGroup, round: Round, wanted: boolean): readonly Round[] {
    const at = round.surface.origin[this.axis];
    const datum = this.datum();
    if (datum === undefined || samePlace(datum.at, at)) return [round];
    const valueMm = Math.abs(at - datum.at);
    const shown = wanted && this.chain.add({ from: datum.at, to: at, checkId: round.name, valueMm });
    const number = numberOf(round);
    const label = `${group.name}${number === null ? '' : ` ${number}`} from ${this.words(datum.name)} along ${NAMES[this.axis].toUpperCase()}`;
    this.out.push({ kind: 'hole-position', of: round.name, from: datum.name, label, valueMm, shown });
    return [round];
  }

  /** The faces that are left, from one side; a face nearer to the other side from there. */
  private otherFaces(low: number, high: number): void {
    const first =
      this.levels.find(({ at }) => samePlace(at, low)) ??
      this.levels.find(({ at }) => samePlace(at, high)) ??
      this.levels[0];
    if (first === undefined) return;
    for (const level of this.levels)
      if (level !== first && !this.chain.connected(level.at, first.at)) this.distance(first, level);
  }
}
