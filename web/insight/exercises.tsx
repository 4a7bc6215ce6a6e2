import { Fragment, useState } from 'react';
import { Link } from 'react-router';

import type { ExerciseInsight, Insight } from '#api';
import { formatFixed } from '#core/quantity';
import { useExerciseInsightQuery } from '#web/api';
import { Empty, Failed, Loading, Panel, ScoreBar, TableHead } from '#web/ui';

interface ExercisesProps {
  readonly courseId: number;
  readonly sectionId: number | null;
  readonly exercises: Insight['exercises'];
}

const HEADS = ['Exercise', 'Students', 'First score', 'Last score', 'Attempts each', 'Gave up', 'Begun after'];

function timeOf(hours: number | null): string {
  if (hours === null) return '';
  return hours < 48 ? `${formatFixed(hours, 0)} h` : `${formatFixed(hours / 24, 1)} days`;
}

/** How the exercises went; each opens to its checks and variants. */
export function Exercises({ courseId, sectionId, exercises }: ExercisesProps) {
  const [open, setOpen] = useState<number | null>(null);
  return (
    <Panel title="Exercises: middle of the class" className="overflow-x-auto">
      {exercises.length === 0 ? (
        <Empty>Nothing has been issued yet.</Empty>
      ) : (
        <table className="w-full text-left text-sm" data-testid="exercise-figures">
          <TableHead heads={HEADS} />
          <tbody className="divide-y divide-rule">
            {exercises.map((one) => (
              <Fragment key={one.exerciseId}>
                <tr>
                  <th scope="row" className="px-3 py-1.5 font-medium">
                    <button
                      type="button"
                      aria-expanded={open === one.exerciseId}
                      className="cursor-pointer text-left underline"
                      onClick={() => {
                        setOpen(open === one.exerciseId ? null : one.exerciseId);
                      }}
                    >
                      {one.number} {one.title}
                    </button>
                  </th>
                  <td className="px-3 tabular-nums">{one.students}</td>
                  <td className="px-3">{one.firstMedian !== null && <ScoreBar score={one.firstMedian} />}</td>
                  <td className="px-3">{one.lastMedian !== null && <ScoreBar score={one.lastMedian} />}</td>
                  <td className="px-3 tabular-nums">
                    {one.attemptsPerStudent !== null && formatFixed(one.attemptsPerStudent, 1)}
                  </td>
                  <td className="px-3 tabular-nums">{one.gaveUp > 0 && one.gaveUp}</td>
                  <td className="px-3 tabular-nums">{timeOf(one.hoursToFirstMedian)}</td>
                </tr>
                {open === one.exerciseId && (
                  <tr>
                    <td colSpan={HEADS.length} className="px-3 py-2">
                      <OneExercise courseId={courseId} sectionId={sectionId} exerciseId={one.exerciseId} />
                    </td>
                  </tr>
                )}
              </Fragment>
            ))}
          </tbody>
        </table>
      )}
    </Panel>
  );
}

function OneExercise(asked: Omit<ExercisesProps, 'exercises'> & { readonly exerciseId: number }) {
  const { data, error, refetch } = useExerciseInsightQuery(asked);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="its checks" />;
  if (data.checks.length === 0) return <p>Nobody has handed in yet.</p>;
  return (
    <div className="flex flex-col gap-3">
      <Checks checks={data.checks} />
      {data.variants.length > 1 && (
        <p>
          First score by variant:{' '}
          {data.variants
            .map(
              ({ name, students, firstMedian }) =>
                `${name} ${firstMedian === null ? 'none' : formatFixed(firstMedian, 1)} (${String(students)})`,
            )
            .join(', ')}
          .
        </p>
      )}
    </div>
  );
}

/** What the correlation of a check with the rest of the score says to whoever teaches. */
function dividesInWords(discrimination: number | null): string {
  if (discrimination === null) return '';
  if (discrimination < 0) return 'missed by the better ones: look at the sheet and the check';
  if (discrimination < 0.2) return 'missed by good and weak ones alike';
  return discrimination > 0.5 ? 'tells good work from weak' : '';
}

function Checks({ checks }: Pick<ExerciseInsight, 'checks'>) {
  return (
    <table className="w-full text-left text-sm">
      <caption className="pb-1 text-left text-xs text-soft">
        Checks on first attempts, the hardest first. The last column compares each with the rest of the score (from 8
        attempts on).
      </caption>
      <tbody>
        {checks.map(({ checkId, label, attempts, facility, discrimination, elsewhere, wrong }) => (
          <tr key={checkId} className="align-baseline">
            <th scope="row" className="py-0.5 pr-3 font-normal">
              {label}
            </th>
            <td className="pr-3 whitespace-nowrap tabular-nums">
              right in {formatFixed(100 * facility, 0)} % of {attempts}
              {elsewhere !== null && (
                <span className="block caption">
                  in other courses {formatFixed(100 * elsewhere.facility, 0)} % of {elsewhere.attempts}
                </span>
              )}
            </td>
            <td className="pr-3">
              {wrong.map((attemptId, i) => (
                <Link key={attemptId} to={`/attempts/${String(attemptId)}`} className="mr-1.5 underline">
                  {i + 1}
                </Link>
              ))}
            </td>
            <td className="text-soft">
              {discrimination !== null && formatFixed(discrimination, 2)} {dividesInWords(discrimination)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
