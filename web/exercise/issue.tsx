import { valibotResolver } from '@hookform/resolvers/valibot';
import { tz } from '@date-fns/tz';
import { addDays, set } from 'date-fns';
import { useState } from 'react';
import {
  Controller,
  useFieldArray,
  useForm,
  useWatch,
  type Control,
  type FieldErrors,
  type UseFormRegister,
} from 'react-hook-form';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';

import {
  AidsSchema,
  AnswersSchema,
  IssueSchema,
  USUAL_AIDS,
  ReleaseSchema,
  type IssueInput,
  type StudiesAnswer,
} from '#api';
import { FeedbackDegreeSchema } from '#core/grade';
import type { Coverage } from '#core/mistake';
import {
  failureText,
  useCoverageQuery,
  useFurtherWarningsQuery,
  useIssueMutation,
  useSectionsQuery,
  useStudiesQuery,
} from '#web/api';
import { AidsFields, ANSWERS, DEGREES, feedbackOf, optionsOf, RELEASES } from '#web/telling';
import {
  Button,
  Dialog,
  LATEST_LOCAL,
  localOf,
  momentOf,
  plural,
  SelectField,
  TextField,
  Toggle,
  zoneOfTimes,
} from '#web/ui';
import * as v from 'valibot';

/** What the browser's fields hold: local times and text, turned into an issue by the same schema the server uses. */
const FieldsSchema = v.pipe(
  v.object({
    sectionId: v.string(),
    opensAt: v.string(),
    dueAt: v.string(),
    alsoTo: v.array(v.object({ sectionId: v.string(), opensAt: v.string(), dueAt: v.string() })),
    attemptsAllowed: v.string(),
    answers: AnswersSchema,
    lateUntil: v.string(),
    release: ReleaseSchema,
    first: FeedbackDegreeSchema,
    last: FeedbackDegreeSchema,
    aids: AidsSchema,
    openReason: v.string(),
  }),
  v.transform((fields): IssueInput => ({
    exerciseId: 1,
    sectionId: fields.sectionId === '' ? Number.NaN : Number(fields.sectionId),
    opensAt: momentOf(fields.opensAt),
    dueAt: momentOf(fields.dueAt),
    alsoTo: fields.alsoTo.map(({ sectionId, opensAt, dueAt }) => ({
      sectionId: Number(sectionId),
      opensAt: momentOf(opensAt),
      dueAt: momentOf(dueAt),
    })),
    attemptsAllowed: fields.attemptsAllowed.trim() === '' ? Number.NaN : Number(fields.attemptsAllowed),
    answers: fields.answers,
    lateUntil: fields.lateUntil === '' ? null : momentOf(fields.lateUntil),
    release: fields.release,
    feedback: feedbackOf(fields.first, fields.last, Number(fields.attemptsAllowed)),
    aids: fields.aids,
    openReason: fields.openReason,
  })),
  IssueSchema,
);
type Fields = v.InferInput<typeof FieldsSchema>;
type Filled = v.InferOutput<typeof FieldsSchema>;

/** How far the check plan can be trusted, in one sentence. */
function coverageWords({ located, blind, rows }: Coverage): string {
  if (rows.length === 0)
    return 'How far the check plan can be trusted is not known: no mistake could be made in the part.';
  const share = `The check plan says where ${String(Math.round(located * 100))} % of the likely mistakes are`;
  return blind.length === 0
    ? `${share}, and catches the others.`
    : `${share}; ${plural(blind.length, 'mistake')} would pass unseen. They are listed under Mistakes.`;
}

const MOST_WARNINGS = 12;

interface IssueDialogProps {
  readonly exerciseId: number;
  readonly title: string;
  /** What the sheet fails to say. */
  readonly warnings: readonly string[];
  readonly open: boolean;
  readonly onClose: () => void;
}

/** Issues an exercise to a section: when, how often, and what its reports tell. */
export function IssueDialog({ exerciseId, title, warnings, open, onClose }: IssueDialogProps) {
  const { data: tested } = useCoverageQuery(exerciseId, { skip: !open });
  const { data: further = [] } = useFurtherWarningsQuery(exerciseId, { skip: !open });
  const [isStudied, setIsStudied] = useState(false);
  const { data: studies = [] } = useStudiesQuery(exerciseId, {
    skip: !open,
    pollingInterval: isStudied ? 0 : STUDY_POLL_MS,
  });
  const done = studies.length > 0 && studies.every(({ state }) => state === 'done' || state === 'failed');
  if (done !== isStudied) setIsStudied(done);
  const coverage = tested?.coverage ?? null;
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={`Issue ${title}`}
      description="The section sees the sheet from the opening time on. Files that cannot be read use up no attempt."
    >
      <OpenSizes studies={studies} />
      <Warnings all={[...warnings, ...further.map(({ part, warnings: own }) => `${part}: ${own.join(' ')}`)]} />
      {coverage && (
        <p className="mb-3 border-l-4 border-rule px-3 py-1 text-sm" data-testid="issue-coverage">
          {coverageWords(coverage)}
        </p>
      )}
      <IssueForm
        exerciseId={exerciseId}
        title={title}
        isOpen={studies.some(({ open: sizes }) => (sizes?.undetermined.length ?? 0) > 0)}
        onClose={onClose}
      />
    </Dialog>
  );
}

/** A study takes some seconds, once; while it runs, it is asked for again. */
const STUDY_POLL_MS = 4000;

/** What a reader with nothing but the sheet could not tell, stage by stage, or that it is still being worked out. */
function OpenSizes({ studies }: { readonly studies: StudiesAnswer['stages'] }) {
  const open = studies.flatMap(({ stage, open: sizes }) =>
    (sizes?.undetermined ?? []).map((what) => (studies.length > 1 ? `${what} (stage ${String(stage)})` : what)),
  );
  const isPending = studies.some(({ state }) => state === 'waiting' || state === 'running');
  if (open.length === 0)
    return isPending ? (
      <p role="status" className="mb-3 border-l-4 border-rule px-3 py-1 text-sm">
        Whether the sheet says every size is still being worked out.
      </p>
    ) : null;
  return (
    <div
      role="status"
      className="mb-3 max-h-40 overflow-auto border-l-4 border-wrong bg-wrong-soft px-3 py-2 text-sm"
      data-testid="open-sizes"
    >
      <p className="font-medium">Nobody can build this part from its sheet alone. It does not say</p>
      <ul>
        {open.slice(0, MOST_WARNINGS).map((what) => (
          <li key={what}>{what}</li>
        ))}
        {open.length > MOST_WARNINGS && <li>... and {plural(open.length - MOST_WARNINGS, 'size')} more.</li>}
      </ul>
    </div>
  );
}

/** What the sheets of the exercise do not say. */
function Warnings({ all }: { readonly all: readonly string[] }) {
  if (all.length === 0) return null;
  return (
    <div role="status" className="mb-3 max-h-40 overflow-auto border-l-4 border-near bg-near-soft px-3 py-2 text-sm">
      <p className="font-medium">Remarks on the drawing and its dimensions along the axes:</p>
      <ul>
        {all.slice(0, MOST_WARNINGS).map((warning) => (
          <li key={warning}>{warning}</li>
        ))}
        {all.length > MOST_WARNINGS && <li>... and {plural(all.length - MOST_WARNINGS, 'warning')} more.</li>}
      </ul>
    </div>
  );
}

const defaultFields = (): Fields => ({
  sectionId: '',
  alsoTo: [],
  opensAt: localOf(new Date()),
  dueAt: localOf(set(addDays(new Date(), 7), { hours: 18, minutes: 0 }, { in: tz(zoneOfTimes()) })),
  attemptsAllowed: '3',
  answers: 'after-due',
  lateUntil: '',
  release: 'automatic',
  first: 'causes',
  last: 'overlay',
  aids: USUAL_AIDS,
  openReason: '',
});

interface IssueFormProps extends Pick<IssueDialogProps, 'exerciseId' | 'title' | 'onClose'> {
  /** Whether the sheet is known to leave sizes open. */
  readonly isOpen: boolean;
}

function IssueForm({ exerciseId, title, isOpen, onClose }: IssueFormProps) {
  const [issue, { error, isLoading }] = useIssueMutation();
  const navigate = useNavigate();
  const { control, register, handleSubmit, formState, setError } = useForm<Fields, unknown, Filled>({
    resolver: valibotResolver(FieldsSchema),
    defaultValues: defaultFields(),
  });
  const others = useWatch({ control, name: 'alsoTo' }).length;
  const submit = handleSubmit(async (values) => {
    if (isOpen && values.openReason === '') {
      setError(
        'openReason',
        { message: 'Write why it is issued so, or put the sizes on the sheet.' },
        { shouldFocus: true },
      );
      return;
    }
    const answer = await issue({ ...values, exerciseId });
    if (!answer.data) return;
    const sections = values.alsoTo.length;
    toast.success(`${title} is issued${sections === 0 ? '' : ` to ${plural(sections + 1, 'section')}`}.`);
    await navigate(`/assignments/${String(answer.data.id)}`);
  });
  return (
    <form noValidate className="grid grid-cols-2 gap-x-4 gap-y-2" onSubmit={(event) => void submit(event)}>
      <TimesAndAttempts register={register} errors={formState.errors} />
      <OtherSections control={control} register={register} errors={formState.errors} />
      <WhatIsTold register={register} errors={formState.errors} />
      <div className="col-span-2">
        <Controller
          control={control}
          name="aids"
          render={({ field: { value, onChange } }) => <AidsFields aids={value} onChange={onChange} />}
        />
      </div>
      {isOpen && (
        <div className="col-span-2">
          <TextField
            label="Why it is issued all the same"
            hint="For those who teach with you. Students do not see it."
            error={formState.errors.openReason?.message}
            {...register('openReason')}
          />
        </div>
      )}
      {error && (
        <p role="alert" className="col-span-2 border-l-4 border-wrong bg-wrong-soft px-3 py-2">
          {failureText(error)}
        </p>
      )}
      <div className="col-span-2 mt-2 flex justify-end gap-2">
        <Button kind="quiet" onClick={onClose}>
          Not now
        </Button>
        <Button kind="main" type="submit" disabled={isLoading}>
          {others === 0 ? 'Issue to the section' : `Issue to ${plural(others + 1, 'section')}`}
        </Button>
      </div>
    </form>
  );
}

interface FieldsProps {
  readonly register: UseFormRegister<Fields>;
  readonly errors: FieldErrors<Fields>;
}

/** To whom, from when until when, and how often. */
function TimesAndAttempts({ register, errors }: FieldsProps) {
  const { data: sections } = useSectionsQuery();
  return (
    <>
      <div className="col-span-2">
        <SelectField label="Section" error={errors.sectionId?.message} {...register('sectionId')}>
          <option value="">Choose a section</option>
          {sections?.map((section) => (
            <option key={section.id} value={section.id}>
              {section.course}, {section.name} ({plural(section.students, 'student')})
            </option>
          ))}
        </SelectField>
      </div>
      <TextField
        label="Opens"
        type="datetime-local"
        max={LATEST_LOCAL}
        error={errors.opensAt?.message}
        {...register('opensAt')}
      />
      <TextField
        label="Due"
        type="datetime-local"
        max={LATEST_LOCAL}
        error={errors.dueAt?.message}
        {...register('dueAt')}
      />
      <TextField
        label="Attempts"
        inputMode="numeric"
        error={errors.attemptsAllowed?.message}
        {...register('attemptsAllowed')}
      />
    </>
  );
}

/** Other sections of the same course, each with dates of its own. */
function OtherSections({
  control,
  register,
  errors,
}: FieldsProps & { readonly control: Control<Fields, unknown, Filled> }) {
  const { data: sections = [] } = useSectionsQuery();
  const { fields, append, remove } = useFieldArray({ control, name: 'alsoTo' });
  const [sectionId, opensAt, dueAt] = useWatch({ control, name: ['sectionId', 'opensAt', 'dueAt'] });
  const chosen = sections.find(({ id }) => String(id) === sectionId);
  const others = sections.filter(({ id, course }) => course === chosen?.course && id !== chosen.id);
  if (others.length === 0) return null;
  return (
    <fieldset className="col-span-2 flex flex-col gap-1">
      <legend className="mb-1 text-sm font-medium">Also to</legend>
      {others.map(({ id, name }) => {
        const at = fields.findIndex((field) => field.sectionId === String(id));
        return (
          <div key={id}>
            <Toggle
              label={name}
              on={at >= 0}
              onChange={(on) => {
                if (on) append({ sectionId: String(id), opensAt, dueAt });
                else remove(at);
              }}
            />
            {at >= 0 && (
              <div className="mt-1 grid grid-cols-2 gap-x-4">
                <TextField
                  label={`Opens for ${name}`}
                  type="datetime-local"
                  max={LATEST_LOCAL}
                  error={errors.alsoTo?.[at]?.opensAt?.message}
                  {...register(`alsoTo.${at}.opensAt`)}
                />
                <TextField
                  label={`Due for ${name}`}
                  type="datetime-local"
                  max={LATEST_LOCAL}
                  error={errors.alsoTo?.[at]?.dueAt?.message}
                  {...register(`alsoTo.${at}.dueAt`)}
                />
              </div>
            )}
          </div>
        );
      })}
    </fieldset>
  );
}

/** When answers and reports are told, and how much. */
function WhatIsTold({ register, errors }: FieldsProps) {
  return (
    <>
      <SelectField
        label="Answers that are not on the sheet"
        hint="Volume, mass, center of mass."
        error={errors.answers?.message}
        {...register('answers')}
      >
        {optionsOf(ANSWERS)}
      </SelectField>
      <SelectField label="Each report reaches its student" {...register('release')}>
        {optionsOf(RELEASES)}
      </SelectField>
      <TextField
        label="Late work until"
        type="datetime-local"
        max={LATEST_LOCAL}
        hint="Leave it empty to take none. Scoring says what it costs."
        error={errors.lateUntil?.message}
        {...register('lateUntil')}
      />
      <SelectField label="Reports before the last attempt tell" {...register('first')}>
        {optionsOf(DEGREES)}
      </SelectField>
      <SelectField label="The last one tells" hint="And all of them, once it is closed." {...register('last')}>
        {optionsOf(DEGREES)}
      </SelectField>
    </>
  );
}
