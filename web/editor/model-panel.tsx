import { toast } from 'sonner';

import { acceptedExtensions, formatNames } from '#core/model';
import type { Exercise } from '#core/exercise';
import { formatFixed, LENGTH_UNITS, type LengthUnit } from '#core/quantity';
import { failureText, useUploadModelMutation } from '#web/api';
import { Button, FileButton, Panel, Alert } from '#web/ui';

import type { Preview } from './preview.ts';

interface ModelPanelProps {
  readonly id: number;
  readonly exercise: Exercise;
  readonly preview: Preview;
  readonly onChange: (change: (exercise: Exercise) => Exercise) => void;
  /** Marks faces of the part. */
  readonly onMark: (faceIds: ReadonlySet<number>) => void;
}

const UNITS = Object.keys(LENGTH_UNITS) as LengthUnit[];

/** A model file as the reference part: what it is, what its numbers are in, and which features it has. */
export function ModelPanel({ id, exercise, preview, onChange, onMark }: ModelPanelProps) {
  const { model } = exercise;
  const [upload, { isLoading }] = useUploadModelMutation();
  const choose = (file: File): void => {
    void upload({ id, file }).then((answer) => {
      const { data } = answer;
      if (data)
        onChange((before) => ({ ...before, model: data, variants: [], recipe: { ...before.recipe, steps: [] } }));
      else toast.error(failureText(answer.error), { duration: 12_000 });
    });
  };
  return (
    <Panel
      title={model === undefined ? 'Or a model file as the reference' : model.fileName}
      aside={
        <span className="flex gap-2">
          <FileButton
            label="Model file of the reference"
            accept={acceptedExtensions()}
            testId="reference-file"
            disabled={isLoading}
            onFile={choose}
          >
            {isLoading ? 'Sending ...' : model === undefined ? 'Choose a file' : 'Another file'}
          </FileButton>
          {model !== undefined && (
            <Button
              onClick={() => {
                onChange(({ model: _, ...rest }) => rest);
                onMark(new Set());
              }}
            >
              Build it by steps instead
            </Button>
          )}
        </span>
      }
    >
      {model === undefined ? (
        <p className="px-3 py-3 text-soft">
          {formatNames()}, one closed body. It is checked as it is: it has no letters and no variants.
        </p>
      ) : (
        <div className="flex flex-col" data-testid="model-file">
          {preview.problem !== null && <Alert>{preview.problem.message}</Alert>}
          <UnitQuestion exercise={exercise} preview={preview} onChange={onChange} />
          {preview.read?.warnings
            .filter(({ code }) => code !== 'unit-guessed')
            .map(({ code, message }) => (
              <p key={code} className="border-b border-rule px-3 py-1.5 text-sm">
                {message}
              </p>
            ))}
          {preview.read !== null && (
            <ul className="grid grid-cols-2" aria-label="Recognized features">
              {preview.read.features.map(({ kind, count, faceIds }) => (
                <li key={kind} className="border-r border-b border-rule">
                  <button
                    type="button"
                    className="flex w-full cursor-pointer justify-between px-3 py-1 text-left hover:bg-accent-soft"
                    onClick={() => {
                      onMark(new Set(faceIds));
                    }}
                  >
                    <span>{kind.replace(/-/g, ' ')}</span>
                    <span className="text-soft">{count}</span>
                  </button>
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
    </Panel>
  );
}

/** What the numbers of the file are in; a file that says so itself is only confirmed. */
function UnitQuestion({
  exercise: { model, recipe, decimals },
  preview: { part, read, building },
  onChange,
}: Pick<ModelPanelProps, 'exercise' | 'preview' | 'onChange'>) {
  if (model === undefined) return null;
  const declared = read?.source.declaredUnit ?? null;
  const put = (unit: LengthUnit | null): void => {
    onChange((before) => (before.model === undefined ? before : { ...before, model: { ...before.model, unit } }));
  };
  const size = part?.sizeMm.map((mm) => formatFixed(mm / LENGTH_UNITS[recipe.unit], decimals)).join(' x ');
  const guessed = read?.warnings.some(({ code }) => code === 'unit-guessed') === true;
  return (
    <div
      className={`flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule px-3 py-2 ${model.unit === null ? 'border-l-4 border-l-accent bg-accent-soft' : ''}`}
      data-testid="reference-unit"
    >
      <span>
        {size === undefined || building ? (
          'Reading the file ...'
        ) : (
          <>
            The part is{' '}
            <b>
              {size} {recipe.unit}
            </b>
            {declared !== null && `; the file says that its numbers are in ${declared}.`}
            {declared === null && guessed && '; the file does not say what its numbers are in.'}
            {declared === null && model.unit !== null && `, with numbers in ${model.unit}.`}
          </>
        )}
      </span>
      {declared === null && (
        <label className="flex items-center gap-2">
          Numbers are in
          <select
            aria-label="Unit of the model file"
            className="h-7 border border-ink/50 bg-paper px-1"
            value={model.unit ?? ''}
            onChange={(event) => {
              put(event.target.value === '' ? null : (event.target.value as LengthUnit));
            }}
          >
            <option value="">not confirmed</option>
            {UNITS.map((unit) => (
              <option key={unit} value={unit}>
                {unit}
              </option>
            ))}
          </select>
        </label>
      )}
      {declared !== null && model.unit === null && part !== null && (
        <Button
          kind="main"
          onClick={() => {
            put(declared);
          }}
        >
          This size is right
        </Button>
      )}
    </div>
  );
}
