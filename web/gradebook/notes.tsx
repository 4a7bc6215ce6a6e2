import type { StudentRecord } from '#api';
import { useAddNoteMutation, useRemoveNoteMutation } from '#web/api';
import { Button, dateTime, Panel, Refused, TextArea, useKeptText } from '#web/ui';

interface NotesProps {
  readonly courseId: number;
  readonly studentId: number;
  readonly record: Pick<StudentRecord, 'notes' | 'timeZone'>;
}

/** What staff notes of a student for each other. */
export function Notes({ courseId, studentId, record: { notes, timeZone } }: NotesProps) {
  const [text, setText] = useKeptText(`note ${String(courseId)} ${String(studentId)}`);
  const [add, adding] = useAddNoteMutation();
  const [remove, removing] = useRemoveNoteMutation();
  return (
    <Panel title="Notes for the staff">
      <form
        className="flex flex-col gap-2 px-3 py-2"
        onSubmit={(event) => {
          event.preventDefault();
          void add({ courseId, studentId, text: text.trim() }).then((sent) => {
            if (sent.error === undefined) setText('');
          });
        }}
      >
        <TextArea
          label="A note that the student does not see here"
          rows={2}
          maxLength={2000}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
          }}
        />
        <Refused error={adding.error ?? removing.error} />
        <Button type="submit" className="self-start" disabled={adding.isLoading || text.trim() === ''}>
          Note it
        </Button>
      </form>
      <ul className="divide-y divide-rule border-t border-rule" data-testid="notes">
        {notes.map((note) => (
          <li key={note.id} className="px-3 py-2">
            {note.text}{' '}
            <span className="caption">
              {note.by}, {dateTime(note.at, timeZone)}
            </span>{' '}
            <button
              type="button"
              className="cursor-pointer text-sm underline"
              disabled={removing.isLoading}
              onClick={() => {
                void remove({ courseId, studentId, noteId: note.id });
              }}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
    </Panel>
  );
}
