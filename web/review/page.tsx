import { useEffect } from 'react';
import { Link, useNavigate, useParams } from 'react-router';

import type { AttemptDetail } from '#api';
import { useAttemptQuery } from '#web/api';
import { ReportView } from '#web/report';
import { useAppSelector } from '#web/store';
import { ButtonLink, Failed, Loading } from '#web/ui';

import { AttemptHead, ScoreAnswer } from './head.tsx';

/** What is wrong with this part, and why? */
export function ReviewPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = useAttemptQuery(id);
  useNeighborKeys(data);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the attempt" />;
  return <Review attempt={data} />;
}

/** N and P go to the next and the previous student, unless something is being typed. */
function useNeighborKeys(attempt: AttemptDetail | undefined): void {
  const navigate = useNavigate();
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.target instanceof HTMLElement && event.target.closest('input, select, textarea')) return;
      const target = event.key === 'n' ? attempt?.nextId : event.key === 'p' ? attempt?.previousId : null;
      if (target) void navigate(`/attempts/${String(target)}`);
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [attempt, navigate]);
}

function Review({ attempt }: { attempt: AttemptDetail }) {
  const { report } = attempt;
  const stage = useAppSelector((state) => state.progress[attempt.id]?.stage);
  const actions = (
    <>
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
    </>
  );
  const detail = (
    <>
      {report?.cap && <span className="block">{report.cap}</span>}
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
      <ReportView key={attempt.id} attempt={attempt} report={report} />
    </>
  );
}
