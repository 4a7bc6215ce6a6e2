/** What kinds that are measured between two surfaces, or on surfaces that share a dimension, have in common. */
import type { Picking, PrepareContext, Span, SpanEnd } from './kind.ts';

interface PlannedPair {
  readonly from: string;
  readonly to: string;
}

interface TargetPair {
  readonly fromFaceIds: readonly number[];
  readonly toFaceIds: readonly number[];
}

/** The faces of the reference that a check is measured between. */
export const pairOf = ({ from, to }: PlannedPair, context: PrepareContext): TargetPair => ({
  fromFaceIds: context.faceIds(from),
  toFaceIds: context.faceIds(to),
});

/** All of them, as they are marked in the part. */
export const facesOfPair = ({ fromFaceIds, toFaceIds }: TargetPair): readonly number[] => [
  ...fromFaceIds,
  ...toFaceIds,
];

/** Where two surfaces should be one: no distance, with the tolerance that the check gives. */
export const coincidenceOf = (check: PlannedPair & { readonly tolerance: string }, context: PrepareContext) => ({
  nominal: 0,
  tolerance: context.lengthMm(check.tolerance),
  ...pairOf(check, context),
});

type Between<A> = Extract<Span<A>, { kind: 'between' }>;
const between = <A>(on: SpanEnd<A>['on'], from: A, to: A): Between<A> => ({
  kind: 'between',
  from: { on, at: from },
  to: { on, at: to },
});

/** What a dimension between two flat faces, or two axes, spans by the names of surfaces. */
export const spanOfNames =
  (on: SpanEnd<string>['on']) =>
  ({ from, to }: PlannedPair): Between<string> =>
    between(on, from, to);

/** The same by faces of the reference. */
export const spanOfFaces =
  (on: SpanEnd<readonly number[]>['on']) =>
  ({ fromFaceIds, toFaceIds }: TargetPair): Between<readonly number[]> =>
    between(on, fromFaceIds, toFaceIds);

/** The fields that picking two surfaces fills. */
export const PAIR_FILLS: Picking['fills'] = [{ field: 'from' }, { field: 'to' }];

/** The faces of the reference of several alike surfaces that a check names. */
export const membersOf = (names: readonly string[], context: PrepareContext): readonly (readonly number[])[] =>
  names.map((name) => context.faceIds(name));
