import { useState } from 'react';
import { Link } from 'react-router';

import type { LikenessAnswer } from '#api';
import { useLikenessQuery } from '#web/api';
import { Button, Failed, Loading, Panel, plural } from '#web/ui';

/** Which hand-ins are more alike than chance makes them? Worked out when it is asked for. */
export function Alike({ assignmentId }: { readonly assignmentId: number }) {
  const [isAsked, setIsAsked] = useState(false);
  return (
    <Panel title="Hand-ins that are alike">
      <div className="flex flex-col gap-2 p-3 text-sm">
        {isAsked ? (
          <Compared assignmentId={assignmentId} />
        ) : (
          <>
            <p className="text-soft">
              Files, models and typed numbers of all students are compared. Right parts are alike by nature and say
              nothing.
            </p>
            <Button
              className="self-start"
              onClick={() => {
                setIsAsked(true);
              }}
            >
              Compare them
            </Button>
          </>
        )}
      </div>
    </Panel>
  );
}

function Compared({ assignmentId }: { readonly assignmentId: number }) {
  const { data, error, refetch } = useLikenessQuery(assignmentId);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the comparison" />;
  return (
    <>
      <p role="status">
        {data.pairs.length === 0
          ? `Nothing in ${plural(data.looked, 'hand-in')} that chance does not explain.`
          : `${plural(data.pairs.length, 'pair')} of ${plural(data.looked, 'hand-in')} to look at. It is evidence, no verdict.`}
      </p>
      {data.pending > 0 && (
        <p className="text-soft">
          {plural(data.pending, 'wrong part')} {data.pending === 1 ? 'is' : 'are'} still being explained; look again
          later.
        </p>
      )}
      <ul className="divide-y divide-rule" data-testid="alike">
        {data.pairs.map((pair) => (
          <Pair key={pair.attempts.map(({ id }) => id).join(' ')} pair={pair} />
        ))}
      </ul>
      {data.older.length > 0 && (
        <>
          <p>Files that say they were written before the exercise was open:</p>
          <ul>
            {data.older.map(({ attemptId, student, writtenAt }) => (
              <li key={attemptId}>
                <Link className="underline" to={`/attempts/${String(attemptId)}`}>
                  {student}
                </Link>
                , {writtenAt}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function Pair({ pair: { attempts, words } }: { readonly pair: LikenessAnswer['pairs'][number] }) {
  return (
    <li className="py-2">
      <span className="font-medium">
        {attempts.map(({ id, student }, i) => (
          <span key={id}>
            {i > 0 && ' and '}
            <Link className="underline" to={`/attempts/${String(id)}`}>
              {student}
            </Link>
          </span>
        ))}
      </span>
      {words.map((sentence) => (
        <span key={sentence} className="block text-soft">
          {sentence}
        </span>
      ))}
    </li>
  );
}
