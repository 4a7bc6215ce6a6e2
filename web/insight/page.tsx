import { lazy, Suspense, useState } from 'react';
import { Link, useParams } from 'react-router';

import type { Insight } from '#api';
import { useInsightQuery } from '#web/api';
import { ClassReadingPanel } from '#web/reading';
import { ButtonLink, Empty, Failed, Loading, PageHead, Panel, plural, SelectField } from '#web/ui';

import { Exercises } from './exercises.tsx';

const WeeksChart = lazy(() => import('./weeks-chart.tsx'));

/** What goes wrong in this class, where, and how it develops? */
export function InsightPage() {
  const courseId = Number(useParams()['id']);
  const [sectionId, setSectionId] = useState<number | null>(null);
  const { data, error, refetch } = useInsightQuery({ courseId, sectionId });
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="what the class needs" />;
  return (
    <>
      <PageHead
        answer={answerOf(data)}
        detail={
          <>
            All measured attempts of{' '}
            <Link className="underline" to={`/grades/${String(courseId)}`}>
              {data.course}
            </Link>
            , {data.sectionId === null ? 'all sections' : 'one section'}. Everything leads to the attempts behind it.
          </>
        }
        actions={<ButtonLink to={`/grades/${String(courseId)}/wall`}>A page for the wall</ButtonLink>}
      />
      {data.sections.length > 1 && (
        <div className="w-56">
          <SelectField
            label="Section"
            value={data.sectionId ?? ''}
            onChange={(event) => {
              setSectionId(event.target.value === '' ? null : Number(event.target.value));
            }}
          >
            {data.hasAll && <option value="">All</option>}
            {data.sections.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </SelectField>
        </div>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_26rem]">
        <div className="flex flex-col gap-4">
          <Panel title="Attempts (bars) and the score in their middle (line), week by week">
            {data.weeks.length === 0 ? (
              <Empty>Nothing has been measured yet.</Empty>
            ) : (
              // As high as the chart, so that nothing below it moves.
              <Suspense
                fallback={
                  <div className="h-52">
                    <Loading what="the chart" />
                  </div>
                }
              >
                <WeeksChart weeks={data.weeks} />
              </Suspense>
            )}
          </Panel>
          <Exercises courseId={courseId} sectionId={data.sectionId} exercises={data.exercises} />
        </div>
        <div className="flex flex-col gap-4">
          <Mistakes mistakes={data.mistakes} />
          {data.hasAll && <ClassReadingPanel courseId={courseId} />}
        </div>
      </div>
    </>
  );
}

function answerOf({ mistakes }: Insight): string {
  const [first] = mistakes;
  return first === undefined
    ? 'No mistake is known in this class'
    : `Most often: ${first.name}, by ${plural(first.students, 'student')}`;
}

/** Kinds of mistakes, those of most students first; each opens to its attempts. */
function Mistakes({ mistakes }: Pick<Insight, 'mistakes'>) {
  const most = mistakes[0]?.students ?? 1;
  return (
    <Panel title="What went wrong, by students">
      {mistakes.length === 0 ? (
        <Empty>Nothing yet.</Empty>
      ) : (
        <ul className="divide-y divide-rule">
          {mistakes.map(({ kind, name, students, attempts }) => (
            <li key={kind}>
              <details>
                <summary className="grid cursor-pointer grid-cols-[minmax(0,1fr)_5rem_2rem] items-center gap-2 px-3 py-1.5 hover:bg-accent-soft">
                  {name}
                  <span aria-hidden className="h-2 border border-ink/60">
                    <span className="block h-full bg-soft" style={{ width: `${String((100 * students) / most)}%` }} />
                  </span>
                  <span className="text-right tabular-nums">{students}</span>
                </summary>
                <ul className="px-3 pb-2 text-sm">
                  {attempts.map(({ attemptId, exercise, student }) => (
                    <li key={attemptId}>
                      <Link className="underline" to={`/attempts/${String(attemptId)}`}>
                        {student}
                      </Link>
                      , {exercise}
                    </li>
                  ))}
                </ul>
              </details>
            </li>
          ))}
        </ul>
      )}
    </Panel>
  );
}
