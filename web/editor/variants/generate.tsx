import { useState } from 'react';
import { toast } from 'sonner';

import type { Exercise, Variant } from '#core/exercise';
import type { Recipe } from '#core/recipe';
import type { ParameterRange } from '#core/variant';
import { Button, Panel, plural, TextField } from '#web/ui';
import { SUPERSEDED, type WorkshopClient } from '#web/workshop';

interface GenerateProps {
  readonly exercise: Exercise;
  readonly workshop: WorkshopClient;
  readonly onFound: (variants: readonly Variant[]) => void;
}

type Range = Readonly<Record<'from' | 'to' | 'step', string>>;
const EMPTY = { from: '', to: '', step: '' };
const number = (text: string): number => (text.trim() === '' ? Number.NaN : Number(text.trim().replace(',', '.')));

/** Ranges that are filled in. */
const filledOf = (ranges: Readonly<Record<string, Range>>): readonly ParameterRange[] =>
  Object.entries(ranges).flatMap(([name, { from, to, step }]) =>
    from.trim() === '' || to.trim() === '' || step.trim() === ''
      ? []
      : [{ name, from: number(from), to: number(to), step: number(step) }],
  );

/** Variants from ranges of the letters: built, and kept where they are sound and unlike the others. */
export function Generate({ exercise, workshop, onFound }: GenerateProps) {
  const [ranges, setRanges] = useState<Readonly<Record<string, Range>>>({});
  const [wanted, setWanted] = useState('6');
  const [seed, setSeed] = useState('1');
  const [progress, setProgress] = useState<string | null>(null);
  const filled = filledOf(ranges);
  const generate = async (): Promise<void> => {
    setProgress('0');
    const asked = {
      ranges: filled,
      wanted: Math.min(200, Math.max(1, Math.round(number(wanted)))),
      seed: Math.round(number(seed)),
    };
    const result = await workshop.ask<'generate'>({ kind: 'generate', exercise, ...asked }, (done, total) => {
      setProgress(`${String(done)} of ${String(total)}`);
    });
    setProgress(null);
    if (!result.ok) {
      if (result.problem.code !== SUPERSEDED) toast.error(result.problem.message);
      return;
    }
    onFound(result.value.variants);
    const left = Object.values(result.value.left).reduce((sum, count) => sum + count, 0);
    toast.success(
      `${plural(result.value.variants.length, 'variant')} found; ${plural(left, 'set')} of values left out.`,
    );
  };
  return (
    <Panel title="Generate from ranges">
      <form
        className="flex flex-col gap-2 px-3 py-2"
        onSubmit={(event) => {
          event.preventDefault();
          void generate();
        }}
      >
        {exercise.recipe.parameters.map((parameter) => (
          <RangeOf
            key={parameter.name}
            parameter={parameter}
            range={ranges[parameter.name] ?? EMPTY}
            onChange={(range) => {
              setRanges({ ...ranges, [parameter.name]: range });
            }}
          />
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

interface RangeOfProps {
  readonly parameter: Recipe['parameters'][number];
  readonly range: Range;
  readonly onChange: (range: Range) => void;
}

function RangeOf({ parameter: { name, label, value }, range, onChange }: RangeOfProps) {
  return (
    <fieldset className="flex items-center gap-2 text-sm">
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
            value={range[part]}
            onChange={(event) => {
              onChange({ ...range, [part]: event.target.value });
            }}
          />
        </label>
      ))}
    </fieldset>
  );
}
