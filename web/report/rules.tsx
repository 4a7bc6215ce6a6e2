import type { RuleLine } from '#core/grade';

const MARKS: Readonly<Record<RuleLine['verdict'], readonly [sign: string, word: string, className: string]>> = {
  kept: ['✓', 'kept', ''],
  broken: ['✕', 'broken', 'text-wrong font-medium'],
  open: ['○', 'open', 'text-soft'],
};

/** Build rules with what the geometry proves of each. */
export function RuleLines({ rules }: { rules: readonly RuleLine[] }) {
  return (
    <ul className="divide-y divide-rule" data-testid="rules">
      {rules.map(({ text, verdict, evidence }) => {
        const [sign, word, className] = MARKS[verdict];
        return (
          <li key={text} className="grid grid-cols-[5rem_minmax(0,1fr)] gap-x-2 px-3 py-1.5">
            <span className={className}>
              <span aria-hidden>{sign}</span> {word}
            </span>
            <span>
              {text}
              <span className="block text-xs text-soft">{evidence}</span>
            </span>
          </li>
        );
      })}
    </ul>
  );
}
