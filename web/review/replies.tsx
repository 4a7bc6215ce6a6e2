import type { AttemptDetail, Reply } from '#api';
import { Button, dateTime, TextField, useKeptText } from '#web/ui';

import { useChange } from './change.ts';

/** What the student said, and what is said back. */
export function Replies({ attempt }: { attempt: AttemptDetail }) {
  return (
    <ul className="flex flex-col gap-2" data-testid="replies">
      {attempt.review.replies.map((reply) => (
        <li key={reply.id} className="border-l-4 border-accent bg-accent-soft px-3 py-1.5">
          <p>{reply.text}</p>
          <p className="caption">
            {attempt.student.name}, {dateTime(reply.at)}
            {reply.wantsLook && reply.answer === null ? ', asks for another look' : ''}
          </p>
          {reply.answer === null ? (
            <Answer attempt={attempt} reply={reply} />
          ) : (
            <p className="mt-1">
              {reply.answer} <span className="caption">{reply.answeredBy}</span>
            </p>
          )}
        </li>
      ))}
    </ul>
  );
}

function Answer({ attempt, reply }: { attempt: AttemptDetail; reply: Reply }) {
  const { change, busy } = useChange(attempt);
  const [text, setText] = useKeptText(`answer ${String(reply.id)}`);
  return (
    <form
      className="mt-1 grid grid-cols-[minmax(0,1fr)_auto] items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void change({ kind: 'answer', replyId: reply.id, text: text.trim() }).then((done) => {
          if (done) setText('');
        });
      }}
    >
      <TextField
        label="Your answer"
        maxLength={1000}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
        }}
      />
      <Button type="submit" className="mb-1" disabled={busy || text.trim() === ''}>
        Answer
      </Button>
    </form>
  );
}
