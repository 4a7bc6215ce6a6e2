import { valibotResolver } from '@hookform/resolvers/valibot';
import { useForm } from 'react-hook-form';

import { SignInSchema, type SignIn } from '#api/session';
import { useSignInMutation } from '#web/server';
import { Button, TextField, Refused } from '#web/ui';

export function SignInForm({ onDone }: { onDone?: () => void }) {
  const [signIn, { error, isLoading }] = useSignInMutation();
  const { register, handleSubmit, formState } = useForm<SignIn>({
    resolver: valibotResolver(SignInSchema),
    defaultValues: { login: '', password: '' },
  });
  return (
    <form
      noValidate
      className="flex flex-col gap-2"
      onSubmit={(event) =>
        void handleSubmit(async (values) => {
          const answer = await signIn(values);
          if (answer.data) onDone?.();
        })(event)
      }
    >
      <TextField
        label="Sign-in name"
        autoComplete="username"
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
      <Button kind="main" type="submit" disabled={isLoading} className="mt-1 self-start">
        {isLoading ? 'Signing in ...' : 'Sign in'}
      </Button>
    </form>
  );
}
