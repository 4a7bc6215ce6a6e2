import { valibotResolver } from '@hookform/resolvers/valibot';
import { useForm } from 'react-hook-form';

import { SetupSchema, type Setup } from '#api/people';
import { useSetUpMutation } from '#web/server';
import { Button, Refused, TextField, TimeZoneField } from '#web/ui';

import { NewLoginField, NewPasswordField, Outside } from './outside.tsx';

/** The first account of all, and the first course. */
export function SetupPage({ timeZone }: { readonly timeZone: string }) {
  const [setUp, { error, isLoading }] = useSetUpMutation();
  const { register, handleSubmit, formState } = useForm<Setup>({
    resolver: valibotResolver(SetupSchema),
    defaultValues: { code: '', name: '', login: '', password: '', school: '', course: '', section: '', timeZone },
  });
  const { errors } = formState;
  return (
    <Outside title="Nobody has an account here yet" isWide>
      <p className="mb-4 text-sm text-soft">
        Make yours and your first course. You teach it, and you look after this server; others are added later.
      </p>
      <form
        noValidate
        className="grid gap-x-5 gap-y-1 sm:grid-cols-2"
        onSubmit={(event) => void handleSubmit(async (values) => setUp(values))(event)}
      >
        <TextField
          label="Code"
          hint="The server printed it when it started."
          autoComplete="one-time-code"
          error={errors.code?.message}
          {...register('code')}
        />
        <TextField label="Your name" autoComplete="name" error={errors.name?.message} {...register('name')} />
        <NewLoginField error={errors.login?.message} {...register('login')} />
        <NewPasswordField error={errors.password?.message} {...register('password')} />
        <TextField label="School" error={errors.school?.message} {...register('school')} />
        <TextField label="Course" error={errors.course?.message} {...register('course')} />
        <TextField
          label="Section"
          hint="A group that works at the same time; there may be more later."
          error={errors.section?.message}
          {...register('section')}
        />
        <TimeZoneField error={errors.timeZone?.message} {...register('timeZone')} />
        <div className="sm:col-span-2">
          <Refused error={error} />
        </div>
        <Button kind="main" type="submit" disabled={isLoading} className="mt-6 justify-self-start">
          {isLoading ? 'Making ...' : 'Begin'}
        </Button>
      </form>
    </Outside>
  );
}
