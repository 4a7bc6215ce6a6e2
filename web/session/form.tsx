import { valibotResolver } from '@hookform/resolvers/valibot';
import { useForm } from 'react-hook-form';

import { SignInSchema, type SignIn } from '#api/session';
import { useSignInMutation } from '#web/server';
import { Button, TextField, Refused } from '#web/ui';

interface NamePasswordProps {
  readonly onSend: (typed: SignIn) => void;
  readonly error: unknown;
  readonly isSending: boolean;
  /** What the button says, and while it is being done. */
  readonly words: readonly [button: string, doing: string];
}

/** A name and a password, for signing in or to say which account is one's own. */
export function NamePasswordForm({ onSend, error, isSending, words: [button, doing] }: NamePasswordProps) {
  const { register, handleSubmit, formState } = useForm<SignIn>({
    resolver: valibotResolver(SignInSchema),
    defaultValues: { login: '', password: '' },
  });
  return (
    <form noValidate className="flex flex-col gap-2" onSubmit={(event) => void handleSubmit(onSend)(event)}>
      <TextField
        label="Sign-in name"
        autoComplete="username"
        autoCapitalize="none"
        error={formState.errors.login?.message}
        {...register('login')}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        error={formState.errors.password?.message}
        {...register('password')}
      />
      <Refused error={error} />
      <Button kind="main" type="submit" disabled={isSending} className="mt-1 self-start">
        {isSending ? doing : button}
      </Button>
    </form>
  );
}

export function SignInForm({ onDone }: { onDone?: () => void }) {
  const [signIn, { error, isLoading }] = useSignInMutation();
  return (
    <NamePasswordForm
      error={error}
      isSending={isLoading}
      words={['Sign in', 'Signing in ...']}
      onSend={(typed) =>
        void signIn(typed).then((answer) => {
          if (answer.data) onDone?.();
        })
      }
    />
  );
}
