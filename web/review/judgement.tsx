import type { ReactNode } from 'react';
import { Link } from 'react-router';

import type { AttemptDetail } from '#api';
import { Button, dateTime, Panel, plural, ScoreBar, StateMark, usePageKeys } from '#web/ui';

import { useChange } from './change.ts';
import { Replies } from './replies.tsx';

/** Where the review stands, in one sentence. */
export function reviewWords({ review, assignment }: AttemptDetail): string {
  const accepted =
    review.acceptedAt === null
      ? 'Not accepted yet'
      : `Accepted by ${review.acceptedBy ?? ''}, ${dateTime(review.acceptedAt)}`;
  if (assignment.release === 'automatic') return `${accepted}.`;
  return `${accepted}; ${review.released ? 'the student reads this report' : 'held back from the student'}.`;
}

/** Accepts an attempt or takes it up again, releases its report or holds it back. */
export function JudgementButtons({ attempt }: { attempt: AttemptDetail }) {
  const { review, assignment } = attempt;
  const { change, busy } = useChange(attempt);
  const accepted = review.acceptedAt !== null;
  const judge = (): void => {
    void change({ kind: accepted ? 'reopen' : 'accept' });
  };
  usePageKeys({ a: busy ? undefined : judge });
  return (
    <>
      <Button kind={accepted ? 'plain' : 'main'} disabled={busy} onClick={judge}>
        {accepted ? 'Take it up again' : 'Accept'} <kbd className="text-xs opacity-75">A</kbd>
      </Button>
      {assignment.release !== 'automatic' && (
        <Button disabled={busy} onClick={() => void change({ kind: review.released ? 'hold-back' : 'release' })}>
          {review.released ? 'Hold back' : 'Release'}
        </Button>
      )}
    </>
  );
}

/** What is said between instructor and student about an attempt, and the other attempts of the student. */
export function Conversation({ attempt, children }: { attempt: AttemptDetail; children: ReactNode }) {
  const { remarks, replies } = attempt.review;
  const others = attempt.attempts.filter(({ id }) => id !== attempt.id);
  const waiting = replies.filter(({ answer }) => answer === null).length;
  return (
    <Panel
      title={
        waiting > 0
          ? `${attempt.student.name} waits for an answer`
          : remarks.length === 0
            ? 'No remark yet'
            : plural(remarks.length, 'remark')
      }
    >
      <div className="flex flex-col gap-2 px-3 py-2">
        {replies.length > 0 && <Replies attempt={attempt} />}
        {children}
        {others.length > 0 && (
          <ul className="flex flex-wrap gap-x-5 gap-y-1 border-t border-rule pt-2 text-sm" aria-label="Other attempts">
            {others.map(({ id, number, stage, state, score, handedInAt }) => (
              <li key={id} className="flex items-center gap-2">
                <Link className="underline" to={`/attempts/${String(id)}`}>
                  {number === null ? 'Not counted' : `Attempt ${String(number)}`}
                  {stage > 1 ? `, stage ${String(stage)}` : ''}
                </Link>
                <span className="caption">{dateTime(handedInAt)}</span>
                {score === null ? <StateMark state={state} /> : <ScoreBar score={score} />}
              </li>
            ))}
          </ul>
        )}
      </div>
    </Panel>
  );
}
