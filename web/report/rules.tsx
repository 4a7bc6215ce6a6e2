import type { ReactNode } from 'react';

import { ruleLineId, type RuleLine } from '#core/grade';

const MARKS: Readonly<Record<RuleLine['verdict'], readonly [sign: string, word: string, className: string]>> = {
  kept: ['✓', 'kept', ''],
  broken: ['✕', 'broken', 'text-wrong font-medium'],
  open: ['○', 'open', 'text-soft'],
};

interface RuleLinesProps {
  readonly rules: readonly RuleLine[];
  /** Where the list of build steps and the model do not fit together. */
  readonly questions: readonly string[];
  readonly actions?: ((lineId: string) => ReactNode) | undefined;
}

/** Build rules with what the geometry and the list of build steps prove of each. */
export function RuleLines({ rules, questions, actions }: RuleLinesProps) {
  return (
    <ul className="divide-y divide-rule" data-testid="rules">
      {rules.map(({ text, verdict, evidence, weight, override }, i) => {
        const [sign, word, className] = MARKS[verdict];
        return (
          <li key={text} className="grid grid-cols-[5rem_minmax(0,1fr)] gap-x-2 px-3 py-1.5">
            <span className={className}>
              <span aria-hidden>{sign}</span> {word}
            </span>
            <span>
              {text}
              <span className="block text-xs text-soft">
                {evidence}
                {weight === 0
                  ? ' It earns no points.'
                  : verdict === 'open'
                    ? ' It neither earns nor costs points.'
                    : ''}
              </span>
              {override && (
                <span className="block text-xs font-medium">
                  {override.by} counts it as {String(Math.round(100 * override.credit))} %: {override.reason}
                </span>
              )}
              {weight > 0 && actions?.(ruleLineId(i))}
            </span>
          </li>
        );
      })}
      {questions.map((question) => (
        <li key={question} className="grid grid-cols-[5rem_minmax(0,1fr)] gap-x-2 px-3 py-1.5">
          <span>
            <span aria-hidden>?</span> asked
          </span>
          <span>{question}</span>
        </li>
      ))}
    </ul>
  );
}
