import { useState } from 'react';
import { Link } from 'react-router';

import type { AssignmentDetail } from '#api';
import { Panel, plural } from '#web/ui';

import { GroupActions } from './group.tsx';

const SHOWN = 8;

/** What went wrong, and with whom: attempts with the same cause can be gone through together. */
export function CommonCauses({
  assignment,
}: {
  assignment: Pick<AssignmentDetail, 'id' | 'courseId' | 'causes' | 'release'>;
}) {
  const { causes } = assignment;
  const [open, setOpen] = useState<string | null>(null);
  const [all, setAll] = useState(false);
  if (causes.length === 0) return null;
  return (
    <Panel title="What went wrong">
      <ul className="divide-y divide-rule text-sm" data-testid="common-causes">
        {(all ? causes : causes.slice(0, SHOWN)).map(({ id, name, attempts }) => (
          <li key={id}>
            <button
              type="button"
              aria-expanded={open === id}
              className="flex w-full cursor-pointer justify-between gap-3 px-3 py-1.5 text-left hover:bg-accent-soft"
              onClick={() => {
                setOpen(open === id ? null : id);
              }}
            >
              <span>{name}</span>
              <span className="whitespace-nowrap text-soft">{plural(attempts.length, 'student')}</span>
            </button>
            {open === id && (
              <ul className="bg-accent-soft pb-1">
                {attempts.map(({ attemptId, student, message }) => (
                  <li key={attemptId} className="px-3 py-1">
                    <Link className="font-medium underline" to={`/attempts/${String(attemptId)}`}>
                      {student}
                    </Link>
                    <span className="block">{message}</span>
                  </li>
                ))}
                <li className="px-3 py-1">
                  <GroupActions
                    assignmentId={assignment.id}
                    courseId={assignment.courseId}
                    attemptIds={attempts.map(({ attemptId }) => attemptId)}
                    releases={assignment.release !== 'automatic'}
                  />
                </li>
              </ul>
            )}
          </li>
        ))}
      </ul>
      {causes.length > SHOWN && (
        <button
          type="button"
          className="cursor-pointer px-3 py-1.5 text-sm underline"
          onClick={() => {
            setAll(!all);
          }}
        >
          {all ? 'Fewer' : `${String(causes.length - SHOWN)} more`}
        </button>
      )}
    </Panel>
  );
}
