import { Link } from 'react-router';

import type { WorkItem } from '#api';
import { useWorkQuery } from '#web/api';
import { ReadingDue } from '#web/reading';
import {
  ButtonLink,
  dateTime,
  Empty,
  Failed,
  fromNow,
  hasPassed,
  Loading,
  OwnStateMark,
  PageHead,
  plural,
  ScoreBar,
} from '#web/ui';

/** What is due next? */
export function WorkPage() {
  const { data, error, refetch } = useWorkQuery();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="your work" />;
  const open = data.filter((item) => item.open && item.bestScore !== 100);
  const done = data.filter((item) => !open.includes(item));
  const [next] = open;
  return (
    <>
      <PageHead
        answer={
          next
            ? `${next.exerciseTitle} ${hasPassed(next.dueAt) ? 'was' : 'is'} due ${fromNow(next.dueAt)}`
            : 'Nothing is due'
        }
        detail={
          next
            ? `${plural(open.length, 'exercise')} open. You can hand in again as long as attempts are left.`
            : 'New exercises appear here when they open.'
        }
        actions={<ButtonLink to="/my/progress">My progress</ButtonLink>}
      />
      <ReadingDue work={[...open, ...done]} />
      {data.length === 0 && <Empty>Your instructor has not issued an exercise to your section yet.</Empty>}
      {open.length > 0 && <Group title="Open" items={open} />}
      {done.length > 0 && <Group title="Finished" items={[...done].reverse()} />}
    </>
  );
}

function Group({ title, items }: { title: string; items: readonly WorkItem[] }) {
  return (
    <section>
      <h2 className="mb-2 text-base">{title}</h2>
      <ul className="flex flex-col gap-2">
        {items.map((item) => (
          <li key={item.id}>
            <Link
              to={`/my/${String(item.id)}`}
              className="grid items-center gap-x-4 overflow-hidden pr-4 panel hover:border-accent max-sm:p-3 sm:grid-cols-[15rem_5rem_1fr_11rem_8rem_9rem]"
            >
              <img
                src={`/api/work/${String(item.id)}/sheet.svg`}
                alt=""
                loading="lazy"
                className="aspect-[420/240] w-full border-r border-rule bg-white object-cover object-top max-sm:hidden"
              />
              <span className="text-soft">{item.exerciseNumber}</span>
              <span className="text-base font-medium">{item.exerciseTitle}</span>
              <span>
                {hasPassed(item.dueAt) ? 'was due' : 'due'} {dateTime(item.dueAt, item.timeZone)}
              </span>
              <span className="text-soft">
                {item.stageCount > 1 && (
                  <span className="block">
                    stage {item.stage} of {item.stageCount}
                  </span>
                )}
                {item.attemptsUsed} of {plural(item.attemptsAllowed, 'attempt')}
              </span>
              <span>
                {item.bestScore !== null ? (
                  <>
                    <ScoreBar score={item.bestScore} />
                    {item.stageCount > 1 && (
                      <span className="block caption">over {plural(item.stageCount, 'stage')}</span>
                    )}
                  </>
                ) : item.lastAttempt ? (
                  <OwnStateMark state={item.lastAttempt.state} />
                ) : (
                  <span className="text-soft">not handed in</span>
                )}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
