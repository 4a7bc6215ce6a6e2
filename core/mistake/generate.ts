import type { Exercise } from '#core/exercise';
import { isWallStep } from '#core/reconstruct';
import type { ParameterValues } from '#core/recipe';

import type { MistakeKind } from '#core/cause';
import { choicesIn } from './choices.ts';
import type { DrivenSize } from './driven.ts';
import { forgottenIn } from './forgotten.ts';
import { misreadParameters, otherVariants } from './parameters-misread.ts';
import type { Mistake } from './mistake.ts';
import { misreadNumbers } from './numbers-misread.ts';
import { misplacedIn } from './misplaced.ts';
import { misordered } from './order.ts';
import { shiftedIn } from './shifted.ts';
import { misreadSizes } from './sizes-misread.ts';
import { Subject } from './subject.ts';

const MOST_MISTAKES = 120;
const LEAST_OF_KIND = 4;
const MOST_VARIANTS = 30;

/**
 * All mistakes of the catalogue that a student can make in the part of an exercise, in one variant and stage of it. What
 * cannot be built, or changes nothing, is found when they are built. `sizes` are those of a part that was read from a file.
 */
export function mistakesOf(
  document: Exercise,
  values: ParameterValues = {},
  stage = 1,
  sizes: readonly DrivenSize[] = [],
): readonly Mistake[] {
  const subject = new Subject(document, values, stage);
  if (subject.recipe.steps.length === 0 && sizes.length === 0) return [];
  misreadNumbers(subject);
  misreadParameters(subject);
  misreadSizes(subject, sizes);
  for (const [place, step] of subject.steps.entries()) {
    // A round wall of a part that was read from a file is there whatever is done.
    if (subject.isFromFile && isWallStep(step)) continue;
    forgottenIn(subject, step);
    choicesIn(subject, step);
    misplacedIn(subject, step);
    shiftedIn(subject, step);
    misordered(subject, step, place);
  }
  otherVariants(subject);
  return likeliest(subject.mistakes);
}

/** The likeliest mistakes, some of each kind in any case: more are not worth the time that building them takes. */
function likeliest(all: readonly Mistake[]): readonly Mistake[] {
  const sorted = [...all].sort((a, b) => b.prior - a.prior);
  const ofKind = new Map<MistakeKind, number>();
  const kept = sorted.filter(({ kind }) => {
    const count = ofKind.get(kind) ?? 0;
    ofKind.set(kind, count + 1);
    return count < (kind === 'wrong-variant' ? MOST_VARIANTS : LEAST_OF_KIND);
  });
  const others = sorted.filter((mistake) => !kept.includes(mistake));
  return [...kept, ...others.slice(0, Math.max(0, MOST_MISTAKES - kept.length))];
}
