import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';

import type { AttemptDetail, Pin } from '#api';
import { isCalled, wantedFileName } from '#core/filename';
import type { Report } from '#core/grade';
import { minutesInWords } from '#core/timelog';
import { attemptApi, partApi, useAttemptQuery } from '#web/api';
import { ReportView } from '#web/report';
import { useAppDispatch, useAppSelector } from '#web/store';
import { ButtonLink, dateTime, Failed, Loading, plural, usePageKeys } from '#web/ui';

import { AttemptHead, ScoreAnswer } from './head.tsx';
import { Conversation, CountAgain, JudgementButtons, reviewWords } from './judgement.tsx';
import { OverrideForm } from './override.tsx';
import { Remarks } from './remarks.tsx';

/** What is wrong with this part, and why? */
export function ReviewPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = useAttemptQuery(id);
  useNeighborKeys(data);
  useLoadedAhead(data);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the attempt" />;
  return <Review attempt={data} />;
}

/** N and P go to the next and the previous student. */
function useNeighborKeys(attempt: AttemptDetail | undefined): void {
  const navigate = useNavigate();
  const go = (id: number | null | undefined) => (id ? () => void navigate(`/attempts/${String(id)}`) : undefined);
  usePageKeys({ n: go(attempt?.nextId), p: go(attempt?.previousId) });
}

/** Loads what the next student's page shows, and then that of the previous one, while this one is read. */
function useLoadedAhead(attempt: AttemptDetail | undefined): void {
  const dispatch = useAppDispatch();
  const ids = [attempt?.nextId, attempt?.previousId].filter((id) => typeof id === 'number').join(' ');
  useEffect(() => {
    for (const id of ids.split(' ').filter((one) => one !== '')) {
      dispatch(attemptApi.util.prefetch('attempt', Number(id), {}));
      dispatch(partApi.util.prefetch('model', `attempts/${id}/model`, {}));
      dispatch(partApi.util.prefetch('model', `attempts/${id}/reference`, {}));
      dispatch(partApi.util.prefetch('sheet', `attempts/${id}/sheet.svg`, {}));
    }
  }, [ids, dispatch]);
}

function Review({ attempt }: { attempt: AttemptDetail }) {
  const { report } = attempt;
  const stage = useAppSelector((state) => state.progress[attempt.id]?.stage);
  const actions = (
    <>
      {report && <JudgementButtons attempt={attempt} />}
      {attempt.previousId && (
        <ButtonLink to={`/attempts/${String(attempt.previousId)}`}>
          Previous student <kbd className="text-xs text-soft">P</kbd>
        </ButtonLink>
      )}
      {attempt.nextId && (
        <ButtonLink to={`/attempts/${String(attempt.nextId)}`}>
          Next student <kbd className="text-xs text-soft">N</kbd>
        </ButtonLink>
      )}
      <a
        className="inline-flex h-8 items-center px-2 text-sm underline"
        href={`/api/attempts/${String(attempt.id)}/file`}
        download
      >
        Download the file
      </a>
      {report && (
        <a
          className="inline-flex h-8 items-center px-2 text-sm underline"
          href={`/api/attempts/${String(attempt.id)}/report.pdf`}
          download
        >
          Report as PDF
        </a>
      )}
    </>
  );
  const detail = (
    <>
      {report?.cap && <span className="block">{report.cap}</span>}
      {report?.deductions.map(({ reason, points }) => (
        <span key={reason} className="block">
          {reason}: {points} points off.
        </span>
      ))}
      {report && <span className="block">{reviewWords(attempt)}</span>}
      <span className="block">{preparationWords(attempt)}</span>
      <span className="block">{fileNameWords(attempt)}</span>
      <Link className="underline" to={`/assignments/${String(attempt.assignment.id)}`}>
        All attempts of {attempt.assignment.section}
      </Link>
    </>
  );
  if (attempt.state === 'refused')
    return (
      <AttemptHead
        attempt={attempt}
        answer="This file could not be measured"
        detail={
          <>
            {attempt.refusal?.message} {detail}
          </>
        }
        actions={actions}
      />
    );
  if (attempt.state === 'given-back')
    return (
      <AttemptHead
        attempt={attempt}
        answer="This attempt was given back"
        detail={
          <>
            {attempt.refusal?.message} It counts nothing. {detail}
          </>
        }
        actions={
          <>
            <CountAgain attempt={attempt} />
            {actions}
          </>
        }
      />
    );
  if (!report)
    return (
      <AttemptHead
        attempt={attempt}
        answer={attempt.state === 'waiting' ? 'Waiting to be measured' : `Being measured: ${stage ?? 'reading'} ...`}
        detail={detail}
        actions={actions}
      />
    );
  return (
    <>
      <AttemptHead attempt={attempt} answer={<ScoreAnswer score={report.score} />} detail={detail} actions={actions} />
      <Reviewed attempt={attempt} report={report} />
    </>
  );
}

const HELP = { none: 'without help', link: 'with help by links', chain: 'with the whole chain shown' } as const;

/** What the student did beside handing in, whenever that was; nothing where nothing is known of it. */
function preparationWords({ preparation }: AttemptDetail): string {
  if (preparation === null) return '';
  const { measured, measuredAt, sizes, minutes, plan } = preparation;
  const worked = sizes.map(({ name, sum, help }) => `${name === '' ? '' : `${name} `}${sum}, ${HELP[help]}`);
  return [
    ...(measured === 0
      ? []
      : [`Dimension round: ${plural(measured, 'dimension')} measured, the last ${dateTime(measuredAt ?? '')}.`]),
    ...(plan.length === 0 ? [] : [`Planned in ${plural(plan.length, 'step')}: ${plan.join('; ')}.`]),
    ...(minutes === null ? [] : [`Work of ${minutesInWords(minutes)} by the student's own log.`]),
    ...(worked.length === 0 ? [] : [`Worked out ${plural(worked.length, 'size')}: ${worked.join('; ')}.`]),
  ].join(' ');
}

/** That a file is not called as the course wants; nothing where it is. */
function fileNameWords({ assignment: { fileNameRule, exerciseNumber }, student, fileName }: AttemptDetail): string {
  if (fileNameRule === null) return '';
  const wanted = wantedFileName(fileNameRule, { number: exerciseNumber, name: student.name });
  return isCalled(fileName, wanted) ? '' : `The file is called "${fileName}"; the course wants ${wanted}.`;
}

/** The report with everything that an instructor can do about it. */
function Reviewed({ attempt, report }: { attempt: AttemptDetail; report: Report }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [placing, setPlacing] = useState(false);
  const [pin, setPin] = useState<Pin | null>(null);
  const [of, setOf] = useState(attempt.id);
  if (of !== attempt.id) {
    // The next student: the page stays, with its 3D view, and nothing is chosen any more.
    setOf(attempt.id);
    setChosen(null);
    setPlacing(false);
    setPin(null);
  }
  return (
    <ReportView
      attempt={attempt}
      report={report}
      reviewing={{
        actions: (lineId) => (
          <OverrideForm
            key={`${String(attempt.id)} ${lineId}`}
            attempt={attempt}
            report={report}
            lineId={lineId}
            byKey={lineId === chosen}
          />
        ),
        placing,
        onPlace: setPin,
        onChosen: setChosen,
        conversation: (
          <Conversation key={attempt.id} attempt={attempt}>
            <Remarks
              attempt={attempt}
              report={report}
              checkId={chosen}
              pin={pin}
              placing={placing}
              onPlacing={setPlacing}
              onPin={setPin}
            />
          </Conversation>
        ),
      }}
    />
  );
}
