import { useId } from 'react';

/** A small choice from a list. */
export function Select({
  label,
  value,
  options,
  onChange,
  bare = false,
}: {
  label: string;
  value: string;
  options: readonly (readonly [value: string, label: string])[];
  onChange: (value: string) => void;
  bare?: boolean;
}) {
  const id = useId();
  return (
    <span className="inline-flex items-baseline gap-1.5">
      <label htmlFor={id} className={bare ? 'sr-only' : 'text-xs text-soft'}>
        {label}
      </label>
      <select
        id={id}
        value={value}
        className="h-7 max-w-56 border border-ink/50 bg-paper px-1"
        onChange={(event) => {
          onChange(event.target.value);
        }}
      >
        {options.map(([option, words]) => (
          <option key={option} value={option}>
            {words}
          </option>
        ))}
      </select>
    </span>
  );
}
