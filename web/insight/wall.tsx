import { useParams } from 'react-router';

import { useWallQuery } from '#web/api';
import { Button, ButtonLink, Empty, Failed, Loading, plural } from '#web/ui';

/** The mistakes of this week for the wall of the classroom, with the parts they were made on and without names. */
export function WallPage() {
  const courseId = Number(useParams()['id']);
  const { data, error, refetch } = useWallQuery(courseId);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the mistakes of this week" />;
  const { mistakes } = data;
  return (
    <>
      <div className="flex gap-2 print:hidden">
        <Button
          kind="main"
          disabled={mistakes.length === 0}
          onClick={() => {
            window.print();
          }}
        >
          Print it
        </Button>
        <ButtonLink to={`/grades/${String(courseId)}/insight`}>Back</ButtonLink>
      </div>
      <article className="border border-ink/70 bg-paper p-6 print:border-0 print:p-0">
        <h1 className="text-2xl font-bold">
          {mistakes.length === 0 ? 'No mistakes this week' : 'What went wrong this week'}
        </h1>
        <p className="mb-4 text-soft">
          {data.school}, {data.course}, since {data.from}
        </p>
        {mistakes.length === 0 ? (
          <Empty>Nothing was handed in within seven days that has a known cause.</Empty>
        ) : (
          <ol className="flex flex-col gap-4">
            {mistakes.map(({ kind, name, students, exerciseId, exercise, example }, i) => (
              <li
                key={kind}
                className="grid break-inside-avoid grid-cols-[3rem_minmax(0,1fr)_16rem] items-start gap-4 border-t border-rule pt-4 max-sm:grid-cols-1"
              >
                <span className="text-3xl font-bold tabular-nums">{i + 1}</span>
                <div>
                  <h2 className="text-lg font-semibold first-letter:uppercase">{name}</h2>
                  <p className="mb-2 text-soft">
                    {plural(students, 'student')}; commonest on {exercise}
                  </p>
                  <p>For example: {example}</p>
                </div>
                <img
                  src={`/api/exercises/${String(exerciseId)}/sheet.svg`}
                  alt={`Sheet of ${exercise}`}
                  className="w-full border border-rule bg-white"
                />
              </li>
            ))}
          </ol>
        )}
      </article>
    </>
  );
}
