import { formatFixed } from '#core/quantity';

import type { Report } from './report.ts';
import { valueText } from './values.ts';

/** Names in braces that fill themselves in a remark of the collection, and what they stand for. */
export const REMARK_FIELDS = {
  student: 'name of the student',
  exercise: 'number and title of the exercise',
  score: 'score of the attempt',
  cause: 'surest cause',
  check: 'name of the chosen check, or of the first that is not right',
  wanted: 'what the sheet says of that check',
  measured: 'what was measured',
} as const;
export type RemarkField = keyof typeof REMARK_FIELDS;

export interface RemarkContext {
  readonly student: string;
  readonly exercise: string;
  readonly report: Report;
  /** The check that the remark is about, if one is chosen. */
  readonly checkId: string | null;
}

/**
 * A remark with its fields filled. What has no value here, such as a cause where none was found, leaves three dots to be
 * filled by hand; braces that are no field stay as they are.
 */
export function fillRemark(template: string, { student, exercise, report, checkId }: RemarkContext): string {
  const line =
    report.lines.find((one) => one.checkId === checkId) ?? report.lines.find(({ verdict }) => verdict !== 'right');
  const values: Readonly<Record<RemarkField, string | null>> = {
    student: student,
    exercise: exercise,
    score: formatFixed(report.score, Number.isInteger(report.score) ? 0 : 1),
    cause: report.causes[0]?.message ?? null,
    check: line?.label ?? null,
    wanted: line === undefined ? null : valueText(line.nominal, line, report),
    measured: line === undefined ? null : valueText(line.measured, line, report),
  };
  return template.replace(/\{([a-z]+)\}/g, (whole, name: string) =>
    name in values ? (values[name as RemarkField] ?? '...') : whole,
  );
}
