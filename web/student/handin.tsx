import { nanoid } from '@reduxjs/toolkit';
import { FileUp } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link } from 'react-router';

import { MAX_FILE_BYTES, type WorkDetail } from '#api';
import { planAsText } from '#core/buildplan';
import { acceptedExtensions, formatNames, formatOf, formatOfName } from '#core/model';
import type { TypedValueName } from '#core/check';
import { succeed, type Result } from '#core/problem';
import { isCalled, wantedFileName } from '#core/filename';
import { checkTyped, quantityOf, TYPED_LABELS, type TypedInput } from '#core/grade';
import { propertyUnits, unitsOf, type DrawingUnit, type LengthUnit } from '#core/quantity';
import { failureText, isSignedOut, useHandInMutation, usePlanQuery, type User } from '#web/api';
import { BuildLogReading } from '#web/build-log';
import { BeforeHandIn, useInspection } from '#web/measuring';
import { Button, fileSize, Panel, TextArea, useKeptText, Alert } from '#web/ui';

import { dropDraft, loadDraft, saveDraft, type Draft } from './draft.ts';
import type { Extents } from './file-unit.ts';

/** A file without unit, the unit chosen for it, and what size that makes it. */
interface UnitQuestion {
  readonly extents: Extents;
  readonly unit: LengthUnit;
  readonly text: (unit: LengthUnit) => string;
}

/** Reads the size of a file whose format states no unit, with a guess; the readers are loaded only then. */
async function askUnit(file: File, drawing: DrawingUnit): Promise<UnitQuestion | null> {
  const format = formatOfName(file.name);
  if (format === null || formatOf(format).statesUnit) return null;
  const { extentsOfFile, guessFileUnit, sizeText } = await import('./file-unit.ts');
  const extents = extentsOfFile(new Uint8Array(await file.arrayBuffer()), file.name);
  if (extents === null) return null;
  return { extents, unit: guessFileUnit(extents, drawing), text: (unit) => sizeText(extents, unit, drawing) };
}

/** The geometry kernel is a large download: where the page is small it is not loaded unasked. */
const WIDE = '(min-width: 48rem)';

/** Whoever hands in at once need not wait for the page to look at the file as well. */
const LOOK_AFTER_MS = 1200;

/** What is handed in: the file, and how it was built. */
export interface HandedIn {
  readonly file: File;
  readonly buildLog: string;
}

interface HandInProps {
  readonly work: WorkDetail;
  readonly user: User;
  /** Makes what is handed in of a part that is built in the page, in place of a file that is chosen. */
  readonly built?: () => Promise<Result<HandedIn>>;
  readonly onHandedIn: (attemptId: number) => void;
}

/** Drop a file, type the numbers, hand in. Numbers are checked while they are typed, with the server's own rules. */
export function HandInPanel({ work, user, built, onHandedIn }: HandInProps) {
  const place = work.stage === 1 ? String(work.id) : `${String(work.id)}/${String(work.stage)}`;
  const [file, setFile] = useState<File | null>(null);
  const [mesh, setMesh] = useState<UnitQuestion | null>(null);
  const [draft, setDraft] = useState<Draft>(() => loadDraft(place, user.id));
  const [buildLog, setBuildLog] = useKeptText(`steps ${String(user.id)} ${place}`);
  const [key, setKey] = useState(nanoid);
  /** Why the part that is built in the page cannot be handed in as it is. */
  const [unbuilt, setUnbuilt] = useState<string | null>(null);
  const [handIn, { error, isLoading, reset }] = useHandInMutation();
  const { read, look, forget } = useInspection(false);
  const waiting = useRef<number | undefined>(undefined);

  useEffect(() => {
    saveDraft(place, user.id, draft);
  }, [draft, user.id, place]);

  const { getRootProps, getInputProps, isDragActive, open, fileRejections } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    maxSize: MAX_FILE_BYTES,
    onDropAccepted: ([accepted]) => {
      setFile(accepted ?? null);
      setKey(nanoid());
      setMesh(null);
      reset();
      window.clearTimeout(waiting.current);
      if (accepted)
        void askUnit(accepted, work.unit).then((question) => {
          setMesh(question);
          if (window.matchMedia(WIDE).matches)
            waiting.current = window.setTimeout(() => {
              look(accepted, question?.unit ?? null);
            }, LOOK_AFTER_MS);
        });
    },
  });
  const inputs = work.typedValues.map((name): TypedInput => inputOf(name, draft, work));
  const problems = new Map(
    inputs.flatMap((input) => {
      const checked = checkTyped([input]);
      return checked.ok ? [] : [[input.name, checked.problem.message.replace(/^[^:]+: /, '')] as const];
    }),
  );

  const submit = async (): Promise<void> => {
    window.clearTimeout(waiting.current);
    const made = built === undefined ? file && succeed({ file, buildLog }) : await built();
    setUnbuilt(made?.ok === false ? made.problem.message : null);
    if (!made?.ok) return;
    const answer = await handIn({
      ...made.value,
      assignmentId: work.id,
      stage: work.stage,
      unit: mesh?.unit ?? null,
      typed: inputs.filter((input) => input.text.trim() !== ''),
      key,
    });
    if (!answer.data) return;
    setKey(nanoid());
    dropDraft(place, user.id);
    setBuildLog('');
    setFile(null);
    setMesh(null);
    forget();
    onHandedIn(answer.data.attemptId);
  };

  return (
    <Panel
      title="Hand in"
      aside={
        <span className="caption">
          attempt {work.attemptsUsed + 1} of {work.attemptsAllowed}
        </span>
      }
    >
      <form
        noValidate
        className="flex flex-col gap-3 p-3"
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        {built === undefined ? (
          <>
            <div
              {...getRootProps()}
              className={`flex min-h-20 flex-col items-center justify-center gap-1 border border-dashed border-ink/60 px-3 py-2 text-center ${isDragActive ? 'bg-accent-soft' : ''}`}
            >
              <input
                {...getInputProps({ 'aria-label': 'Model file', accept: acceptedExtensions() })}
                data-testid="file"
              />
              <ChosenFile file={file} onChoose={open} />
            </div>
            {mesh && (
              <UnitOfFile
                mesh={mesh}
                onChange={(chosen) => {
                  setMesh(chosen);
                  if (file !== null && read.state !== 'none') look(file, chosen.unit);
                }}
              />
            )}
            <BeforeHandIn read={read} work={work} typed={inputs} />
            {file !== null && <FileName file={file} work={work} user={user} />}
            {fileRejections.length > 0 && (
              <p role="alert" className="text-sm text-wrong">
                This file is larger than {fileSize(MAX_FILE_BYTES)}. Export the part alone and choose the smaller file.
              </p>
            )}
          </>
        ) : (
          <p className="text-sm">The part is handed in as it stands, with its build steps.</p>
        )}
        {inputs.length > 0 && (
          <TypedNumbers
            inputs={inputs}
            problems={problems}
            onChange={({ name, ...entry }) => {
              setDraft({ ...draft, [name]: entry });
            }}
          />
        )}
        {built === undefined && (work.wantsBuildLog || work.aids.plan === 'asked') && (
          <BuildSteps work={work} text={buildLog} onChange={setBuildLog} />
        )}
        {unbuilt !== null && <Alert>{unbuilt}</Alert>}
        {error && !isSignedOut(error) && <Alert>{failureText(error)}</Alert>}
        <Button
          kind="main"
          type="submit"
          disabled={(built === undefined && file === null) || problems.size > 0 || isLoading}
        >
          {isLoading ? 'Sending ...' : 'Hand in'}
        </Button>
        {built === undefined && <OtherWays work={work} />}
      </form>
    </Panel>
  );
}

interface FileNameProps {
  readonly file: File;
  readonly work: WorkDetail;
  readonly user: User;
}

/** That the course wants the file to be called otherwise; nothing where it is called so, or may be called anything. */
function FileName({ file, work: { fileNameRule, exerciseNumber }, user }: FileNameProps) {
  if (fileNameRule === null) return null;
  const wanted = wantedFileName(fileNameRule, { number: exerciseNumber, name: user.name });
  if (isCalled(file.name, wanted)) return null;
  const ending = /\.[^.]*$/.exec(file.name)?.[0] ?? '';
  return (
    <p role="status" className="border-l-4 border-near bg-near-soft px-3 py-2 text-sm">
      Your course wants this file to be called {wanted}
      {ending}.
    </p>
  );
}

/** What can be done in the page before a file is handed in, or in place of one. */
const ROUND_WORDS: Readonly<Record<WorkDetail['aids']['round'], string>> = {
  none: '',
  offered: ', and tick off every dimension that you measured.',
  counted: ': dimensions that are not measured when you hand in cost points.',
  asked: ': your course asks for every dimension to be measured first.',
};

function OtherWays({ work }: { readonly work: WorkDetail }) {
  const to = (page: string): string => `/my/${String(work.id)}/${page}?stage=${String(work.stage)}`;
  return (
    <ul className="flex flex-col gap-1 text-sm">
      {work.aids.reading !== 'none' && (
        <li>
          <Link className="underline" to={to('read')}>
            Practice reading the sheet
          </Link>
          : short questions that it answers.
        </li>
      )}
      {work.aids.plan !== 'none' && (
        <li>
          <Link className="underline" to={to('plan')}>
            Plan how to build it
          </Link>
          {work.aids.plan === 'asked'
            ? ': your course asks for a plan before you hand in.'
            : ': steps, their order and the sizes that they take.'}
        </li>
      )}
      <li>
        <Link className="underline" to={to('sizes')}>
          Work out a size
        </Link>{' '}
        that the sheet does not write.
      </li>
      {work.aids.building !== 'none' && (
        <li>
          <Link className="underline" to={to('build')}>
            Build the part here
          </Link>
          , without another program, and hand that in.
        </li>
      )}
      <li>
        <Link className="underline" to={to('measure')}>
          Measure your model first
        </Link>
        , here in the page; that uses no attempt.
      </li>
      {work.aids.round !== 'none' && (
        <li>
          <Link className="underline" to={to('round')}>
            Go round the sheet
          </Link>
          {ROUND_WORDS[work.aids.round]}
        </li>
      )}
    </ul>
  );
}

function ChosenFile({ file, onChoose }: { readonly file: File | null; readonly onChoose: () => void }) {
  return (
    <>
      {file ? (
        <span className="font-medium break-all">
          {file.name} <span className="font-normal text-soft">{fileSize(file.size)}</span>
        </span>
      ) : (
        <span className="text-soft">Drop your model here: {formatNames()}</span>
      )}
      <Button kind="quiet" onClick={onChoose}>
        <FileUp size={15} aria-hidden /> {file ? 'Choose another file' : 'Choose a file'}
      </Button>
    </>
  );
}

interface UnitOfFileProps {
  readonly mesh: UnitQuestion;
  readonly onChange: (mesh: UnitQuestion) => void;
}

function UnitOfFile({ mesh, onChange }: UnitOfFileProps) {
  return (
    <fieldset className="border-l-4 border-accent bg-accent-soft px-3 py-2" data-testid="file-unit">
      <legend className="sr-only">Unit of the file</legend>
      <p className="mb-1 text-sm">This kind of file states no unit. Which size is right?</p>
      {(['mm', 'in', 'cm', 'm'] as const).map((unit) => (
        <label key={unit} className="flex items-center gap-2 text-sm">
          <input
            type="radio"
            name="file-unit"
            checked={mesh.unit === unit}
            onChange={() => {
              onChange({ ...mesh, unit });
            }}
          />
          <span className="w-7 font-medium">{unit}</span> {mesh.text(unit)}
        </label>
      ))}
    </fieldset>
  );
}

interface TypedNumbersProps {
  readonly inputs: readonly TypedInput[];
  readonly problems: ReadonlyMap<TypedValueName, string>;
  readonly onChange: (input: TypedInput) => void;
}

function TypedNumbers({ inputs, problems, onChange }: TypedNumbersProps) {
  return (
    <fieldset>
      <legend className="text-sm font-medium">Read from your model</legend>
      <p className="mb-1 caption">Point or comma, as you like. Set the material first.</p>
      <div className="flex flex-col gap-1.5">
        {inputs.map((input) => (
          <TypedField
            key={input.name}
            input={input}
            problem={problems.get(input.name)}
            onChange={(change) => {
              onChange({ ...input, ...change });
            }}
          />
        ))}
      </div>
    </fieldset>
  );
}

interface BuildStepsProps {
  readonly work: WorkDetail;
  readonly text: string;
  readonly onChange: (text: string) => void;
}

function BuildSteps({ work, text, onChange }: BuildStepsProps) {
  const { id, stage, aids } = work;
  const { data } = usePlanQuery({ id, stage }, { skip: aids.plan === 'none', refetchOnMountOrArgChange: true });
  const plan = data?.document ?? null;
  return (
    <details open={text !== '' || (plan !== null && plan.steps.length > 0)}>
      <summary className="cursor-pointer text-sm font-medium">How you built it, if you like</summary>
      <TextArea
        label="Build steps"
        rows={4}
        className="mt-1 text-sm"
        placeholder={'Extrude plate 10\nHole 8 through all\nFillet corners'}
        hint="One step a line, in your own words; a table, JSON or a recipe can be pasted too."
        value={text}
        onChange={(event) => {
          onChange(event.target.value);
        }}
      />
      {plan !== null && plan.steps.length > 0 && text.trim() === '' && (
        <p className="text-sm">
          <button
            type="button"
            className="cursor-pointer underline"
            onClick={() => {
              onChange(planAsText(plan));
            }}
          >
            Take the steps of your plan
          </button>
          {aids.plan === 'asked' ? '; they are handed in where you write none.' : '.'}
        </p>
      )}
      <BuildLogReading text={text} />
    </details>
  );
}

function inputOf(name: TypedValueName, draft: Draft, work: WorkDetail): TypedInput {
  const entry = draft[name];
  return { name, text: entry?.text ?? '', unit: entry?.unit ?? propertyUnits(work.unit)[quantityOf(name)] };
}

function TypedField({
  input,
  problem,
  onChange,
}: {
  input: TypedInput;
  problem: string | undefined;
  onChange: (change: { text?: string; unit?: string }) => void;
}) {
  const label = TYPED_LABELS[input.name];
  const id = `typed-${input.name}`;
  return (
    <div>
      <div className="grid grid-cols-[8.5rem_minmax(0,1fr)_4.5rem] items-center gap-2">
        <label htmlFor={id} className="text-sm">
          {label}
        </label>
        <input
          id={id}
          inputMode="decimal"
          value={input.text}
          aria-invalid={problem !== undefined}
          aria-describedby={`${id}-note`}
          className="h-7 w-full min-w-0 border border-ink/60 bg-paper px-2 text-right aria-invalid:border-wrong"
          onChange={(event) => {
            onChange({ text: event.target.value });
          }}
        />
        <select
          aria-label={`Unit of ${label}`}
          value={input.unit}
          className="h-7 border border-ink/60 bg-paper px-1"
          onChange={(event) => {
            onChange({ unit: event.target.value });
          }}
        >
          {unitsOf(quantityOf(input.name)).map((unit) => (
            <option key={unit}>{unit}</option>
          ))}
        </select>
      </div>
      <p id={`${id}-note`} className="text-xs text-wrong">
        {problem}
      </p>
    </div>
  );
}
