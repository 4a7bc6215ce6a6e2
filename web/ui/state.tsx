import { Check, CircleDashed, Hourglass, Minus, Pause, Undo2, X } from 'lucide-react';
import type { ReactNode } from 'react';

import type { AttemptState } from '#api';
import type { Verdict } from '#core/grade';

interface Mark {
  readonly word: string;
  readonly icon: ReactNode;
  readonly look: string;
}

const size = { size: 13, strokeWidth: 2.5, 'aria-hidden': true } as const;

const VERDICTS: Readonly<Record<Verdict, Mark>> = {
  right: { word: 'right', icon: <Check {...size} />, look: 'text-accent' },
  near: { word: 'close', icon: <Minus {...size} />, look: 'text-near bg-near-soft' },
  wrong: { word: 'wrong', icon: <X {...size} />, look: 'text-wrong bg-wrong-soft hatch' },
  missing: { word: 'missing', icon: <CircleDashed {...size} />, look: 'text-wrong border-dashed border-wrong' },
};

const STATES: Readonly<Record<AttemptState, Mark>> = {
  waiting: { word: 'waiting', icon: <Pause {...size} />, look: 'text-soft border-dashed border-soft' },
  running: { word: 'measuring', icon: <Hourglass {...size} />, look: 'text-ink bg-accent-soft' },
  graded: { word: 'graded', icon: <Check {...size} />, look: 'text-accent' },
  refused: { word: 'not readable', icon: <X {...size} />, look: 'text-wrong bg-wrong-soft hatch' },
  'given-back': { word: 'given back', icon: <Undo2 {...size} />, look: 'text-soft border-dashed border-soft' },
};

function Stamp({ word, icon, look }: Mark) {
  return (
    <span
      className={`inline-flex items-center gap-1 border border-transparent px-1.5 text-xs leading-5 font-medium whitespace-nowrap ${look}`}
    >
      {icon}
      {word}
    </span>
  );
}

export const VerdictMark = ({ verdict }: { verdict: Verdict }) => <Stamp {...VERDICTS[verdict]} />;
export const StateMark = ({ state }: { state: AttemptState }) => <Stamp {...STATES[state]} />;

/** The state of an attempt as its student sees it: what was measured may still wait for being released. */
export const OwnStateMark = ({ state }: { state: AttemptState }) =>
  state === 'graded' ? (
    <Stamp word="not released yet" icon={<Hourglass {...size} />} look="text-soft" />
  ) : (
    <StateMark state={state} />
  );

/** A score with its place on the scale from 0 to 100. */
export function ScoreBar({ score }: { score: number }) {
  return (
    <span className="inline-flex items-center gap-2">
      <span className="w-10 text-right font-semibold">{score.toFixed(1).replace(/\.0$/, '')}</span>
      <span className="relative inline-block h-2 w-16 border border-ink/50 bg-paper" aria-hidden>
        <span className="absolute inset-y-0 left-0 bg-ink/75" style={{ width: `${String(score)}%` }} />
      </span>
    </span>
  );
}
