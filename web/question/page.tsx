import { useState } from 'react';
import { Link, useParams } from 'react-router';

import type { AssignmentQuestions, PaperPoint } from '#api';
import { useAnswerQuestionMutation, useAssignmentQuestionsQuery } from '#web/api';
import { SheetView } from '#web/sheet';
import { Button, dateTime, Empty, Failed, Loading, PageHead, Panel, plural, Refused, TextArea, Toggle } from '#web/ui';

import { Errata } from './errata.tsx';
import { pin, pinsOf, questionLabel } from './sheet-questions.ts';

type Question = AssignmentQuestions['questions'][number];

/** What is not clear on the sheet, and what is wrong on it? */
export function QuestionsPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = useAssignmentQuestionsQuery(id);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the questions" />;
  return <Questions asked={data} />;
}

/** Which sheet is shown: that of a question, or that of a stage, for errata. */
type Shown = { readonly kind: 'question'; readonly id: number } | { readonly kind: 'stage'; readonly stage: number };

function Questions({ asked: { assignment, questions, errata } }: { readonly asked: AssignmentQuestions }) {
  const waiting = questions.filter(({ answer }) => answer === null);
  const [shown, setShown] = useState<Shown>(() =>
    waiting[0] === undefined ? { kind: 'stage', stage: 1 } : { kind: 'question', id: waiting[0].id },
  );
  const [place, setPlace] = useState<PaperPoint | null>(null);
  const question = shown.kind === 'question' ? questions.find(({ id }) => id === shown.id) : undefined;
  const stage = shown.kind === 'stage' ? shown.stage : (question?.stage ?? 1);
  const pins =
    question === undefined
      ? [
          ...pinsOf(
            [],
            errata.filter((erratum) => erratum.stage === stage),
          ),
          ...pin('!', place),
        ]
      : pin(questionLabel(questions.indexOf(question)), question.place);
  return (
    <>
      <PageHead
        answer={waiting.length === 0 ? 'No question waits' : `${plural(waiting.length, 'question')} about the sheet`}
        detail={
          <>
            <Link className="underline" to={`/assignments/${String(assignment.id)}`}>
              {assignment.exercise}
            </Link>{' '}
            for {assignment.section}. What you answer for everybody is read without the name of who asked.
          </>
        }
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_25rem]">
        <div className="aspect-[420/297] min-w-0 lg:sticky lg:top-4">
          <SheetView
            key={question === undefined ? `stage ${String(stage)}` : `question ${String(question.id)}`}
            url={
              question === undefined
                ? `assignments/${String(assignment.id)}/sheet.svg?stage=${String(stage)}`
                : `questions/${String(question.id)}/sheet.svg`
            }
            page={question?.place?.page ?? 1}
            pins={pins}
            {...(question === undefined ? { onPoint: (page, at) => setPlace({ page, at: [at[0], at[1]] }) } : {})}
          />
        </div>
        <div className="flex flex-col gap-4">
          {questions.length === 0 && <Empty>Nobody has asked about this sheet.</Empty>}
          {questions.map((one, i) => (
            <Asked
              key={one.id}
              question={one}
              label={questionLabel(i)}
              zone={assignment.timeZone}
              isShown={one === question}
              onShow={() => {
                setShown({ kind: 'question', id: one.id });
              }}
            />
          ))}
          <Errata
            assignment={assignment}
            errata={errata}
            stage={stage}
            place={place}
            isShown={question === undefined}
            onStage={(next) => {
              setPlace(null);
              setShown({ kind: 'stage', stage: next });
            }}
            onDone={() => {
              setPlace(null);
            }}
          />
        </div>
      </div>
    </>
  );
}

function Asked({
  question,
  label,
  zone,
  isShown,
  onShow,
}: {
  readonly question: Question;
  readonly label: string;
  readonly zone: string;
  readonly isShown: boolean;
  readonly onShow: () => void;
}) {
  const { text, student, at, answer, answeredBy, toAll, place } = question;
  const [isAnswering, setIsAnswering] = useState(answer === null);
  return (
    <Panel
      title={`${label}. ${student ?? 'Somebody who is gone'}`}
      aside={
        isShown ? (
          <span className="caption">shown</span>
        ) : (
          <button type="button" className="cursor-pointer text-sm underline" onClick={onShow}>
            {place === null ? 'Show the sheet' : 'Show where'}
          </button>
        )
      }
    >
      <div className="flex flex-col gap-2 px-3 py-2" data-testid="question">
        <p>
          {text} <span className="caption">{dateTime(at, zone)}</span>
        </p>
        {isAnswering ? (
          <AnswerForm
            question={question}
            onDone={() => {
              setIsAnswering(false);
            }}
          />
        ) : (
          <p className="border-l-4 border-rule pl-2">
            {answer}{' '}
            <span className="caption">
              {answeredBy}, {toAll ? 'for everybody' : 'for who asked'}
            </span>{' '}
            <button
              type="button"
              className="cursor-pointer text-sm underline"
              onClick={() => {
                setIsAnswering(true);
              }}
            >
              Change
            </button>
          </p>
        )}
      </div>
    </Panel>
  );
}

function AnswerForm({ question, onDone }: { readonly question: Question; readonly onDone: () => void }) {
  const [text, setText] = useState(question.answer ?? '');
  const [toAll, setToAll] = useState(question.toAll);
  const [send, { error, isLoading }] = useAnswerQuestionMutation();
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void send({ id: question.id, answer: text.trim(), toAll }).then((sent) => {
          if (sent.error === undefined) onDone();
        });
      }}
    >
      <TextArea
        label="Answer"
        rows={2}
        maxLength={1000}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
        }}
      />
      <Refused error={error} />
      <span className="flex flex-wrap items-center gap-3">
        <Button type="submit" kind="main" disabled={isLoading || text.trim() === ''}>
          Send
        </Button>
        <Toggle label="For everybody with this exercise" on={toAll} onChange={setToAll} />
      </span>
    </form>
  );
}
