import { valibotResolver } from '@hookform/resolvers/valibot';
import { useForm } from 'react-hook-form';

import { JoinSchema, type Join } from '#api/people';
import { useJoinInfoQuery, useJoinMutation } from '#web/server';
import { Button, Loading, Refused, TextField } from '#web/ui';

import { NewLoginField, NewPasswordField, OtherWay, Outside } from './outside.tsx';

/** A student joins a section by its link. */
export function JoinPage({ code }: { readonly code: string }) {
  const { data: info, error: missing } = useJoinInfoQuery(code);
  const [join, { error, isLoading }] = useJoinMutation();
  const { register, handleSubmit, formState } = useForm<Join>({
    resolver: valibotResolver(JoinSchema),
    defaultValues: { name: '', login: '', password: '' },
  });
  if (missing)
    return (
      <Outside title="This link leads nowhere">
        <p>
          It was closed, or a letter of it is missing. Ask your instructor, or{' '}
          <a className="underline" href="/">
            sign in
          </a>
          .
        </p>
      </Outside>
    );
  if (!info) return <Loading what="the section" />;
  return (
    <Outside title={`Join ${info.course}, ${info.section}`}>
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) => void handleSubmit(async (values) => join({ ...values, code }))(event)}
      >
        <TextField
          label="Your name"
          autoComplete="name"
          hint="As it stands in the list of your class."
          error={formState.errors.name?.message}
          {...register('name')}
        />
        <NewLoginField error={formState.errors.login?.message} {...register('login')} />
        <NewPasswordField error={formState.errors.password?.message} {...register('password')} />
        <Refused error={error} />
        <Button kind="main" type="submit" disabled={isLoading} className="mt-1 self-start">
          {isLoading ? 'Joining ...' : 'Join'}
        </Button>
      </form>
      <OtherWay to="/">I have an account already</OtherWay>
    </Outside>
  );
}
