import { Link } from 'react-router';

import { useExercisesQuery } from '#web/api';

import { Empty, Failed, Loading, PageHead, plural } from '#web/ui';

import { NewExercise } from './new.tsx';

/** Which exercises can I issue? */
export function ExerciseListPage() {
  const { data, error, refetch } = useExercisesQuery();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="exercises" />;
  const issued = data.filter((exercise) => exercise.assignments > 0).length;
  return (
    <>
      <PageHead
        answer={`${plural(data.length, 'exercise')}, ${String(issued)} of them issued`}
        detail="Each has a reference part, a sheet and a check plan."
        actions={<NewExercise />}
      />
      {data.length === 0 ? (
        <Empty>There are no exercises in your courses yet.</Empty>
      ) : (
        <ul className="grid gap-4 sm:grid-cols-2">
          {data.map((exercise) => (
            <li key={exercise.id}>
              <Link
                to={`/exercises/${String(exercise.id)}${exercise.revision === null ? '/edit' : ''}`}
                className="block overflow-hidden panel hover:border-accent"
              >
                {exercise.revision === null ? (
                  <p className="flex aspect-[420/250] items-center justify-center border-b border-rule hatch text-soft">
                    Draft, no revision yet
                  </p>
                ) : (
                  <img
                    src={`/api/exercises/${String(exercise.id)}/sheet.svg`}
                    alt={`Sheet of ${exercise.title}`}
                    loading="lazy"
                    className="aspect-[420/250] w-full border-b border-rule bg-white object-cover object-top"
                  />
                )}
                <div className="flex items-baseline justify-between gap-3 px-3 py-2">
                  <span className="font-medium">
                    {exercise.number} {exercise.title}
                  </span>
                  <span className="caption">
                    {exercise.level}, {exercise.unit}, {plural(exercise.steps, 'step')},{' '}
                    {plural(exercise.checks, 'check')}
                    {exercise.assignments > 0 ? `, issued ${plural(exercise.assignments, 'time')}` : ''}
                  </span>
                </div>
              </Link>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
