import { useState } from 'react';
import { toast } from 'sonner';

import type { Roster, StudentGroup } from '#api';
import {
  failureText,
  useAddGroupMutation,
  useChangeGroupMutation,
  useRemoveGroupMutation,
  useStudentGroupsQuery,
} from '#web/api';
import { Button, Dialog, Failed, Panel, plural, Refused, TextField, Toggle } from '#web/ui';

/** The groups of a section whose students have other dates, as those who come on another day. */
export function Groups({ roster }: { readonly roster: Roster }) {
  const { section, students } = roster;
  const { data: groups, error, refetch } = useStudentGroupsQuery(section.id);
  const [changed, setChanged] = useState<StudentGroup | 'new' | null>(null);
  const [remove] = useRemoveGroupMutation();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!groups || (students.length === 0 && groups.length === 0)) return null;
  const names = new Map(students.map(({ id, name }) => [id, name]));
  return (
    <Panel
      title={groups.length === 0 ? 'No groups with other dates' : plural(groups.length, 'group')}
      aside={
        <Button
          kind="quiet"
          onClick={() => {
            setChanged('new');
          }}
        >
          New group
        </Button>
      }
    >
      <p className="px-3 py-2 text-sm text-soft">
        Students who come on another day: each assignment can have a due time of its own for a group.
      </p>
      <ul className="divide-y divide-rule border-t border-rule">
        {groups.map((group) => (
          <li key={group.id} className="flex flex-wrap items-baseline gap-x-3 px-3 py-1.5">
            <b className="font-medium">{group.name}</b>
            <span className="grow text-soft">
              {group.studentIds.map((id) => names.get(id) ?? '').join(', ') || 'nobody yet'}
            </span>
            <Button
              kind="quiet"
              aria-label={`Change ${group.name}`}
              onClick={() => {
                setChanged(group);
              }}
            >
              Change
            </Button>
            <Button
              kind="quiet"
              aria-label={`Remove ${group.name}`}
              onClick={() => {
                void remove({ sectionId: section.id, groupId: group.id }).then((answer) => {
                  if (answer.error !== undefined) toast.error(failureText(answer.error));
                });
              }}
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {changed !== null && (
        <GroupDialog
          roster={roster}
          group={changed === 'new' ? null : changed}
          onClose={() => {
            setChanged(null);
          }}
        />
      )}
    </Panel>
  );
}

function GroupDialog({
  roster: { section, students },
  group,
  onClose,
}: {
  readonly roster: Roster;
  readonly group: StudentGroup | null;
  readonly onClose: () => void;
}) {
  const [name, setName] = useState(group?.name ?? '');
  const [chosen, setChosen] = useState<ReadonlySet<number>>(() => new Set(group?.studentIds));
  const [add, adding] = useAddGroupMutation();
  const [change, changing] = useChangeGroupMutation();
  const error = adding.error ?? changing.error;
  const save = () => {
    const body = { sectionId: section.id, name: name.trim(), studentIds: [...chosen] };
    return group === null ? add(body) : change({ ...body, groupId: group.id });
  };
  return (
    <Dialog
      onClose={onClose}
      title={group === null ? 'A new group' : `The group ${group.name}`}
      description="Whoever is in two groups has the later due time. An extension of one student goes before."
    >
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void save().then((answer) => {
            if (answer.error === undefined) onClose();
          });
        }}
      >
        <TextField
          label="Name"
          value={name}
          onChange={(event) => {
            setName(event.target.value);
          }}
        />
        <fieldset className="max-h-64 overflow-auto border border-rule p-2">
          <legend className="px-1 caption">{plural(chosen.size, 'student')} of it</legend>
          <div className="grid gap-1 sm:grid-cols-2">
            {students.map(({ id, name: called }) => (
              <Toggle
                key={id}
                label={called}
                on={chosen.has(id)}
                onChange={(on) => {
                  setChosen(new Set(on ? [...chosen, id] : [...chosen].filter((other) => other !== id)));
                }}
              />
            ))}
          </div>
        </fieldset>
        <Refused error={error} />
        <Button kind="main" type="submit" className="self-start" disabled={adding.isLoading || changing.isLoading}>
          Save
        </Button>
      </form>
    </Dialog>
  );
}
