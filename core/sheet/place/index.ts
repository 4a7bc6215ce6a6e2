/** Placing: finds places on paper for the dimensions of a view. */
import type { Vec2 } from '#core/vector';

import type { SheetEntity } from '../model.ts';
import type { PaperBox } from '../overlap.ts';
import type { ViewDimension } from '../view-dimension.ts';

import { angularCandidates } from './angular.ts';
import { extentAcross, type Candidate, type ViewOnPaper } from './candidate.ts';
import { clashes, groundCost, groundOf } from './cost.ts';
import { leaderCandidates } from './leader.ts';
import { linearCandidates } from './linear.ts';
import { ordinateCandidates } from './ordinate.ts';

export { LETTER_MM, type ViewOnPaper } from './candidate.ts';

/** Those that are in the way of something are put again so many times. */
const PASSES = 6;
/** Where a dimension costs no more than this at the mean, nothing is looked for that is better. */
const GOOD = 4;
/** A place that costs more than this is a fault of the sheet. */
const FAULT = 20;

/** A dimension with its place. */
export interface PlacedDimension {
  readonly id: string;
  readonly entities: readonly SheetEntity[];
  readonly texts: readonly PaperBox[];
  /** Row and side, or place of the text, as it can be asked for again. */
  readonly offset: Vec2;
  /** Direction of a linear one, and the size of the view across it. */
  readonly angle: number | null;
  readonly acrossMm: number;
  readonly hiddenEnds: number;
}

type Kind = ViewDimension['kind'];
type OfKind<K extends Kind> = Extract<ViewDimension, { kind: K }>;

/** What is placed first, and the places that a kind of dimension can have. */
interface Placing<K extends Kind> {
  readonly size: (dimension: OfKind<K>, scale: number) => number;
  readonly candidates: (dimension: OfKind<K>, view: ViewOnPaper, wanted: Vec2 | undefined) => Candidate[];
}

/** One file a kind of dimension; the compiler asks for each. Small ones are placed first, inside larger ones. */
const KINDS: { readonly [K in Kind]: Placing<K> } = {
  // They stand in one row, before any other.
  ordinate: { size: ({ isDatum }) => (isDatum ? -2 : -1), candidates: ordinateCandidates },
  linear: { size: ({ from, to }, scale) => Math.abs(to.at - from.at) * scale, candidates: linearCandidates },
  angular: { size: () => 1e4, candidates: angularCandidates },
  leader: { size: () => 2e4, candidates: leaderCandidates },
};

const placingOf = <K extends Kind>({ kind }: OfKind<K>): Placing<K> => KINDS[kind];

interface Item {
  readonly dimension: ViewDimension;
  /** The cheapest first. */
  readonly candidates: readonly Candidate[];
}

/** What a place costs on the lines of the view. */
type GroundCost = (candidate: Candidate) => number;

function itemOf(dimension: ViewDimension, view: ViewOnPaper, wanted: Vec2 | undefined): Item {
  const candidates = placingOf(dimension).candidates(dimension, view, wanted);
  return { dimension, candidates: candidates.sort((a, b) => a.own - b.own) };
}

/** The candidate that costs least beside the others, or null where there is none. */
function cheapest({ candidates }: Item, others: readonly Candidate[], onGround: GroundCost): Candidate | null {
  let best: Candidate | null = null;
  let bestCost = Infinity;
  for (const candidate of candidates) {
    if (candidate.own >= bestCost) break;
    const alone = candidate.own + onGround(candidate);
    if (alone >= bestCost) continue;
    const cost = alone + clashes(candidate, others, bestCost - alone);
    if (cost >= bestCost) continue;
    best = candidate;
    bestCost = cost;
  }
  return best;
}

function placed({ dimension }: Item, candidate: Candidate, view: ViewOnPaper): PlacedDimension {
  const [low, high] = 'angle' in dimension ? extentAcross(view, dimension.angle) : [0, 0];
  return {
    id: dimension.id,
    entities: candidate.draw(),
    texts: candidate.texts,
    offset: candidate.offset,
    angle: 'angle' in dimension ? dimension.angle : null,
    acrossMm: high - low,
    hiddenEnds: dimension.hiddenEnds,
  };
}

interface Placement {
  readonly placed: readonly PlacedDimension[];
  /** What all places cost together. */
  readonly cost: number;
}

/**
 * Finds places for the dimensions of a view: outside the outline where possible, shorter ones inside longer ones, rows
 * evenly spaced, no text on a line, no leader through another. Tried with short dimensions written on either side, for what
 * is in the way of others is seen only when these are there. `wanted` are offsets given by hand.
 */
export function placeDimensions(
  view: ViewOnPaper,
  dimensions: readonly ViewDimension[],
  wanted: ReadonlyMap<string, Vec2> = new Map(),
): readonly PlacedDimension[] {
  const behind = placedIn(view, dimensions, wanted);
  if (behind.cost < GOOD * dimensions.length) return behind.placed;
  const outward = placedIn({ ...view, textBeside: 'outward' }, dimensions, wanted);
  return outward.cost < behind.cost ? outward.placed : behind.placed;
}

/** Each dimension is put where it costs least beside those that are there; those that are in the way are put again. */
function placedIn(
  view: ViewOnPaper,
  dimensions: readonly ViewDimension[],
  wanted: ReadonlyMap<string, Vec2>,
): Placement {
  const size = (dimension: ViewDimension): number => placingOf(dimension).size(dimension, view.scale);
  const items = [...dimensions]
    .sort((a, b) => size(a) - size(b))
    .map((dimension) => itemOf(dimension, view, wanted.get(dimension.id)));
  const ground = groundOf(view);
  const known = new Map<Candidate, number>();
  const onGround: GroundCost = (candidate) => {
    const cost = known.get(candidate) ?? groundCost(candidate, ground);
    known.set(candidate, cost);
    return cost;
  };
  const chosen = new Map<string, Candidate>();
  const besides = (id: string): readonly Candidate[] =>
    [...chosen].flatMap(([other, candidate]) => (other === id ? [] : [candidate]));
  const put = (item: Item): void => {
    const { id } = item.dimension;
    chosen.delete(id);
    const best = cheapest(item, besides(id), onGround);
    if (best !== null) chosen.set(id, best);
  };
  for (const item of items) put(item);
  for (let pass = 0; pass < PASSES; pass++) {
    const faulty = items.filter(({ dimension: { id } }) => {
      const own = chosen.get(id);
      return own !== undefined && onGround(own) + clashes(own, besides(id), Infinity) >= (pass === 0 ? 5 : FAULT);
    });
    if (faulty.length === 0) break;
    for (const item of faulty) put(item);
  }
  const costOf = (id: string, own: Candidate): number => own.own + onGround(own) + clashes(own, besides(id), Infinity);
  return {
    placed: items.flatMap((item) => {
      const own = chosen.get(item.dimension.id);
      return own === undefined ? [] : [placed(item, own, view)];
    }),
    cost: [...chosen].reduce((sum, [id, own]) => sum + costOf(id, own), 0),
  };
}
