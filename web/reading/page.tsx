import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';

import type { ReadingQuestion, ReadingVerdict, WorkDetail } from '#api';
import type { Picture } from '#core/lookalike';
import { useAnswerReadingMutation, useReadingQuery } from '#web/api';
import { SheetView, Signed } from '#web/sheet';
import { Button, Failed, Loading, PageHead, Panel, plural, Refused, usePageKeys } from '#web/ui';
import { PageOfWork } from '#web/work';

import { TOPIC_WORDS } from './words.ts';

/** Can I read this sheet? */
export const ReadingPage = () => <PageOfWork>{(work) => <Sitting work={work} />}</PageOfWork>;

/** Questions of one sitting: those that were answered wrong come once more at its end. */
function Sitting({ work }: { readonly work: WorkDetail }) {
  const { data, error, isFetching, refetch } = useReadingQuery(
    { id: work.id, stage: work.stage },
    { refetchOnMountOrArgChange: true },
  );
  const [round, setRound] = useState(0);
  const exercise = (
    <Link className="underline" to={`/my/${String(work.id)}?stage=${String(work.stage)}`}>
      To the exercise
    </Link>
  );
  if (work.aids.reading === 'none') return <PageHead answer="Your course does without this" detail={exercise} />;
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data || isFetching) return <Loading what="questions about the sheet" />;
  return (
    <>
      <PageHead
        answer={`Read the sheet of ${work.exerciseTitle.toLowerCase()}`}
        detail={<>The sheet answers every question. What was wrong comes back in some days. {exercise}</>}
      />
      {data.length === 0 ? (
        <p>There is nothing to ask of this sheet.</p>
      ) : (
        <Asking
          key={round}
          work={work}
          questions={data}
          onMore={() => {
            void refetch().then(() => {
              setRound(round + 1);
            });
          }}
        />
      )}
    </>
  );
}

interface AskingProps {
  readonly work: WorkDetail;
  readonly questions: readonly ReadingQuestion[];
  readonly onMore: () => void;
}

function Asking({ work, questions, onMore }: AskingProps) {
  const [queue, setQueue] = useState(questions);
  const [at, setAt] = useState(0);
  const [wrong, setWrong] = useState<ReadonlySet<string>>(new Set());
  const [given, setGiven] = useState<{ readonly choice: number; readonly verdict: ReadingVerdict } | null>(null);
  const [answer, { error, isLoading }] = useAnswerReadingMutation();
  const question = queue[at];
  const why = useRef<HTMLDivElement>(null);
  // The options cannot be chosen any more: the keyboard goes on from what is said of the answer.
  useEffect(() => {
    if (given !== null) why.current?.focus();
  }, [given]);
  const choose = (choice: number): void => {
    if (question === undefined || given !== null || isLoading || choice >= question.options.length) return;
    void answer({ id: work.id, stage: work.stage, questionId: question.id, choice }).then(({ data }) => {
      if (!data) return;
      setGiven({ choice, verdict: data });
      if (data.right || wrong.has(question.id)) return;
      setWrong(new Set([...wrong, question.id]));
      setQueue([...queue, question]);
    });
  };
  const next = (): void => {
    if (given === null) return;
    setGiven(null);
    setAt(at + 1);
  };
  usePageKeys({
    ...Object.fromEntries([1, 2, 3, 4].map((n) => [String(n), () => choose(n - 1)])),
    ...(given === null ? {} : { n: next }),
  });
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_25rem]">
      <div className="aspect-[420/297] min-w-0 lg:sticky lg:top-4">
        <SheetView
          // Each question begins with the whole sheet, or with its dimension.
          key={`${question?.id ?? ''} ${String(at)}`}
          url={`work/${String(work.id)}/sheet.svg?stage=${String(work.stage)}`}
          at={question?.checkId ? { checkId: question.checkId, page: question.page } : null}
          page={question?.page ?? 1}
          pins={
            question?.rings.map(({ label, at: point }) => ({ label, page: point.page, at: point.at, ring: true })) ?? []
          }
        />
      </div>
      {question === undefined ? (
        <Finished questions={questions} wrong={wrong} onMore={onMore} />
      ) : (
        <Panel
          title={TOPIC_WORDS[question.topic]}
          aside={
            <span className="caption">
              {at < questions.length ? `${String(at + 1)} of ${String(questions.length)}` : 'once more'}
            </span>
          }
        >
          <div className="flex flex-col gap-3 p-3" data-testid="question">
            <p className="text-base font-medium">
              <Signed text={question.text} />
            </p>
            <ol className={question.pictures === null ? 'flex flex-col gap-1.5' : 'grid grid-cols-2 gap-1.5'}>
              {question.options.map((option, i) => (
                <li key={option}>
                  <OptionButton
                    number={i + 1}
                    text={option}
                    picture={question.pictures?.[i]}
                    state={stateOf(i, given)}
                    onChoose={() => choose(i)}
                  />
                </li>
              ))}
            </ol>
            <Refused error={error} />
            {given !== null && (
              <div role="status" data-testid="why" ref={why} tabIndex={-1}>
                <p className={`font-medium ${given.verdict.right ? 'text-accent' : 'text-wrong'}`}>
                  {given.verdict.right ? 'Right.' : 'No.'}
                </p>
                <p className="mb-2">
                  <Signed text={given.verdict.why} />
                </p>
                <Button kind="main" onClick={next}>
                  Next question <kbd className="text-xs">N</kbd>
                </Button>
              </div>
            )}
          </div>
        </Panel>
      )}
    </div>
  );
}

type OptionState = 'open' | 'right' | 'chosen-wrong' | 'other';

function stateOf(
  option: number,
  given: { readonly choice: number; readonly verdict: ReadingVerdict } | null,
): OptionState {
  if (given === null) return 'open';
  if (option === given.verdict.answer) return 'right';
  return option === given.choice ? 'chosen-wrong' : 'other';
}

const LOOKS: Readonly<Record<OptionState, string>> = {
  open: 'border-ink/50 hover:border-accent hover:bg-accent-soft',
  right: 'border-accent bg-accent-soft font-medium',
  'chosen-wrong': 'border-wrong bg-wrong-soft line-through',
  other: 'border-rule text-soft',
};

/** A part in lines, as large as its frame. */
const PartPicture = ({ picture }: { readonly picture: Picture }) => (
  <svg viewBox="0 0 1000 1000" className="block w-full bg-paper" aria-hidden>
    <path
      d={picture.map((line) => `M${line.join(' ')}`).join('')}
      fill="none"
      stroke="currentColor"
      strokeWidth={6}
      strokeLinejoin="round"
      strokeLinecap="round"
    />
  </svg>
);

interface OptionButtonProps {
  readonly number: number;
  readonly text: string;
  readonly picture: Picture | undefined;
  readonly state: OptionState;
  readonly onChoose: () => void;
}

function OptionButton({ number, text, picture, state, onChoose }: OptionButtonProps) {
  return (
    <button
      type="button"
      disabled={state !== 'open'}
      className={`flex w-full cursor-pointer flex-wrap gap-2 border px-2 py-1.5 text-left disabled:cursor-default ${LOOKS[state]}`}
      onClick={onChoose}
    >
      <kbd className="text-xs text-soft">{number}</kbd>
      <span>
        <Signed text={text} />
      </span>
      {state === 'right' && <span className="ml-auto text-sm">this one</span>}
      {picture !== undefined && <PartPicture picture={picture} />}
    </button>
  );
}

interface FinishedProps {
  readonly questions: readonly ReadingQuestion[];
  readonly wrong: ReadonlySet<string>;
  readonly onMore: () => void;
}

function Finished({ questions, wrong, onMore }: FinishedProps) {
  const missed = [...new Set(questions.filter(({ id }) => wrong.has(id)).map(({ topic }) => TOPIC_WORDS[topic]))];
  return (
    <Panel title="Done for now">
      <div className="flex flex-col gap-3 p-3" data-testid="sitting-done">
        <p className="text-base font-medium">
          {questions.length - wrong.size} of {plural(questions.length, 'question')} right at first.
        </p>
        {missed.length > 0 && <p>Look once more at: {missed.join(', ').toLowerCase()}.</p>}
        <div>
          <Button onClick={onMore}>More questions</Button>
        </div>
      </div>
    </Panel>
  );
}
