import type { AttemptDetail } from '#api';
import type { Report } from '#core/grade';
import { minuteIn } from '#core/time';
import type { PrintedReport } from '#print';

/** A report as it is printed, with the facts of its attempt. */
export function printedOf(detail: AttemptDetail, report: Report): PrintedReport {
  const { assignment, student, variant, stage, number } = detail;
  return {
    title: `${assignment.exerciseNumber} ${assignment.exerciseTitle}: report for ${student.name}`,
    facts: [
      ['Course', `${assignment.course}, ${assignment.section}`],
      [
        'Attempt',
        `${String(number ?? '')} of ${String(assignment.attemptsAllowed)}${stage === null ? '' : `, ${stage}`}`,
      ],
      ['Revision', `${String(assignment.revision)}${variant === null ? '' : `, variant ${variant}`}`],
      ['Handed in', minuteIn(detail.handedInAt, assignment.timeZone)],
      ['File', detail.fileName],
      ['Material, unit', `${assignment.material}, ${assignment.unit}`],
    ],
    report,
    remarks: detail.review.remarks,
  };
}
