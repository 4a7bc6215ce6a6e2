import { valibotResolver } from '@hookform/resolvers/valibot';
import { addDays, format, set } from 'date-fns';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';

import { AnswersSchema, IssueSchema, ReleaseSchema, type Answers, type IssueInput, type Release } from '#api';
import { FEEDBACK_DEGREES, FeedbackDegreeSchema, type FeedbackDegree } from '#core/grade';
import type { Coverage } from '#core/mistake';
import { failureText, useCoverageQuery, useFurtherWarningsQuery, useIssueMutation, useSectionsQuery } from '#web/api';
import { Button, Dialog, plural, SelectField, TextField } from '#web/ui';
import * as v from 'valibot';

const ANSWERS: Readonly<Record<Answers, string>> = {
  'after-due': 'After the due time',
  'at-once': 'With each report',
  never: 'Not to students',
};

/** What the browser's fields hold: local times and text, turned into an issue by the same schema the server uses. */
const FieldsSchema = v.pipe(
  v.object({
    sectionId: v.string(),
    opensAt: v.string(),
    dueAt: v.string(),
    attemptsAllowed: v.string(),
    answers: AnswersSchema,
    lateUntil: v.string(),
    release: ReleaseSchema,
    first: FeedbackDegreeSchema,
    last: FeedbackDegreeSchema,
  }),
  v.transform((fields): IssueInput => ({
    exerciseId: 1,
    sectionId: fields.sectionId === '' ? Number.NaN : Number(fields.sectionId),
    opensAt: isoOf(fields.opensAt),
    dueAt: isoOf(fields.dueAt),
    attemptsAllowed: fields.attemptsAllowed.trim() === '' ? Number.NaN : Number(fields.attemptsAllowed),
    answers: fields.answers,
    lateUntil: fields.lateUntil === '' ? null : isoOf(fields.lateUntil),
    release: fields.release,
    feedback: feedbackOf(fields.first, fields.last, Number(fields.attemptsAllowed)),
  })),
  IssueSchema,
);
type Fields = v.InferInput<typeof FieldsSchema>;
type Filled = v.InferOutput<typeof FieldsSchema>;

function isoOf(local: string): string {
  const date = new Date(local);
  return Number.isNaN(date.getTime()) ? '' : date.toISOString();
}

/** The first degree until the last attempt, which is told the last one. */
const feedbackOf = (first: FeedbackDegree, last: FeedbackDegree, attempts: number): FeedbackDegree[] => [
  ...Array.from({ length: Math.min(19, Math.max(0, (attempts || 1) - 1)) }, () => first),
  last,
];

const RELEASES: Readonly<Record<Release, string>> = {
  automatic: 'As soon as it is measured',
  accepted: 'When I accept it',
  'by-hand': 'When I release it',
};

const DEGREES: Readonly<Record<FeedbackDegree, string>> = {
  score: 'The score alone',
  checks: 'Which checks are right',
  numbers: 'By how much as well',
  causes: 'The probable causes as well',
  overlay: 'Everything, also in 3D',
};

const local = (date: Date): string => format(date, "yyyy-MM-dd'T'HH:mm");

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

export function IssueDialog({
  exerciseId,
  title,
  warnings,
  open,
  onClose,
}: {
  exerciseId: number;
  title: string;
  /** What the sheet fails to say. */
  warnings: readonly string[];
  open: boolean;
  onClose: () => void;
}) {
  const { data: sections } = useSectionsQuery();
  const { data: tested } = useCoverageQuery(exerciseId, { skip: !open });
  const { data: further = [] } = useFurtherWarningsQuery(exerciseId, { skip: !open });
  const coverage = tested?.coverage ?? null;
  const all = [...warnings, ...further.map(({ part, warnings: own }) => `${part}: ${own.join(' ')}`)];
  const [issue, { error, isLoading }] = useIssueMutation();
  const navigate = useNavigate();
  const { register, handleSubmit, formState } = useForm<Fields, unknown, Filled>({
    resolver: valibotResolver(FieldsSchema),
    defaultValues: {
      sectionId: '',
      opensAt: local(new Date()),
      dueAt: local(set(addDays(new Date(), 7), { hours: 18, minutes: 0 })),
      attemptsAllowed: '3',
      answers: 'after-due',
      lateUntil: '',
      release: 'automatic',
      first: 'causes',
      last: 'overlay',
    },
  });
  const submit = handleSubmit(async (values) => {
    const answer = await issue({ ...values, exerciseId });
    if (!answer.data) return;
    toast.success(`${title} is issued.`);
    await navigate(`/assignments/${String(answer.data.id)}`);
  });
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => {
        if (!next) onClose();
      }}
      title={`Issue ${title}`}
      description="The section sees the sheet from the opening time on. Files that cannot be read use up no attempt."
    >
      {all.length > 0 && (
        <div
          role="status"
          className="mb-3 max-h-40 overflow-auto border-l-4 border-near bg-near-soft px-3 py-2 text-sm"
        >
          <p className="font-medium">
            The sheet does not say everything that the part needs. You can issue it all the same.
          </p>
          <ul>
            {all.slice(0, MOST_WARNINGS).map((warning) => (
              <li key={warning}>{warning}</li>
            ))}
            {all.length > MOST_WARNINGS && <li>... and {plural(all.length - MOST_WARNINGS, 'warning')} more.</li>}
          </ul>
        </div>
      )}
      {coverage && (
        <p className="mb-3 border-l-4 border-rule px-3 py-1 text-sm" data-testid="issue-coverage">
          {coverageWords(coverage)}
        </p>
      )}
      <form noValidate className="grid grid-cols-2 gap-x-4 gap-y-2" onSubmit={(event) => void submit(event)}>
        <div className="col-span-2">
          <SelectField label="Section" error={formState.errors.sectionId?.message} {...register('sectionId')}>
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
          error={formState.errors.opensAt?.message}
          {...register('opensAt')}
        />
        <TextField label="Due" type="datetime-local" error={formState.errors.dueAt?.message} {...register('dueAt')} />
        <TextField
          label="Attempts"
          inputMode="numeric"
          error={formState.errors.attemptsAllowed?.message}
          {...register('attemptsAllowed')}
        />
        <SelectField
          label="Answers that are not on the sheet"
          hint="Volume, mass, center of mass."
          error={formState.errors.answers?.message}
          {...register('answers')}
        >
          {Object.entries(ANSWERS).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </SelectField>
        <SelectField label="Each report reaches its student" {...register('release')}>
          {Object.entries(RELEASES).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </SelectField>
        <TextField
          label="Late work until"
          type="datetime-local"
          hint="Leave it empty to take none. Scoring says what it costs."
          error={formState.errors.lateUntil?.message}
          {...register('lateUntil')}
        />
        <SelectField label="Reports before the last attempt tell" {...register('first')}>
          {FEEDBACK_DEGREES.map((degree) => (
            <option key={degree} value={degree}>
              {DEGREES[degree]}
            </option>
          ))}
        </SelectField>
        <SelectField label="The last one tells" hint="And all of them, once it is closed." {...register('last')}>
          {FEEDBACK_DEGREES.map((degree) => (
            <option key={degree} value={degree}>
              {DEGREES[degree]}
            </option>
          ))}
        </SelectField>
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
            Issue to the section
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
