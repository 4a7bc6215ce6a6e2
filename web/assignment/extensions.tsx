import { useState } from 'react';
import { toast } from 'sonner';

import type { AssignmentDetail, GivenExtension, Standing } from '#api';
import { failureText, useExtendMutation, useTakeBackExtensionMutation } from '#web/api';
import {
  Button,
  dateTime,
  Dialog,
  LATEST_LOCAL,
  localOf,
  momentOf,
  Panel,
  plural,
  SelectField,
  TextField,
  Refused,
} from '#web/ui';

/** Who has other dates or more attempts, and why. */
export function Extensions({ assignment }: { readonly assignment: AssignmentDetail }) {
  const [isOpen, setIsOpen] = useState(false);
  const { extensions, mayChange } = assignment;
  if (!mayChange && extensions.length === 0) return null;
  return (
    <Panel title={extensions.length === 0 ? 'No extensions' : plural(extensions.length, 'extension')}>
      <ul className="divide-y divide-rule">
        {extensions.map((extension) => (
          <Given key={extension.studentId} assignment={assignment} extension={extension} />
        ))}
      </ul>
      {mayChange && (
        <div className="p-3">
          <Button
            onClick={() => {
              setIsOpen(true);
            }}
          >
            Give an extension
          </Button>
        </div>
      )}
      {isOpen && (
        <ExtensionDialog
          assignment={assignment}
          onClose={() => {
            setIsOpen(false);
          }}
        />
      )}
    </Panel>
  );
}

function Given({
  assignment,
  extension,
}: {
  readonly assignment: AssignmentDetail;
  readonly extension: GivenExtension;
}) {
  const [takeBack] = useTakeBackExtensionMutation();
  const { studentId, student, dueAt, extraAttempts, standing, reason, by } = extension;
  const words = [
    standing === 'owed' ? '' : standing,
    dueAt === null ? '' : `until ${dateTime(dueAt, assignment.timeZone)}`,
    extraAttempts > 0 ? plural(extraAttempts, 'more attempt') : '',
  ].filter(Boolean);
  return (
    <li className="px-3 py-2">
      <span className="flex items-baseline justify-between gap-2">
        <b className="font-medium">{student}</b>
        {assignment.mayChange && (
          <button
            type="button"
            className="cursor-pointer text-sm underline"
            onClick={() => {
              void takeBack({ id: assignment.id, studentId }).then(({ error }) => {
                if (error !== undefined) toast.error(failureText(error));
              });
            }}
          >
            Take back
          </button>
        )}
      </span>
      <span className="block">{words.join(', ')}</span>
      <span className="caption">
        {reason} ({by})
      </span>
    </li>
  );
}

/** The students of an assignment: who has handed in, and who has not. */
function studentsOf({
  attempts,
  missing,
}: AssignmentDetail): readonly { readonly id: number; readonly name: string }[] {
  const names = new Map([
    ...missing.map(({ id, name }) => [id, name] as const),
    ...attempts.map(({ studentId, student }) => [studentId, student] as const),
  ]);
  return [...names].map(([id, name]) => ({ id, name })).sort((a, b) => a.name.localeCompare(b.name));
}

const STANDINGS: Readonly<Record<Standing, string>> = {
  owed: 'As by the others',
  absent: 'Absent: nothing counts, or not until another time given here is over',
  excused: 'Excused: need not hand it in, and nothing counts of it',
};

function ExtensionDialog({
  assignment,
  onClose,
}: {
  readonly assignment: AssignmentDetail;
  readonly onClose: () => void;
}) {
  const [studentId, setStudentId] = useState('');
  const [dueAt, setDueAt] = useState(() => localOf(assignment.dueAt));
  const [extra, setExtra] = useState('0');
  const [standing, setStanding] = useState<Standing>('owed');
  const [reason, setReason] = useState('');
  const [extend, { error, isLoading }] = useExtendMutation();
  const isOther = dueAt !== localOf(assignment.dueAt);
  return (
    <Dialog
      onClose={onClose}
      title="Give an extension"
      description="For one student. The others see nothing of it; they may read the answers after their own due time."
    >
      <form
        noValidate
        className="flex flex-col gap-1"
        onSubmit={(event) => {
          event.preventDefault();
          void extend({
            id: assignment.id,
            studentId: Number(studentId),
            dueAt: isOther ? momentOf(dueAt) : null,
            extraAttempts: Number(extra),
            standing,
            reason,
          }).then((answer) => {
            if (answer.error === undefined) onClose();
          });
        }}
      >
        <SelectField
          label="Student"
          value={studentId}
          onChange={(event) => {
            setStudentId(event.target.value);
          }}
        >
          <option value="">Choose a student</option>
          {studentsOf(assignment).map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </SelectField>
        <div className="grid gap-x-4 sm:grid-cols-2">
          <TextField
            label="Due for this student"
            type="datetime-local"
            max={LATEST_LOCAL}
            value={dueAt}
            onChange={(event) => {
              setDueAt(event.target.value);
            }}
          />
          <TextField
            label="More attempts"
            inputMode="numeric"
            value={extra}
            onChange={(event) => {
              setExtra(event.target.value);
            }}
          />
        </div>
        <SelectField
          label="Whether it is owed"
          value={standing}
          onChange={(event) => {
            setStanding(event.target.value as Standing);
          }}
        >
          {Object.entries(STANDINGS).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </SelectField>
        <TextField
          label="Reason"
          value={reason}
          onChange={(event) => {
            setReason(event.target.value);
          }}
        />
        <Refused error={error} />
        <Button kind="main" type="submit" disabled={studentId === '' || isLoading} className="self-start">
          Give it
        </Button>
      </form>
    </Dialog>
  );
}
