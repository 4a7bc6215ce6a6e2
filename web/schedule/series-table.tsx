import { ArrowDown, ArrowUp } from 'lucide-react';

import type { ExerciseSummary } from '#api';
import type { Dates } from '#core/schedule';
import type { Result } from '#core/problem';
import { optionsOf } from '#web/telling';
import { Button, LATEST_LOCAL, localOf, momentOf, plural, TableHead } from '#web/ui';

import { HELP_WORDS, movedBy, type Help, type Plan } from './series.ts';

interface SeriesTableProps {
  /** Those that can be issued. */
  readonly exercises: readonly ExerciseSummary[];
  readonly plan: Plan;
  readonly dates: Result<readonly Dates[]>;
  readonly onChange: (plan: Plan) => void;
}

/** Exercises of the series in its order with their dates, and below them those that are left. */
export function SeriesTable({ exercises, plan, dates, onChange }: SeriesTableProps) {
  const byId = new Map(exercises.map((exercise) => [exercise.id, exercise]));
  const chosen = plan.series.flatMap((id) => byId.get(id) ?? []);
  const left = exercises.filter(({ id }) => !plan.series.includes(id));
  return (
    <table className="w-full text-left text-sm" data-testid="series">
      <TableHead heads={['', 'Exercise', 'Opens', 'Due', 'Students work', 'Order']} nameless="Issue" />
      <tbody className="divide-y divide-rule">
        {chosen.map((exercise, i) => (
          <Row
            key={exercise.id}
            exercise={exercise}
            plan={plan}
            own={dates.ok ? dates.value[i] : undefined}
            onChange={onChange}
          />
        ))}
        {left.map((exercise) => (
          <Row key={exercise.id} exercise={exercise} plan={plan} own={undefined} onChange={onChange} />
        ))}
      </tbody>
    </table>
  );
}

interface RowProps extends Pick<SeriesTableProps, 'plan' | 'onChange'> {
  readonly exercise: ExerciseSummary;
  readonly own: Dates | undefined;
}

function Row({ exercise: { id, number, title, assignments }, plan, own, onChange }: RowProps) {
  const isIn = plan.series.includes(id);
  const name = `${number} ${title}`;
  const type = (dates: Dates): void => {
    onChange({ ...plan, typed: new Map([...plan.typed, [id, dates]]) });
  };
  const field = (key: keyof Dates, label: string) => (
    <td className="px-3 py-1">
      {own !== undefined && (
        <input
          type="datetime-local"
          aria-label={`${label} of ${name}`}
          max={LATEST_LOCAL}
          className={`h-8 border bg-paper px-1 ${plan.typed.has(id) ? 'border-accent' : 'border-rule'}`}
          value={localOf(own[key])}
          onChange={(event) => {
            const moment = momentOf(event.target.value);
            if (moment !== '') type({ ...own, [key]: moment });
          }}
        />
      )}
    </td>
  );
  return (
    <tr className={isIn ? '' : 'text-soft'}>
      <td className="py-1 pl-3">
        <input
          type="checkbox"
          aria-label={`Issue ${name}`}
          checked={isIn}
          onChange={({ target }) => {
            const others = plan.series.filter((one) => one !== id);
            onChange({ ...plan, series: target.checked ? [...others, id] : others });
          }}
        />
      </td>
      <th scope="row" className="px-3 py-1 font-normal">
        {name}
        {assignments > 0 && <span className="block caption">issued {plural(assignments, 'time')}</span>}
      </th>
      {field('opensAt', 'Opening')}
      {field('dueAt', 'Due time')}
      <td className="px-3 py-1">
        {isIn && (
          <select
            aria-label={`How students work on ${name}`}
            className="h-8 border border-rule bg-paper px-1"
            value={plan.help.get(id) ?? 'usual'}
            onChange={({ target }) => {
              onChange({ ...plan, help: new Map([...plan.help, [id, target.value as Help]]) });
            }}
          >
            {optionsOf(HELP_WORDS)}
          </select>
        )}
      </td>
      <td className="px-3">
        {isIn && (
          <span className="flex items-center gap-1">
            <Button
              kind="quiet"
              aria-label={`${name} earlier`}
              onClick={() => {
                onChange({ ...plan, series: movedBy(plan.series, id, -1) });
              }}
            >
              <ArrowUp size={14} aria-hidden />
            </Button>
            <Button
              kind="quiet"
              aria-label={`${name} later`}
              onClick={() => {
                onChange({ ...plan, series: movedBy(plan.series, id, 1) });
              }}
            >
              <ArrowDown size={14} aria-hidden />
            </Button>
            {plan.typed.has(id) && (
              <Button
                kind="quiet"
                onClick={() => {
                  onChange({ ...plan, typed: new Map([...plan.typed].filter(([one]) => one !== id)) });
                }}
              >
                As computed
              </Button>
            )}
          </span>
        )}
      </td>
    </tr>
  );
}
