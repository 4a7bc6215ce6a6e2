import { useState, type ReactNode } from 'react';

import { TextField } from './field.tsx';

interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly step?: number;
  readonly hint?: ReactNode;
  readonly onChange: (value: number) => void;
}

/** A number within limits. What is typed stays as it is typed; anything else than such a number is said, and not taken. */
export function NumberField({ label, value, least, most, step = 1, hint, onChange }: NumberFieldProps) {
  const [text, setText] = useState(String(value));
  const [known, setKnown] = useState(value);
  if (known !== value) {
    // Changed by somebody else, such as a preset: what was typed does not hold any more.
    setKnown(value);
    if (Number(text) !== value) setText(String(value));
  }
  const typed = Number(text);
  const isGood = text.trim() !== '' && typed >= least && typed <= most;
  return (
    <TextField
      label={label}
      inputMode="decimal"
      type="number"
      min={least}
      max={most}
      step={step}
      hint={hint}
      value={text}
      error={isGood ? undefined : `From ${String(least)} to ${String(most)}.`}
      onChange={(event) => {
        setText(event.target.value);
        const next = Number(event.target.value);
        if (event.target.value.trim() !== '' && next >= least && next <= most) onChange(next);
      }}
    />
  );
}
