import type { ReactNode } from 'react';

import type { AttemptDetail } from '#api';
import { dateTime, fileSize, PageHead } from '#web/ui';

/** Score or state as the answer, and the facts of the attempt. */
export function AttemptHead({
  attempt,
  answer,
  detail,
  actions,
}: {
  attempt: AttemptDetail;
  answer: ReactNode;
  detail: ReactNode;
  actions?: ReactNode;
}) {
  const { assignment, report } = attempt;
  return (
    <PageHead
      answer={answer}
      detail={detail}
      actions={actions}
      facts={[
        { label: 'Student', value: attempt.student.name },
        {
          label: 'Attempt',
          value:
            attempt.number === null
              ? 'not counted'
              : `${String(attempt.number)} of ${String(assignment.attemptsAllowed)}${attempt.stage === null ? '' : `, ${attempt.stage}`}`,
        },
        { label: 'Handed in', value: dateTime(attempt.handedInAt, attempt.assignment.timeZone) },
        { label: 'Exercise', value: `${assignment.exerciseNumber} ${assignment.exerciseTitle}`, span: 4 },
        {
          label: attempt.variant === null ? 'Revision' : 'Revision, variant',
          value: attempt.variant === null ? assignment.revision : `${String(assignment.revision)}, ${attempt.variant}`,
        },
        { label: 'Material', value: assignment.material },
        {
          label: report ? 'Sheet and file unit' : 'Sheet unit',
          value: report ? `${assignment.unit} / ${report.declaredUnit ?? 'none'}` : assignment.unit,
        },
        {
          label: 'File',
          value: <span title={attempt.fileName}>{`${fileSize(attempt.fileSizeBytes)}, ${attempt.fileName}`}</span>,
        },
      ]}
    />
  );
}

/** The score, largest on the page. */
export const ScoreAnswer = ({ score }: { score: number }) => (
  <span data-testid="score">
    <span className="text-4xl font-bold tracking-tight">{score.toFixed(1).replace(/\.0$/, '')}</span>
    <span className="text-xl text-soft"> of 100</span>
  </span>
);
