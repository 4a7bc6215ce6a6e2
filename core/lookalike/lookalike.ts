import * as v from 'valibot';

import { MistakeKindSchema, type MistakeKind } from '#core/cause';
import type { Exercise } from '#core/exercise';
import type { Kernel, ViewDirection } from '#core/kernel';
import { MistakenParts, mistakesOf } from '#core/mistake';
import type { ParameterValues } from '#core/recipe';
import { RECIPE_SOURCE, type Solid } from '#core/solid';

import { atOneScale, PictureSchema, seenLines, unlikeness } from './picture.ts';

/** A part in a picture, beside others that it may be taken for. */
export const LookalikesSchema = v.object({
  right: PictureSchema,
  /** Parts with a mistake that changes what is seen. */
  wrong: v.pipe(
    v.array(
      v.object({
        kind: MistakeKindSchema,
        /** What it is made in, as the student calls it; empty where nothing says so. */
        about: v.string(),
        picture: PictureSchema,
      }),
    ),
    v.readonly(),
  ),
});
export type Lookalikes = v.InferOutput<typeof LookalikesSchema>;

/** Mistakes that one sees without measuring. */
const SEEN_KINDS: ReadonlySet<MistakeKind> = new Set<MistakeKind>([
  'feature-forgotten',
  'one-forgotten',
  'one-too-many',
  'recess-forgotten',
  'radius-for-diameter',
  'chamfer-reversed',
  'wrong-side',
  'one-sided',
  'legs-swapped',
  'recess-kind',
  'edges-not-sharp',
  'angle-from-other-side',
  'feature-mirrored',
  'wrong-count',
  'wrong-order',
]);

/** From the upper corner behind: the sheet's own pictorial view shows the other one. */
const FROM_BEHIND: ViewDirection = { toViewer: [-1, 1, 1], right: [-1, -1, 0] };
/** Less than this is not seen at a glance. */
const LEAST_UNLIKE = 0.04;
const MOST_BUILT = 24;
const MOST_WRONG = 6;
/** Fine enough for lines that are looked at. */
const MESH = { toleranceMm: 0.1, angleRad: 0.3 } as const;

export interface LookalikeOptions {
  readonly values?: ParameterValues | undefined;
  /** From 1. */
  readonly stage?: number;
}

/**
 * Pictures of a part and of parts with one mistake each, all different to the eye; those that differ least come first, of
 * each kind one before the second. A part on which no mistake is seen has no wrong ones.
 */
export function lookalikesOf(
  kernel: Kernel,
  document: Exercise,
  right: Solid,
  { values = {}, stage = 1 }: LookalikeOptions = {},
): Lookalikes {
  const parts = new MistakenParts(kernel, document, { values, stage });
  try {
    const mistakes = mistakesOf(document, values, stage)
      .filter(({ kind }) => SEEN_KINDS.has(kind))
      .slice(0, MOST_BUILT);
    const built = mistakes.flatMap((mistake) => {
      const lines = parts.with([mistake], (shape) => {
        const solid = parts.safely(() => kernel.analyze(shape, RECIPE_SOURCE, MESH));
        return solid?.ok === true && solid.value.closed ? seenLines(solid.value, FROM_BEHIND) : null;
      });
      return lines === null ? [] : [{ mistake, lines }];
    });
    const [own = [], ...others] = atOneScale([seenLines(right, FROM_BEHIND), ...built.map(({ lines }) => lines)]);
    const told = built
      .map(({ mistake: { kind, about = '' } }, i) => ({ kind, about, picture: others[i] ?? [] }))
      .map((wrong) => ({ wrong, unlike: unlikeness(own, wrong.picture) }))
      .filter(({ unlike }) => unlike >= LEAST_UNLIKE)
      .sort((a, b) => a.unlike - b.unlike)
      .map(({ wrong }) => wrong);
    const apart: (typeof told)[number][] = [];
    const kinds = (kind: MistakeKind): number => apart.filter((one) => one.kind === kind).length;
    for (let round = 0; round < MOST_WRONG && apart.length < MOST_WRONG; round++)
      for (const one of told)
        if (
          apart.length < MOST_WRONG &&
          kinds(one.kind) === round &&
          apart.every(({ picture }) => unlikeness(picture, one.picture) >= LEAST_UNLIKE)
        )
          apart.push(one);
    return { right: own, wrong: apart };
  } finally {
    parts.free();
  }
}
