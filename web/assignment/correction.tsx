import { useState } from 'react';
import { Link } from 'react-router';

import type { AssignmentDetail, Correction } from '#api';
import { formatFixed } from '#core/quantity';
import { useCorrectMutation } from '#web/api';
import { Button, dateTime, Dialog, Panel, plural, Refused, TextField } from '#web/ui';

/** That there is a newer revision than was issued, with the way to put it in its place. */
export function NewerRevision({ assignment }: { readonly assignment: AssignmentDetail }) {
  const [isOpen, setIsOpen] = useState(false);
  const { newer, revision, mayChange } = assignment;
  if (newer === null) return null;
  return (
    <p className="flex flex-wrap items-center gap-3 border-l-4 border-rule bg-paper px-3 py-2">
      <span>
        Issued with revision {revision}; revision {newer.revision} of the exercise is there.
      </span>
      {mayChange && (
        <Button
          onClick={() => {
            setIsOpen(true);
          }}
        >
          Put it in its place
        </Button>
      )}
      {isOpen && (
        <CorrectDialog
          assignment={assignment}
          newer={newer}
          onClose={() => {
            setIsOpen(false);
          }}
        />
      )}
    </p>
  );
}

function CorrectDialog({
  assignment,
  newer: { revision, attempts, students },
  onClose,
}: {
  readonly assignment: AssignmentDetail;
  readonly newer: NonNullable<AssignmentDetail['newer']>;
  readonly onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const [correct, { error, isLoading }] = useCorrectMutation();
  return (
    <Dialog
      onClose={onClose}
      title={`Revision ${String(revision)} in place of ${String(assignment.revision)}`}
      description="Students have the new sheet at once. What was handed in is measured anew with the new key; what was decided in review stays, and the page says whose score is another one."
    >
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void correct({ id: assignment.id, revision, reason }).then((answer) => {
            if (answer.error === undefined) onClose();
          });
        }}
      >
        <p className="font-medium">
          {attempts === 0
            ? 'Nothing was measured yet.'
            : `${plural(attempts, 'attempt')} of ${plural(students, 'student')} ${attempts === 1 ? 'is' : 'are'} measured anew.`}{' '}
          <Link className="underline" to={`/exercises/${String(assignment.exerciseId)}/edit`}>
            What differs
          </Link>
        </p>
        <TextField
          label="Reason"
          hint="Stands in the log of the course."
          value={reason}
          onChange={(event) => {
            setReason(event.target.value);
          }}
        />
        <Refused error={error} />
        <Button kind="main" type="submit" className="self-start" disabled={isLoading || reason.trim() === ''}>
          Correct it
        </Button>
      </form>
    </Dialog>
  );
}

/** What corrections of an assignment came to, and whose score is another one. */
export const Corrections = ({ assignment: { corrections, timeZone } }: { readonly assignment: AssignmentDetail }) =>
  corrections.map((correction) => <Corrected key={correction.id} correction={correction} timeZone={timeZone} />);

function Corrected({ correction, timeZone }: { readonly correction: Correction; readonly timeZone: string }) {
  const { from, to, reason, by, at, pending, kept, same, changed } = correction;
  const facts = [
    ...(pending > 0 ? [`${plural(pending, 'attempt')} still to be measured`] : []),
    ...(kept > 0
      ? [`${plural(kept, 'attempt')} could not be measured anew and ${kept === 1 ? 'keeps its' : 'keep their'} report`]
      : []),
    `${plural(changed.length, 'score')} changed, ${String(same)} as before`,
  ];
  return (
    <Panel title={`Revision ${String(to)} in place of ${String(from)}`}>
      <div className="flex flex-col gap-1 px-3 py-2 text-sm" data-testid="correction">
        <p>
          {reason}{' '}
          <span className="caption">
            {by}, {dateTime(at, timeZone)}
          </span>
        </p>
        <p>{facts.join('; ')}.</p>
        <ul>
          {changed.map(({ attemptId, student, before, after }) => (
            <li key={attemptId}>
              <Link className="underline" to={`/attempts/${String(attemptId)}`}>
                {student}
              </Link>
              : {formatFixed(before, 1)} before, {formatFixed(after, 1)} now
            </li>
          ))}
        </ul>
      </div>
    </Panel>
  );
}
