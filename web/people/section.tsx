import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { toast } from 'sonner';

import type { Roster, RosterChange, RosterStudent } from '#api';
import {
  failureText,
  useChangeSectionMutation,
  useCoursesQuery,
  useNewCodeMutation,
  usePrintSlipsMutation,
  useRosterQuery,
  useUndoRosterMutation,
} from '#web/api';
import { Button, dateTime, Empty, Failed, Loading, PageHead, Panel, plural, saveFile } from '#web/ui';

import { Groups } from './groups.tsx';
import { ListDialog } from './list-dialog.tsx';

/** Who is in this section, and have they signed in? */
export function SectionPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = useRosterQuery(id);
  const [isAdding, setIsAdding] = useState(false);
  const [print, { isLoading: isPrinting }] = usePrintSlipsMutation();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the section" />;
  const { section, students, lastChange } = data;
  const waiting = students.filter(({ signedInAt }) => signedInAt === null).length;
  return (
    <>
      <PageHead
        answer={`${section.name}: ${plural(students.length, 'student')}`}
        detail={
          <>
            {students.length === 0
              ? 'Nobody belongs to it yet.'
              : waiting === 0
                ? 'All have signed in.'
                : `${plural(waiting, 'student')} never signed in.`}{' '}
            <Link className="underline" to="/people">
              All courses
            </Link>
          </>
        }
        actions={
          <>
            <Button
              kind="main"
              onClick={() => {
                setIsAdding(true);
              }}
            >
              Add students
            </Button>
            <Button
              disabled={waiting === 0 || isPrinting}
              onClick={() => {
                void print({ id, studentIds: null }).then((answer) => {
                  if (answer.data) saveFile(answer.data, `${section.name} slips.pdf`);
                  else toast.error(failureText(answer.error));
                });
              }}
            >
              Print slips for first sign-ins
            </Button>
          </>
        }
      />
      {lastChange !== null && <LastChange key={lastChange.id} sectionId={id} change={lastChange} />}
      <JoinLink sectionId={id} />
      <Panel title="Students">
        {students.length === 0 ? (
          <Empty>Nobody yet. Paste the list of your class with Add students, or let students join by a link.</Empty>
        ) : (
          <Students roster={data} />
        )}
      </Panel>
      <Groups roster={data} />
      {isAdding && (
        <ListDialog
          roster={data}
          onClose={() => {
            setIsAdding(false);
          }}
        />
      )}
    </>
  );
}

/** What the last list changed, as long as it can be taken back. */
function LastChange({ sectionId, change }: { readonly sectionId: number; readonly change: RosterChange }) {
  const [undo, { isLoading }] = useUndoRosterMutation();
  const { created, enrolled, changed, removed } = change;
  const words = [
    enrolled > 0
      ? `${plural(enrolled, 'student')} added${created > 0 ? `, ${String(created)} with a new account` : ''}`
      : '',
    changed > 0 ? `${String(changed)} changed` : '',
    removed > 0 ? `${String(removed)} taken out` : '',
  ].filter(Boolean);
  return (
    <p role="status" className="flex flex-wrap items-center gap-3 border-l-4 border-rule bg-paper px-3 py-2">
      <span>
        The last list, by {change.by}, {dateTime(change.at)}: {words.join('; ') || 'nothing changed'}.
      </span>
      <Button
        disabled={isLoading}
        onClick={() => {
          void undo({ id: sectionId, changeId: change.id }).then(({ error }) => {
            if (error !== undefined) toast.error(failureText(error));
          });
        }}
      >
        Take it back
      </Button>
    </p>
  );
}

/** The link by which students join by themselves, where that is allowed. */
function JoinLink({ sectionId }: { readonly sectionId: number }) {
  const { data: courses } = useCoursesQuery();
  const [change] = useChangeSectionMutation();
  const section = courses?.flatMap(({ sections }) => sections).find(({ id }) => id === sectionId);
  if (!section) return null;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={section.joinCode !== null}
          onChange={(event) => void change({ id: sectionId, mayJoin: event.target.checked })}
        />
        Students may join by a link
      </label>
      {section.joinCode !== null && (
        <code className="border border-rule bg-paper px-2 py-0.5 select-all">
          {`${window.location.origin}/join/${section.joinCode}`}
        </code>
      )}
    </div>
  );
}

function Students({ roster: { section, students } }: { readonly roster: Roster }) {
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-left">
        <thead className="border-b border-rule text-sm text-soft">
          <tr>
            {['Name', 'Sign-in name', 'Mail', 'Last signed in', 'Attempts', ''].map((head) => (
              <th key={head} scope="col" className="px-3 py-1.5 font-medium">
                {head || <span className="sr-only">What can be done</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="divide-y divide-rule">
          {students.map((student) => (
            <StudentRow key={student.id} sectionId={section.id} student={student} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function StudentRow({
  sectionId,
  student: { id, name, login, email, signedInAt, attempts },
}: {
  readonly sectionId: number;
  readonly student: RosterStudent;
}) {
  const [newCode, { data }] = useNewCodeMutation();
  return (
    <tr>
      <th scope="row" className="px-3 py-1.5 font-medium">
        {name}
      </th>
      <td className="px-3">{login}</td>
      <td className="px-3">{email ?? <span className="text-soft">none</span>}</td>
      <td className="px-3">{signedInAt === null ? <b>never</b> : dateTime(signedInAt)}</td>
      <td className="px-3 tabular-nums">{attempts}</td>
      <td className="px-3 py-1 text-right">
        {data ? (
          <span role="status">
            /welcome, code <b className="font-mono select-all">{data.code}</b>
          </span>
        ) : (
          <Button
            kind="quiet"
            aria-label={`New code for ${name}`}
            onClick={() => {
              void newCode({ id: sectionId, studentId: id }).then(({ error }) => {
                if (error !== undefined) toast.error(failureText(error));
              });
            }}
          >
            {signedInAt === null ? 'Code' : 'Forgot the password'}
          </Button>
        )}
      </td>
    </tr>
  );
}
