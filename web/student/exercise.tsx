import { useState } from 'react';
import { Link, Navigate, useParams, useSearchParams } from 'react-router';

import type { AttemptRow, WorkDetail } from '#api';
import { formatFixed } from '#core/quantity';
import { pausedAt } from '#core/timelog';
import { useWorkDetailQuery } from '#web/api';
import { AskPanel, useSheetQuestions } from '#web/question';
import { useSessionQuery } from '#web/server';
import { SheetView } from '#web/sheet';
import { useAppSelector } from '#web/store';
import { TimePanel, useTimeLog } from '#web/time';
import {
  dateTime,
  Failed,
  fromNow,
  hasPassed,
  Loading,
  OwnStateMark,
  PageHead,
  Panel,
  plural,
  ScoreBar,
} from '#web/ui';
import { WordsPanel } from '#web/words';

import { HandInPanel } from './handin.tsx';

/** What do I have to model, and how do I hand it in? */
export function ExerciseWorkPage() {
  const id = Number(useParams()['id']);
  const [search] = useSearchParams();
  const asked = Number(search.get('stage') ?? '');
  const { data, error, refetch } = useWorkDetailQuery({ id, stage: asked > 0 ? asked : null });
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the exercise" />;
  // The page stays with its stage when the next one opens.
  if (data.stages.length > 0 && !(asked > 0)) return <Navigate replace to={`?stage=${String(data.stage)}`} />;
  return <ExerciseWork key={data.stage} work={data} />;
}

function ExerciseWork({ work }: { work: WorkDetail }) {
  const user = useSessionQuery().data?.user;
  const handedIn = Number(useSearchParams()[0].get('attempt') ?? '');
  const [watched, setWatched] = useState<number | null>(handedIn > 0 ? handedIn : null);
  const shown = work.attempts.find((attempt) => attempt.id === watched);
  const sheet = useSheetQuestions(work);
  const time = useTimeLog(work);
  const handedInNow = (attemptId: number): void => {
    setWatched(attemptId);
    void time.change((log) => pausedAt(log, new Date().toISOString()));
  };
  return (
    <>
      <PageHead
        answer={work.exerciseTitle}
        detail={
          <>
            {work.brief}{' '}
            <span className="block font-medium text-ink">
              {work.open
                ? `${dueWords(work)}, ${plural(work.attemptsAllowed - work.attemptsUsed, 'attempt')} left.`
                : work.closedBecause}
            </span>
          </>
        }
        facts={[
          { label: 'Number', value: work.exerciseNumber },
          {
            label: work.variant === null ? 'Revision' : 'Revision, variant',
            value: work.variant === null ? work.revision : `${String(work.revision)}, ${work.variant}`,
          },
          { label: 'Unit', value: work.unit },
          { label: 'Material', value: `${work.material}, ${formatFixed(work.densityGPerCm3, 2)} g/cm³`, span: 4 },
          { label: 'Due', value: dateTime(work.dueAt, work.timeZone) },
          { label: 'Origin', value: work.origin, span: 6 },
        ]}
      />
      {work.stages.length > 0 && <Stages work={work} />}
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_23rem]">
        <div className="aspect-[420/297] min-w-0 lg:sticky lg:top-4">
          <SheetView
            url={`work/${String(work.id)}/sheet.svg?stage=${String(work.stage)}`}
            pdf={`work/${String(work.id)}/sheet.pdf?stage=${String(work.stage)}`}
            pins={sheet.pins}
            {...(sheet.isPicking ? { onPoint: (page, at) => sheet.setPlace({ page, at: [at[0], at[1]] }) } : {})}
          />
        </div>
        <div className="flex flex-col gap-4">
          {work.letters.length > 0 && (
            <Panel title="Your letter values">
              <ul className="grid grid-cols-3" data-testid="letters">
                {work.letters.map(({ name, value, label }) => (
                  <li key={name} className="border-r border-rule px-3 py-1.5 last:border-r-0">
                    <span className="block truncate caption" title={label}>
                      {label}
                    </span>
                    <span className="text-base font-semibold">{name}</span> = {value}
                  </li>
                ))}
              </ul>
            </Panel>
          )}
          {work.worked && (
            <p className="px-3 py-2 panel">
              <Link className="underline" to={`/my/${String(work.id)}/worked?stage=${String(work.stage)}`}>
                See how the part is made
              </Link>
              , step by step.
            </p>
          )}
          {shown && <Progress attempt={shown} />}
          {user && work.open && <HandInPanel work={work} user={user} onHandedIn={handedInNow} />}
          {(work.open || time.log.spans.length > 0) && <TimePanel work={work} time={time} />}
          <AskPanel work={work} sheet={sheet} />
          <WordsPanel work={work} />
          {work.attempts.length > 0 && (
            <Panel title="Your attempts">
              <ul className="divide-y divide-rule">
                {work.attempts.map((attempt) => (
                  <AttemptItem key={attempt.id} attempt={attempt} />
                ))}
              </ul>
            </Panel>
          )}
        </div>
      </div>
    </>
  );
}

/** When it is due, and what coming late costs. */
function dueWords({ dueAt, lateUntil, lateCost }: WorkDetail): string {
  if (lateUntil === null || !hasPassed(dueAt)) return `Due ${fromNow(dueAt)}`;
  const cost = lateCost === null ? '' : `, ${lateCost}`;
  return `The due time has passed; late work is taken until ${dateTime(lateUntil)}${cost}`;
}

/** The stages of the exercise; each opens when the one before was measured. */
function Stages({ work }: { work: WorkDetail }) {
  return (
    <nav aria-label="Stages" className="mb-4">
      <ol className="flex flex-wrap border border-rule bg-paper">
        {work.stages.map(({ title, open, bestScore }, i) => {
          const words = `${String(i + 1)}. ${title}`;
          const current = i + 1 === work.stage;
          return (
            <li
              key={title}
              className={`border-r border-rule px-3 py-1.5 ${current ? 'bg-accent-soft font-semibold' : ''}`}
            >
              {open ? (
                <Link to={`?stage=${String(i + 1)}`} aria-current={current ? 'step' : undefined} className="underline">
                  {words}
                </Link>
              ) : (
                <span className="text-soft">{words}: opens when the one before is measured</span>
              )}
              {bestScore !== null && <span className="ml-2 text-sm font-normal text-soft">best {bestScore}</span>}
            </li>
          );
        })}
      </ol>
    </nav>
  );
}

const STAGES = ['reading', 'measuring', 'comparing', 'scoring'] as const;
const WORDS: Readonly<Record<(typeof STAGES)[number], string>> = {
  reading: 'Reading the file',
  measuring: 'Measuring the model',
  comparing: 'Comparing with the sheet',
  scoring: 'Writing the report',
};

/** What is being done with the attempt that was just handed in, and how it ended. */
function Progress({ attempt }: { attempt: AttemptRow }) {
  const stage = useAppSelector((state) => state.progress[attempt.id]?.stage ?? null);
  if (attempt.state === 'refused')
    return (
      <div role="alert" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2">
        <p className="font-medium">This file could not be measured. It does not count as an attempt.</p>
        <p>{attempt.finding}</p>
      </div>
    );
  if (attempt.state === 'given-back')
    return (
      <p role="status" className="px-3 py-2 panel">
        This attempt was given back to you. It counts nothing, and may be made once more.
      </p>
    );
  if (attempt.state === 'graded' && attempt.score === null)
    return (
      <p role="status" className="border-l-4 border-accent bg-accent-soft px-3 py-2">
        Measured. You can read the report as soon as your instructor releases it.
      </p>
    );
  if (attempt.state === 'graded')
    return (
      <div
        role="status"
        className="flex items-center justify-between gap-3 border-l-4 border-accent bg-accent-soft px-3 py-2"
      >
        <span className="font-medium">Measured: {attempt.score} of 100</span>
        <Link className="underline" to={`/my/attempts/${String(attempt.id)}`}>
          Read the report
        </Link>
      </div>
    );
  const at = stage === null ? -1 : STAGES.indexOf(stage);
  return (
    <ol role="status" className="px-3 py-2 panel" aria-label="Progress">
      {STAGES.map((name, i) => (
        <li key={name} className={i < at ? 'text-soft' : i === at ? 'font-semibold' : 'text-soft opacity-60'}>
          {i < at ? 'Done: ' : ''}
          {WORDS[name]}
          {i === at ? ' ...' : ''}
        </li>
      ))}
    </ol>
  );
}

function AttemptItem({ attempt }: { attempt: AttemptRow }) {
  return (
    <li className="px-3 py-2">
      <div className="flex items-baseline justify-between gap-2">
        <Link className="font-medium underline" to={`/my/attempts/${String(attempt.id)}`}>
          {attempt.number === null ? 'Not counted' : `Attempt ${String(attempt.number)}`}
        </Link>
        <span className="text-xs text-soft">{dateTime(attempt.handedInAt)}</span>
        {attempt.score === null ? <OwnStateMark state={attempt.state} /> : <ScoreBar score={attempt.score} />}
      </div>
      {attempt.finding && <p className="mt-0.5 line-clamp-2 text-xs text-soft">{attempt.finding}</p>}
    </li>
  );
}
