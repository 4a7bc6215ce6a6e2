import {
  boxesOverlap,
  boxOf,
  distanceToStroke,
  grown,
  LEADERS_APART_MM,
  sharedLength,
  strokeInBox,
  strokesCross,
  type PaperBox,
  type Stroke,
} from '../overlap.ts';

import type { Candidate, ViewOnPaper } from './candidate.ts';
import { nearby, type Nearby } from './nearby.ts';

const COST = {
  textOnText: 1000,
  textOnLine: 400,
  lineThroughText: 400,
  sameLine: 500,
  textOnMark: 60,
  leaderCrossesPart: 2.5,
  textInside: 30,
  leaderCrossesLeader: 80,
  leaderTouchesLeader: 60,
  dimensionCrossesDimension: 60,
  dimensionCrossesExtension: 24,
  leaderCrossesDimension: 14,
  extensionCrosses: 1,
} as const;
/** What stands on a view before any dimension does, in order by place. */
export interface Ground {
  readonly strokes: Nearby;
  readonly marks: Nearby;
  readonly outline: PaperBox;
  readonly taken: readonly PaperBox[];
}

export const groundOf = ({ strokes, marks, outline, taken }: ViewOnPaper): Ground => ({
  strokes: nearby(strokes),
  marks: nearby(marks),
  outline,
  taken,
});

/** What a place costs on the lines of the view alone, whatever other dimensions are there. */
export function groundCost({ texts, strokes }: Candidate, ground: Ground): number {
  let cost = 0;
  for (const text of texts) {
    const roomy = grown(text, 0.5);
    for (const stroke of ground.strokes.to(roomy)) if (strokeInBox(stroke, roomy)) cost += COST.textOnLine;
    for (const stroke of ground.marks.to(roomy)) if (strokeInBox(stroke, roomy)) cost += COST.textOnMark;
    if (boxesOverlap(text, ground.outline)) cost += COST.textInside;
    for (const taken of ground.taken) if (boxesOverlap(roomy, taken)) cost += COST.textOnText;
  }
  for (const stroke of strokes)
    if (stroke.role === 'leader')
      for (const line of ground.strokes.to(boxOf([stroke.from, stroke.to])))
        if (strokesCross(stroke, line)) cost += COST.leaderCrossesPart;
  return cost;
}

/** What a place costs beside the dimensions that are there. Stops above a limit. */
export function clashes(candidate: Candidate, others: readonly Candidate[], limit: number): number {
  let cost = 0;
  for (const other of others) {
    for (const text of candidate.texts) {
      const roomy = grown(text, 0.6);
      for (const theirs of other.texts) if (boxesOverlap(roomy, theirs)) cost += COST.textOnText;
      for (const stroke of other.strokes) if (strokeInBox(stroke, roomy)) cost += COST.lineThroughText;
    }
    if (cost >= limit) return cost;
    for (const stroke of candidate.strokes) {
      for (const theirs of other.texts) if (strokeInBox(stroke, grown(theirs, 0.4))) cost += COST.lineThroughText;
      for (const line of other.strokes) cost += crossingCost(stroke, line);
    }
    if (cost >= limit) return cost;
  }
  return cost;
}

/** Whether the bend or the end of one leader comes so near to another that both look like one line; tips may. */
const touch = (a: Stroke, b: Stroke): boolean =>
  distanceToStroke(a.to, b) < LEADERS_APART_MM || distanceToStroke(b.to, a) < LEADERS_APART_MM;

function crossingCost(a: Candidate['strokes'][number], b: Candidate['strokes'][number]): number {
  // Extension lines may lie on each other: two dimensions often begin at one edge.
  if (!(a.role === 'extension' && b.role === 'extension') && sharedLength(a, b) > 0.5) return COST.sameLine;
  if (!strokesCross(a, b))
    return a.role === 'leader' && b.role === 'leader' && touch(a, b) ? COST.leaderTouchesLeader : 0;
  const roles = [a.role, b.role];
  if (a.role === b.role)
    return a.role === 'leader'
      ? COST.leaderCrossesLeader
      : a.role === 'dimension'
        ? COST.dimensionCrossesDimension
        : COST.extensionCrosses;
  if (roles.includes('leader')) return COST.leaderCrossesDimension;
  return COST.dimensionCrossesExtension;
}
