import { lazy, Suspense, useState } from 'react';
import { Link, useParams } from 'react-router';

import type { AssignmentDetail, AttemptRow } from '#api';
import { useAssignmentQuery } from '#web/api';
import { QuestionsWaiting } from '#web/question';
import { GradesAtSite } from '#web/school-site';
import {
  Button,
  ButtonLink,
  dateTime,
  Empty,
  Failed,
  hasPassed,
  Loading,
  PageHead,
  Panel,
  plural,
  type Fact,
} from '#web/ui';

import { Alike } from './alike.tsx';
import { AttemptTable } from './attempts.tsx';
import { CommonCauses } from './causes.tsx';
import { ChangeDialog } from './change.tsx';
import { Corrections, NewerRevision } from './correction.tsx';
import { Extensions } from './extensions.tsx';
import { GroupDates } from './group-dates.tsx';
import { GroupActions } from './group.tsx';
import { ScoringDialog } from './scoring.tsx';

const ScoreChart = lazy(() => import('./chart.tsx'));

/** How far is the section, and who is missing? */
export function AssignmentPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = useAssignmentQuery(id);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the assignment" />;
  return <Assignment assignment={data} />;
}

/** The newest measured attempt of each student and stage, in the order of the review. */
function newestOf(attempts: readonly AttemptRow[]): AttemptRow[] {
  const newest = new Map<string, AttemptRow>();
  for (const attempt of attempts) {
    const key = `${String(attempt.studentId)} ${String(attempt.stage)}`;
    if (attempt.state === 'graded' && attempt.id > (newest.get(key)?.id ?? 0)) newest.set(key, attempt);
  }
  return [...newest.values()].sort((a, b) => a.student.localeCompare(b.student) || a.stage - b.stage);
}

const factsOf = (assignment: AssignmentDetail): readonly Fact[] => [
  { label: 'Exercise', value: assignment.exerciseNumber },
  { label: 'Revision', value: assignment.revision },
  { label: 'Unit', value: assignment.unit },
  { label: 'Section', value: assignment.section },
  { label: 'Opens', value: dateTime(assignment.opensAt, assignment.timeZone) },
  { label: 'Due', value: dateTime(assignment.dueAt, assignment.timeZone) },
  { label: 'Material', value: assignment.material },
  {
    label: 'Attempts allowed',
    value: `${String(assignment.attemptsAllowed)}, the ${assignment.counts} counts`,
  },
  {
    label: 'Late work until',
    value: assignment.lateUntil === null ? 'not taken' : dateTime(assignment.lateUntil, assignment.timeZone),
  },
  {
    label: 'Reports',
    value: { automatic: 'at once', accepted: 'when accepted', 'by-hand': 'when released' }[assignment.release],
  },
  {
    label: 'Answers released',
    value: { 'at-once': 'at once', 'after-due': 'after due', never: 'never' }[assignment.answers],
    span: 4,
  },
  ...(assignment.openReason === null
    ? []
    : [{ label: 'Issued with open sizes', value: assignment.openReason, span: 6 as const }]),
];

/** Common causes, the scores, and who is missing. */
function Summary({ assignment }: { assignment: AssignmentDetail }) {
  const { scores } = assignment;
  return (
    <div className="flex flex-col gap-4">
      <Corrections assignment={assignment} />
      <QuestionsWaiting assignmentId={assignment.id} />
      <CommonCauses assignment={assignment} />
      {scores.length > 0 && (
        <Panel title={assignment.counts === 'best' ? 'Best score of each student' : 'Last score of each student'}>
          <Suspense fallback={<Loading what="the chart" />}>
            <ScoreChart scores={scores} />
          </Suspense>
        </Panel>
      )}
      <Panel
        title={
          assignment.missing.length === 0
            ? 'Everyone has handed in'
            : `Still missing: ${plural(assignment.missing.length, 'student')}`
        }
      >
        {assignment.missing.length > 0 && (
          <ul className="columns-2 px-3 py-2 leading-6 lg:columns-1">
            {assignment.missing.map(({ id, name }) => (
              <li key={id}>{name}</li>
            ))}
          </ul>
        )}
      </Panel>
      {assignment.mayChange && <GradesAtSite assignmentId={assignment.id} />}
      <Extensions assignment={assignment} />
      {assignment.mayChange && <GroupDates assignment={assignment} />}
      {assignment.attempts.length > 1 && <Alike assignmentId={assignment.id} />}
    </div>
  );
}

function Actions({
  assignment,
  firstToReview,
  onScoring,
  onChange,
}: {
  assignment: AssignmentDetail;
  firstToReview: AttemptRow | undefined;
  onScoring: () => void;
  onChange: () => void;
}) {
  return (
    <>
      {firstToReview && (
        <ButtonLink kind="main" to={`/attempts/${String(firstToReview.id)}`}>
          Review the class
        </ButtonLink>
      )}
      {assignment.mayChange && <Button onClick={onChange}>Change dates, attempts, reports</Button>}
      <Button onClick={onScoring}>Scoring</Button>
      <a
        href={`/api/assignments/${String(assignment.id)}/sheets.pdf`}
        className="inline-flex h-8 items-center px-1 text-sm underline"
        download
      >
        Print pack: {plural(assignment.students, 'sheet')} with names
      </a>
    </>
  );
}

function Assignment({ assignment }: { assignment: AssignmentDetail }) {
  const [scoring, setScoring] = useState(false);
  const [isChanging, setIsChanging] = useState(false);
  const handedIn = assignment.students - assignment.missing.length;
  const { scores } = assignment;
  const newest = newestOf(assignment.attempts);
  const toReview = newest.filter(({ accepted }) => !accepted);
  const right = scores.filter((score) => score === 100).length;
  const end = assignment.lateUntil ?? assignment.dueAt;
  const over = hasPassed(end);
  return (
    <>
      <PageHead
        answer={`${String(handedIn)} of ${String(assignment.students)} handed in, ${String(right)} entirely right`}
        detail={
          <>
            <Link className="underline" to={`/exercises/${String(assignment.exerciseId)}`}>
              {assignment.exerciseNumber} {assignment.exerciseTitle}
            </Link>{' '}
            for {assignment.section}. {over ? 'Closed' : 'Open until'} {dateTime(end, assignment.timeZone)}.
            {toReview.length > 0
              ? ` ${plural(toReview.length, 'student')} not accepted yet.`
              : newest.length > 0
                ? ' All accepted.'
                : ''}
          </>
        }
        actions={
          <Actions
            assignment={assignment}
            firstToReview={toReview[0]}
            onScoring={() => {
              setScoring(true);
            }}
            onChange={() => {
              setIsChanging(true);
            }}
          />
        }
        facts={factsOf(assignment)}
      />
      {assignment.withdrawnAt !== null && (
        <p role="status" className="border-l-4 border-near bg-near-soft px-3 py-2">
          Withdrawn {dateTime(assignment.withdrawnAt, assignment.timeZone)}: students do not see it. What was handed in
          stays.
        </p>
      )}
      <NewerRevision assignment={assignment} />
      {isChanging && (
        <ChangeDialog
          assignment={assignment}
          onClose={() => {
            setIsChanging(false);
          }}
        />
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_20rem]">
        <Panel
          title={`Attempts, ${String(assignment.attempts.length)}`}
          className="overflow-x-auto"
          aside={
            toReview.length > 0 && (
              <span className="flex items-center gap-2 py-1">
                <span className="caption">Newest of each, not accepted:</span>
                <GroupActions
                  assignmentId={assignment.id}
                  courseId={assignment.courseId}
                  attemptIds={toReview.map(({ id }) => id)}
                  releases={assignment.release !== 'automatic'}
                />
              </span>
            )
          }
        >
          {assignment.attempts.length === 0 ? (
            <Empty>Nothing has been handed in yet. Attempts appear here as they arrive.</Empty>
          ) : (
            <AttemptTable attempts={assignment.attempts} />
          )}
        </Panel>
        <Summary assignment={assignment} />
      </div>
      <ScoringDialog
        assignmentId={assignment.id}
        open={scoring}
        onClose={() => {
          setScoring(false);
        }}
      />
    </>
  );
}
