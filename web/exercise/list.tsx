import { useState } from 'react';
import { Link } from 'react-router';

import type { ExerciseSummary } from '#api';
import { useExercisesQuery } from '#web/api';
import { ButtonLink, Empty, Failed, Loading, PageHead, plural, SelectField, TextField, Toggle } from '#web/ui';

import { ExerciseMenu } from './menu.tsx';
import { filtered, NO_FILTER, sorted, SORTS, type Filter, type Shown, type Sort } from './filter.ts';
import { NewExercise } from './new.tsx';
import { ExerciseTable, pathOf } from './table.tsx';

/** Which exercises can I issue? */
export function ExerciseListPage() {
  const { data, error, refetch } = useExercisesQuery();
  const [filter, setFilter] = useState<Filter>(NO_FILTER);
  const [sort, setSort] = useState<Sort>('number');
  const [isList, setIsList] = useState(false);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="exercises" />;
  const current = data.filter(({ archivedAt }) => archivedAt === null);
  const issued = current.filter(({ assignments }) => assignments > 0).length;
  const shown = sorted(filtered(data, filter), sort);
  return (
    <>
      <PageHead
        answer={`${plural(current.length, 'exercise')}, ${String(issued)} of them issued`}
        detail="Each has a reference part, a sheet and a check plan."
        actions={
          <>
            <NewExercise />
            {current.length > 0 && <ButtonLink to="/exercises/schedule">Issue a series</ButtonLink>}
          </>
        }
      />
      {data.length > 0 && (
        <div className="flex flex-wrap items-end gap-x-4 gap-y-1">
          <Filters all={data} filter={filter} onChange={setFilter} />
          <div className="w-36">
            <SelectField
              label="In the order of"
              value={sort}
              onChange={(event) => {
                setSort(event.target.value as Sort);
              }}
            >
              {Object.entries(SORTS).map(([key, words]) => (
                <option key={key} value={key}>
                  {words}
                </option>
              ))}
            </SelectField>
          </div>
          <div className="pb-6">
            <Toggle label="As a list" on={isList} onChange={setIsList} />
          </div>
        </div>
      )}
      <Found all={data} shown={shown} isList={isList} />
    </>
  );
}

function Found({
  all,
  shown,
  isList,
}: {
  readonly all: readonly ExerciseSummary[];
  readonly shown: readonly ExerciseSummary[];
  readonly isList: boolean;
}) {
  if (all.length === 0) return <Empty>There are no exercises in your courses yet.</Empty>;
  if (shown.length === 0) return <Empty>No exercise is like this. Look for fewer words, or take a choice back.</Empty>;
  return isList ? (
    <ExerciseTable exercises={shown} />
  ) : (
    <ul className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3 xl:grid-cols-4" data-testid="exercises">
      {shown.map((exercise) => (
        <li key={exercise.id}>
          <Card exercise={exercise} />
        </li>
      ))}
    </ul>
  );
}

const SHOWN: Readonly<Record<Shown, string>> = {
  current: 'All',
  issued: 'Issued',
  'not-issued': 'Not issued',
  'put-away': 'Put away',
};

/** A choice among the values that there are; nothing where there is no choice. */
function Choice({
  label,
  value,
  values,
  onChoose,
}: {
  readonly label: string;
  readonly value: string;
  readonly values: readonly string[];
  readonly onChoose: (value: string) => void;
}) {
  const distinct = [...new Set(values)].sort();
  if (distinct.length < 2 && value === '') return null;
  return (
    <div className="w-36">
      <SelectField
        label={label}
        value={value}
        onChange={(event) => {
          onChoose(event.target.value);
        }}
      >
        <option value="">Any</option>
        {distinct.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </SelectField>
    </div>
  );
}

function Filters({
  all,
  filter,
  onChange,
}: {
  readonly all: readonly ExerciseSummary[];
  readonly filter: Filter;
  readonly onChange: (filter: Filter) => void;
}) {
  const set =
    (key: keyof Filter) =>
    (value: string): void => {
      onChange({ ...filter, [key]: value });
    };
  return (
    <>
      <div className="w-64">
        <TextField
          label="Find"
          type="search"
          placeholder="Number, title, step ..."
          value={filter.words}
          onChange={(event) => {
            set('words')(event.target.value);
          }}
        />
      </div>
      <div className="w-32">
        <SelectField
          label="Show"
          value={filter.shown}
          onChange={(event) => {
            set('shown')(event.target.value);
          }}
        >
          {Object.entries(SHOWN).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </SelectField>
      </div>
      <Choice label="Unit" value={filter.unit} values={all.map(({ unit }) => unit)} onChoose={set('unit')} />
      <Choice
        label="With a step"
        value={filter.operation}
        values={all.flatMap(({ operations }) => operations)}
        onChoose={set('operation')}
      />
      <Choice label="Tag" value={filter.tag} values={all.flatMap(({ tags }) => tags)} onChoose={set('tag')} />
      <Choice label="Course" value={filter.course} values={all.map(({ course }) => course)} onChoose={set('course')} />
    </>
  );
}

function Card({ exercise }: { readonly exercise: ExerciseSummary }) {
  const { id, number, title, level, unit, revision, checks, steps, assignments, tags } = exercise;
  return (
    <div className="flex h-full flex-col panel focus-within:border-accent hover:border-accent">
      <Link to={pathOf(exercise)} className="block grow">
        {revision === null ? (
          <p className="flex aspect-[420/250] items-center justify-center border-b border-rule hatch text-soft">
            Draft, no revision yet
          </p>
        ) : (
          <img
            src={`/api/exercises/${String(id)}/sheet.svg`}
            alt={`Sheet of ${title}`}
            loading="lazy"
            className="aspect-[420/250] w-full border-b border-rule bg-white object-cover object-top"
          />
        )}
        <span className="block px-3 pt-2 font-medium">
          {number} {title}
        </span>
      </Link>
      <div className="flex items-start justify-between gap-2 pr-1 pb-1 pl-3">
        <span className="caption">
          {level}, {unit}, {plural(steps, 'step')}, {plural(checks, 'check')}
          {assignments > 0 ? `, issued ${plural(assignments, 'time')}` : ''}
          {tags.length > 0 && <span className="block text-ink">{tags.join(', ')}</span>}
        </span>
        <ExerciseMenu exercise={exercise} />
      </div>
    </div>
  );
}
