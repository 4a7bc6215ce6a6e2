import { valibotResolver } from '@hookform/resolvers/valibot';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';

import { may } from '#api/roles';
import { ChangePasswordSchema, type ChangePassword } from '#api/people';
import type { User } from '#api/session';
import {
  useCalendarQuery,
  useChangePasswordMutation,
  useEndOtherSessionsMutation,
  useRenewCalendarMutation,
} from '#web/server';
import { Button, Dialog, Refused, TextField } from '#web/ui';

import { NewPasswordField } from './outside.tsx';

/** The own account: another password, signing out everywhere else, and the dates for a calendar program. */
export function AccountDialog({
  user,
  open,
  onClose,
}: {
  readonly user: User;
  readonly open: boolean;
  readonly onClose: () => void;
}) {
  const [change, { error, isLoading }] = useChangePasswordMutation();
  const [endOthers] = useEndOtherSessionsMutation();
  const { register, handleSubmit, formState, reset } = useForm<ChangePassword>({
    resolver: valibotResolver(ChangePasswordSchema),
    defaultValues: { before: '', password: '' },
  });
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={user.name}
      description={`You sign in as ${user.login}. With another password, you are signed out everywhere else.`}
    >
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) =>
          void handleSubmit(async (values) => {
            const answer = await change(values);
            if (!answer.data) return;
            reset();
            toast.success('From now on your new password holds.');
            onClose();
          })(event)
        }
      >
        <TextField
          label="Password until now"
          type="password"
          autoComplete="current-password"
          error={formState.errors.before?.message}
          {...register('before')}
        />
        <NewPasswordField label="New password" error={formState.errors.password?.message} {...register('password')} />
        <Refused error={error} />
        <div className="mt-1 flex flex-wrap justify-between gap-2">
          <Button kind="main" type="submit" disabled={isLoading}>
            Change the password
          </Button>
          <Button
            onClick={() => {
              void endOthers().then(() => toast.success('You are signed out everywhere else.'));
            }}
          >
            Sign out everywhere else
          </Button>
        </div>
      </form>
      <CalendarAddress />
      {may(user.role, 'work') && (
        <p className="mt-4 text-sm">
          <a className="underline" href="/api/my-data.zip" download>
            All that is kept of you (ZIP)
          </a>
        </p>
      )}
    </Dialog>
  );
}

/** Where a calendar program reads the own due dates. */
function CalendarAddress() {
  const { data } = useCalendarQuery();
  const [renew, { isLoading }] = useRenewCalendarMutation();
  if (!data) return null;
  return (
    <section className="mt-5 flex flex-col gap-2 border-t border-rule pt-4">
      <TextField
        label="Due dates for a calendar program"
        readOnly
        value={data.address}
        hint="Subscribe to this address. Whoever has it can read the dates; with a new one, this one ends."
        onFocus={(event) => {
          event.target.select();
        }}
      />
      <div className="flex flex-wrap gap-2">
        <Button
          onClick={() => {
            void navigator.clipboard.writeText(data.address).then(
              () => toast.success('The address is copied.'),
              () => toast.error('The browser does not let the page copy. Choose the address and copy it.'),
            );
          }}
        >
          Copy the address
        </Button>
        <Button
          disabled={isLoading}
          onClick={() => {
            void renew().then(() => toast.success('The address is a new one.'));
          }}
        >
          Make a new address
        </Button>
      </div>
    </section>
  );
}
