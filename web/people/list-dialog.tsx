import { useState } from 'react';

import type { Roster, RosterPreview } from '#api';
import type { Result } from '#core/problem';
import { listOfClass, readListFile, type ListFile, type RosterClass } from '#core/roster';
import {
  useApplyRosterMutation,
  usePreviewRosterMutation,
  useSiteMembersMutation,
  useSiteOfSectionQuery,
} from '#web/api';
import { Alert, Button, Dialog, FileButton, plural, Refused, SelectField, TextArea } from '#web/ui';

type Entry = RosterPreview['entries'][number];

const WORDS: Readonly<Record<Entry['kind'], string>> = {
  new: 'New',
  joins: 'Joins from elsewhere',
  same: 'As before',
  changed: 'Changed',
  doubtful: 'Who is it?',
};
/** What wants to be looked at comes first. */
const ORDER: readonly Entry['kind'][] = ['doubtful', 'new', 'joins', 'changed', 'same'];

/** A list is pasted, shown for what it would change, and only then done. */
export function ListDialog({ roster, onClose }: { readonly roster: Roster; readonly onClose: () => void }) {
  const { id, name } = roster.section;
  const [text, setText] = useState('');
  const [preview, { data, error, isLoading }] = usePreviewRosterMutation();
  const [shown, setShown] = useState<string | null>(null);
  const [file, setFile] = useState<Result<ListFile> | null>(null);
  const [classId, setClassId] = useState<string | null>(null);
  const look = (list: string): void => {
    void preview({ id, text: list }).then((answer) => {
      if (answer.data) setShown(list);
    });
  };
  return (
    <Dialog
      onClose={onClose}
      title={`Add students to ${name}`}
      description="Paste a list from a spreadsheet: one student a line, with name and, where there is one, mail address. Nothing happens before you have seen what it changes."
    >
      {data && shown === text ? (
        <Confirm
          roster={roster}
          text={shown}
          classId={classId}
          preview={data}
          onBack={() => {
            setShown(null);
          }}
          onDone={onClose}
        />
      ) : (
        <div className="flex flex-col gap-2">
          <TextArea
            label="List of students"
            rows={10}
            value={text}
            placeholder={'Ansel Brody\tansel@saltmarsh.example\nBettina Crane'}
            onChange={(event) => {
              setText(event.target.value);
            }}
          />
          <Refused error={error} />
          <div className="flex flex-wrap gap-2">
            <Button
              kind="main"
              disabled={text.trim() === '' || isLoading}
              onClick={() => {
                look(text);
              }}
            >
              See what changes
            </Button>
            <FileButton
              label="List of students as a file"
              accept=".csv,.tsv,.txt,.zip"
              testId="list-file"
              onFile={(chosen) => {
                void chosen.arrayBuffer().then((content) => {
                  const read = readListFile(new Uint8Array(content));
                  setFile(read);
                  setClassId(null);
                  setText(read.ok && read.value.kind === 'list' ? read.value.text : '');
                });
              }}
            >
              From a file
            </FileButton>
            <FromSite sectionId={id} onList={setText} />
          </div>
          <p className="text-xs text-soft">
            A file is a delimited list, or the zip of class lists that a school information system exports (OneRoster
            CSV).
          </p>
          {file?.ok === false && <Alert>{file.problem.message}</Alert>}
          {file?.ok === true && file.value.kind === 'classes' && (
            <Classes
              classes={file.value.classes}
              onChoose={(chosen) => {
                setText(listOfClass(chosen));
                setClassId(chosen.id);
              }}
            />
          )}
        </div>
      )}
    </Dialog>
  );
}

/** The class list of the site whose course the section is. */
function FromSite({ sectionId, onList }: { readonly sectionId: number; readonly onList: (list: string) => void }) {
  const { data } = useSiteOfSectionQuery(sectionId);
  const [ask, { error, isLoading }] = useSiteMembersMutation();
  if (!data || data.site === null) return null;
  return (
    <>
      <Button
        disabled={isLoading}
        onClick={() => {
          void ask(sectionId).then((answer) => {
            if (answer.data) onList(answer.data.text);
          });
        }}
      >
        From {data.site}
      </Button>
      <Refused error={error} />
    </>
  );
}

/** The classes of a package, of which one becomes the list. */
function Classes({
  classes,
  onChoose,
}: {
  readonly classes: readonly RosterClass[];
  readonly onChoose: (chosen: RosterClass) => void;
}) {
  return (
    <SelectField
      label="Class of the package"
      defaultValue=""
      onChange={(event) => {
        const chosen = classes.find(({ id }) => id === event.target.value);
        if (chosen !== undefined) onChoose(chosen);
      }}
    >
      <option value="" disabled>
        Choose one
      </option>
      {classes.map(({ id, title, students }) => (
        <option key={id} value={id}>
          {title}, {plural(students.length, 'student')}
        </option>
      ))}
    </SelectField>
  );
}

interface ConfirmProps {
  readonly roster: Roster;
  readonly text: string;
  readonly classId: string | null;
  readonly preview: RosterPreview;
  readonly onBack: () => void;
  readonly onDone: () => void;
}

function Confirm({
  roster: { section, students },
  text,
  classId,
  preview: { entries, gone, skipped },
  onBack,
  onDone,
}: ConfirmProps) {
  const [sameLines, setSameLines] = useState<readonly number[]>([]);
  const [remove, setRemove] = useState<readonly number[]>([]);
  const [apply, { error, isLoading }] = useApplyRosterMutation();
  const sorted = [...entries].sort((a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind));
  const inSection = new Set(students.map(({ id }) => id));
  const meant = (entry: Entry): Entry['kind'] => {
    if (entry.kind !== 'doubtful') return entry.kind;
    if (!sameLines.includes(entry.line.line)) return 'new';
    return inSection.has(entry.person.id) ? 'changed' : 'joins';
  };
  const kinds = entries.map(meant);
  const added = kinds.filter((kind) => kind === 'new' || kind === 'joins').length;
  const flip = (list: readonly number[], value: number): readonly number[] =>
    list.includes(value) ? list.filter((one) => one !== value) : [...list, value];
  return (
    <div className="flex flex-col gap-3">
      <p className="font-medium" role="status">
        {plural(added, 'student')} would be added, {kinds.filter((kind) => kind === 'changed').length} changed,{' '}
        {remove.length} taken out.
      </p>
      <ul className="max-h-64 divide-y divide-rule overflow-auto border border-rule">
        {sorted.map((entry) => (
          <li key={entry.line.line} className="px-2 py-1">
            <span className="mr-2 inline-block border border-ink/50 px-1 text-xs">{WORDS[entry.kind]}</span>
            <b className="font-medium">{entry.line.name}</b> <EntryWords entry={entry} />
            {entry.kind === 'doubtful' && (
              <label className="mt-0.5 flex items-center gap-2 text-sm">
                <input
                  type="checkbox"
                  checked={sameLines.includes(entry.line.line)}
                  onChange={() => {
                    setSameLines(flip(sameLines, entry.line.line));
                  }}
                />
                It is the one who signs in as {entry.person.login}. Otherwise a new account is made.
              </label>
            )}
          </li>
        ))}
      </ul>
      {gone.length > 0 && (
        <fieldset className="border border-rule px-2 py-1">
          <legend className="px-1 text-sm font-medium">In the section, not in the list</legend>
          {gone.map(({ id, name }) => (
            <label key={id} className="flex items-center gap-2 text-sm">
              <input
                type="checkbox"
                checked={remove.includes(id)}
                onChange={() => {
                  setRemove(flip(remove, id));
                }}
              />
              Take {name} out. What was handed in stays.
            </label>
          ))}
        </fieldset>
      )}
      {skipped.length > 0 && (
        <div role="status" className="border-l-4 border-near bg-near-soft px-3 py-2 text-sm">
          {plural(skipped.length, 'line')} left out:
          <ul>
            {skipped.slice(0, 8).map(({ line, text: words, why }) => (
              <li key={line}>
                {words}: {why}
              </li>
            ))}
          </ul>
        </div>
      )}
      <Refused error={error} />
      <div className="flex gap-2">
        <Button
          kind="main"
          disabled={isLoading}
          onClick={() => {
            void apply({ id: section.id, text, sameLines: [...sameLines], remove: [...remove], classId }).then(
              (answer) => {
                if (answer.data) onDone();
              },
            );
          }}
        >
          Do it
        </Button>
        <Button onClick={onBack}>Back to the list</Button>
      </div>
    </div>
  );
}

function EntryWords({ entry }: { readonly entry: Entry }) {
  switch (entry.kind) {
    case 'new':
      return <span className="text-soft">signs in as {entry.login}</span>;
    case 'joins':
      return <span className="text-soft">has an account, {entry.person.login}</span>;
    case 'changed':
      return (
        <span className="text-soft">
          was {entry.person.name}
          {entry.line.email !== null &&
            entry.line.email !== entry.person.email &&
            `, ${entry.person.email ?? 'no address'}`}
        </span>
      );
    case 'doubtful':
      return <span className="text-soft">{entry.why}</span>;
    case 'same':
      return null;
  }
}
