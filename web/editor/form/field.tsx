import { Plus, X } from 'lucide-react';
import { useId } from 'react';

import type { Outline } from '#core/outline';
import { type AxisReference, type EdgeSelector, type Field, getIn, type PlaneReference, setIn } from '#core/recipe';

import { useForm } from './context.ts';
import { ExpressionInput } from './expression.tsx';

import { Select } from './select.tsx';
import { EdgesInput, PickButton, SurfaceInput } from './surfaces.tsx';

type PointText = readonly [string, string];
const SMALL =
  'inline-flex h-7 cursor-pointer items-center gap-1 border border-ink/50 bg-paper px-1.5 text-xs hover:bg-accent-soft';

/** The fields of a part of a step. `where` tells apart outlines that are shown in the plane view. */
export function Fields<T>({
  fields,
  value,
  onChange,
  where,
}: {
  fields: readonly Field[];
  value: T;
  onChange: (value: T) => void;
  where: string;
}) {
  return fields.map((field) => (
    <FieldInput
      key={field.path.join('.')}
      field={field}
      value={getIn(value, field.path)}
      where={`${where}.${field.path.join('.')}`}
      onChange={(next) => {
        onChange(setIn(value, field.path, next));
      }}
    />
  ));
}

interface FieldInputProps {
  readonly field: Field;
  readonly value: unknown;
  readonly where: string;
  readonly onChange: (value: unknown) => void;
}

function FieldInput({ field, value, where, onChange }: FieldInputProps) {
  const { OutlineForm } = useForm();
  const { label } = field;
  switch (field.kind) {
    case 'length':
    case 'angle':
    case 'count':
      return (
        <ExpressionInput
          label={label}
          quantity={field.kind}
          optional={field.optional}
          value={value as string | undefined}
          onChange={onChange}
        />
      );
    case 'pick':
      return (
        <Select
          label={label}
          value={(value as string | undefined) ?? field.options[0]?.[0] ?? ''}
          options={field.options}
          onChange={onChange}
        />
      );
    case 'flag':
      return (
        <label className="inline-flex cursor-pointer items-center gap-1.5 text-xs">
          <input
            type="checkbox"
            checked={value === true}
            onChange={(event) => {
              onChange(event.target.checked ? true : label === 'Keep the original too' ? false : undefined);
            }}
          />
          {label}
        </label>
      );
    case 'text':
      return (
        <TextInput label={label} optional={field.optional} value={value as string | undefined} onChange={onChange} />
      );
    case 'numbers':
      return <NumbersInput label={label} value={value as readonly number[] | undefined} onChange={onChange} />;
    case 'point':
      return <PointInput label={label} value={value as PointText} onChange={onChange} />;
    case 'points':
      return <PointsInput label={label} value={value as readonly PointText[]} onChange={onChange} />;
    case 'plane':
      return <PlaneInput label={label} value={value as PlaneReference} onChange={onChange} />;
    case 'axis':
      return <AxisInput label={label} value={value as AxisReference} onChange={onChange} />;
    case 'surface':
      return <SurfaceInput label={label} value={value as string} onChange={onChange} />;
    case 'optional-surface':
      return (
        <span className="inline-flex items-center gap-1">
          <SurfaceInput
            label={label}
            value={value as string | undefined}
            none="first of the edge"
            onChange={onChange}
          />
          {value !== undefined && (
            <button type="button" className={SMALL} aria-label={`Clear ${label}`} onClick={() => onChange(undefined)}>
              <X size={13} aria-hidden />
            </button>
          )}
        </span>
      );
    case 'surfaces':
      return <SurfacesInput label={label} value={value as readonly string[]} onChange={onChange} />;
    case 'edges':
      return <EdgesInput value={value as readonly EdgeSelector[]} onChange={onChange} />;
    case 'steps':
    case 'optional-steps':
      return (
        <StepsInput
          label={label}
          value={value as readonly string[] | undefined}
          body={field.kind === 'optional-steps'}
          onChange={onChange}
        />
      );
    case 'outline':
      return (
        <fieldset className="w-full border-l-2 border-rule pl-2">
          <legend className="text-xs text-soft">{label}</legend>
          <OutlineForm value={value as Outline} onChange={onChange} where={where} />
        </fieldset>
      );
    case 'outlines':
      return <OutlinesInput value={value as readonly Outline[]} onChange={onChange} where={where} />;
    case 'choice': {
      const chosen = field.of(value);
      const fields = field.choices.find((choice) => choice.value === chosen)?.fields ?? [];
      return (
        <span className="flex w-full flex-wrap items-start gap-x-3 gap-y-1.5">
          <Select
            label={label}
            value={chosen}
            options={field.choices.map((choice) => [choice.value, choice.label])}
            onChange={(next) => {
              onChange(field.choices.find((choice) => choice.value === next)?.make());
            }}
          />
          <Fields fields={fields} value={value} onChange={onChange} where={where} />
        </span>
      );
    }
  }
}

function TextInput({
  label,
  value,
  optional,
  onChange,
}: {
  label: string;
  value: string | undefined;
  optional: string | undefined;
  onChange: (value: string | undefined) => void;
}) {
  const id = useId();
  return (
    <span className="inline-flex items-baseline gap-1.5">
      <label htmlFor={id} className="text-xs text-soft">
        {label}
      </label>
      <input
        id={id}
        value={value ?? ''}
        placeholder={optional}
        className="h-7 w-32 border border-ink/50 bg-paper px-1.5"
        onChange={(event) => {
          const text = event.target.value;
          if (text.trim() !== '') onChange(text);
          else if (optional !== undefined) onChange(undefined);
        }}
      />
    </span>
  );
}

/** Whole numbers parted by commas or spaces. */
function NumbersInput({
  label,
  value,
  onChange,
}: {
  label: string;
  value: readonly number[] | undefined;
  onChange: (value: readonly number[] | undefined) => void;
}) {
  const id = useId();
  const text = value?.join(', ') ?? '';
  return (
    <span className="inline-flex items-baseline gap-1.5">
      <label htmlFor={id} className="text-xs text-soft">
        {label}
      </label>
      <input
        id={id}
        key={text}
        defaultValue={text}
        className="h-7 w-20 border border-ink/50 bg-paper px-1.5"
        onBlur={(event) => {
          const numbers = event.target.value
            .split(/[\s,;]+/)
            .map(Number)
            .filter((number) => Number.isInteger(number) && number > 0);
          onChange(numbers.length === 0 ? undefined : numbers);
        }}
      />
    </span>
  );
}

function PointInput({
  label,
  value,
  onChange,
  bare = false,
}: {
  label: string;
  value: PointText;
  onChange: (value: PointText) => void;
  bare?: boolean;
}) {
  const [u, v] = value;
  return (
    <span role="group" aria-label={label} className="inline-flex items-baseline gap-1">
      {!bare && <span className="text-xs text-soft">{label}</span>}
      <ExpressionInput
        label={`${label}, across`}
        bare
        quantity="length"
        value={u}
        onChange={(text) => onChange([text ?? '0', v])}
      />
      <ExpressionInput
        label={`${label}, up`}
        bare
        quantity="length"
        value={v}
        onChange={(text) => onChange([u, text ?? '0'])}
      />
    </span>
  );
}

function PointsInput({
  label,
  value,
  onChange,
}: {
  label: string;
  value: readonly PointText[];
  onChange: (value: readonly PointText[]) => void;
}) {
  return (
    <fieldset className="w-full">
      <legend className="text-xs text-soft">{label}, across and up</legend>
      <ol className="flex flex-wrap gap-x-3 gap-y-1">
        {value.map((point, i) => (
          <li key={i} className="inline-flex items-baseline gap-1">
            <span className="text-xs text-soft">{i + 1}</span>
            <PointInput
              label={`Point ${String(i + 1)}`}
              bare
              value={point}
              onChange={(next) => {
                onChange(value.map((other, j) => (j === i ? next : other)));
              }}
            />
            {value.length > 1 && (
              <button
                type="button"
                className={SMALL}
                aria-label={`Remove point ${String(i + 1)}`}
                onClick={() => {
                  onChange(value.filter((_, j) => j !== i));
                }}
              >
                <X size={13} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ol>
      <button
        type="button"
        className={`${SMALL} mt-1`}
        onClick={() => {
          onChange([...value, value.at(-1) ?? ['0', '0']]);
        }}
      >
        <Plus size={13} aria-hidden /> Point
      </button>
    </fieldset>
  );
}

function PlaneInput({
  label,
  value,
  onChange,
}: {
  label: string;
  value: PlaneReference;
  onChange: (value: PlaneReference) => void;
}) {
  const { surfaces, planeIds } = useForm();
  const key =
    'base' in value ? `base ${value.base}` : 'surface' in value ? `surface ${value.surface}` : `plane ${value.plane}`;
  const options: (readonly [string, string])[] = [
    ['base XY', 'ground plane XY'],
    ['base XZ', 'front plane XZ'],
    ['base YZ', 'side plane YZ'],
    ...planeIds.map((id) => [`plane ${id}`, `plane ${id}`] as const),
    ...surfaces.map((name) => [`surface ${name}`, name] as const),
  ];
  if (!options.some(([option]) => option === key)) options.push([key, `${key.split(' ')[1] ?? key} (not on the part)`]);
  const offset = value.offset === undefined ? {} : { offset: value.offset };
  return (
    <span className="inline-flex flex-wrap items-center gap-1.5">
      <Select
        label={label}
        value={key}
        options={options}
        onChange={(next) => {
          const [kind, name = ''] = next.split(' ');
          if (kind === 'base') onChange({ base: name as 'XY' | 'XZ' | 'YZ', ...offset });
          else if (kind === 'surface') onChange({ surface: name, ...offset });
          else onChange({ plane: name, ...offset });
        }}
      />
      <PickButton
        label={label.toLowerCase()}
        onPicked={([name]) => {
          if (name !== undefined) onChange({ surface: name, ...offset });
        }}
      />
      <ExpressionInput
        label="moved by"
        quantity="length"
        optional="0"
        value={value.offset}
        onChange={(text) => {
          const { offset: _, ...rest } = value;
          onChange(text === undefined ? rest : { ...rest, offset: text });
        }}
      />
    </span>
  );
}

function AxisInput({
  label,
  value,
  onChange,
}: {
  label: string;
  value: AxisReference;
  onChange: (value: AxisReference) => void;
}) {
  const { surfaces, axisIds } = useForm();
  const key =
    'base' in value ? `base ${value.base}` : 'surface' in value ? `surface ${value.surface}` : `axis ${value.axis}`;
  const options: (readonly [string, string])[] = [
    ...(['X', 'Y', 'Z'] as const).map((name) => [`base ${name}`, `${name} axis`] as const),
    ...axisIds.map((id) => [`axis ${id}`, `axis ${id}`] as const),
    ...surfaces.map((name) => [`surface ${name}`, `axis of ${name}`] as const),
  ];
  return (
    <Select
      label={label}
      value={key}
      options={options}
      onChange={(next) => {
        const [kind, name = ''] = next.split(' ');
        if (kind === 'base') onChange({ base: name as 'X' | 'Y' | 'Z' });
        else if (kind === 'surface') onChange({ surface: name });
        else onChange({ axis: name });
      }}
    />
  );
}

function SurfacesInput({
  label,
  value,
  onChange,
}: {
  label: string;
  value: readonly string[];
  onChange: (value: readonly string[]) => void;
}) {
  return (
    <span className="inline-flex flex-wrap items-center gap-1">
      {value.map((name, i) => (
        <SurfaceInput
          key={i}
          label={label}
          bare={i > 0}
          value={name}
          onChange={(next) => {
            onChange(value.map((other, j) => (j === i ? next : other)));
          }}
        />
      ))}
      <button
        type="button"
        className={SMALL}
        onClick={() => {
          onChange([...value, value.at(-1) ?? 'base.wall']);
        }}
      >
        <Plus size={13} aria-hidden /> One more
      </button>
    </span>
  );
}

function StepsInput({
  label,
  value,
  body,
  onChange,
}: {
  label: string;
  value: readonly string[] | undefined;
  /** Whether nothing chosen means the whole body. */
  body: boolean;
  onChange: (value: readonly string[] | undefined) => void;
}) {
  const { stepIds } = useForm();
  const chosen = value ?? [];
  return (
    <fieldset className="w-full">
      <legend className="text-xs text-soft">
        {label}
        {body && chosen.length === 0 ? ': the whole body' : ''}
      </legend>
      <span className="flex flex-wrap gap-x-3">
        {stepIds.map((id) => (
          <label key={id} className="inline-flex cursor-pointer items-center gap-1 text-xs">
            <input
              type="checkbox"
              checked={chosen.includes(id)}
              onChange={(event) => {
                const next = event.target.checked ? [...chosen, id] : chosen.filter((other) => other !== id);
                if (next.length > 0) onChange(stepIds.filter((other) => next.includes(other)));
                else if (body) onChange(undefined);
              }}
            />
            {id}
          </label>
        ))}
      </span>
    </fieldset>
  );
}

function OutlinesInput({
  value,
  onChange,
  where,
}: {
  value: readonly Outline[];
  onChange: (value: readonly Outline[]) => void;
  where: string;
}) {
  const { OutlineForm } = useForm();
  return (
    <fieldset className="w-full">
      <legend className="text-xs text-soft">{value.length === 1 ? 'Outline' : 'Outlines'}</legend>
      <ul className="flex flex-col gap-2">
        {value.map((outline, i) => (
          <li key={i} className="border-l-2 border-rule pl-2">
            <OutlineForm
              value={outline}
              where={`${where}.${String(i)}`}
              onChange={(next) => {
                onChange(value.map((other, j) => (j === i ? next : other)));
              }}
              onRemove={
                value.length > 1
                  ? () => {
                      onChange(value.filter((_, j) => j !== i));
                    }
                  : undefined
              }
            />
          </li>
        ))}
      </ul>
      <button
        type="button"
        className={`${SMALL} mt-1`}
        onClick={() => {
          onChange([...value, { shape: 'circle', center: ['0', '0'], diameter: '10' }]);
        }}
      >
        <Plus size={13} aria-hidden /> Another outline
      </button>
    </fieldset>
  );
}
