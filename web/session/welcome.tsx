import { valibotResolver } from '@hookform/resolvers/valibot';
import { useForm } from 'react-hook-form';

import { CodeSignInSchema, type CodeSignIn } from '#api/people';
import { useSignInByCodeMutation } from '#web/server';
import { Button, Refused, TextField } from '#web/ui';

import { NewPasswordField, OtherWay, Outside } from './outside.tsx';

/** A first sign-in, or one after a forgotten password. */
export function WelcomePage() {
  const [signIn, { error, isLoading }] = useSignInByCodeMutation();
  const { register, handleSubmit, formState } = useForm<CodeSignIn>({
    resolver: valibotResolver(CodeSignInSchema),
    defaultValues: { code: '', password: '' },
  });
  return (
    <Outside title="Your first sign-in">
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) => void handleSubmit(async (values) => signIn(values))(event)}
      >
        <TextField
          label="Code of your slip"
          autoComplete="one-time-code"
          autoCapitalize="none"
          spellCheck={false}
          error={formState.errors.code?.message}
          {...register('code')}
        />
        <NewPasswordField
          label="Choose a password"
          error={formState.errors.password?.message}
          {...register('password')}
        />
        <Refused error={error} />
        <Button kind="main" type="submit" disabled={isLoading} className="mt-1 self-start">
          {isLoading ? 'Signing in ...' : 'Sign in'}
        </Button>
      </form>
      <OtherWay to="/">I have a password already</OtherWay>
    </Outside>
  );
}
