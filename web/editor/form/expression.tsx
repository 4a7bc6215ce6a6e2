import { useEffect, useId, useRef, useState } from 'react';

import { evaluateExpression, formatFixed } from '#core/quantity';

import { useValues } from './context.ts';

export type Quantity = 'length' | 'angle' | 'count';

interface ExpressionInputProps {
  readonly label: string;
  readonly value: string | undefined;
  readonly quantity: Quantity;
  /** What holds when the field is empty; without it the field must not be empty. */
  readonly optional?: string | undefined;
  readonly onChange: (value: string | undefined) => void;
  /** Hides the label from sight, not from screen readers. */
  readonly bare?: boolean;
}

/** A size as an expression, with its value beside it. What cannot be evaluated says why. */
export function ExpressionInput({ label, value, quantity, optional, onChange, bare = false }: ExpressionInputProps) {
  const id = useId();
  const { scope, unit, decimals } = useValues();
  const [text, setText] = useState(value ?? '');
  const sent = useRef(value);
  useEffect(() => {
    if (value !== sent.current) setText(value ?? '');
    sent.current = value;
  }, [value]);
  const empty = text.trim() === '';
  const result = empty || scope === null ? null : evaluateExpression(text, scope, unit);
  const problem = empty
    ? optional === undefined
      ? 'A value is missing here.'
      : null
    : result?.ok === false
      ? result.problem.message
      : null;
  const sign = quantity === 'length' ? unit : quantity === 'angle' ? '°' : '';
  const plain = /^\d+(\.\d+)?$/.test(text.trim());
  const note = empty
    ? ''
    : result?.ok === true && !plain
      ? `= ${formatFixed(result.value, quantity === 'count' ? 0 : Math.max(decimals, 2)).replace(/\.?0+$/, '')} ${sign}`
      : sign;
  return (
    <span className="inline-flex min-w-0 flex-col">
      <span className="flex items-baseline gap-1.5">
        <label htmlFor={id} className={bare ? 'sr-only' : 'text-xs text-soft'}>
          {label}
        </label>
        <input
          id={id}
          value={text}
          placeholder={optional}
          aria-invalid={problem !== null}
          aria-describedby={`${id}-note`}
          spellCheck={false}
          autoComplete="off"
          className="h-7 w-20 border border-ink/50 bg-paper px-1.5 placeholder:text-soft/70 aria-invalid:border-2 aria-invalid:border-wrong"
          onChange={(event) => {
            const next = event.target.value;
            setText(next);
            const kept = next.trim();
            if (kept === '' && optional === undefined) return;
            sent.current = kept === '' ? undefined : kept;
            onChange(sent.current);
          }}
        />
        <span id={`${id}-note`} className={`text-xs ${problem === null ? 'text-soft' : 'sr-only'}`}>
          {problem ?? note}
        </span>
      </span>
      {problem !== null && (
        <span className="max-w-60 text-xs text-wrong" aria-hidden>
          {problem}
        </span>
      )}
    </span>
  );
}
