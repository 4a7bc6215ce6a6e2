import type { Diagnosed } from '#core/grade';

import type { Diagnosis, Hypothesis } from './diagnose.ts';

/** What a diagnosis says, as grading takes it: the likeliest hypothesis first, the others as what it may be instead. */
export function diagnosedOf({ hypotheses }: Diagnosis): Diagnosed | null {
  const [best, ...others] = hypotheses;
  if (best === undefined) return null;
  const causes = (hypothesis: Hypothesis, instead: boolean): Diagnosed['causes'] =>
    hypothesis.mistakes.map(({ kind, message, about, why, becomes }) => ({
      id: kind,
      about,
      why,
      becomes,
      certainty: hypothesis.certainty,
      message,
      checkIds: instead ? [] : hypothesis.checks.map(({ checkId }) => checkId),
      explains: hypothesis.fit === 'complete' ? 'all' : 'most',
      instead,
    }));
  return {
    causes: [...causes(best, false), ...others.flatMap((other) => causes(other, true))],
    complete: best.fit === 'complete',
    inPlace: best.inPlace,
    checks: best.fit === 'complete' ? best.checks : [],
    roots: best.roots,
  };
}
