import { Check, CircleDashed, X } from 'lucide-react';
import { useState } from 'react';

import type { RoundLine, WorkDetail } from '#api';
import { Signed } from '#web/sheet';
import { Alert, Button, Failed, Loading, Panel, plural, Refused } from '#web/ui';

import { stateOf, useRound, type LineState } from './use-round.ts';

const MARKS: Readonly<
  Record<LineState, { readonly word: string; readonly look: string; readonly Icon: typeof Check }>
> = {
  open: { word: 'open', look: 'text-soft', Icon: CircleDashed },
  agrees: { word: 'agrees', look: 'text-accent', Icon: Check },
  differs: { word: 'differs', look: 'text-wrong bg-wrong-soft', Icon: X },
  unreadable: { word: 'no number', look: 'text-wrong', Icon: X },
};

const LIKELY = {
  half: 'That is half of what the sheet says. Was a radius read, or half of a width?',
  twice: 'That is twice what the sheet says. Was a diameter read for a radius, or the whole for a half?',
  'other-unit': 'That is this size in the other unit.',
  supplement: 'That is the angle on the other side; together they make 180°.',
} as const;
const DIFFERS = 'The sheet says something else. Look which edges its dimension belongs to, and measure those.';

/** What to think of a reading, or nothing where it agrees. */
function hintOf({ readings }: RoundLine): string {
  const verdict = readings.at(-1)?.verdict;
  if (verdict?.kind === 'unreadable') return verdict.message;
  return verdict?.kind === 'differs' ? (verdict.likely === null ? DIFFERS : LIKELY[verdict.likely]) : '';
}

interface RoundListProps {
  readonly work: WorkDetail;
  /** Which dimension is being measured, for whoever shows it on the sheet. */
  readonly onCurrent?: (line: RoundLine) => void;
}

/** Every dimension of the sheet, to be ticked off one by one with what was read off the model. */
export function RoundList({ work, onCurrent }: RoundListProps) {
  const { lines, read, unread, unsaved, retry } = useRound(work);
  const [again, setAgain] = useState(false);
  if (unread) return <Failed error={unread} retry={retry} />;
  if (lines === null) return <Loading what="the dimensions of the sheet" />;
  const counts = countsOf(lines);
  return (
    <Panel
      title="Dimension round"
      aside={
        counts.open === 0 &&
        lines.length > 0 && (
          <Button
            onClick={() => {
              setAgain(!again);
            }}
          >
            {again ? 'Back to the first round' : 'Go round once more'}
          </Button>
        )
      }
    >
      <p className="px-3 pt-2 text-sm" role="status" data-testid="round-count">
        {lines.length === 0
          ? 'This sheet has no dimensions that could be ticked off here.'
          : countWords(counts, lines.length)}
      </p>
      <p className="px-3 pb-2 caption">Measure your own model, and type what you read: 12.5, 1 3/4, 0.5 in.</p>
      <Refused error={unsaved} />
      {again && <Alert>Second round: measure each once more without looking at the first number.</Alert>}
      <ol className="max-h-[60vh] divide-y divide-rule overflow-auto border-t border-rule" data-testid="round">
        {lines.map((line, i) => (
          <RoundRow
            key={`${line.checkId} ${String(again)}`}
            line={line}
            number={i + 1}
            pass={again ? 1 : 0}
            onCurrent={onCurrent}
            onRead={(text) => void read(line.checkId, again ? 1 : 0, text)}
          />
        ))}
      </ol>
    </Panel>
  );
}

interface Counts {
  readonly open: number;
  readonly agree: number;
  readonly differ: number;
}

function countsOf(lines: readonly RoundLine[]): Counts {
  const of = (wanted: LineState): number => lines.filter((line) => stateOf(line) === wanted).length;
  return { open: of('open') + of('unreadable'), agree: of('agrees'), differ: of('differs') };
}

function countWords({ open, agree, differ }: Counts, all: number): string {
  if (open === all) return `${plural(all, 'dimension')} to measure.`;
  if (agree === all) return `All ${plural(all, 'dimension')} agree with the sheet.`;
  const parts = [
    `${String(agree)} of ${String(all)} agree`,
    ...(differ > 0 ? [`${String(differ)} ${differ === 1 ? 'differs' : 'differ'}`] : []),
    ...(open > 0 ? [`${String(open)} open`] : []),
  ];
  return `${parts.join(', ')}.`;
}

interface RoundRowProps {
  readonly line: RoundLine;
  readonly number: number;
  readonly pass: 0 | 1;
  readonly onCurrent: ((line: RoundLine) => void) | undefined;
  readonly onRead: (text: string) => void;
}

function RoundRow({ line, number, pass, onCurrent, onRead }: RoundRowProps) {
  const kept = line.readings[pass]?.text ?? '';
  const [text, setText] = useState(kept);
  const isJudged = pass === 0 || line.readings.length > 1;
  const state = isJudged ? stateOf(line) : 'open';
  const { word, look, Icon } = MARKS[state];
  const hint = isJudged ? hintOf(line) : '';
  const id = `round-${line.checkId}`;
  const put = (): void => {
    if (text.trim() !== kept) onRead(text.trim());
  };
  return (
    <li className="grid grid-cols-[2rem_minmax(0,1fr)_7rem_6rem] items-center gap-x-2 px-3 py-1.5">
      <span className="text-right text-soft">{number}</span>
      <label htmlFor={id} className="min-w-0">
        <span className="font-semibold">
          <Signed text={line.printed} />
        </span>
        <span className="block truncate caption" title={line.label}>
          {line.label}
        </span>
      </label>
      <input
        id={id}
        value={text}
        inputMode={line.quantity === 'count' ? 'numeric' : 'text'}
        maxLength={40}
        autoComplete="off"
        aria-describedby={`${id}-note`}
        className="h-8 w-full border border-ink/60 bg-paper px-2 text-right"
        onFocus={() => onCurrent?.(line)}
        onChange={(event) => {
          setText(event.target.value);
        }}
        onBlur={put}
        onKeyDown={(event) => {
          if (event.key === 'Enter') put();
        }}
      />
      <span className={`inline-flex items-center gap-1 px-1 text-xs font-medium ${look}`}>
        <Icon size={13} strokeWidth={2.5} aria-hidden /> {word}
      </span>
      <p id={`${id}-note`} className="col-span-3 col-start-2 text-xs text-wrong" aria-live="polite">
        {hint}
      </p>
    </li>
  );
}
