import { useMemo, useState } from 'react';
import { toast } from 'sonner';

import type { Exercise, ExerciseStage, Variant } from '#core/exercise';
import { formatFixed, propertyUnits, unitFactor } from '#core/quantity';
import type { Step } from '#core/recipe';
import {
  keyAsCsv,
  type KeyEntry,
  keyRows,
  type ParameterRange,
  parseVariantTable,
  variantTable,
  type VariantVerdict,
} from '#core/variant';
import { failureText, usePrintKeyMutation } from '#web/api';
import { Button, Panel, plural, TextField } from '#web/ui';
import { SUPERSEDED, useAsked, type WorkshopClient } from '#web/workshop';

interface VariantsTabProps {
  /** Of the exercise. */
  readonly id: number;
  readonly exercise: Exercise;
  readonly workshop: WorkshopClient;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

/** Other values of the letters for other students, and the numbers that prove each part. */
export function VariantsTab({ id, exercise, workshop, onChange }: VariantsTabProps) {
  const { recipe, variants, stages, checks } = exercise;
  const basis = useMemo(() => ({ recipe, variants, checks }), [recipe, variants, checks]);
  const [printKey] = usePrintKeyMutation();
  const [worked, setWorked] = useState<{ readonly of: object; readonly entries: readonly KeyEntry[] } | null>(null);
  const [progress, setProgress] = useState<string | null>(null);
  const judged = useAsked<'judge', typeof basis>(workshop, variants.length === 0 ? null : basis, () => ({
    kind: 'judge',
    exercise: { ...exercise, ...basis },
  }));
  const verdicts = variants.length === 0 ? [] : judged.of === basis ? judged.value : null;
  const keyBasis = useMemo(() => ({ recipe, variants, stages }), [recipe, variants, stages]);
  const key = worked?.of === keyBasis ? worked.entries : null;
  const put = (next: readonly Variant[], topic: string | null = null) => {
    onChange((before) => ({ ...before, variants: [...next] }), topic);
  };
  if (recipe.parameters.length === 0)
    return (
      <p className="text-soft">The part has no letters. Give it some, and it can differ from student to student.</p>
    );
  const bad = verdicts?.filter(({ problem }) => problem !== null).length ?? 0;
  return (
    <div className="flex flex-col gap-4">
      <Panel
        title={
          variants.length === 0
            ? 'Every student gets the values of the sheet'
            : verdicts === null
              ? `${plural(variants.length, 'variant')}, being built ...`
              : bad > 0
                ? `${plural(bad, 'variant')} of ${String(variants.length)} cannot be given out`
                : `${plural(variants.length, 'variant')}, all sound and none alike`
        }
        aside={
          <span className="flex gap-2">
            <Button
              onClick={() => {
                put([...variants, { name: freeName(variants), values: {} }]);
              }}
            >
              Add one
            </Button>
            {variants.length > 0 && (
              <Button
                onClick={() => {
                  put([]);
                }}
              >
                Remove all
              </Button>
            )}
          </span>
        }
      >
        {variants.length > 0 && (
          <table className="w-full text-sm" data-testid="variants">
            <thead>
              <tr className="border-b border-rule text-left caption">
                <th className="px-3 py-1 font-normal">Variant</th>
                {recipe.parameters.map(({ name, label }) => (
                  <th key={name} className="font-normal" title={label}>
                    {name}
                  </th>
                ))}
                <th className="font-normal">Volume</th>
                <th className="font-normal">State</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {variants.map((variant, i) => (
                <VariantRow
                  key={i}
                  variant={variant}
                  exercise={exercise}
                  verdict={verdicts?.[i]}
                  onChange={(next, topic) => {
                    put(
                      variants.map((other, j) => (j === i ? next : other)),
                      topic === null ? null : `variant ${String(i)} ${topic}`,
                    );
                  }}
                  onRemove={() => {
                    put(variants.filter((_, j) => j !== i));
                  }}
                />
              ))}
            </tbody>
          </table>
        )}
      </Panel>
      <div className="grid items-start gap-4 lg:grid-cols-2">
        <Generate
          exercise={exercise}
          progress={progress}
          onGenerate={(ranges, wanted, seed) => {
            setProgress('0');
            void workshop
              .ask<'generate'>({ kind: 'generate', exercise, ranges, wanted, seed }, (done, total) => {
                setProgress(`${String(done)} of ${String(total)}`);
              })
              .then((result) => {
                setProgress(null);
                if (!result.ok) {
                  if (result.problem.code !== SUPERSEDED) toast.error(result.problem.message);
                  return;
                }
                put(result.value.variants);
                const left = Object.values(result.value.left).reduce((sum, count) => sum + count, 0);
                toast.success(
                  `${plural(result.value.variants.length, 'variant')} found; ${plural(left, 'set')} of values left out.`,
                );
              });
          }}
        />
        <Pasted exercise={exercise} onPut={put} />
      </div>
      <Stages exercise={exercise} onChange={onChange} />
      <Panel
        title="Answer key"
        aside={
          <span className="flex gap-2">
            <Button
              onClick={() => {
                void workshop.ask<'key'>({ kind: 'key', exercise }).then((result) => {
                  if (result.ok) setWorked({ of: keyBasis, entries: result.value });
                  else if (result.problem.code !== SUPERSEDED) toast.error(result.problem.message);
                });
              }}
            >
              Work out the key
            </Button>
            {key !== null && (
              <>
                <Button
                  onClick={() => {
                    const letters = recipe.parameters.map(({ name }) => name);
                    download(`${exercise.number}-key.csv`, new Blob([keyAsCsv(key, letters)], { type: 'text/csv' }));
                  }}
                >
                  Key as CSV
                </Button>
                <Button
                  onClick={() => {
                    void printKey({ id, entries: [...key] })
                      .unwrap()
                      .then((pdf) => {
                        download(`${exercise.number}-key.pdf`, pdf);
                      })
                      .catch((error: unknown) => toast.error(failureText(error)));
                  }}
                >
                  Key as PDF
                </Button>
              </>
            )}
          </span>
        }
      >
        {key === null ? (
          <p className="px-3 py-3 text-soft">
            Volume, mass, area, center and size of every variant and stage.
            {recipe.steps.some((step) => step.op === 'thread' || (step.op === 'hole' && step.tapped))
              ? ' Threads are not part of the volume or the mass.'
              : ''}
          </p>
        ) : (
          <KeyTable entries={key} exercise={exercise} />
        )}
      </Panel>
    </div>
  );
}

const freeName = (variants: readonly Variant[]): string => {
  const taken = new Set(variants.map(({ name }) => name));
  for (let n = variants.length + 1; ; n++) if (!taken.has(String(n))) return String(n);
};

function download(name: string, content: Blob): void {
  const url = URL.createObjectURL(content);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

function VariantRow({
  variant,
  exercise,
  verdict,
  onChange,
  onRemove,
}: {
  variant: Variant;
  exercise: Exercise;
  verdict: VariantVerdict | undefined;
  onChange: (variant: Variant, topic: string | null) => void;
  onRemove: () => void;
}) {
  const { recipe } = exercise;
  return (
    <tr className="border-b border-rule">
      <td className="px-3 py-0.5 font-medium">{variant.name}</td>
      {recipe.parameters.map(({ name, value }) => (
        <td key={name} className="pr-1">
          <input
            aria-label={`${name} of variant ${variant.name}`}
            className="h-7 w-20 border border-rule bg-transparent px-1"
            placeholder={value}
            value={variant.values[name] ?? ''}
            onChange={(event) => {
              const { [name]: _, ...rest } = variant.values;
              const text = event.target.value.trim();
              onChange({ ...variant, values: text === '' ? rest : { ...rest, [name]: text } }, name);
            }}
          />
        </td>
      ))}
      <td className="pr-2">{verdict?.properties ? volumeText(verdict.properties.volumeMm3, exercise) : ''}</td>
      <td>
        {verdict === undefined ? (
          <span className="text-soft">...</span>
        ) : verdict.problem === null ? (
          '✓ sound'
        ) : (
          <span className="text-wrong">✕ {verdict.problem.message}</span>
        )}
      </td>
      <td>
        <button
          type="button"
          className="cursor-pointer px-2 underline"
          aria-label={`Remove variant ${variant.name}`}
          onClick={onRemove}
        >
          Remove
        </button>
      </td>
    </tr>
  );
}

function volumeText(mm3: number, { recipe: { unit } }: Exercise): string {
  const own = propertyUnits(unit).volume;
  return `${formatFixed(mm3 / unitFactor(own, 'volume'), unit === 'mm' ? 1 : 4)} ${own}`;
}

function Generate({
  exercise: { recipe },
  progress,
  onGenerate,
}: {
  exercise: Exercise;
  progress: string | null;
  onGenerate: (ranges: readonly ParameterRange[], wanted: number, seed: number) => void;
}) {
  const [ranges, setRanges] = useState<Readonly<Record<string, { from: string; to: string; step: string }>>>({});
  const [wanted, setWanted] = useState('6');
  const [seed, setSeed] = useState('1');
  const filled = Object.entries(ranges).flatMap(([name, { from, to, step }]): ParameterRange[] =>
    from.trim() === '' || to.trim() === '' || step.trim() === ''
      ? []
      : [{ name, from: number(from), to: number(to), step: number(step) }],
  );
  return (
    <Panel title="Generate from ranges">
      <form
        className="flex flex-col gap-2 px-3 py-2"
        onSubmit={(event) => {
          event.preventDefault();
          onGenerate(filled, Math.min(200, Math.max(1, Math.round(number(wanted)))), Math.round(number(seed)));
        }}
      >
        {recipe.parameters.map(({ name, value, label }) => (
          <fieldset key={name} className="flex items-center gap-2 text-sm">
            <legend className="sr-only">Range of {name}</legend>
            <span className="w-32 truncate">
              <b>{name}</b> {label} <span className="text-soft">({value})</span>
            </span>
            {(['from', 'to', 'step'] as const).map((part) => (
              <label key={part} className="flex items-center gap-1">
                <span className="text-xs text-soft">{part}</span>
                <input
                  aria-label={`${name} ${part}`}
                  className="h-7 w-16 border border-ink/50 bg-paper px-1"
                  value={ranges[name]?.[part] ?? ''}
                  onChange={(event) => {
                    setRanges({ ...ranges, [name]: { ...(ranges[name] ?? EMPTY), [part]: event.target.value } });
                  }}
                />
              </label>
            ))}
          </fieldset>
        ))}
        <span className="flex items-end gap-3">
          <span className="w-20">
            <TextField label="How many" value={wanted} onChange={(event) => setWanted(event.target.value)} />
          </span>
          <span className="w-20">
            <TextField label="Seed" value={seed} onChange={(event) => setSeed(event.target.value)} />
          </span>
          <span className="mb-1">
            <Button type="submit" kind="main" disabled={filled.length === 0 || progress !== null}>
              {progress === null ? 'Generate' : `Building ${progress} ...`}
            </Button>
          </span>
        </span>
        <p className="text-xs text-soft">
          Each is built; kept are those that keep every surface of the part and differ in volume by more than three
          tolerances. The same seed gives the same variants.
        </p>
      </form>
    </Panel>
  );
}

const EMPTY = { from: '', to: '', step: '' };
const number = (text: string): number => (text.trim() === '' ? Number.NaN : Number(text.trim().replace(',', '.')));

function Pasted({ exercise, onPut }: { exercise: Exercise; onPut: (variants: readonly Variant[]) => void }) {
  const [text, setText] = useState('');
  const { parameters } = exercise.recipe;
  return (
    <Panel title="Paste from a spreadsheet">
      <div className="flex flex-col gap-2 px-3 py-2">
        <textarea
          aria-label="Table of variants"
          className="h-32 w-full border border-ink/50 bg-paper p-2 font-mono text-xs"
          placeholder={variantTable(parameters, [{ name: '1', values: {} }])}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
          }}
        />
        <span className="flex gap-2">
          <Button
            disabled={text.trim() === ''}
            onClick={() => {
              const parsed = parseVariantTable(text, parameters);
              if (parsed.ok) {
                onPut(parsed.value);
                setText('');
              } else toast.error(parsed.problem.message);
            }}
          >
            Use these values
          </Button>
          {exercise.variants.length > 0 && (
            <Button
              onClick={() => {
                setText(variantTable(parameters, exercise.variants));
              }}
            >
              Show the present ones
            </Button>
          )}
        </span>
      </div>
    </Panel>
  );
}

function Stages({ exercise, onChange }: Pick<VariantsTabProps, 'exercise' | 'onChange'>) {
  const { stages, recipe } = exercise;
  const put = (place: number, changes: Partial<ExerciseStage>, topic: string) => {
    onChange(
      (before) => ({
        ...before,
        stages: before.stages.map((other, j) => (j === place ? { ...other, ...changes } : other)),
      }),
      `stage ${String(place)} ${topic}`,
    );
  };
  return (
    <Panel
      title={stages.length === 0 ? 'One stage' : `${String(stages.length + 1)} stages`}
      aside={
        <Button
          disabled={stages.length >= 4}
          onClick={() => {
            onChange((before) => ({
              ...before,
              stages: [...before.stages, { title: `Stage ${String(before.stages.length + 2)}`, brief: '', values: {} }],
            }));
          }}
        >
          Add a stage
        </Button>
      }
    >
      {stages.length === 0 ? (
        <p className="px-3 py-3 text-soft">
          A later stage asks for the same part again, with changed values or more steps.
        </p>
      ) : (
        <ul>
          {stages.map((stage, i) => (
            <li key={i} className="flex flex-wrap items-end gap-3 border-b border-rule px-3 py-2">
              <span className="w-40">
                <TextField
                  label="Title"
                  value={stage.title}
                  onChange={(event) => {
                    const title = event.target.value;
                    if (title !== '') put(i, { title }, 'title');
                  }}
                />
              </span>
              {recipe.parameters.map(({ name, value }) => (
                <span key={name} className="w-20">
                  <TextField
                    label={name}
                    placeholder={value}
                    value={stage.values[name] ?? ''}
                    onChange={(event) => {
                      const text = event.target.value.trim();
                      const { [name]: _, ...rest } = stage.values;
                      const values = text === '' ? rest : { ...rest, [name]: text };
                      put(i, { values }, name);
                    }}
                  />
                </span>
              ))}
              <span className="w-full">
                <TextField
                  label="What is asked"
                  value={stage.brief}
                  maxLength={500}
                  onChange={(event) => {
                    put(i, { brief: event.target.value }, 'brief');
                  }}
                />
              </span>
              <AddedSteps
                stage={stage}
                steps={recipe.steps}
                onChange={(adds) => {
                  put(i, { adds: adds.length === 0 ? undefined : adds }, 'adds');
                }}
              />
              <span className="mb-5">
                <Button
                  onClick={() => {
                    onChange((before) => ({ ...before, stages: before.stages.filter((_, j) => j !== i) }));
                  }}
                >
                  Remove
                </Button>
              </span>
            </li>
          ))}
        </ul>
      )}
    </Panel>
  );
}

/** Steps that are switched off in the part can be added by a stage. */
function AddedSteps({
  stage: { adds = [] },
  steps,
  onChange,
}: {
  stage: ExerciseStage;
  steps: readonly Step[];
  onChange: (adds: readonly string[]) => void;
}) {
  const off = steps.filter((step) => step.off === true || adds.includes(step.id));
  if (off.length === 0)
    return <p className="w-full text-xs text-soft">Switch a step off in the part, and a stage can add it.</p>;
  return (
    <fieldset className="flex w-full flex-wrap gap-x-4 text-sm">
      <legend className="font-medium">Adds the steps</legend>
      {off.map(({ id, label }) => (
        <label key={id} className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={adds.includes(id)}
            onChange={(event) => {
              onChange(event.target.checked ? [...adds, id] : adds.filter((other) => other !== id));
            }}
          />
          {label ?? id}
        </label>
      ))}
    </fieldset>
  );
}

function KeyTable({ entries, exercise }: { entries: readonly KeyEntry[]; exercise: Exercise }) {
  const { head, body } = keyRows(entries, exercise);
  return (
    <table className="w-full text-sm" data-testid="key">
      <thead>
        <tr className="border-b border-rule text-left caption">
          {head.map((title, i) => (
            <th key={title} className={`py-1 font-normal ${i === 0 ? 'px-3' : ''}`}>
              {title}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {body.map((cells) => (
          <tr key={cells.slice(0, 2).join(' ')} className="border-b border-rule">
            {cells.map((cell, i) => (
              <td key={head[i]} className={`py-1 ${i === 0 ? 'px-3 font-medium' : 'pr-2'}`}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
