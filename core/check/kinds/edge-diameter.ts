import * as v from 'valibot';

import { spaceCircleThrough } from '#core/fit';
import { SurfaceNameSchema } from '#core/recipe';
import { pointsBetween, type Solid } from '#core/solid';
import type { Vec3 } from '#core/vector';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';

/** Points of an edge that is a circle lie on it to this much, mm: what facets leave. */
const ROUND_MM = 0.05;

/**
 * Diameter of the circle along which faces of two lists meet, or of the largest circle around the first, fitted to the
 * points of their edges, mm; null where there is none.
 */
function diameterBetween(solid: Solid, of: readonly number[], on: readonly number[] | null): number | null {
  if (on !== null) return roundMm(pointsBetween(solid, of, on));
  const around = solid.edges.filter(({ faceIds }) => faceIds.some((id) => of.includes(id)));
  const beyond = new Set(around.flatMap(({ faceIds }) => faceIds.filter((id) => !of.includes(id))));
  const found = [...beyond].flatMap((id) => roundMm(pointsBetween(solid, of, [id])) ?? []);
  return found.length === 0 ? null : Math.max(...found);
}

function roundMm(points: readonly Vec3[]): number | null {
  const circle = spaceCircleThrough(points);
  return circle === null || circle.residual > ROUND_MM ? null : 2 * circle.radiusMm;
}

/**
 * Diameter of the round edge where two surfaces meet: the ends of a cone, of a neck that changes its outline, of a chamfer.
 * Facets have their corners on the edge, so that it is as exact on them. Without the second surface, it is the largest
 * round edge of the first: the end of a neck.
 */
export const edgeDiameter = defineKind({
  kind: 'edge-diameter',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, of: SurfaceNameSchema, on: v.optional(SurfaceNameSchema) },
  target: { ...targetSize, faceIds: FaceIdsSchema, onFaceIds: v.nullable(FaceIdsSchema) },
  hangsOn: ['of', 'on'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const faceIds = context.faceIds(check.of);
    const onFaceIds = check.on === undefined ? null : context.faceIds(check.on);
    if (diameterBetween(context.solid, faceIds, onFaceIds) === null)
      return context.refuse(
        check.on === undefined
          ? `"${check.of}" has no round edge.`
          : `"${check.of}" and "${check.on}" do not meet in a circle.`,
      );
    return { ...context.size(check), faceIds, onFaceIds };
  },
  measure: ({ faceIds, onFaceIds }, context) => {
    const referenceFaceIds = [...faceIds, ...(onFaceIds ?? [])];
    const [of, on] = [context.partnerIds(faceIds), onFaceIds && context.partnerIds(onFaceIds)];
    const about = { faceIds: [...of, ...(on ?? [])], referenceFaceIds };
    const measured = diameterBetween(context.submission, of, on);
    return measured === null
      ? { ...about, measured: null, reason: 'There is no round edge on the model where it is measured.' }
      : { ...about, measured, ...uncertain(context.uncertaintyMm(about.faceIds)) };
  },
  marks: ({ faceIds, onFaceIds }) => [...faceIds, ...(onFaceIds ?? [])],
  drafting: ({ faceIds, onFaceIds, nominal }) => ({ form: 'edge-circle', faceIds, onFaceIds, diameterMm: nominal }),
  picking: { label: 'diameter of the round edge of two surfaces', fills: [{ field: 'of' }, { field: 'on' }] },
});
