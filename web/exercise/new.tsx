import { valibotResolver } from '@hookform/resolvers/valibot';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';

import { NewExerciseSchema, type NewExercise as Fields } from '#api';
import { failureText, useCoursesQuery, useCreateExerciseMutation, useImportExerciseMutation } from '#web/api';
import { Button, Dialog, FileButton, SelectField, TextField } from '#web/ui';

/** Starts a new exercise, from nothing or from an exported file. */
export function NewExercise() {
  const [open, setOpen] = useState(false);
  const [create] = useCreateExerciseMutation();
  const [adopt, { isLoading }] = useImportExerciseMutation();
  const navigate = useNavigate();
  const { data: courses = [] } = useCoursesQuery();
  const [courseId, setCourseId] = useState<number | null>(null);
  // Which course it is made in is asked for where there are several.
  const own = courses.filter(({ mayManage, archivedAt }) => mayManage && archivedAt === null);
  const chosen = own.find(({ id }) => id === courseId) ?? own[0];
  const { register, handleSubmit, setError, formState } = useForm<Fields>({
    resolver: valibotResolver(NewExerciseSchema),
    defaultValues: { number: '', title: '', unit: 'mm' },
  });
  const { errors } = formState;
  return (
    <>
      {own.length > 1 && (
        <label className="flex items-center gap-2 text-sm">
          For
          <select
            className="h-8 border border-ink/60 bg-paper px-2"
            value={chosen?.id}
            onChange={(event) => {
              setCourseId(Number(event.target.value));
            }}
          >
            {own.map(({ id, title }) => (
              <option key={id} value={id}>
                {title}
              </option>
            ))}
          </select>
        </label>
      )}
      <Button
        kind="main"
        onClick={() => {
          setOpen(true);
        }}
      >
        New exercise
      </Button>
      <FileButton
        label="Exported exercise"
        accept=".zip"
        testId="import"
        disabled={isLoading}
        onFile={(file) => {
          void adopt({ file, courseId: chosen?.id ?? null }).then((answer) => {
            if (answer.data) void navigate(`/exercises/${String(answer.data.id)}/edit`);
            else toast.error(failureText(answer.error), { duration: 12_000 });
          });
        }}
      >
        {isLoading ? 'Importing ...' : 'Import a file'}
      </FileButton>
      <Dialog
        open={open}
        onClose={() => {
          setOpen(false);
        }}
        title="New exercise"
        description="Number and unit stay; the title can be changed."
      >
        <form
          className="flex flex-col gap-3"
          onSubmit={(event) => {
            void handleSubmit(async (fields) => {
              const answer = await create({ ...fields, ...(chosen === undefined ? {} : { courseId: chosen.id }) });
              if (answer.data) await navigate(`/exercises/${String(answer.data.id)}/edit`);
              else setError('number', { message: failureText(answer.error) });
            })(event);
          }}
        >
          <TextField label="Number" placeholder="SB-301" error={errors.number?.message} {...register('number')} />
          <TextField label="Title" error={errors.title?.message} {...register('title')} />
          <SelectField label="Unit" {...register('unit')}>
            <option value="mm">millimeter</option>
            <option value="in">inch</option>
          </SelectField>
          <Button type="submit" kind="main" disabled={formState.isSubmitting}>
            Begin
          </Button>
        </form>
      </Dialog>
    </>
  );
}
