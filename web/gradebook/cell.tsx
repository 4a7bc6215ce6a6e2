import { Link } from 'react-router';

import type { GradebookCellAnswer } from '#api';
import { formatFixed } from '#core/quantity';
import { plural } from '#web/ui';

/** A sign and a word for each state, so that color says nothing alone. */
export const STATES: Readonly<Record<GradebookCellAnswer['state'], { readonly sign: string; readonly word: string }>> =
  {
    open: { sign: '·', word: 'open' },
    missing: { sign: '∅', word: 'missing' },
    'handed-in': { sign: '◔', word: 'handed in' },
    'to-review': { sign: '◐', word: 'to accept' },
    graded: { sign: '', word: 'graded' },
    absent: { sign: '○', word: 'absent' },
    excused: { sign: '—', word: 'excused' },
  };

/** What a student has of an assignment. */
export function Cell({
  cell: { state, score, attemptId, attempts, isLate },
  isLeftOut = false,
}: {
  readonly cell: GradebookCellAnswer;
  /** It does not count, as one of the lowest of its group. */
  readonly isLeftOut?: boolean;
}) {
  const { sign, word } = STATES[state];
  const hasScore = score !== null && (state === 'graded' || state === 'to-review');
  const words = (
    <span className={state === 'missing' ? 'text-wrong' : ''}>
      {hasScore ? (
        <span className="tabular-nums">
          {isLeftOut ? <s title="Left out, as one of the lowest.">{formatFixed(score, 1)}</s> : formatFixed(score, 1)}{' '}
          {sign && <span aria-hidden>{sign}</span>}
        </span>
      ) : (
        <>
          <span aria-hidden>{sign}</span> <span className="text-xs">{word}</span>
        </>
      )}
      {state === 'to-review' && <span className="sr-only">, to accept</span>}
      {isLeftOut && <span className="sr-only">, left out</span>}
      {isLate && <span className="ml-1 text-xs text-soft">late</span>}
      {hasScore && attempts > 1 && <span className="block text-xs text-soft">{plural(attempts, 'attempt')}</span>}
    </span>
  );
  return attemptId === null ? (
    words
  ) : (
    <Link to={`/attempts/${String(attemptId)}`} className="block hover:underline">
      {words}
    </Link>
  );
}
