import { useState } from 'react';
import { toast } from 'sonner';

import type { GroupReview } from '#api';
import { REMARK_FIELDS } from '#core/grade';
import { failureText, useRemarksQuery, useReviewGroupMutation } from '#web/api';
import { Button, Dialog, plural, SelectField, TextArea } from '#web/ui';

interface GroupActionsProps {
  readonly assignmentId: number;
  readonly courseId: number;
  readonly attemptIds: readonly number[];
  /** Whether reports wait for being released. */
  readonly releases: boolean;
}

/** What can be done with several attempts at once: a remark to all, accepting, releasing. */
export function GroupActions({ assignmentId, courseId, attemptIds, releases }: GroupActionsProps) {
  const [send, { isLoading }] = useReviewGroupMutation();
  const [writing, setWriting] = useState(false);
  const act = async (action: GroupReview['action'], done: string): Promise<boolean> => {
    const { data, error } = await send({ assignmentId, attemptIds: [...attemptIds], action });
    if (error) toast.error(failureText(error));
    if (data) toast.success(`${plural(data.changed, 'attempt')} ${done}.`);
    return data !== undefined;
  };
  const busy = isLoading || attemptIds.length === 0;
  return (
    <span className="flex flex-wrap gap-2">
      <Button disabled={busy} onClick={() => setWriting(true)}>
        Remark to {attemptIds.length === 1 ? 'this one' : `these ${String(attemptIds.length)}`}
      </Button>
      <Button disabled={busy} onClick={() => void act({ kind: 'accept' }, 'accepted')}>
        Accept
      </Button>
      {releases && (
        <Button disabled={busy} onClick={() => void act({ kind: 'release' }, 'released')}>
          Release
        </Button>
      )}
      <Dialog
        title={`A remark to ${plural(attemptIds.length, 'student')}`}
        description="Each gets it with their own name and numbers in place of the braces."
        open={writing}
        onClose={() => {
          setWriting(false);
        }}
      >
        <RemarkForm
          courseId={courseId}
          onSend={async (text) => {
            if (await act({ kind: 'remark', text }, 'got the remark')) setWriting(false);
          }}
        />
      </Dialog>
    </span>
  );
}

function RemarkForm({ courseId, onSend }: { courseId: number; onSend: (text: string) => Promise<void> }) {
  const { data: collection = [] } = useRemarksQuery(courseId);
  const [text, setText] = useState('');
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void onSend(text.trim());
      }}
    >
      {collection.length > 0 && (
        <SelectField
          label="From the collection"
          value=""
          onChange={(event) => {
            setText(collection.find(({ id }) => String(id) === event.target.value)?.text ?? text);
          }}
        >
          <option value="">Choose a remark</option>
          {collection.map(({ id, text: template }) => (
            <option key={id} value={id}>
              {template}
            </option>
          ))}
        </SelectField>
      )}
      <TextArea
        label="Remark"
        rows={3}
        maxLength={1000}
        value={text}
        hint={`Fields: ${Object.keys(REMARK_FIELDS)
          .map((name) => `{${name}}`)
          .join(' ')}`}
        onChange={(event) => {
          setText(event.target.value);
        }}
      />
      <span>
        <Button kind="main" type="submit" disabled={text.trim() === ''}>
          Send the remark
        </Button>
      </span>
    </form>
  );
}
