import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Link } from 'react-router';

import type { AttemptDetail } from '#api';
import { Button, dateTime, Panel, plural, ScoreBar, StateMark, TextField, useKeptText, usePageKeys } from '#web/ui';

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

/** Lets an attempt that was given back count again. */
export function CountAgain({ attempt }: { attempt: AttemptDetail }) {
  const { change, busy } = useChange(attempt);
  return (
    <Button disabled={busy} onClick={() => void change({ kind: 'count-again' })}>
      Count it again
    </Button>
  );
}

/** Takes an attempt out of what counts, with a reason that its student reads. */
export function GiveBack({ attempt }: { attempt: AttemptDetail }) {
  const { change, busy } = useChange(attempt);
  const [isOpen, setIsOpen] = useState(false);
  const [reason, setReason] = useKeptText(`given back ${String(attempt.id)}`);
  const [problem, setProblem] = useState<string | undefined>(undefined);
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => {
    if (isOpen) form.current?.querySelector('input')?.focus();
  }, [isOpen]);
  if (!isOpen)
    return (
      <button
        type="button"
        className="cursor-pointer self-start text-sm underline"
        onClick={() => {
          setIsOpen(true);
        }}
      >
        Give this attempt back
      </button>
    );
  const save = async (): Promise<void> => {
    if (reason.trim().length < 3) {
      setProblem('Say why, in a few words.');
      return;
    }
    if (await change({ kind: 'give-back', reason: reason.trim() })) setReason('');
  };
  return (
    <form
      ref={form}
      noValidate
      className="flex flex-col gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <TextField
        label="Why it is given back"
        hint="It counts nothing then, and the student may make it once more. The student reads this."
        error={problem}
        value={reason}
        onChange={(event) => {
          setReason(event.target.value);
        }}
      />
      <span className="flex gap-2">
        <Button type="submit" disabled={busy}>
          Give it back
        </Button>
        <Button
          onClick={() => {
            setIsOpen(false);
          }}
        >
          Let it count
        </Button>
      </span>
    </form>
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
        {attempt.state === 'graded' && <GiveBack attempt={attempt} />}
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
