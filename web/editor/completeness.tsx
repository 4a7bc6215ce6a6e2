import { Panel, plural } from '#web/ui';
import type { SheetAnswer } from '#web/workshop';

const KINDS = {
  missing: 'not said',
  repeated: 'said twice',
  contradiction: 'contradicts',
} as const;

/** What the sheet fails to say, what it says twice, and what its reader has to work out. */
export function Completeness({
  answer,
  onChoose,
}: {
  answer: SheetAnswer | null;
  onChoose: (checkIds: readonly string[]) => void;
}) {
  if (answer === null) return null;
  const { findings, derived } = answer;
  const missing = findings.filter(({ kind }) => kind === 'missing').length;
  const other = findings.length - missing;
  return (
    <Panel
      title={
        findings.length === 0
          ? 'The sheet says every size, once'
          : [
              missing > 0 ? `${plural(missing, 'size')} not said` : '',
              other > 0 ? `${plural(other, 'size')} said twice or wrong` : '',
            ]
              .filter((part) => part !== '')
              .join(', ')
      }
    >
      <ul className="divide-y divide-rule text-sm" data-testid="completeness">
        {findings.map((finding) => (
          <li key={finding.message}>
            <button
              type="button"
              className="grid w-full cursor-pointer grid-cols-[5.5rem_minmax(0,1fr)] gap-2 px-3 py-1.5 text-left hover:bg-accent-soft"
              onClick={() => {
                onChoose(finding.checkIds);
              }}
            >
              <span className={finding.kind === 'missing' ? 'font-medium text-wrong' : 'font-medium text-near'}>
                {KINDS[finding.kind]}
              </span>
              <span>{finding.message}</span>
            </button>
          </li>
        ))}
        {derived.map(({ checkId, label, derivation, words }) => (
          <li key={checkId}>
            <button
              type="button"
              className="grid w-full cursor-pointer grid-cols-[5.5rem_minmax(0,1fr)] gap-2 px-3 py-1.5 text-left hover:bg-accent-soft"
              onClick={() => {
                onChoose([checkId, ...derivation.steps.flatMap((step) => step.checkId ?? [])]);
              }}
            >
              <span className="font-medium text-soft">worked out</span>
              <span>
                {label}: {words}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </Panel>
  );
}
