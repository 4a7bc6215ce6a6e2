import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';

import type { Activity, AssignmentSummary, Desk, Need, OpenQuestions, Request } from '#api';
import { grouped } from '#core/group';
import { failureText, useAssignmentsQuery, useDeskQuery, useReviewGroupMutation } from '#web/api';
import {
  Button,
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
  useKeptText,
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
  const [section, setSection] = useKeptText('desk-section');
  const isBusy = (data?.activity ?? null) !== null;
  if (busy !== isBusy) setBusy(isBusy);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="your desk" />;
  const sections = sectionsOf(data);
  // A section of which nothing is left is none that could be chosen back.
  const chosen = sections.includes(section) ? section : '';
  const here = <T extends InSection>(all: readonly T[]): readonly T[] =>
    chosen === '' ? all : all.filter((one) => nameOf(one) === chosen);
  const [needs, requests, questions] = [here(data.needs), here(data.requests), here(data.questions)];
  const assignments = here(data.assignments);
  const students = new Set([...needs, ...requests].map(({ student }) => student)).size;
  const asked = questions.reduce((sum, { count }) => sum + count, 0);
  const working = assignments.reduce((sum, assignment) => sum + assignment.inWork, 0);
  return (
    <>
      {data.activity && <Progress activity={data.activity} />}
      <Lag queue={data.queue} />
      <PageHead
        answer={
          students > 0
            ? `${plural(students, 'student')} could use a look from you`
            : asked > 0
              ? `${plural(asked, 'question')} to answer`
              : 'Nothing is left for today'
        }
        detail={
          working > 0
            ? `${plural(working, 'attempt')} being measured right now.`
            : 'Everything handed in has been measured.'
        }
        actions={
          <>
            <ButtonLink to="/exercises">Choose an exercise to issue</ButtonLink>
            {sections.length > 1 && <SectionChoice sections={sections} chosen={chosen} onChoose={setSection} />}
          </>
        }
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
        <div className="flex flex-col gap-4">
          {questions.length > 0 && (
            <Panel title={`${plural(asked, 'question')} about sheets to answer`}>
              <Questions questions={questions} />
            </Panel>
          )}
          {requests.length > 0 && (
            <Panel title={`${plural(requests.length, 'student reply', 'student replies')} to answer`}>
              <Requests requests={requests} />
            </Panel>
          )}
          <Panel title="Latest attempts that went wrong">
            {needs.length === 0 ? (
              <Empty>When an attempt goes wrong, it is listed here with its probable cause until it is accepted.</Empty>
            ) : (
              <Needs needs={needs} />
            )}
          </Panel>
        </div>
        <Panel title="Assignments">
          {assignments.length === 0 ? (
            <Empty>
              {data.older === 0
                ? 'Nothing is issued yet. Choose an exercise and issue it to a section.'
                : 'Nothing is open, and nothing ended within the last month.'}
            </Empty>
          ) : (
            <AssignmentList assignments={assignments} />
          )}
          {data.older > 0 && <Older count={data.older} shown={data.assignments} />}
        </Panel>
      </div>
    </>
  );
}

interface InSection {
  readonly section: string;
  readonly course: string;
}

const nameOf = ({ section, course }: InSection): string => `${course}, ${section}`;

const sectionsOf = ({ needs, requests, questions, assignments }: Desk): readonly string[] =>
  [...new Set([...needs, ...requests, ...questions, ...assignments].map(nameOf))].sort((a, b) => a.localeCompare(b));

function SectionChoice({
  sections,
  chosen,
  onChoose,
}: {
  readonly sections: readonly string[];
  readonly chosen: string;
  readonly onChoose: (section: string) => void;
}) {
  return (
    <select
      aria-label="Section"
      value={chosen}
      className="h-8 border border-ink/60 bg-paper px-2"
      onChange={(event) => {
        onChoose(event.target.value);
      }}
    >
      <option value="">All sections</option>
      {sections.map((one) => (
        <option key={one}>{one}</option>
      ))}
    </select>
  );
}

/** Questions about sheets that nobody has answered. */
function Questions({ questions }: { readonly questions: readonly OpenQuestions[] }) {
  return (
    <ul className="divide-y divide-rule">
      {questions.map(({ assignmentId, exerciseNumber, exerciseTitle, section, count }) => (
        <li key={assignmentId}>
          <Link
            to={`/assignments/${String(assignmentId)}/questions`}
            className="flex items-baseline justify-between gap-3 px-3 py-2 hover:bg-accent-soft"
          >
            <span className="font-medium">
              {exerciseNumber} {exerciseTitle}
            </span>
            <span className="caption">
              {plural(count, 'question')}, {section}
            </span>
          </Link>
        </li>
      ))}
    </ul>
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
              {request.exerciseNumber} {request.exerciseTitle}, {request.section}
              {request.wantsLook ? ', asks for another look' : ''}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

/** So many of an assignment are shown; the others when somebody asks for them. */
const SHOWN_AT_ONCE = 4;

/** Attempts that went wrong, by assignment: what is newest first. */
function Needs({ needs }: { readonly needs: readonly Need[] }) {
  return (
    <ul data-testid="needs">
      {grouped(needs, ({ assignmentId }) => assignmentId).map((own) => (
        <li key={own[0].assignmentId} className="border-t border-rule first:border-t-0">
          <NeedsOfAssignment needs={own} />
        </li>
      ))}
    </ul>
  );
}

function NeedsOfAssignment({ needs }: { readonly needs: readonly [Need, ...Need[]] }) {
  const [isOpen, setIsOpen] = useState(false);
  const [{ assignmentId, exerciseNumber, exerciseTitle, section }] = needs;
  const more = needs.length - SHOWN_AT_ONCE;
  const shown = isOpen || more <= 1 ? needs : needs.slice(0, SHOWN_AT_ONCE);
  return (
    <>
      <h3 className="flex items-baseline justify-between gap-3 bg-ground px-3 py-1.5 text-sm">
        <Link to={`/assignments/${String(assignmentId)}`} className="underline-offset-2 hover:underline">
          {exerciseNumber} {exerciseTitle}, {section}
        </Link>
        <span className="caption font-normal">{plural(needs.length, 'student')}</span>
      </h3>
      <ul className="divide-y divide-rule">
        {shown.map((need) => (
          <li key={need.attemptId} className="flex items-center">
            <Link
              to={`/attempts/${String(need.attemptId)}`}
              className="grid grow grid-cols-[9rem_1fr_auto] items-baseline gap-x-3 px-3 py-2 hover:bg-accent-soft"
            >
              <span className="font-medium">{need.student}</span>
              <span className="line-clamp-2">{need.finding ?? 'No single cause explains this attempt.'}</span>
              <span>{need.score === null ? <StateMark state={need.state} /> : <ScoreBar score={need.score} />}</span>
              <span className="caption">{dateTime(need.handedInAt)}</span>
              <span className="col-span-2 caption">{whyOf(need)}</span>
            </Link>
            {need.state === 'refused' && <Seen need={need} />}
          </li>
        ))}
      </ul>
      {more > 1 && (
        <button
          type="button"
          aria-expanded={isOpen}
          className="w-full cursor-pointer border-t border-rule px-3 py-1.5 text-left text-sm underline"
          onClick={() => {
            setIsOpen(!isOpen);
          }}
        >
          {isOpen ? 'Show fewer' : `Show ${String(more)} more of ${exerciseNumber}`}
        </button>
      )}
    </>
  );
}

/** Puts a file that could not be read off the desk. */
function Seen({ need: { assignmentId, attemptId, student } }: { readonly need: Need }) {
  const [send, { isLoading }] = useReviewGroupMutation();
  return (
    <Button
      className="mr-3"
      aria-label={`Seen: ${student}`}
      disabled={isLoading}
      onClick={() => {
        void send({ assignmentId, attemptIds: [attemptId], action: { kind: 'accept' } }).then(({ error }) => {
          if (error) toast.error(failureText(error));
        });
      }}
    >
      Seen
    </Button>
  );
}

/** Why somebody is on the desk. */
function whyOf({ state, finding }: Need): string {
  if (state === 'refused') return 'could not be measured; nothing else was handed in since';
  return finding === null ? 'low score, and nothing explains it' : 'low score';
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
