import * as v from 'valibot';

import type { Chamfer } from '#core/feature';
import { SurfaceNameSchema } from '#core/recipe';
import { SAME_SIZE_MM } from '#core/tolerance';

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

/** The leg of a chamfer of the submission on the partner of the surface that it is measured on, mm. */
function legOnModel({ onFaceIds, sizesMm }: Chamfer, referenceOnFaceIds: readonly number[], context: MeasureContext) {
  const on = context.partnerIds(referenceOnFaceIds);
  const [firstFaceId, secondFaceId] = onFaceIds;
  return on.includes(secondFaceId) && !on.includes(firstFaceId) ? sizesMm[1] : sizesMm[0];
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
    const members = [own, ...like].map(({ faceIds, onFaceIds }) => {
      const partner = context.chamferPartner(faceIds);
      const legMm = partner === null ? Number.NaN : legOnModel(partner, onFaceIds, context);
      return { referenceFaceIds: faceIds, partner, legMm };
    });
    const [first, ...more] = members.flatMap(({ partner, ...rest }) =>
      partner === null ? [] : [{ partner, ...rest }],
    );
    if (first === undefined || more.length + 1 < members.length) return notAllThere('chamfer', members);
    const { partner, legMm, referenceFaceIds } = farthest(first, more, (one) => Math.abs(one.legMm - nominal));
    return {
      measured: legMm,
      ...uncertain(2 * context.uncertaintyMm(partner.faceIds)),
      faceIds: partner.faceIds,
      referenceFaceIds,
    };
  },
  marks: ({ like = [], ...own }) => [own, ...like].flatMap(({ faceIds, onFaceIds }) => [...faceIds, ...onFaceIds]),
  chain: ({ like = [], ...own }) => {
    const faceIds = [own, ...like].flatMap((member) => member.faceIds);
    return { sized: faceIds, chamfered: faceIds, directed: faceIds };
  },
  drafting: ({ faceIds, onFaceIds, like = [] }) => ({ form: 'chamfer', faceIds, onFaceIds, count: 1 + like.length }),
});
