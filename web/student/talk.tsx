import { useState } from 'react';

import type { AttemptDetail } from '#api';
import { failureText, isSignedOut, useReplyMutation } from '#web/api';
import { Button, dateTime, Panel, TextArea, Toggle, useKeptText } from '#web/ui';

/** What the instructor says about an attempt, and what the student says back. */
export function Talk({ attempt }: { attempt: AttemptDetail }) {
  const { remarks, replies } = attempt.review;
  return (
    <Panel title={remarks.length > 0 ? 'What your instructor says' : 'Anything to say about this attempt?'}>
      <div className="flex flex-col gap-2 px-3 py-2">
        {remarks.length > 0 && (
          <ol className="flex flex-col gap-1" data-testid="remarks">
            {remarks.map(({ id, text, pin, by }, i) => (
              <li key={id} className="grid grid-cols-[1.5rem_minmax(0,1fr)] gap-1">
                <span
                  className={`flex size-5 items-center justify-center text-xs font-semibold ${pin ? 'rounded-full bg-ink text-paper' : ''}`}
                >
                  {i + 1}
                </span>
                <span>
                  {text} <span className="caption">{by}</span>
                  {pin && (
                    <span className="block caption">
                      Number {i + 1} on the {pin.on} shows where.
                    </span>
                  )}
                </span>
              </li>
            ))}
          </ol>
        )}
        {replies.length > 0 && (
          <ul className="flex flex-col gap-1" data-testid="replies">
            {replies.map(({ id, text, at, answer, answeredBy }) => (
              <li key={id} className="border-l-4 border-rule px-3 py-1">
                {text} <span className="caption">you, {dateTime(at)}</span>
                {answer === null ? (
                  <span className="block caption">Not answered yet.</span>
                ) : (
                  <span className="mt-1 block">
                    {answer} <span className="caption">{answeredBy}</span>
                  </span>
                )}
              </li>
            ))}
          </ul>
        )}
        <NewReply attempt={attempt} />
      </div>
    </Panel>
  );
}

function NewReply({ attempt }: { attempt: AttemptDetail }) {
  const [text, setText] = useKeptText(`reply ${String(attempt.id)}`);
  const [wantsLook, setWantsLook] = useState(false);
  const [send, { error, isLoading }] = useReplyMutation();
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void send({ id: attempt.id, text: text.trim(), wantsLook }).then((answer) => {
          if (answer.error === undefined) setText('');
        });
      }}
    >
      <TextArea
        label="Your reply"
        rows={2}
        maxLength={1000}
        value={text}
        error={error && !isSignedOut(error) ? failureText(error) : undefined}
        onChange={(event) => {
          setText(event.target.value);
        }}
      />
      <span className="flex flex-wrap items-center gap-3">
        <Button type="submit" disabled={isLoading || text.trim() === ''}>
          Send it
        </Button>
        <Toggle label="I ask for another look" on={wantsLook} onChange={setWantsLook} />
      </span>
    </form>
  );
}
