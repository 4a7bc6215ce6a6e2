import type { BuildLog, LoggedStep } from '#core/buildlog';
import type { Measurement } from '#core/check';
import { type BuildRule, operationName, operationOf, type Operation } from '#core/recipe';

import type { RuleLine } from './report.ts';

const quoted = (operation: Operation): string => `"${operationName(operation)}"`;

/** A build rule as a sentence. */
export function ruleText(rule: BuildRule): string {
  switch (rule.kind) {
    case 'required': {
      const accepted = [rule.operation, ...(rule.or ?? [])].map(quoted);
      return accepted.length === 1
        ? `Uses the operation ${accepted.join('')}`
        : `Uses one of the operations ${accepted.join(' or ')}`;
    }
    case 'excluded':
      return `Does without the operation ${quoted(rule.operation)}`;
    case 'most-steps':
      return `At most ${String(rule.count)} steps`;
    case 'order':
      return `${quoted(rule.first)} comes before ${quoted(rule.then)}`;
    case 'through':
      return 'Through holes go through all';
    case 'symmetry':
      return 'Symmetry is used';
    case 'one-body':
      return 'One merged body';
    case 'holds':
      return 'The part stays right when its letters get other values';
  }
}

/**
 * What the geometry, and the list of build steps where one was handed in, prove of each build rule: `kept`, `broken`, or
 * `open` where neither can tell. Where the two disagree, the geometry has the last word.
 */
export function judgeRules(
  rules: readonly BuildRule[],
  measurement: Measurement,
  log: BuildLog | null = null,
): Pick<RuleLine, 'text' | 'verdict' | 'evidence' | 'override'>[] {
  return rules.map((rule) => {
    const shape = byShape(rule, measurement);
    const ruling =
      shape.verdict === 'open' && log !== null && log.steps.length > 0 ? byLog(rule, log, shape, measurement) : shape;
    return { text: ruleText(rule), ...ruling, override: null };
  });
}

type Ruling = Pick<RuleLine, 'verdict' | 'evidence'>;
const open = (evidence: string): Ruling => ({ verdict: 'open', evidence });
const broken = (evidence: string): Ruling => ({ verdict: 'broken', evidence });
const kept = (evidence: string): Ruling => ({ verdict: 'kept', evidence });

const placeOf = ({ line, text }: LoggedStep): string => `line ${String(line)}, "${text}"`;

function byLog(rule: BuildRule, { steps, unread }: BuildLog, shape: Ruling, { evidence }: Measurement): Ruling {
  const first = (...operations: readonly Operation[]) => steps.find(({ operation }) => operations.includes(operation));
  // What was not understood may be the very step that is asked for.
  const unsure = unread.length > 0;
  switch (rule.kind) {
    case 'required': {
      const found = first(rule.operation, ...(rule.or ?? []));
      if (found) return kept(`The list has it in ${placeOf(found)}.`);
      return unsure
        ? open(`The list does not name it, but ${String(unread.length)} of its lines were not understood.`)
        : broken('The list of build steps does not name it.');
    }
    case 'excluded': {
      const found = first(rule.operation);
      return found
        ? broken(`The list has it in ${placeOf(found)}.`)
        : kept('The list of build steps does not name it.');
    }
    case 'most-steps': {
      const words = `The list has ${String(steps.length)} ${steps.length === 1 ? 'step' : 'steps'}`;
      if (steps.length > rule.count) return broken(`${words}.`);
      return steps.length + unread.length > rule.count
        ? open(`${words}, and ${String(unread.length)} lines that were not understood.`)
        : kept(`${words}.`);
    }
    case 'order': {
      const then = first(rule.then);
      const late = steps.findLast(({ operation }) => operation === rule.first);
      if (then === undefined || late === undefined)
        return open(`The list does not name ${quoted(then === undefined ? rule.then : rule.first)}.`);
      return late.line < then.line
        ? kept(`The last of the former is ${placeOf(late)}; the first of the latter ${placeOf(then)}.`)
        : broken(`In the list, ${placeOf(late)} comes after ${placeOf(then)}.`);
    }
    case 'through': {
      const cuts = steps.filter(({ operation }) => operation === 'hole');
      const through = cuts.filter(({ extent }) => extent === 'through' || extent === 'up-to');
      if (cuts.length === 0) return shape;
      const [said] = through;
      return said
        ? kept(`All come out, and the list says so in ${placeOf(said)}.`)
        : open('All through holes come out; the list does not say how deep they were made.');
    }
    case 'symmetry': {
      if (evidence?.symmetryPlanes.reference === 0) return shape;
      const used =
        steps.find(({ operation }) => operationOf(operation).usesSymmetry === true) ??
        steps.find(({ extent }) => extent === 'symmetric');
      if (used) return kept(`The list uses it in ${placeOf(used)}.`);
      return unsure ? shape : broken('No step of the list mirrors, copies, turns, or extrudes to both sides.');
    }
    case 'one-body':
    case 'holds':
      return shape;
  }
}

function byShape(rule: BuildRule, measurement: Measurement): Ruling {
  const { missing, extra, bodies, closed, evidence } = measurement;
  switch (rule.kind) {
    case 'one-body':
      return bodies === 1 && closed
        ? kept('The file holds one closed body.')
        : broken(closed ? `The file holds ${String(bodies)} bodies.` : 'The body is not closed.');
    case 'required': {
      const lost = missing.filter(({ kind }) => kind === operationOf(rule.operation).ownFeature).length;
      return lost > 0 && (rule.or ?? []).length === 0
        ? broken(`${String(lost)} of what this operation makes ${lost === 1 ? 'is' : 'are'} not on the model.`)
        : open('The shape does not tell how it was made.');
    }
    case 'excluded': {
      const found = extra.filter(({ kind }) => kind === operationOf(rule.operation).ownFeature).length;
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
    case 'holds': {
      const { replay } = measurement;
      if (replay === null || replay.trials.length === 0) return open('Only a recipe that is handed in can be tried.');
      const failed = replay.trials.find(({ outcome }) => outcome !== 'holds');
      if (failed) return broken(failed.message);
      return kept(replay.trials.map(({ message }) => message).join(' '));
    }
    case 'most-steps':
    case 'order':
      return open('Only the list of build steps can tell.');
  }
}
