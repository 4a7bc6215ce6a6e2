import type { Measurement } from '#core/check';
import type { BuildRule } from '#core/exercise';
import { OPERATION_NAMES } from '#core/recipe';

import type { RuleLine } from './report.ts';

/** Operations that leave a feature behind by which they are known, whatever the order of the steps. */
const TRACES: Readonly<Partial<Record<string, readonly string[]>>> = {
  hole: ['hole'],
  fillet: ['fillet'],
  'full-round': ['full-round'],
  chamfer: ['chamfer'],
  rib: ['rib'],
};

/** A build rule as a sentence. */
export function ruleText(rule: BuildRule): string {
  switch (rule.kind) {
    case 'required':
      return `Uses the operation "${OPERATION_NAMES[rule.operation]}"`;
    case 'excluded':
      return `Does without the operation "${OPERATION_NAMES[rule.operation]}"`;
    case 'most-steps':
      return `At most ${String(rule.count)} steps`;
    case 'order':
      return `"${OPERATION_NAMES[rule.first]}" comes before "${OPERATION_NAMES[rule.then]}"`;
    case 'through':
      return 'Through holes go through all';
    case 'symmetry':
      return 'Symmetry is used';
    case 'one-body':
      return 'One merged body';
  }
}

/**
 * What the geometry alone proves of each build rule: `kept`, `broken`, or `open` where only the list of build steps
 * could tell.
 */
export function judgeRules(rules: readonly BuildRule[], measurement: Measurement): RuleLine[] {
  return rules.map((rule): RuleLine => ({ text: ruleText(rule), ...rulingOf(rule, measurement) }));
}

type Ruling = Pick<RuleLine, 'verdict' | 'evidence'>;
const open = (evidence: string): Ruling => ({ verdict: 'open', evidence });
const broken = (evidence: string): Ruling => ({ verdict: 'broken', evidence });
const kept = (evidence: string): Ruling => ({ verdict: 'kept', evidence });

function rulingOf(rule: BuildRule, measurement: Measurement): Ruling {
  const { missing, extra, bodies, closed, evidence } = measurement;
  switch (rule.kind) {
    case 'one-body':
      return bodies === 1 && closed
        ? kept('The file holds one closed body.')
        : broken(closed ? `The file holds ${String(bodies)} bodies.` : 'The body is not closed.');
    case 'required': {
      const traces = TRACES[rule.operation] ?? [];
      const lost = missing.filter(({ kind }) => traces.includes(kind)).length;
      return lost > 0
        ? broken(`${String(lost)} of what this operation makes ${lost === 1 ? 'is' : 'are'} not on the model.`)
        : open('The shape does not tell how it was made.');
    }
    case 'excluded': {
      const traces = TRACES[rule.operation] ?? [];
      const found = extra.filter(({ kind }) => traces.includes(kind)).length;
      return found > 0
        ? broken(`The model has ${String(found)} of what this operation makes where the reference has none.`)
        : open('The shape does not tell how it was made.');
    }
    case 'through':
      if (evidence === null) return open('This was not looked at when the file was measured.');
      if (evidence.blindHoles > 0)
        return broken(
          `${String(evidence.blindHoles)} ${evidence.blindHoles === 1 ? 'hole ends' : 'holes end'} inside the part.`,
        );
      return open('All through holes come out; whether they would in a thicker part, the shape does not tell.');
    case 'symmetry':
      if (evidence === null) return open('This was not looked at when the file was measured.');
      if (evidence.symmetryPlanes.reference === 0) return open('The reference has no plane of symmetry.');
      return evidence.symmetryPlanes.model < evidence.symmetryPlanes.reference
        ? broken('The model is not symmetric where the reference is.')
        : open('The model is symmetric; whether by mirroring or by drawing all of it, the shape does not tell.');
    case 'most-steps':
    case 'order':
      return open('Only the list of build steps can tell.');
  }
}
