import * as v from 'valibot';

import { graphOf, type Chamfer } from '#core/feature';
import { SurfaceNameSchema } from '#core/recipe';
import { directionOf } from '#core/solid';
import { SAME_DIRECTION_COSINE, SAME_SIZE_MM } from '#core/tolerance';
import { cross, dot, normalize } from '#core/vector';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind, type MeasureContext, type PrepareContext } from '../kind.ts';
import { farthest, notAllThere, uncertain } from '../rulings.ts';

/** Faces of a chamfer, and of the surface that it is measured on. */
const sided = { faceIds: FaceIdsSchema, onFaceIds: FaceIdsSchema };
type Sided = Readonly<v.InferOutput<ReturnType<typeof v.object<typeof sided>>>>;

/** The chamfer between two named surfaces of the reference. */
const chamferBetween = (
  { on, to }: { readonly on: readonly number[]; readonly to: readonly number[] },
  context: PrepareContext,
): Chamfer | undefined =>
  context
    .chamfers()
    .find(({ onFaceIds: [a, b] }) => (on.includes(a) && to.includes(b)) || (on.includes(b) && to.includes(a)));

/** Chamfers of the same two legs that no other check of the plan names: the sheet gives one size for all of them. */
function likeChamfers(own: Chamfer, on: readonly number[], context: PrepareContext): readonly Sided[] {
  const named = context.checks.flatMap(({ kind, off, on: first, to: second }) =>
    kind === 'chamfer-size' && off !== true && first !== undefined && second !== undefined
      ? (chamferBetween({ on: context.named(first), to: context.named(second) }, context) ?? [])
      : [],
  );
  const legOf = ({ onFaceIds, sizesMm }: Chamfer): number => sizesMm[on.includes(onFaceIds[0]) ? 0 : 1];
  const isSame = (a: number, b: number): boolean => Math.abs(a - b) < SAME_SIZE_MM;
  const [leg, other] = [legOf(own), own.sizesMm[0] + own.sizesMm[1] - legOf(own)];
  return context.chamfers().flatMap((chamfer): Sided[] => {
    if ([own, ...named].some(({ faceIds }) => faceIds[0] === chamfer.faceIds[0])) return [];
    const index = [0, 1].find(
      (i) => isSame(chamfer.sizesMm[i as 0 | 1], leg) && isSame(chamfer.sizesMm[i === 0 ? 1 : 0], other),
    );
    return index === undefined ? [] : [{ faceIds: chamfer.faceIds, onFaceIds: [chamfer.onFaceIds[index as 0 | 1]] }];
  });
}

/** What a chamfer of the reference is on the submission: its faces, and its leg on the surface that it is measured on, mm. */
interface Leg {
  readonly faceIds: readonly number[];
  readonly legMm: number;
}

function legOnModel({ faceIds, onFaceIds }: Sided, context: MeasureContext): Leg | null {
  const chamfer = context.chamferPartner(faceIds);
  if (chamfer === null) return legOfSlope({ faceIds, onFaceIds }, context);
  const on = context.partnerIds(onFaceIds);
  const [isFirst, isSecond] = chamfer.onFaceIds.map((id) => on.includes(id));
  const side = isFirst === isSecond ? facing(chamfer, onFaceIds, context) : isSecond ? 1 : 0;
  return { faceIds: chamfer.faceIds, legMm: chamfer.sizesMm[side] };
}

/**
 * The side of a chamfer that faces as its surface on the reference does: where a step has grown or shrunk, the partner of
 * that surface is another face of it, which the chamfer does not touch.
 */
function facing({ onFaceIds: [first, second] }: Chamfer, wantedIds: readonly number[], context: MeasureContext): 0 | 1 {
  const wanted = directionOf(context.reference.faces[wantedIds[0] ?? -1]?.surface ?? { kind: 'freeform' });
  if (wanted === null) return 0;
  const like = (id: number): number => {
    const own = directionOf(context.submission.faces[id]?.surface ?? { kind: 'freeform' });
    return own === null ? 0 : dot(own, context.directionInFile(wanted));
  };
  return like(second) > like(first) ? 1 : 0;
}

/** The same of a slope that takes too much of a face to be found as a chamfer, and leans as the sheet draws it. */
function legOfSlope({ faceIds, onFaceIds }: Sided, context: MeasureContext): Leg | null {
  const wanted = context.reference.faces[faceIds[0] ?? -1]?.surface;
  const [slope, on] = [context.partner(faceIds), context.partner(onFaceIds)];
  if (wanted?.kind !== 'plane' || slope?.surface.kind !== 'plane' || on?.surface.kind !== 'plane') return null;
  const { normal } = slope.surface;
  if (dot(normal, context.directionInFile(wanted.normal)) < SAME_DIRECTION_COSINE) return null;
  const edge = cross(normal, on.surface.normal);
  const along = normalize(cross(on.surface.normal, edge));
  const [from, to] = graphOf(context.submission).span(slope, on.surface.origin, along);
  return { faceIds: [slope.id], legMm: to - from };
}

/** What the chamfer between two surfaces takes off the first of them; the like ones that one size is written for, too. */
export const chamferSize = defineKind({
  kind: 'chamfer-size',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, on: SurfaceNameSchema, to: SurfaceNameSchema },
  target: { ...targetSize, ...sided, like: v.optional(v.pipe(v.array(v.object(sided)), v.readonly())) },
  hangsOn: ['on', 'to'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const [on, to] = [context.faceIds(check.on), context.faceIds(check.to)];
    const chamfer = chamferBetween({ on, to }, context);
    if (chamfer === undefined) return context.refuse(`there is no chamfer between "${check.on}" and "${check.to}".`);
    const like = likeChamfers(chamfer, on, context);
    return {
      ...context.size(check),
      faceIds: chamfer.faceIds,
      onFaceIds: on,
      ...(like.length > 0 ? { like } : {}),
    };
  },
  measure: ({ nominal, like = [], ...own }, context) => {
    const members = [own, ...like].map((one) => ({
      referenceFaceIds: one.faceIds,
      partner: legOnModel(one, context),
    }));
    const [first, ...more] = members.flatMap(({ referenceFaceIds, partner }) =>
      partner === null ? [] : [{ ...partner, referenceFaceIds }],
    );
    if (first === undefined || more.length + 1 < members.length) return notAllThere('chamfer', members);
    const { legMm, faceIds, referenceFaceIds } = farthest(first, more, (one) => Math.abs(one.legMm - nominal));
    return { measured: legMm, ...uncertain(2 * context.uncertaintyMm(faceIds)), faceIds, referenceFaceIds };
  },
  marks: ({ like = [], ...own }) => [own, ...like].flatMap(({ faceIds, onFaceIds }) => [...faceIds, ...onFaceIds]),
  chain: ({ like = [], ...own }) => {
    const faceIds = [own, ...like].flatMap((member) => member.faceIds);
    return { sized: faceIds, chamfered: faceIds, directed: faceIds };
  },
  drafting: ({ faceIds, onFaceIds, like = [] }) => ({ form: 'chamfer', faceIds, onFaceIds, count: 1 + like.length }),
});
