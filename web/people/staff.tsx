import { valibotResolver } from '@hookform/resolvers/valibot';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';

import { NewStaffSchema, type Course, type NewStaff, type StaffMember } from '#api';
import { failureText, useAddStaffMutation, useChangeStaffMutation, useRemoveStaffMutation } from '#web/api';
import { Button, Panel, SelectField, TextField } from '#web/ui';

const say = ({ error }: { readonly error?: unknown }): void => {
  if (error !== undefined) toast.error(failureText(error));
};

/** Who teaches a course, and as what. */
export function StaffPanel({ course: { id, staff, mayManage } }: { readonly course: Course }) {
  const [isAdding, setIsAdding] = useState(false);
  return (
    <Panel title="Teachers">
      <ul className="divide-y divide-rule">
        {staff.map((member) => (
          <Member key={member.id} courseId={id} member={member} mayManage={mayManage} />
        ))}
      </ul>
      {mayManage && (
        <div className="border-t border-rule p-3">
          {isAdding ? (
            <AddStaff
              courseId={id}
              onDone={() => {
                setIsAdding(false);
              }}
            />
          ) : (
            <Button
              onClick={() => {
                setIsAdding(true);
              }}
            >
              Add a teacher
            </Button>
          )}
        </div>
      )}
    </Panel>
  );
}

function Member({
  courseId,
  member: { id, name, login, role, mayRelease },
  mayManage,
}: {
  readonly courseId: number;
  readonly member: StaffMember;
  readonly mayManage: boolean;
}) {
  const [change] = useChangeStaffMutation();
  const [remove] = useRemoveStaffMutation();
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 px-3 py-2">
      <span className="font-medium">{name}</span>
      <span className="text-soft">
        {login}, {role}
      </span>
      {mayManage && (
        <span className="ml-auto flex flex-wrap items-center gap-3">
          {role === 'assistant' && (
            <label className="flex items-center gap-1.5 text-sm">
              <input
                type="checkbox"
                checked={mayRelease}
                onChange={(event) => void change({ courseId, id, mayRelease: event.target.checked }).then(say)}
              />
              may release reports
            </label>
          )}
          <Button kind="quiet" onClick={() => void remove({ courseId, id }).then(say)} aria-label={`Remove ${name}`}>
            Remove
          </Button>
        </span>
      )}
    </li>
  );
}

function AddStaff({ courseId, onDone }: { readonly courseId: number; readonly onDone: () => void }) {
  const [add, { data, error, isLoading }] = useAddStaffMutation();
  const { register, handleSubmit, formState } = useForm<NewStaff>({
    resolver: valibotResolver(NewStaffSchema),
    defaultValues: { name: '', login: '', role: 'assistant' },
  });
  const { errors } = formState;
  if (data)
    return (
      <div role="status">
        {data.code === null ? (
          <p>{data.login} had an account already and teaches the course from now on.</p>
        ) : (
          <p>
            {data.login} signs in the first time at <b>/welcome</b> with the code{' '}
            <b className="font-mono">{data.code}</b>. It is shown once.
          </p>
        )}
        <Button className="mt-2" onClick={onDone}>
          Done
        </Button>
      </div>
    );
  return (
    <form
      noValidate
      className="grid gap-x-3 gap-y-1 sm:grid-cols-3"
      onSubmit={(event) => void handleSubmit(async (values) => add({ ...values, courseId }))(event)}
    >
      <TextField label="Name" error={errors.name?.message} {...register('name')} />
      <TextField label="Sign-in name" autoCapitalize="none" error={errors.login?.message} {...register('login')} />
      <SelectField label="As" {...register('role')}>
        <option value="assistant">Assistant: reviews, changes no keys</option>
        <option value="instructor">Instructor</option>
      </SelectField>
      {error !== undefined && (
        <p role="alert" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2 sm:col-span-3">
          {failureText(error)}
        </p>
      )}
      <div className="flex gap-2 sm:col-span-3">
        <Button kind="main" type="submit" disabled={isLoading}>
          Add
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}
