import { lazy, Suspense, useState } from 'react';
import { Link, useParams } from 'react-router';

import type { AssignmentDetail } from '#api';
import { useAssignmentQuery } from '#web/api';
import { Button, dateTime, Empty, Failed, hasPassed, Loading, PageHead, Panel, plural } from '#web/ui';

import { AttemptTable } from './attempts.tsx';
import { CommonCauses } from './causes.tsx';
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

function bestScores({ attempts }: AssignmentDetail): number[] {
  const best = new Map<number, number>();
  for (const { studentId, score } of attempts)
    if (score !== null) best.set(studentId, Math.max(score, best.get(studentId) ?? 0));
  return [...best.values()];
}

function Assignment({ assignment }: { assignment: AssignmentDetail }) {
  const [scoring, setScoring] = useState(false);
  const handedIn = assignment.students - assignment.missing.length;
  const scores = bestScores(assignment);
  const right = scores.filter((score) => score === 100).length;
  const over = hasPassed(assignment.dueAt);
  return (
    <>
      <PageHead
        answer={`${String(handedIn)} of ${String(assignment.students)} handed in, ${String(right)} entirely right`}
        detail={
          <>
            <Link className="underline" to={`/exercises/${String(assignment.exerciseId)}`}>
              {assignment.exerciseNumber} {assignment.exerciseTitle}
            </Link>{' '}
            for {assignment.section}. {over ? 'Closed' : 'Open until'} {dateTime(assignment.dueAt)}.
          </>
        }
        actions={
          <>
            <Button
              onClick={() => {
                setScoring(true);
              }}
            >
              Scoring
            </Button>
            <a
              href={`/api/assignments/${String(assignment.id)}/sheets.pdf`}
              className="inline-flex h-8 items-center px-1 text-sm underline"
              download
            >
              Print pack: {plural(assignment.students, 'sheet')} with names
            </a>
          </>
        }
        facts={[
          { label: 'Exercise', value: assignment.exerciseNumber },
          { label: 'Revision', value: assignment.revision },
          { label: 'Unit', value: assignment.unit },
          { label: 'Section', value: assignment.section },
          { label: 'Opens', value: dateTime(assignment.opensAt) },
          { label: 'Due', value: dateTime(assignment.dueAt) },
          { label: 'Material', value: assignment.material },
          { label: 'Attempts allowed', value: assignment.attemptsAllowed },
          {
            label: 'Answers released',
            value: { 'at-once': 'at once', 'after-due': 'after due', never: 'never' }[assignment.answers],
          },
        ]}
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_20rem]">
        <Panel title={`Attempts, ${String(assignment.attempts.length)}`} className="overflow-x-auto">
          {assignment.attempts.length === 0 ? (
            <Empty>Nothing has been handed in yet. Attempts appear here as they arrive.</Empty>
          ) : (
            <AttemptTable attempts={assignment.attempts} />
          )}
        </Panel>
        <div className="flex flex-col gap-4">
          <CommonCauses causes={assignment.causes} />
          {scores.length > 0 && (
            <Panel title="Best score of each student">
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
        </div>
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
