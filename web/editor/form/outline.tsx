import { ArrowDown, ArrowUp, Eye, Plus, X } from 'lucide-react';

import type { Move, Outline } from '#core/outline';

import { useForm, type OutlineFormProps } from './context.ts';
import { Fields } from './field.tsx';
import { CHANGES, COMBINATIONS, MOVES, SHAPES } from './fields.ts';
import { Select } from './select.tsx';

const SMALL =
  'inline-flex h-7 cursor-pointer items-center gap-1 border border-ink/50 bg-paper px-1.5 text-xs hover:bg-accent-soft disabled:opacity-40';

const isChange = (shape: string): boolean => CHANGES.some(({ value }) => value === shape);
const isCombination = (shape: string): boolean => COMBINATIONS.some(([value]) => value === shape);

/** The outline inside a change; the outline itself where it has none. */
const innermost = (outline: Outline): Outline => ('of' in outline ? innermost(outline.of) : outline);

/** An outline: its shape and sizes, what was changed about it, and what it is put together with. */
export function OutlineForm({ value, where, onChange, onRemove }: OutlineFormProps) {
  const { shownOutline, showOutline } = useForm();
  const fields = [...SHAPES, ...CHANGES].find((choice) => choice.value === value.shape)?.fields ?? [];
  return (
    <div className="flex flex-wrap items-start gap-x-3 gap-y-1.5">
      <Select
        label="Shape"
        bare
        value={value.shape}
        options={[
          ...SHAPES.map((choice) => [choice.value, choice.label] as const),
          ...CHANGES.map((choice) => [choice.value, choice.label] as const),
          ...COMBINATIONS,
        ]}
        onChange={(shape) => {
          onChange(reshaped(value, shape));
        }}
      />
      {'parts' in value ? (
        <Parts value={value} where={where} onChange={onChange} />
      ) : (
        <Fields fields={fields} value={value} onChange={onChange} where={where} />
      )}
      {value.shape === 'path' && <Moves value={value} onChange={onChange} />}
      <span className="flex gap-1">
        <button
          type="button"
          className={SMALL}
          aria-pressed={shownOutline === where}
          onClick={() => {
            showOutline(where);
          }}
        >
          <Eye size={13} aria-hidden /> Show
        </button>
        <Select
          label="Change the outline"
          bare
          value=""
          options={[
            ['', 'Change ...'],
            ...CHANGES.map((choice) => [choice.value, choice.label] as const),
            ...COMBINATIONS,
          ]}
          onChange={(shape) => {
            if (shape !== '') onChange(wrapped(value, shape));
          }}
        />
        {isChange(value.shape) && 'of' in value && (
          <button
            type="button"
            className={SMALL}
            onClick={() => {
              onChange(value.of);
            }}
          >
            Undo this change
          </button>
        )}
        {onRemove && (
          <button type="button" className={SMALL} aria-label="Remove this outline" onClick={onRemove}>
            <X size={13} aria-hidden />
          </button>
        )}
      </span>
    </div>
  );
}

/** The outline with a change or a second part around it. */
function wrapped(outline: Outline, shape: string): Outline {
  if (isCombination(shape))
    return {
      shape: shape as 'union' | 'difference' | 'intersection',
      parts: [outline, { shape: 'circle', center: ['0', '0'], diameter: '10' }],
    };
  const change = CHANGES.find((choice) => choice.value === shape);
  return change === undefined ? outline : ({ ...(change.make() as object), of: outline } as Outline);
}

/** Another shape in the place of an outline; where both are changes or combinations, what they hold is kept. */
function reshaped(outline: Outline, shape: string): Outline {
  if (isCombination(shape))
    return 'parts' in outline
      ? { ...outline, shape: shape as 'union' | 'difference' | 'intersection' }
      : wrapped(outline, shape);
  if (isChange(shape)) return wrapped('of' in outline ? outline.of : outline, shape);
  const inner = innermost(outline);
  if (inner.shape === shape) return inner;
  const fresh = SHAPES.find((choice) => choice.value === shape)?.make() as Outline | undefined;
  if (fresh === undefined) return outline;
  return 'center' in inner && 'center' in fresh ? { ...fresh, center: inner.center } : fresh;
}

function Parts({
  value,
  where,
  onChange,
}: {
  value: Extract<Outline, { parts: unknown }>;
  where: string;
  onChange: (value: Outline) => void;
}) {
  return (
    <ul className="flex w-full flex-col gap-2">
      {value.parts.map((part, i) => (
        <li key={i} className="border-l-2 border-rule pl-2">
          <OutlineForm
            value={part}
            where={`${where}.parts.${String(i)}`}
            onChange={(next) => {
              onChange({ ...value, parts: value.parts.map((other, j) => (j === i ? next : other)) });
            }}
            onRemove={() => {
              const parts = value.parts.filter((_, j) => j !== i);
              const [only] = parts;
              onChange(parts.length === 1 && only !== undefined ? only : { ...value, parts });
            }}
          />
        </li>
      ))}
      <li>
        <button
          type="button"
          className={SMALL}
          onClick={() => {
            const next: Outline = { shape: 'circle', center: ['0', '0'], diameter: '10' };
            onChange({ ...value, parts: [...value.parts, next] });
          }}
        >
          <Plus size={13} aria-hidden /> Part
        </button>
      </li>
    </ul>
  );
}

function Moves({
  value,
  onChange,
}: {
  value: Extract<Outline, { shape: 'path' }>;
  onChange: (value: Outline) => void;
}) {
  const { segments } = value;
  const put = (moves: readonly Move[]) => {
    onChange({ ...value, segments: moves });
  };
  const swap = (i: number, j: number) => {
    const [a, b] = [segments[i], segments[j]];
    if (a && b) put(segments.map((move, k) => (k === i ? b : k === j ? a : move)));
  };
  return (
    <fieldset className="w-full">
      <legend className="text-xs text-soft">Moves from the start</legend>
      <Fields
        fields={[{ kind: 'point', path: ['start'], label: 'Start' }]}
        value={value}
        onChange={onChange}
        where=""
      />
      <ol className="mt-1 flex flex-col gap-1">
        {segments.map((move, i) => (
          <li key={i} className="flex flex-wrap items-center gap-1.5">
            <span className="w-4 text-xs text-soft">{i + 1}</span>
            <Select
              label={`Move ${String(i + 1)}`}
              bare
              value={move.move}
              options={MOVES.map((choice) => [choice.value, choice.label])}
              onChange={(kind) => {
                const fresh = MOVES.find((choice) => choice.value === kind)?.make() as Move | undefined;
                if (fresh) put(segments.map((other, j) => (j === i ? fresh : other)));
              }}
            />
            <Fields
              fields={MOVES.find((choice) => choice.value === move.move)?.fields ?? []}
              value={move}
              onChange={(next) => {
                put(segments.map((other, j) => (j === i ? next : other)));
              }}
              where=""
            />
            <button
              type="button"
              className={SMALL}
              disabled={i === 0}
              aria-label={`Move ${String(i + 1)} earlier`}
              onClick={() => swap(i, i - 1)}
            >
              <ArrowUp size={13} aria-hidden />
            </button>
            <button
              type="button"
              className={SMALL}
              disabled={i === segments.length - 1}
              aria-label={`Move ${String(i + 1)} later`}
              onClick={() => swap(i, i + 1)}
            >
              <ArrowDown size={13} aria-hidden />
            </button>
            <button
              type="button"
              className={SMALL}
              disabled={segments.length <= 2}
              aria-label={`Remove move ${String(i + 1)}`}
              onClick={() => {
                put(segments.filter((_, j) => j !== i));
              }}
            >
              <X size={13} aria-hidden />
            </button>
            <button
              type="button"
              className={SMALL}
              aria-label={`Add a move after ${String(i + 1)}`}
              onClick={() => {
                put([...segments.slice(0, i + 1), { move: 'line-by', by: ['10', '0'] }, ...segments.slice(i + 1)]);
              }}
            >
              <Plus size={13} aria-hidden />
            </button>
          </li>
        ))}
      </ol>
    </fieldset>
  );
}
