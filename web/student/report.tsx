import { isFuture } from 'date-fns';
import { Link, useParams } from 'react-router';

import { useAttemptQuery } from '#web/api';
import { ReportView } from '#web/report';
import { AttemptHead, ScoreAnswer } from '#web/review';
import { useAppSelector } from '#web/store';
import { ButtonLink, Failed, Loading } from '#web/ui';

import { SinceBefore } from './since.tsx';
import { Talk } from './talk.tsx';

/** What did I get wrong, and what do I do about it? */
export function StudentReportPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = useAttemptQuery(id);
  const stage = useAppSelector((state) => state.progress[id]?.stage);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the report" />;
  const back = <ButtonLink to={`/my/${String(data.assignment.id)}`}>Back to the exercise</ButtonLink>;
  if (data.state === 'given-back')
    return (
      <>
        <AttemptHead
          attempt={data}
          answer="This attempt was given back to you"
          detail={`${data.refusal?.message ?? ''} It counts nothing, and may be made once more.`}
          actions={back}
        />
        <Talk attempt={data} />
      </>
    );
  if (data.state === 'refused')
    return (
      <AttemptHead
        attempt={data}
        answer="This file could not be measured"
        detail={`${data.refusal?.message ?? ''} It does not count as an attempt.`}
        actions={back}
      />
    );
  if (data.state === 'graded' && !data.report)
    return (
      <>
        <AttemptHead
          attempt={data}
          answer="Measured; your instructor has not released it yet"
          detail={
            data.assignment.release === 'accepted'
              ? 'You can read the report as soon as your instructor has accepted it.'
              : 'You can read the report as soon as your instructor releases it.'
          }
          actions={back}
        />
        <Talk attempt={data} />
      </>
    );
  if (!data.report)
    return (
      <AttemptHead
        attempt={data}
        answer={`Being measured: ${stage ?? 'waiting'} ...`}
        detail="This takes a few seconds."
        actions={back}
      />
    );
  const { report } = data;
  return (
    <>
      <AttemptHead
        attempt={data}
        answer={<ScoreAnswer score={report.score} />}
        detail={
          <>
            {report.cap && <span className="block">{report.cap}</span>}
            {report.deductions.map(({ reason, points }) => (
              <span key={reason} className="block">
                {reason}: {points} points off.
              </span>
            ))}
            {report.withheld && 'Values that are not on the sheet are shown when your instructor releases them. '}
            {report.withheld &&
              isFuture(data.assignment.lateUntil ?? data.assignment.dueAt) &&
              'While others can hand in, a check of such a value counts fully or not at all in this score. '}
            <Link className="underline" to="/my">
              My work
            </Link>
          </>
        }
        actions={
          <>
            {back}
            <a
              className="inline-flex h-8 items-center px-2 text-sm underline"
              href={`/api/attempts/${String(data.id)}/report.pdf`}
              download
            >
              Report as PDF
            </a>
          </>
        }
      />
      <ReportView
        key={data.id}
        attempt={data}
        report={report}
        words={
          <>
            <SinceBefore attempt={data} report={report} />
            <Talk attempt={data} />
          </>
        }
      />
    </>
  );
}
