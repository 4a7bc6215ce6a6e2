import { useState } from 'react';

import type { AssignmentDetail, ChangeAssignment } from '#api';
import { useChangeAssignmentMutation } from '#web/api';
import { Button, Dialog, LATEST_LOCAL, localOf, momentOf, TextField, Refused } from '#web/ui';

interface Fields {
  readonly opensAt: string;
  readonly dueAt: string;
  readonly lateUntil: string;
  readonly attemptsAllowed: string;
}

const fieldsOf = ({ opensAt, dueAt, lateUntil, attemptsAllowed }: AssignmentDetail): Fields => ({
  opensAt: localOf(opensAt),
  dueAt: localOf(dueAt),
  lateUntil: lateUntil === null ? '' : localOf(lateUntil),
  attemptsAllowed: String(attemptsAllowed),
});

/** What was changed, as the server takes it; fields that are as they were are left out. */
function changeOf(before: Fields, after: Fields): ChangeAssignment {
  return {
    ...(after.opensAt === before.opensAt ? {} : { opensAt: momentOf(after.opensAt) }),
    ...(after.dueAt === before.dueAt ? {} : { dueAt: momentOf(after.dueAt) }),
    ...(after.lateUntil === before.lateUntil
      ? {}
      : { lateUntil: after.lateUntil === '' ? null : momentOf(after.lateUntil) }),
    ...(after.attemptsAllowed === before.attemptsAllowed ? {} : { attemptsAllowed: Number(after.attemptsAllowed) }),
  };
}

/** Dates and attempts after the issue; students see them at once, and what is late is scored anew. */
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
  const field = (name: keyof Fields, label: string, hint = '') => (
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
      </div>
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
    </Dialog>
  );
}
