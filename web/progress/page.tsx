import { Link } from 'react-router';

import type { Progress } from '#api';
import { grouped } from '#core/group';
import { minutesInWords } from '#core/timelog';
import { useProgressQuery } from '#web/api';
import { TOPIC_WORDS } from '#web/reading';
import { dateTime, Empty, Failed, fromNow, hasPassed, Loading, PageHead, Panel, plural, ScoreBar } from '#web/ui';

type Attempt = Progress['attempts'][number];
interface Slip {
  readonly kind: string;
  readonly name: string;
  readonly message: string;
  readonly attempt: Attempt;
}

/** What do I get wrong again and again, and is it getting less? */
export function ProgressPage() {
  const { data, error, refetch } = useProgressQuery();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="your progress" />;
  const slips = data.attempts.flatMap((attempt) => attempt.causes.map((cause): Slip => ({ ...cause, attempt })));
  const kinds = [...grouped(slips, ({ kind }) => kind)].sort((a, b) => b.length - a.length);
  return (
    <>
      <PageHead
        answer={answerOf(kinds)}
        detail={
          <>
            What your own reports tell, put together. Nobody else sees this page.{' '}
            <Link className="underline" to="/my">
              My work
            </Link>
          </>
        }
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <Panel title="What went wrong">
          {kinds.length === 0 ? <Empty>No report has named a cause yet.</Empty> : <Kinds kinds={kinds} />}
        </Panel>
        <div className="flex flex-col gap-4">
          <Panel title="Attempts, the newest first">
            {data.attempts.length === 0 ? (
              <Empty>Nothing of yours has been measured yet.</Empty>
            ) : (
              <ul className="divide-y divide-rule" data-testid="own-attempts">
                {[...data.attempts].reverse().map(({ attemptId, exercise, at, score }) => (
                  <li key={attemptId} className="flex items-center justify-between gap-3 px-3 py-1.5">
                    <Link className="underline" to={`/my/attempts/${String(attemptId)}`}>
                      {exercise}
                    </Link>
                    <span className="ml-auto caption">{dateTime(at)}</span>
                    {score === null ? <span className="text-soft">not told yet</span> : <ScoreBar score={score} />}
                  </li>
                ))}
              </ul>
            )}
          </Panel>
          {data.times.length > 0 && (
            <Panel title="Time, thought before and taken">
              <ul className="divide-y divide-rule" data-testid="own-times">
                {data.times.map(({ assignmentId, exercise, minutes, estimateMinutes }) => (
                  <li key={assignmentId} className="flex items-baseline justify-between gap-3 px-3 py-1.5">
                    <Link className="underline" to={`/my/${String(assignmentId)}`}>
                      {exercise}
                    </Link>
                    <span>
                      {estimateMinutes !== null && (
                        <span className="mr-2 caption">{minutesInWords(estimateMinutes)} thought</span>
                      )}
                      <span className="font-semibold">{minutesInWords(minutes)}</span>
                    </span>
                  </li>
                ))}
              </ul>
            </Panel>
          )}
          {data.reading.length > 0 && (
            <Panel title="Reading sheets">
              <ul className="divide-y divide-rule" data-testid="own-reading">
                {data.reading.map(({ topic, answers, right, dueAt }) => (
                  <li key={topic} className="flex items-baseline justify-between gap-3 px-3 py-1.5">
                    <span>
                      {TOPIC_WORDS[topic]}
                      <span className="block caption">{dueWords(dueAt)}</span>
                    </span>
                    <span className="font-semibold">
                      {right} of {answers} right
                    </span>
                  </li>
                ))}
              </ul>
            </Panel>
          )}
        </div>
      </div>
    </>
  );
}

const dueWords = (dueAt: string | null): string =>
  dueAt === null ? '' : hasPassed(dueAt) ? 'due now' : `comes back ${fromNow(dueAt)}`;

function answerOf(kinds: readonly (readonly Slip[])[]): string {
  const [most] = kinds;
  const [first] = most ?? [];
  if (first === undefined || most === undefined) return 'No mistake of yours has a name yet';
  return most.length === 1
    ? `Nothing went wrong twice: the last was "${first.name}"`
    : `Most often: ${first.name.toLowerCase()}, ${plural(most.length, 'time')}`;
}

/** Each kind of mistake with the attempts that it was made in, the newest first. */
function Kinds({ kinds }: { readonly kinds: readonly (readonly Slip[])[] }) {
  return (
    <ul className="divide-y divide-rule" data-testid="own-mistakes">
      {kinds.map((slips) => {
        const [first] = slips;
        if (first === undefined) return null;
        return (
          <li key={first.kind} className="px-3 py-2">
            <p className="font-medium first-letter:uppercase">
              {first.name} <span className="font-normal text-soft">{plural(slips.length, 'time')}</span>
            </p>
            <ul className="text-sm">
              {[...slips].reverse().map(({ attempt, message }) => (
                <li key={`${String(attempt.attemptId)} ${message}`}>
                  <Link className="underline" to={`/my/attempts/${String(attempt.attemptId)}`}>
                    {attempt.exercise}
                  </Link>
                  : {message}
                </li>
              ))}
            </ul>
          </li>
        );
      })}
    </ul>
  );
}
