import { useState } from 'react';

import { readHolidays, WEEKDAYS, type DaySpan, type Weekday } from '#core/schedule';
import type { Result } from '#core/problem';
import { ANSWERS, DEGREES, optionsOf, RELEASES } from '#web/telling';
import { Alert, FileButton, plural, SelectField, TextField, Toggle } from '#web/ui';

import type { Plan } from './series.ts';

const DAYS = Object.entries(WEEKDAYS).map(([number, name]) => [Number(number) as Weekday, name] as const);

interface RhythmFormProps {
  readonly plan: Plan;
  readonly onChange: (plan: Plan) => void;
}

/** On which days and at what times, around which holidays, and what reports tell. */
export function RhythmForm({ plan, onChange }: RhythmFormProps) {
  const text = (
    key: 'firstDay' | 'opensTime' | 'dueDays' | 'dueTime' | 'attemptsAllowed' | 'openReason',
    label: string,
    more: { readonly type?: string; readonly hint?: string; readonly inputMode?: 'numeric' } = {},
  ) => (
    <TextField
      label={label}
      {...more}
      value={plan[key]}
      onChange={(event) => {
        onChange({ ...plan, [key]: event.target.value });
      }}
    />
  );
  const choice = (
    key: 'answers' | 'release' | 'first' | 'last',
    label: string,
    words: Readonly<Record<string, string>>,
  ) => (
    <SelectField
      label={label}
      value={plan[key]}
      onChange={(event) => {
        onChange({ ...plan, [key]: event.target.value });
      }}
    >
      {optionsOf(words)}
    </SelectField>
  );
  return (
    <>
      <fieldset>
        <legend className="mb-1 text-sm font-medium">Lessons on</legend>
        <div className="flex flex-wrap gap-x-3 gap-y-1">
          {DAYS.map(([day, name]) => (
            <Toggle
              key={day}
              label={name}
              on={plan.weekdays.includes(day)}
              onChange={(on) => {
                const others = plan.weekdays.filter((one) => one !== day);
                onChange({ ...plan, weekdays: on ? [...others, day] : others });
              }}
            />
          ))}
        </div>
      </fieldset>
      <div className="grid grid-cols-2 gap-x-3 gap-y-1">
        {text('firstDay', 'From', { type: 'date' })}
        {text('opensTime', 'Opens at', { type: 'time' })}
        {text('dueDays', 'Due after days', { inputMode: 'numeric' })}
        {text('dueTime', 'Due at', { type: 'time' })}
      </div>
      <Holidays
        holidays={plan.holidays}
        onRead={(holidays) => {
          onChange({ ...plan, holidays });
        }}
      />
      {text('attemptsAllowed', 'Attempts', { inputMode: 'numeric' })}
      {choice('answers', 'Answers that are not on the sheet', ANSWERS)}
      {choice('release', 'Each report reaches its student', RELEASES)}
      {choice('first', 'Reports before the last attempt tell', DEGREES)}
      {choice('last', 'The last one tells', DEGREES)}
      {text('openReason', 'Why sheets with open sizes are issued', {
        hint: 'Only where a sheet leaves sizes open. Students do not see it.',
      })}
    </>
  );
}

/** Days without lessons, from a calendar file. */
function Holidays({
  holidays,
  onRead,
}: {
  readonly holidays: readonly DaySpan[];
  readonly onRead: (holidays: readonly DaySpan[]) => void;
}) {
  const [read, setRead] = useState<Result<readonly DaySpan[]> | null>(null);
  return (
    <div className="flex flex-col items-start gap-2">
      <FileButton
        label="Holidays as a calendar file"
        accept=".ics,text/calendar"
        testId="holidays"
        onFile={(file) => {
          void file.text().then((content) => {
            const result = readHolidays(content);
            setRead(result);
            if (result.ok) onRead(result.value);
          });
        }}
      >
        Holidays from a calendar file
      </FileButton>
      {read?.ok === false && <Alert>{read.problem.message}</Alert>}
      {holidays.length > 0 && (
        <details className="text-sm">
          <summary className="cursor-pointer">{plural(holidays.length, 'holiday')} left out</summary>
          <ul>
            {holidays.map(({ name, from, to }) => (
              <li key={`${from} ${name}`}>
                {from === to ? from : `${from} to ${to}`} {name}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
