import type { Report, ReportLine } from './report.ts';

/** What is otherwise in a report than in an earlier one of the same part, by the labels of checks. */
export interface Since {
  readonly mended: readonly string[];
  /** Right before, and not any more. */
  readonly broken: readonly string[];
  /** Not right in either. */
  readonly still: readonly string[];
  /** How many checks both tell of. */
  readonly compared: number;
}

/** Whether a line tells how its check came out; what is withheld does not. */
const isTold = ({ credit }: ReportLine): boolean => credit !== null;

/** Compares what two reports tell; checks that one of them does not tell are left out. */
export function changesSince(before: Pick<Report, 'lines'>, after: Pick<Report, 'lines'>): Since {
  const was = new Map(before.lines.filter(isTold).map((line) => [line.checkId, line.verdict === 'right']));
  const labelsOf = (wanted: (wasRight: boolean, isRight: boolean) => boolean): string[] =>
    after.lines.filter(isTold).flatMap(({ checkId, label, verdict }) => {
      const wasRight = was.get(checkId);
      return wasRight !== undefined && wanted(wasRight, verdict === 'right') ? [label] : [];
    });
  return {
    mended: labelsOf((wasRight, isRight) => !wasRight && isRight),
    broken: labelsOf((wasRight, isRight) => wasRight && !isRight),
    still: labelsOf((wasRight, isRight) => !wasRight && !isRight),
    compared: labelsOf(() => true).length,
  };
}
