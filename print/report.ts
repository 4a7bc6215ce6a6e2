import { CHECK_GROUPS } from '#core/check';
import { GROUP_TITLES, tells, TYPED_LABELS, valueText, type Report, type RuleLine, type Verdict } from '#core/grade';

import { openPages } from './writer.ts';

/** A report with what its head says. */
export interface PrintedReport {
  readonly title: string;
  /** Label and value: student, exercise, revision, dates. */
  readonly facts: readonly (readonly [label: string, value: string])[];
  readonly report: Report;
  readonly remarks: readonly { readonly text: string; readonly by: string }[];
}

/** A word beside every sign, so that neither stands alone. */
const VERDICTS: Readonly<Record<Verdict, string>> = {
  right: 'right',
  near: 'close',
  wrong: 'WRONG',
  missing: 'NOT FOUND',
};
const RULES: Readonly<Record<RuleLine['verdict'], string>> = { kept: 'kept', broken: 'BROKEN', open: 'open' };

/**
 * A report on A4 pages: what is right and wrong, why, and what to look at come first, the numbers after them. What the
 * report does not tell is not on it.
 */
export function renderReport({ title, facts, report, remarks }: PrintedReport): Promise<Uint8Array> {
  const page = openPages(title);
  page.heading(title, 15);
  page.columns(facts.map(([label, value]) => `${label}: ${value}`));
  page.heading(`${String(report.score)} of 100`, 20);
  if (report.cap !== null) page.paragraph(report.cap);
  for (const { reason, points } of report.deductions) page.paragraph(`${reason}: ${String(points)} points off.`);

  if (remarks.length > 0) {
    page.heading('Remarks');
    for (const { text, by } of remarks) page.paragraph(`${text} (${by})`);
  }
  if (report.causes.length > 0) {
    page.heading('Why, most probably');
    for (const { message, instead } of report.causes) page.paragraph(`${instead ? 'Or: ' : '– '}${message}`);
  }
  const numbers = tells(report.detail, 'numbers');
  if (numbers && report.lines.length > 0) page.row(['', '', 'wanted', 'measured']);
  for (const group of CHECK_GROUPS) {
    const lines = report.lines.filter((line) => line.group === group);
    if (lines.length === 0) continue;
    page.heading(GROUP_TITLES[group]);
    for (const line of lines)
      page.row([
        VERDICTS[line.verdict],
        line.override === null
          ? line.label
          : `${line.label} (counted as ${percent(line.override.credit)}: ${line.override.reason})`,
        numbers ? (valueText(line.nominal, line, report) ?? '') : '',
        numbers ? (valueText(line.measured, line, report) ?? '') : '',
      ]);
  }
  if (report.typed.length > 0) {
    page.heading('Typed numbers');
    for (const { name, text, unit, matchesReference } of report.typed)
      page.row([
        matchesReference ? 'right' : 'WRONG',
        TYPED_LABELS[name],
        '',
        text === '' ? 'not typed' : `${text} ${unit}`,
      ]);
  }
  if (report.rules.length > 0) {
    page.heading('How it was built');
    for (const { text, verdict, evidence } of report.rules) page.row([RULES[verdict], `${text}. ${evidence}`, '', '']);
    for (const question of report.questions) page.paragraph(question);
  }
  if (report.warnings.length > 0) {
    page.heading('About the file');
    for (const { message } of report.warnings) page.paragraph(message);
  }
  return page.close();
}

const percent = (share: number): string => `${String(Math.round(100 * share))} %`;
