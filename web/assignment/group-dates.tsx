import { useState } from 'react';
import { Link } from 'react-router';

import type { AssignmentDetail, GroupDates as Dates } from '#api';
import { useGroupDatesQuery, useSetGroupDueMutation } from '#web/api';
import { Button, dateTime, LATEST_LOCAL, localOf, momentOf, Panel, plural, Refused, TextField } from '#web/ui';

/** When the groups of the section have to hand in; nothing where there are none. */
export function GroupDates({ assignment }: { readonly assignment: AssignmentDetail }) {
  const { data: groups = [] } = useGroupDatesQuery(assignment.id);
  if (groups.length === 0) return null;
  return (
    <Panel title="Dates of groups">
      <ul className="divide-y divide-rule">
        {groups.map((group) => (
          <GroupDate key={group.groupId} assignment={assignment} group={group} />
        ))}
      </ul>
      <p className="border-t border-rule px-3 py-2 text-sm">
        <Link className="underline" to={`/people/sections/${String(assignment.sectionId)}`}>
          Who is in them
        </Link>
      </p>
    </Panel>
  );
}

function GroupDate({
  assignment,
  group: { groupId, name, students, dueAt },
}: {
  readonly assignment: AssignmentDetail;
  readonly group: Dates['groups'][number];
}) {
  const [isChanging, setIsChanging] = useState(false);
  const [text, setText] = useState(() => localOf(dueAt ?? assignment.dueAt));
  const [set, { error, isLoading }] = useSetGroupDueMutation();
  const send = (moment: string | null): void => {
    void set({ assignmentId: assignment.id, groupId, dueAt: moment }).then((answer) => {
      if (answer.error === undefined) setIsChanging(false);
    });
  };
  return (
    <li className="px-3 py-2">
      <span className="flex items-baseline justify-between gap-2">
        <span>
          <b className="font-medium">{name}</b> <span className="caption">{plural(students, 'student')}</span>
        </span>
        <button
          type="button"
          className="cursor-pointer text-sm underline"
          aria-label={`Change the due time of ${name}`}
          onClick={() => {
            setIsChanging(!isChanging);
          }}
        >
          {isChanging ? 'Leave it' : 'Change'}
        </button>
      </span>
      <span className="block">{dueAt === null ? 'as all' : `until ${dateTime(dueAt, assignment.timeZone)}`}</span>
      {isChanging && (
        <form
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            send(momentOf(text));
          }}
        >
          <TextField
            label={`Due for ${name}`}
            type="datetime-local"
            max={LATEST_LOCAL}
            value={text}
            onChange={(event) => {
              setText(event.target.value);
            }}
          />
          <Refused error={error} />
          <span className="flex gap-2">
            <Button type="submit" kind="main" disabled={isLoading}>
              Set
            </Button>
            {dueAt !== null && (
              <Button
                disabled={isLoading}
                onClick={() => {
                  send(null);
                }}
              >
                As all
              </Button>
            )}
          </span>
        </form>
      )}
    </li>
  );
}
