import { munkres } from 'munkres';

import { circleCover } from '#core/feature';
import type { Face, Solid } from '#core/solid';
import { boxDiagonal, cross, distance, distanceToLine, dot, length, subtract } from '#core/vector';

import { placeFace, type Frame } from './frame.ts';

/** Partner of each reference face on the submission, by face id; absent where there is none. */
export type FacePartners = ReadonlyMap<number, { readonly faceId: number; readonly cost: number }>;

interface Candidate {
  readonly face: Face;
  /** Share of the circle for cylinders, else 0. */
  readonly cover: number;
}

/** A face whose best partner costs more than this has none. */
const MISSING_COST = 0.75;

/** Beyond this angle two planes or axes are not the same one any more, 5 degrees. */
const ANGLE_SINE = Math.sin((5 * Math.PI) / 180);

const logRatio = (a: number, b: number): number => Math.abs(Math.log((a + 1e-9) / (b + 1e-9)));

/**
 * Dissimilarity of two faces; 0 for the same face in the same place. Position counts more than size, so that a hole of
 * the wrong size in the right place, or of the right size in the wrong place, is still that hole.
 */
function costOf(a: Candidate, b: Candidate, sizeMm: number): number {
  const [s, t] = [a.face.surface, b.face.surface];
  const apart = distance(a.face.centroid, b.face.centroid) / sizeMm;
  if (s.kind === 'plane' && t.kind === 'plane') {
    if (dot(s.normal, t.normal) < 0 || length(cross(s.normal, t.normal)) > ANGLE_SINE) return Infinity;
    const offset = Math.abs(dot(subtract(s.origin, t.origin), s.normal)) / sizeMm;
    return 2 * offset + 0.5 * apart + 0.1 * Math.min(3, logRatio(a.face.areaMm2, b.face.areaMm2));
  }
  if (s.kind === 'cylinder' && t.kind === 'cylinder') {
    if (s.side !== t.side || length(cross(s.direction, t.direction)) > ANGLE_SINE) return Infinity;
    const offset = distanceToLine(t.origin, s.origin, s.direction) / sizeMm;
    const cover = Math.abs(a.cover - b.cover);
    return (
      2 * offset + 0.3 * apart + 0.15 * Math.min(4, logRatio(s.radiusMm, t.radiusMm)) + 0.6 * (cover > 0.2 ? cover : 0)
    );
  }
  if (s.kind !== t.kind) return Infinity;
  return 2 * apart + 0.1 * Math.min(3, logRatio(a.face.areaMm2, b.face.areaMm2));
}

const FORBIDDEN = 1e6;

/** Assigns faces of the two solids to each other at minimum total cost; leaving a face alone costs `MISSING_COST`. */
export function matchFaces(reference: Solid, submission: Solid, frame: Frame): FacePartners {
  const sizeMm = boxDiagonal(reference.bounds);
  const partners = new Map<number, { faceId: number; cost: number }>();
  const kinds = [...new Set(reference.faces.map((face) => face.surface.kind))];
  for (const kind of kinds) {
    const rows: Candidate[] = reference.faces
      .filter((face) => face.surface.kind === kind)
      .map((face) => ({ face, cover: circleCover(reference, face) }));
    const columns: Candidate[] = submission.faces
      .filter((face) => face.surface.kind === kind)
      .map((face) => ({ face: placeFace(frame.placement, face), cover: circleCover(submission, face) }));
    if (columns.length === 0) continue;
    const costs = rows.map((row) => columns.map((column) => costOf(row, column, sizeMm)));
    // Extra columns stand for "missing", one for each row.
    const padded = costs.map((row, i) => [
      ...row.map((cost) => Math.min(cost, FORBIDDEN)),
      ...rows.map((_, j) => (i === j ? MISSING_COST : FORBIDDEN)),
    ]);
    for (const [i, j] of munkres(padded)) {
      const row = rows[i];
      const column = columns[j];
      const cost = costs[i]?.[j] ?? Infinity;
      if (row && column && cost < MISSING_COST) partners.set(row.face.id, { faceId: column.face.id, cost });
    }
  }
  return partners;
}
