import { useState } from 'react';
import { Link } from 'react-router';

import type { Activity, AssignmentSummary, Desk, Need, Request } from '#api';
import { useAssignmentsQuery, useDeskQuery } from '#web/api';
import {
  ButtonLink,
  dateTime,
  Empty,
  Failed,
  fromNow,
  hasPassed,
  Loading,
  PageHead,
  Panel,
  plural,
  ScoreBar,
  StateMark,
  ProgressBar,
  Alert,
} from '#web/ui';

const POLL_MS = 2500;

/** Something long that the server does for everybody, and how far it is. */
function Progress({ activity: { what, done, total } }: { activity: Activity }) {
  return (
    <section className="px-3 py-2 panel" data-testid="activity">
      <p className="mb-1.5 flex justify-between gap-3">
        <span role="status">{what}</span>
        {total > 0 && (
          <span className="text-soft">
            {done} of {total} handed in
          </span>
        )}
      </p>
      <ProgressBar done={done} total={total} label={what} />
    </section>
  );
}

/** Files that wait this long are worth a word. */
const LAG_MS = 2 * 60_000;

/** Measuring lags, or has stopped: that is said before somebody wonders. */
function Lag({ queue: { waiting, oldestAt, isPaused } }: { queue: Desk['queue'] }) {
  const [now] = useState(Date.now);
  if (isPaused)
    return (
      <Alert>
        The disk of the server is full: nothing can be handed in or measured. What was handed in is safe. Tell whoever
        runs the server.
      </Alert>
    );
  if (oldestAt === null || now - Date.parse(oldestAt) < LAG_MS) return null;
  return (
    <p role="status" className="border-l-4 border-near bg-near-soft px-3 py-2">
      Measuring lags: {plural(waiting, 'file')} wait, the oldest was handed in {fromNow(oldestAt)}.
    </p>
  );
}

/** Who needs me? */
export function DeskPage() {
  const [busy, setBusy] = useState(false);
  // While something long is under way, the desk fills by itself.
  const { data, error, refetch } = useDeskQuery(undefined, { pollingInterval: busy ? POLL_MS : 0 });
  const isBusy = (data?.activity ?? null) !== null;
  if (busy !== isBusy) setBusy(isBusy);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="your desk" />;
  const students = new Set([...data.needs, ...data.requests].map(({ student }) => student)).size;
  const working = data.assignments.reduce((sum, assignment) => sum + assignment.inWork, 0);
  return (
    <>
      {data.activity && <Progress activity={data.activity} />}
      <Lag queue={data.queue} />
      <PageHead
        answer={students === 0 ? 'Nobody needs you now' : `${plural(students, 'student')} could use a look from you`}
        detail={
          working > 0
            ? `${plural(working, 'attempt')} being measured right now.`
            : 'Everything handed in has been measured.'
        }
        actions={<ButtonLink to="/exercises">Choose an exercise to issue</ButtonLink>}
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
        <div className="flex flex-col gap-4">
          {data.requests.length > 0 && (
            <Panel title={`${plural(data.requests.length, 'student reply', 'student replies')} to answer`}>
              <Requests requests={data.requests} />
            </Panel>
          )}
          <Panel title="Latest attempts that went wrong">
            {data.needs.length === 0 ? (
              <Empty>When an attempt goes wrong, it is listed here with its probable cause.</Empty>
            ) : (
              <Needs needs={data.needs} />
            )}
          </Panel>
        </div>
        <Panel title="Assignments">
          {data.assignments.length === 0 ? (
            <Empty>
              {data.older === 0
                ? 'Nothing is issued yet. Choose an exercise and issue it to a section.'
                : 'Nothing is open, and nothing ended within the last month.'}
            </Empty>
          ) : (
            <AssignmentList assignments={data.assignments} />
          )}
          {data.older > 0 && <Older count={data.older} shown={data.assignments} />}
        </Panel>
      </div>
    </>
  );
}

/** What students said about their reports and nobody has answered. */
function Requests({ requests }: { requests: readonly Request[] }) {
  return (
    <ul className="divide-y divide-rule" data-testid="requests">
      {requests.map((request) => (
        <li key={request.replyId}>
          <Link
            to={`/attempts/${String(request.attemptId)}`}
            className="grid grid-cols-[9rem_1fr] items-baseline gap-x-3 px-3 py-2 hover:bg-accent-soft"
          >
            <span className="font-medium">{request.student}</span>
            <span className="line-clamp-2">{request.text}</span>
            <span className="caption">{dateTime(request.at)}</span>
            <span className="caption">
              {request.exerciseNumber} {request.exerciseTitle}
              {request.wantsLook ? ', asks for another look' : ''}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

function Needs({ needs }: { needs: readonly Need[] }) {
  return (
    <ul className="divide-y divide-rule" data-testid="needs">
      {needs.map((need) => (
        <li key={need.attemptId}>
          <Link
            to={`/attempts/${String(need.attemptId)}`}
            className="grid grid-cols-[9rem_1fr_auto] items-baseline gap-x-3 px-3 py-2 hover:bg-accent-soft"
          >
            <span className="font-medium">{need.student}</span>
            <span className="line-clamp-2">{need.finding ?? 'No single cause explains this attempt.'}</span>
            <span>{need.score === null ? <StateMark state={need.state} /> : <ScoreBar score={need.score} />}</span>
            <span className="caption">{dateTime(need.handedInAt)}</span>
            <span className="col-span-2 caption">
              {need.exerciseNumber} {need.exerciseTitle}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

function AssignmentList({ assignments }: { readonly assignments: readonly AssignmentSummary[] }) {
  return (
    <ul className="divide-y divide-rule">
      {assignments.map((assignment) => (
        <AssignmentItem key={assignment.id} assignment={assignment} />
      ))}
    </ul>
  );
}

/** Assignments that ended longer ago, when somebody asks for them. */
function Older({ count, shown }: { readonly count: number; readonly shown: readonly AssignmentSummary[] }) {
  const [isOpen, setIsOpen] = useState(false);
  const { data } = useAssignmentsQuery(undefined, { skip: !isOpen });
  const onDesk = new Set(shown.map(({ id }) => id));
  return (
    <div className="border-t border-rule">
      <button
        type="button"
        aria-expanded={isOpen}
        className="w-full cursor-pointer px-3 py-2 text-left underline"
        onClick={() => {
          setIsOpen(!isOpen);
        }}
      >
        {isOpen ? 'Hide' : 'Show'} {plural(count, 'older assignment')}
      </button>
      {isOpen && data && <AssignmentList assignments={data.filter(({ id }) => !onDesk.has(id))} />}
    </div>
  );
}

function AssignmentItem({ assignment }: { assignment: AssignmentSummary }) {
  const over = hasPassed(assignment.dueAt);
  return (
    <li>
      <Link to={`/assignments/${String(assignment.id)}`} className="block px-3 py-2 hover:bg-accent-soft">
        <div className="flex items-baseline justify-between gap-3">
          <span className="font-medium">
            {assignment.exerciseNumber} {assignment.exerciseTitle}
          </span>
          <span className="text-xs text-soft">
            {over ? 'closed' : 'due'} {fromNow(assignment.dueAt)}
          </span>
        </div>
        <HandedIn handedIn={assignment.handedIn} students={assignment.students} />
        <div className="flex justify-between caption">
          <span>
            {assignment.handedIn} of {assignment.students} handed in, {assignment.section}
            {assignment.toReview > 0 && <strong className="text-ink">, {assignment.toReview} to accept</strong>}
          </span>
          <span>
            {assignment.medianScore === null ? 'no score yet' : `median ${assignment.medianScore.toFixed(0)}`}
          </span>
        </div>
      </Link>
    </li>
  );
}

/** One tick for each student of the section, filled when handed in. */
function HandedIn({ handedIn, students }: { handedIn: number; students: number }) {
  return (
    <span className="my-1 flex gap-0.5" aria-hidden>
      {Array.from({ length: students }, (_, i) => (
        <span key={i} className={`h-2 flex-1 border border-ink/60 ${i < handedIn ? 'bg-ink/75' : 'bg-paper'}`} />
      ))}
    </span>
  );
}
