import { valibotResolver } from '@hookform/resolvers/valibot';
import {
  useFieldArray,
  useForm,
  useWatch,
  type Control,
  type FieldErrors,
  type UseFormRegister,
} from 'react-hook-form';
import { toast } from 'sonner';

import {
  GradingInputSchema,
  type Course,
  type GradebookAnswer,
  type GradingAnswer,
  type GradingDraft,
  type GradingInput,
} from '#api';
import { MOST_GROUPS } from '#core/gradebook';
import { useGradingQuery, useSetGradingMutation } from '#web/api';
import { Button, Dialog, Failed, Loading, Refused, SelectField, TextField } from '#web/ui';

import { WhatChanges } from './what-changes.tsx';

interface GradingDialogProps {
  readonly course: Course;
  /** The grades as they are shown, so that it can be said what changes. */
  readonly book: GradebookAnswer;
  readonly onClose: () => void;
}

/** How the grades of a course come about: groups of assignments, what is left out, letters, and whose grade that changes. */
export function GradingDialog({ course, book, onClose }: GradingDialogProps) {
  const { data, error, refetch } = useGradingQuery(course.id);
  return (
    <Dialog
      onClose={onClose}
      title="How grades come about"
      description={`In ${course.title}. Scores stay as they are; what they count is worked out anew. The log of the course keeps what was before.`}
    >
      {error ? (
        <Failed error={error} retry={() => void refetch()} />
      ) : data ? (
        <GradingForm courseId={course.id} grading={data} book={book} onClose={onClose} />
      ) : (
        <Loading what="the scheme" />
      )}
    </Dialog>
  );
}

const draftOf = ({ scheme, assignments }: GradingAnswer): GradingDraft => ({
  scheme,
  groupOf: assignments.map(({ id, groupId }) => ({ assignmentId: id, groupId })),
});

interface FormParts {
  readonly control: Control<GradingDraft, unknown, GradingInput>;
  readonly register: UseFormRegister<GradingDraft>;
  readonly errors: FieldErrors<GradingDraft>;
}

function GradingForm({
  courseId,
  grading,
  book,
  onClose,
}: {
  readonly courseId: number;
  readonly grading: GradingAnswer;
  readonly book: GradebookAnswer;
  readonly onClose: () => void;
}) {
  const [set, setting] = useSetGradingMutation();
  const { control, register, handleSubmit, formState } = useForm<GradingDraft, unknown, GradingInput>({
    resolver: valibotResolver(GradingInputSchema),
    defaultValues: draftOf(grading),
  });
  const { errors } = formState;
  const parts = { control, register, errors };
  const draft = useWatch({ control }) as GradingDraft;
  const { groups } = draft.scheme;
  const save = async (input: GradingInput): Promise<void> => {
    const known = new Set(input.scheme.groups.map(({ id }) => id));
    const groupOf = input.groupOf.map(({ assignmentId, groupId }) => ({
      assignmentId,
      groupId: groupId !== null && known.has(groupId) ? groupId : null,
    }));
    const answer = await set({
      courseId,
      scheme: { groups: [...input.scheme.groups], letters: [...input.scheme.letters] },
      groupOf,
    });
    if (answer.error !== undefined) return;
    onClose();
    toast.success('Grades come about as you set it.', {
      duration: UNDO_MS,
      action: { label: 'Undo', onClick: () => void set({ courseId, ...draftOf(grading) }) },
    });
  };
  return (
    <form noValidate className="flex flex-col gap-4" onSubmit={(event) => void handleSubmit(save)(event)}>
      <Groups {...parts} />
      {groups.length > 1 && <Members grading={grading} groups={groups} register={register} />}
      <Letters {...parts} />
      <WhatChanges book={book} draft={draft} />
      <Refused error={setting.error} />
      <Button kind="main" type="submit" className="self-start" disabled={setting.isLoading}>
        Save
      </Button>
    </form>
  );
}

/** How long a change can be taken back at once; later the dialog does it. */
const UNDO_MS = 20_000;

const asNumber = { valueAsNumber: true } as const;
/** What is wrong with a list as a whole. */
const Wrong = ({ error }: { readonly error: { readonly message?: string } | undefined }) =>
  error?.message !== undefined && (
    <p role="alert" className="text-sm text-wrong">
      {error.message}
    </p>
  );

function Groups({ control, register, errors }: FormParts) {
  const { fields, append, remove } = useFieldArray({ control, name: 'scheme.groups', keyName: 'key' });
  const wrong = errors.scheme?.groups;
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="mb-1 font-medium">Groups</legend>
      {fields.length === 0 && <p className="text-sm text-soft">Without groups, all assignments count alike.</p>}
      {fields.map(({ key }, i) => (
        <div key={key} className="grid grid-cols-[1fr_5rem_6rem_auto] items-start gap-2">
          <TextField label="Name" error={wrong?.[i]?.name?.message} {...register(`scheme.groups.${i}.name`)} />
          <TextField
            label="Weight"
            inputMode="decimal"
            error={wrong?.[i]?.weight?.message}
            {...register(`scheme.groups.${i}.weight`, asNumber)}
          />
          <TextField
            label="Lowest out"
            inputMode="numeric"
            error={wrong?.[i]?.dropLowest?.message}
            {...register(`scheme.groups.${i}.dropLowest`, asNumber)}
          />
          <Button
            className="mt-6"
            aria-label={`Remove group ${String(i + 1)}`}
            onClick={() => {
              remove(i);
            }}
          >
            Remove
          </Button>
        </div>
      ))}
      <Wrong error={wrong?.root ?? wrong} />
      {fields.length < MOST_GROUPS && (
        <Button
          className="self-start"
          onClick={() => {
            append({ id: `group-${Date.now().toString(36)}`, name: '', weight: 10, dropLowest: 0 });
          }}
        >
          Add a group
        </Button>
      )}
    </fieldset>
  );
}

/** Which group each assignment counts in; those of one exercise in several sections stand below each other. */
function Members({
  grading: { assignments },
  groups,
  register,
}: {
  readonly grading: GradingAnswer;
  readonly groups: GradingDraft['scheme']['groups'];
  readonly register: FormParts['register'];
}) {
  return (
    <fieldset className="grid max-h-60 grid-cols-2 gap-x-3 overflow-auto">
      <legend className="mb-1 font-medium">What counts where</legend>
      {assignments.map(({ id, number, title, section }, i) => (
        <SelectField
          key={id}
          label={`${number}, ${section}`}
          title={title}
          {...register(`groupOf.${i}.groupId`, { setValueAs: (value: string | null) => (value === '' ? null : value) })}
        >
          {groups.map(({ id: groupId, name }, at) => (
            <option key={groupId} value={at === 0 ? '' : groupId}>
              {name.trim() === '' ? `Group ${String(at + 1)}` : name}
            </option>
          ))}
        </SelectField>
      ))}
    </fieldset>
  );
}

const FIRST_SCALE = [
  { letter: 'A', from: 90 },
  { letter: 'B', from: 80 },
  { letter: 'C', from: 70 },
  { letter: 'D', from: 60 },
  { letter: 'F', from: 0 },
] as const;

function Letters({ control, register, errors }: FormParts) {
  const { fields, append, remove, replace } = useFieldArray({ control, name: 'scheme.letters', keyName: 'key' });
  const wrong = errors.scheme?.letters;
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="mb-1 font-medium">Letters</legend>
      {fields.length === 0 && <p className="text-sm text-soft">Grades are numbers from 0 to 100.</p>}
      <div className="grid grid-cols-2 gap-x-6 gap-y-2">
        {fields.map(({ key }, i) => (
          <div key={key} className="grid grid-cols-[1fr_4.5rem_auto] items-start gap-2">
            <TextField label="Grade" error={wrong?.[i]?.letter?.message} {...register(`scheme.letters.${i}.letter`)} />
            <TextField
              label="From"
              inputMode="decimal"
              error={wrong?.[i]?.from?.message}
              {...register(`scheme.letters.${i}.from`, asNumber)}
            />
            <Button
              className="mt-6"
              aria-label={`Remove grade ${String(i + 1)}`}
              onClick={() => {
                remove(i);
              }}
            >
              ×
            </Button>
          </div>
        ))}
      </div>
      <Wrong error={wrong?.root ?? wrong} />
      <Button
        className="self-start"
        onClick={() => {
          if (fields.length === 0) replace(FIRST_SCALE.map((step) => ({ ...step })));
          else append({ letter: '', from: 0 });
        }}
      >
        {fields.length === 0 ? 'Use letters' : 'Add a grade'}
      </Button>
    </fieldset>
  );
}
