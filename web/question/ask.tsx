import { useState } from 'react';

import type { AskedQuestion, Erratum, WorkDetail } from '#api';
import { useAskMutation, useTakeBackQuestionMutation } from '#web/api';
import { Button, dateTime, Panel, plural, Refused, TextArea, useKeptText } from '#web/ui';

import { erratumLabel, questionLabel, type SheetQuestions } from './sheet-questions.ts';

/** What is wrong on the sheet, what was asked about it, and a question of one's own with its place. */
export function AskPanel({ work, sheet }: { readonly work: WorkDetail; readonly sheet: SheetQuestions }) {
  const [isOpen, setIsOpen] = useState(false);
  const { questions = [], errata = [] } = sheet.asked ?? {};
  return (
    <>
      {errata.length > 0 && (
        <Panel title="Corrected on the sheet">
          <ul className="divide-y divide-rule bg-near-soft" data-testid="errata">
            {errata.map((erratum, i) => (
              <Correction key={erratum.id} erratum={erratum} label={erratumLabel(i)} zone={work.timeZone} />
            ))}
          </ul>
        </Panel>
      )}
      <Panel title={questions.length === 0 ? 'Is the sheet not clear?' : plural(questions.length, 'question')}>
        <Refused error={sheet.error} />
        <ol className="divide-y divide-rule" data-testid="questions">
          {questions.map((question, i) => (
            <Asked key={question.id} work={work} question={question} label={questionLabel(i)} />
          ))}
        </ol>
        <div className="p-3">
          {isOpen ? (
            <QuestionForm
              work={work}
              sheet={sheet}
              onClose={() => {
                setIsOpen(false);
                sheet.setPicking(false);
                sheet.setPlace(null);
              }}
            />
          ) : (
            <Button
              onClick={() => {
                setIsOpen(true);
                sheet.setPicking(true);
              }}
            >
              Ask about the sheet
            </Button>
          )}
        </div>
      </Panel>
    </>
  );
}

/** Said of what was written before the sheet was replaced by a corrected one. */
const EARLIER = ', about the sheet before this one';

const PinMark = ({ label, isOnSheet }: { readonly label: string; readonly isOnSheet: boolean }) => (
  <span
    className={`flex h-5 items-center justify-center px-1 text-xs font-semibold ${isOnSheet ? 'rounded-full border-2 border-accent' : ''}`}
  >
    {label}
  </span>
);

function Correction({
  erratum: { text, place, by, at, isEarlier },
  label,
  zone,
}: {
  readonly erratum: Erratum;
  readonly label: string;
  readonly zone: string;
}) {
  return (
    <li className="grid grid-cols-[2rem_minmax(0,1fr)] gap-2 px-3 py-2">
      <PinMark label={label} isOnSheet={place !== null} />
      <span>
        {text}{' '}
        <span className="caption">
          {by}, {dateTime(at, zone)}
          {isEarlier && EARLIER}
        </span>
      </span>
    </li>
  );
}

function Asked({
  work,
  question: { id, text, own, place, at, answer, answeredBy, toAll, isEarlier },
  label,
}: {
  readonly work: WorkDetail;
  readonly question: AskedQuestion;
  readonly label: string;
}) {
  const [takeBack, { error, isLoading }] = useTakeBackQuestionMutation();
  return (
    <li className="grid grid-cols-[2rem_minmax(0,1fr)] gap-2 px-3 py-2">
      <PinMark label={label} isOnSheet={place !== null} />
      <span>
        {text}{' '}
        <span className="caption">
          {own ? 'you' : 'somebody of the course'}, {dateTime(at, work.timeZone)}
          {isEarlier && EARLIER}
        </span>
        {answer === null ? (
          <span className="flex items-center gap-2 caption">
            Not answered yet.
            <button
              type="button"
              className="cursor-pointer underline"
              disabled={isLoading}
              onClick={() => {
                void takeBack({ id: work.id, questionId: id });
              }}
            >
              Take it back
            </button>
          </span>
        ) : (
          <span className="mt-1 block border-l-4 border-rule pl-2">
            {answer}{' '}
            <span className="caption">
              {answeredBy}
              {toAll && own && ', for everybody'}
            </span>
          </span>
        )}
        <Refused error={error} />
      </span>
    </li>
  );
}

function QuestionForm({
  work,
  sheet,
  onClose,
}: {
  readonly work: WorkDetail;
  readonly sheet: SheetQuestions;
  readonly onClose: () => void;
}) {
  const [text, setText] = useKeptText(`question ${String(work.id)} ${String(work.stage)}`);
  const [ask, { error, isLoading }] = useAskMutation();
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void ask({ id: work.id, stage: work.stage, text: text.trim(), place: sheet.place }).then((answer) => {
          if (answer.error !== undefined) return;
          setText('');
          onClose();
        });
      }}
    >
      <TextArea
        label="Your question"
        rows={3}
        maxLength={1000}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
        }}
      />
      <p className="text-sm text-soft" role="status">
        {sheet.place === null
          ? 'Click on the sheet where it is, if it is at one place.'
          : 'The question mark on the sheet shows where.'}{' '}
        {sheet.place !== null && (
          <button
            type="button"
            className="cursor-pointer underline"
            onClick={() => {
              sheet.setPlace(null);
            }}
          >
            At no place
          </button>
        )}
      </p>
      <Refused error={error} />
      <span className="flex gap-2">
        <Button type="submit" kind="main" disabled={isLoading || text.trim() === ''}>
          Ask
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </span>
    </form>
  );
}
