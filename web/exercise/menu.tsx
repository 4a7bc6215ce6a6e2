import { valibotResolver } from '@hookform/resolvers/valibot';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import * as v from 'valibot';

import { CopyExerciseSchema, TagsSchema, type CopyExercise, type ExerciseSummary } from '#api';
import {
  failureText,
  useArrangeExerciseMutation,
  useCopyExerciseMutation,
  useCoursesQuery,
  useDeleteExerciseMutation,
} from '#web/api';
import { Button, Dialog, Menu, Refused, SelectField, TextField } from '#web/ui';

type Open = 'copy' | 'tags' | 'delete' | null;

/** What can be done with an exercise of the library. */
export function ExerciseMenu({ exercise }: { readonly exercise: ExerciseSummary }) {
  const [open, setOpen] = useState<Open>(null);
  const [arrange] = useArrangeExerciseMutation();
  const navigate = useNavigate();
  const { id, number, archivedAt, assignments } = exercise;
  const putAway = async (archived: boolean): Promise<void> => {
    const { error } = await arrange({ id, archived });
    if (error !== undefined) toast.error(failureText(error));
    else
      toast.success(archived ? `${number} is put away.` : `${number} is back.`, {
        action: { label: 'Undo', onClick: () => void arrange({ id, archived: !archived }) },
      });
  };
  const choose = (what: Open) => () => {
    setOpen(what);
  };
  const close = choose(null);
  return (
    <>
      <Menu
        label={`More about ${number}`}
        items={[
          { words: 'Edit', onChoose: () => void navigate(`/exercises/${String(id)}/edit`) },
          { words: 'Make a copy', onChoose: choose('copy') },
          { words: 'Tags', onChoose: choose('tags') },
          archivedAt === null
            ? { words: 'Put away', onChoose: () => void putAway(true) }
            : { words: 'Take out again', onChoose: () => void putAway(false) },
          ...(assignments === 0 ? [{ words: 'Delete', onChoose: choose('delete') }] : []),
        ]}
      />
      {open === 'copy' && <CopyDialog exercise={exercise} onClose={close} />}
      {open === 'tags' && <TagsDialog exercise={exercise} onClose={close} />}
      {open === 'delete' && <DeleteDialog exercise={exercise} onClose={close} />}
    </>
  );
}

interface DialogProps {
  readonly exercise: ExerciseSummary;
  readonly onClose: () => void;
}

function CopyDialog({ exercise, onClose }: DialogProps) {
  const [copy, { error, isLoading }] = useCopyExerciseMutation();
  const { data: courses = [] } = useCoursesQuery();
  const navigate = useNavigate();
  const own = courses.filter(({ mayManage, archivedAt }) => mayManage && archivedAt === null);
  const { register, handleSubmit, formState } = useForm<CopyExercise>({
    resolver: valibotResolver(CopyExerciseSchema),
    defaultValues: { courseId: exercise.courseId, number: `${exercise.number}-2`, title: exercise.title },
  });
  const { errors } = formState;
  return (
    <Dialog
      onClose={onClose}
      title={`Copy ${exercise.number}`}
      description="The copy is a draft of its own: what is changed in one leaves the other as it is."
    >
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) =>
          void handleSubmit(async (to) => {
            const answer = await copy({ id: exercise.id, ...to });
            if (answer.data) await navigate(`/exercises/${String(answer.data.id)}/edit`);
          })(event)
        }
      >
        <SelectField label="Course" {...register('courseId', { valueAsNumber: true })}>
          {own.map(({ id, title, term }) => (
            <option key={id} value={id}>
              {[title, term].filter(Boolean).join(', ')}
            </option>
          ))}
        </SelectField>
        <TextField label="Number" error={errors.number?.message} {...register('number')} />
        <TextField label="Title" error={errors.title?.message} {...register('title')} />
        <Refused error={error} />
        <Button kind="main" type="submit" className="self-start" disabled={isLoading}>
          Make the copy
        </Button>
      </form>
    </Dialog>
  );
}

function TagsDialog({ exercise, onClose }: DialogProps) {
  const [arrange, { error, isLoading }] = useArrangeExerciseMutation();
  const [text, setText] = useState(exercise.tags.join(', '));
  const parsed = v.safeParse(
    TagsSchema,
    text
      .split(',')
      .map((word) => word.trim())
      .filter(Boolean),
  );
  return (
    <Dialog
      onClose={onClose}
      title={`Tags of ${exercise.number}`}
      description="The library is sorted by them; students do not see them."
    >
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (!parsed.success) return;
          void arrange({ id: exercise.id, tags: parsed.output }).then((answer) => {
            if (answer.error === undefined) onClose();
          });
        }}
      >
        <TextField
          label="Tags, with commas between"
          placeholder="first week, symmetry"
          value={text}
          error={parsed.issues?.[0].message}
          onChange={(event) => {
            setText(event.target.value);
          }}
        />
        <Refused error={error} />
        <Button kind="main" type="submit" className="self-start" disabled={isLoading}>
          Save
        </Button>
      </form>
    </Dialog>
  );
}

function DeleteDialog({ exercise: { id, number, title, revision }, onClose }: DialogProps) {
  const [remove, { error, isLoading }] = useDeleteExerciseMutation();
  const revisions = revision === null ? '' : `, its ${revision === 1 ? 'revision' : `${String(revision)} revisions`}`;
  return (
    <Dialog
      onClose={onClose}
      title={`Delete ${number}`}
      description={`${title}: the draft${revisions}, sheets, answer key and known mistakes are gone for good. It was never issued, so no attempt is lost. Export it first to keep a copy.`}
    >
      <Refused error={error} />
      <div className="flex gap-2">
        <Button onClick={onClose}>Keep it</Button>
        <Button
          kind="main"
          disabled={isLoading}
          onClick={() => {
            void remove(id).then((answer) => {
              if (answer.error === undefined) onClose();
            });
          }}
        >
          Delete it for good
        </Button>
      </div>
    </Dialog>
  );
}
