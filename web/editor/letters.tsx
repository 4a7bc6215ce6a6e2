import { Plus, X } from 'lucide-react';

import type { Parameter } from '#core/recipe';

import { ExpressionInput } from './form/expression.tsx';

/** The letters of the part, with their values. */
export function Letters({
  parameters,
  onChange,
}: {
  parameters: readonly Parameter[];
  onChange: (parameters: readonly Parameter[], topic: string | null) => void;
}) {
  const put = (index: number, parameter: Parameter, topic: string) => {
    onChange(
      parameters.map((other, i) => (i === index ? parameter : other)),
      `letter ${String(index)} ${topic}`,
    );
  };
  return (
    <ul className="flex flex-wrap" data-testid="letters">
      {parameters.map((parameter, i) => (
        <li key={i} className="flex items-center gap-1 border-r border-b border-rule px-2 py-1">
          <input
            aria-label={`Name of letter ${String(i + 1)}`}
            defaultValue={parameter.name}
            className="h-7 w-9 border border-transparent bg-transparent text-center font-semibold hover:border-ink/50"
            onBlur={(event) => {
              const name = event.target.value.trim();
              const free = parameters.every((other, j) => j === i || other.name !== name);
              if (/^[A-Za-z][A-Za-z0-9_]{0,19}$/.test(name) && free) put(i, { ...parameter, name }, 'name');
              else event.target.value = parameter.name;
            }}
          />
          <ExpressionInput
            label={`Value of ${parameter.name}`}
            bare
            quantity="length"
            value={parameter.value}
            onChange={(value) => {
              if (value !== undefined) put(i, { ...parameter, value }, 'value');
            }}
          />
          <input
            aria-label={`What ${parameter.name} is`}
            placeholder="what it is"
            value={parameter.label ?? ''}
            className="h-7 w-24 border border-transparent bg-transparent text-xs hover:border-ink/50"
            onChange={(event) => {
              const { label: _, ...rest } = parameter;
              put(i, event.target.value === '' ? rest : { ...rest, label: event.target.value }, 'label');
            }}
          />
          <button
            type="button"
            className="cursor-pointer p-1 hover:bg-accent-soft"
            aria-label={`Remove letter ${parameter.name}`}
            onClick={() => {
              onChange(
                parameters.filter((_, j) => j !== i),
                null,
              );
            }}
          >
            <X size={13} aria-hidden />
          </button>
        </li>
      ))}
      <li className="px-2 py-1">
        <button
          type="button"
          className="inline-flex h-7 cursor-pointer items-center gap-1 border border-ink/50 px-1.5 text-xs hover:bg-accent-soft"
          onClick={() => {
            const taken = new Set(parameters.map(({ name }) => name));
            const name = Array.from('ABCDEFGHIJKLMNOPQRSTUVWXYZ').find((letter) => !taken.has(letter));
            if (name !== undefined) onChange([...parameters, { name, value: '10' }], null);
          }}
        >
          <Plus size={13} aria-hidden /> Letter
        </button>
      </li>
    </ul>
  );
}
