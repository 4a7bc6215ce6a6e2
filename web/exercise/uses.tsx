import { Link } from 'react-router';

import { useRevisionsQuery } from '#web/api';
import { dateTime, Panel, plural } from '#web/ui';

/** Which revision was issued where and when, the newest revision first. */
export function Uses({ exerciseId }: { readonly exerciseId: number }) {
  const { data } = useRevisionsQuery(exerciseId);
  if (data === undefined || data.every(({ issued }) => issued.length === 0)) return null;
  return (
    <Panel title="Where it was issued">
      <ul className="divide-y divide-rule" data-testid="uses">
        {data.map(({ number, createdAt, issued }) => (
          <li key={number} className="px-3 py-2">
            <span className="font-medium">Revision {number}</span>{' '}
            <span className="caption">
              of {dateTime(createdAt)}
              {issued.length === 0 && ', not issued'}
            </span>
            <ul>
              {issued.map(({ assignmentId, section, opensAt, dueAt, withdrawn, handedIn }) => (
                <li key={assignmentId} className="flex flex-wrap justify-between gap-x-3">
                  <Link className="underline" to={`/assignments/${String(assignmentId)}`}>
                    {section}
                  </Link>
                  <span className="caption">
                    {dateTime(opensAt)} to {dateTime(dueAt)}, {plural(handedIn, 'student')} handed in
                    {withdrawn && ', withdrawn'}
                  </span>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </Panel>
  );
}
