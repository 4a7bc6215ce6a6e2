import { useState } from 'react';

import { MATERIALS } from '#core/material';
import { evaluateExpression, LENGTH_UNITS, parseTyped, type DrawingUnit } from '#core/quantity';
import { refuse, succeed, type Result } from '#core/problem';
import { SHOP_SUMS, type ShopSum, type SumInput } from '#core/shopsum';
import { Panel, SelectField, TextField } from '#web/ui';

import { inInches, inMm, nearestFraction, resultText } from './lengths.ts';

const RADIANS = Math.PI / 180;

/** A typed value of a sum in its own unit: lengths are sums themselves, with units carried along. */
function valueOf(text: string, { quantity }: SumInput, unit: DrawingUnit): Result<number> {
  if (quantity === 'volume') {
    const typed = parseTyped(text, 'volume', unit === 'in' ? 'in³' : 'mm³');
    return typed.ok ? succeed(typed.value.value) : typed;
  }
  const value = evaluateExpression(text.replace(/°\s*$/, ''), {}, unit);
  if (!value.ok) return value;
  if (quantity === 'length') return succeed(value.value * LENGTH_UNITS[unit]);
  return succeed(quantity === 'angle' ? value.value * RADIANS : value.value);
}

/** A sum of lengths in any unit: "1 3/4 - 5/16", "84 - 2*7.5", "2 in + 10 mm". */
function LengthSum({ unit }: { readonly unit: DrawingUnit }) {
  const [text, setText] = useState('');
  const sum = text.trim() === '' ? null : evaluateExpression(text, {}, unit);
  const lengthMm = sum?.ok === true ? sum.value * LENGTH_UNITS[unit] : null;
  return (
    <div className="p-3">
      <TextField
        label="A sum of lengths"
        hint={`Numbers without a unit are ${unit === 'in' ? 'inches' : 'millimeters'}: 84 - 2*7.5, 1 3/4 - 5/16, 2 in + 10 mm`}
        error={sum?.ok === false ? sum.problem.message : undefined}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
        }}
      />
      {lengthMm !== null && (
        <dl className="mt-1 grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 text-sm" data-testid="length-sum">
          <dt className="text-soft">Decimal</dt>
          <dd className="text-right">
            {inMm(lengthMm)} = {inInches(lengthMm)}
          </dd>
          <dt className="text-soft">Nearest 64th of an inch</dt>
          <dd className="text-right">{nearestFraction(lengthMm)}</dd>
        </dl>
      )}
    </div>
  );
}

/** The sums that come up again and again, each with its formula. */
export function ShopSums({ unit }: { readonly unit: DrawingUnit }) {
  const [id, setId] = useState(SHOP_SUMS[0]?.id ?? '');
  const sum = SHOP_SUMS.find((one) => one.id === id);
  return (
    <Panel title="Calculator">
      <LengthSum unit={unit} />
      <div className="border-t border-rule p-3">
        <SelectField
          label="Work out"
          value={id}
          onChange={(event) => {
            setId(event.target.value);
          }}
        >
          {SHOP_SUMS.map(({ id: each, title }) => (
            <option key={each} value={each}>
              {title}
            </option>
          ))}
        </SelectField>
        {sum !== undefined && <OneSum key={id} sum={sum} unit={unit} />}
      </div>
    </Panel>
  );
}

const UNIT_OF = { angle: '°', count: '', density: 'g/cm³', mass: 'g' } as const;

function OneSum({ sum, unit }: { readonly sum: ShopSum; readonly unit: DrawingUnit }) {
  const [texts, setTexts] = useState<Readonly<Record<string, string>>>({});
  const read = sum.inputs.map((input) => {
    const text = texts[input.id] ?? '';
    const value = text.trim() === '' ? refuse('expression-empty', '') : valueOf(text, input, unit);
    return { input, text, value };
  });
  const values = Object.fromEntries(read.flatMap(({ input, value }) => (value.ok ? [[input.id, value.value]] : [])));
  const result = read.every(({ value }) => value.ok) ? sum.work(values) : null;
  const put = (id: string, text: string): void => {
    setTexts({ ...texts, [id]: text });
  };
  return (
    <>
      <div className="grid grid-cols-2 gap-x-3">
        {read.map(({ input, text, value }) => {
          const unitOf =
            input.quantity === 'length' ? unit : input.quantity === 'volume' ? `${unit}³` : UNIT_OF[input.quantity];
          return (
            <TextField
              key={input.id}
              label={unitOf === '' ? input.label : `${input.label}, ${unitOf}`}
              list={input.quantity === 'density' ? 'densities' : undefined}
              value={text}
              error={value.ok || value.problem.message === '' ? undefined : value.problem.message}
              onChange={(event) => {
                put(input.id, event.target.value);
              }}
            />
          );
        })}
      </div>
      <datalist id="densities">
        {MATERIALS.map(({ id, name, densityGPerCm3 }) => (
          <option key={id} value={densityGPerCm3}>
            {name}
          </option>
        ))}
      </datalist>
      {result?.ok === false && (
        <p role="status" className="text-sm text-wrong">
          {result.problem.message}
        </p>
      )}
      {result?.ok === true && (
        <dl
          role="status"
          className="grid max-h-60 grid-cols-[minmax(0,1fr)_auto] gap-x-4 overflow-auto text-sm"
          data-testid="sum-result"
        >
          {result.value.map(({ label, value, quantity }) => (
            <div key={label} className="contents">
              <dt className="text-soft">{label}</dt>
              <dd className="text-right">{resultText(value, quantity)}</dd>
            </div>
          ))}
        </dl>
      )}
      <p className="mt-2 caption">{sum.source}</p>
    </>
  );
}
