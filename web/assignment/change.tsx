import { useState } from 'react';
import { toast } from 'sonner';

import type { Aids, Answers, AssignmentDetail, ChangeAssignment, Release } from '#api';
import type { FeedbackDegree } from '#core/grade';
import { useChangeAssignmentMutation, useShiftMutation } from '#web/api';
import { AidsFields, ANSWERS, DEGREES, feedbackOf, optionsOf, RELEASES } from '#web/telling';
import { Button, Dialog, LATEST_LOCAL, localOf, momentOf, plural, SelectField, TextField, Refused } from '#web/ui';

interface Fields {
  readonly opensAt: string;
  readonly dueAt: string;
  readonly lateUntil: string;
  readonly attemptsAllowed: string;
  readonly answers: Answers;
  readonly release: Release;
  readonly first: FeedbackDegree;
  readonly last: FeedbackDegree;
  readonly aids: Aids;
}
type Typed = 'opensAt' | 'dueAt' | 'lateUntil' | 'attemptsAllowed';
type Chosen = Exclude<keyof Fields, Typed | 'aids'>;

function fieldsOf({ opensAt, dueAt, lateUntil, attemptsAllowed, ...told }: AssignmentDetail): Fields {
  const last = told.feedback.at(-1) ?? 'overlay';
  return {
    opensAt: localOf(opensAt),
    dueAt: localOf(dueAt),
    lateUntil: lateUntil === null ? '' : localOf(lateUntil),
    attemptsAllowed: String(attemptsAllowed),
    answers: told.answers,
    release: told.release,
    first: told.feedback.length > 1 ? (told.feedback[0] ?? last) : last,
    last,
    aids: told.aids,
  };
}

/** What was changed, as the server takes it; fields that are as they were are left out. */
function changeOf(before: Fields, after: Fields): ChangeAssignment {
  return {
    ...(after.opensAt === before.opensAt ? {} : { opensAt: momentOf(after.opensAt) }),
    ...(after.dueAt === before.dueAt ? {} : { dueAt: momentOf(after.dueAt) }),
    ...(after.lateUntil === before.lateUntil
      ? {}
      : { lateUntil: after.lateUntil === '' ? null : momentOf(after.lateUntil) }),
    ...(after.attemptsAllowed === before.attemptsAllowed ? {} : { attemptsAllowed: Number(after.attemptsAllowed) }),
    ...(after.answers === before.answers ? {} : { answers: after.answers }),
    ...(after.release === before.release ? {} : { release: after.release }),
    ...(after.first === before.first && after.last === before.last
      ? {}
      : { feedback: feedbackOf(after.first, after.last, Number(after.attemptsAllowed)) }),
    ...(after.aids === before.aids ? {} : { aids: after.aids }),
  };
}

/** Dates, attempts and what reports tell, after the issue; students see them at once, and what is late is scored anew. */
export function ChangeDialog({
  assignment,
  onClose,
}: {
  readonly assignment: AssignmentDetail;
  readonly onClose: () => void;
}) {
  const [before] = useState(() => fieldsOf(assignment));
  const [fields, setFields] = useState(before);
  const [change, { error, isLoading }] = useChangeAssignmentMutation();
  const changes = changeOf(before, fields);
  const isWithdrawn = assignment.withdrawnAt !== null;
  const send = (what: ChangeAssignment): void => {
    void change({ ...what, id: assignment.id }).then((answer) => {
      if (answer.error === undefined) onClose();
    });
  };
  const field = (name: Typed, label: string, hint = '') => (
    <TextField
      label={label}
      {...(name === 'attemptsAllowed'
        ? { inputMode: 'numeric' as const }
        : { type: 'datetime-local', max: LATEST_LOCAL })}
      value={fields[name]}
      hint={fields[name] === before[name] ? hint : `Until now ${before[name].replace('T', ' ') || 'none'}.`}
      onChange={(event) => {
        setFields({ ...fields, [name]: event.target.value });
      }}
    />
  );
  const choice = <Name extends Chosen>(name: Name, label: string, words: Readonly<Record<Fields[Name], string>>) => (
    <SelectField
      label={label}
      value={fields[name]}
      hint={fields[name] === before[name] ? '' : `Until now: ${words[before[name]]}.`}
      onChange={(event) => {
        setFields({ ...fields, [name]: event.target.value });
      }}
    >
      {optionsOf(words)}
    </SelectField>
  );
  return (
    <Dialog
      onClose={onClose}
      title={`Change ${assignment.exerciseNumber} for ${assignment.section}`}
      description="Students see the change at once. Attempts that are late otherwise than before are scored anew."
    >
      <div className="grid gap-x-4 gap-y-1 sm:grid-cols-2">
        {field('opensAt', 'Opens')}
        {field('dueAt', 'Due')}
        {field('lateUntil', 'Late work until', 'Empty to take none.')}
        {field('attemptsAllowed', 'Attempts')}
        {choice('answers', 'Answers that are not on the sheet', ANSWERS)}
        {choice('release', 'Each report reaches its student', RELEASES)}
        {choice('first', 'Reports before the last attempt tell', DEGREES)}
        {choice('last', 'The last one tells', DEGREES)}
      </div>
      <AidsFields
        aids={fields.aids}
        onChange={(aids) => {
          setFields({ ...fields, aids });
        }}
      />
      <Refused error={error} />
      <div className="mt-2 flex flex-wrap justify-between gap-2">
        <Button
          kind="main"
          disabled={isLoading || Object.keys(changes).length === 0}
          onClick={() => {
            send(changes);
          }}
        >
          Save the change
        </Button>
        <Button
          disabled={isLoading}
          onClick={() => {
            send({ withdrawn: !isWithdrawn });
          }}
        >
          {isWithdrawn ? 'Show it to students again' : 'Withdraw it'}
        </Button>
      </div>
      <Shift assignment={assignment} onDone={onClose} />
    </Dialog>
  );
}

/** This assignment and all later ones of its section by some days, as after a lesson that was lost. */
function Shift({ assignment, onDone }: { readonly assignment: AssignmentDetail; readonly onDone: () => void }) {
  const [days, setDays] = useState('');
  const [shift, { error, isLoading }] = useShiftMutation();
  return (
    <form
      noValidate
      className="mt-5 flex flex-col gap-2 border-t border-rule pt-4"
      onSubmit={(event) => {
        event.preventDefault();
        void shift({ id: assignment.id, days: days.trim() === '' ? Number.NaN : Number(days) }).then((answer) => {
          if (!answer.data) return;
          toast.success(`${plural(answer.data.shifted.length, 'assignment')} shifted.`);
          onDone();
        });
      }}
    >
      <TextField
        label={`Shift this and all later ones of ${assignment.section} by days`}
        inputMode="numeric"
        value={days}
        hint="Earlier with a minus sign. Hours stay; what has ended stays too."
        onChange={(event) => {
          setDays(event.target.value);
        }}
      />
      <Refused error={error} />
      <Button type="submit" className="self-start" disabled={isLoading || days.trim() === ''}>
        Shift them
      </Button>
    </form>
  );
}
